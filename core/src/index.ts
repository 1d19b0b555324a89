/** The heart of Gable: no interface, no input or output. */
export * from './errors';
export * from './units';
export { cut, wellFormed, wellFormedIn } from './cut';
export * from './colour';
export * from './colour-space';
export * from './palette-file';

// Geometry
export * from './geometry/path';
export * from './geometry/measure';
export * from './geometry/transform';
export { axesMatrix, boxMatrix, frameMatrix, placedIn, type Space, type Turned } from './geometry/frame-matrix';
export * from './geometry/svg-path';
export * from './geometry/polygons';
export * from './geometry/offset';
export { pen, type Pen } from './geometry/pen';
export { clamp, cosSin, radians, turnOf } from './geometry/numeric';
export { enclosingCircle, type Circle } from './geometry/enclosing-circle';

// The model of a frame
export * from './model/anchor';
export * from './model/frame';
export { boundedLength, BOUNDS, MAX_TILES, pathWithinBounds } from './model/bounds';
export { boundedPixels, withinBounds } from './model/within-bounds';
export { equal } from './model/equal';

// The model of a document
export * from './model/document';
export * from './model/structure';
export { changesOf, diff, longestRising } from './model/diff';
export {
  changesFrom,
  NO_CHANGES,
  groundsFrom,
  ordersFrom,
  readChanges,
  withChanges,
  ChangesSchema,
  type Changes,
} from './model/changes';
export {
  EntrySchema,
  historyOf,
  logged,
  NO_HISTORY,
  redoing,
  undoing,
  type Entry,
  type History,
  type NewEntry,
  type UndoStep,
} from './model/history';
export {
  documentOfPictures,
  itemIdOf,
  PageItemSchema,
  type FileContent,
  type LayerContent,
  type StoryContent,
  type PageContent,
  type PageItem,
  type PlacedPicture,
} from './model/from-pictures';
export { readFrame, upgradedFrame } from './model/frame-versions';
export {
  frameOfBlock,
  frameOfItem,
  isPictureItem,
  isPlain,
  itemOfFrame,
  newPicture,
  withFrame,
  type PictureItem,
} from './model/frame-item';
export {
  apply,
  applyAll,
  conflict,
  OperationSchema,
  valueAt,
  ValueSchema,
  type Applied,
  type Operation,
} from './model/operations';
export { isVeil, type VeilFill } from './model/veil';
export {
  groupsRound,
  likeTarget,
  shownBehind,
  raisedAmong,
  spaceOf,
  stackOf,
  targetOf,
  targetsOf,
  type Placed,
} from './model/stack';
export { restylesGround, restylesShapes, type Restyles } from './model/restylable';
export {
  allOn,
  groupOf,
  grouping,
  isPlainGroup,
  ungrouping,
  withoutEmpty,
  inFileOrder,
  withoutMade,
  withTied,
  type MadeGroup,
} from './model/groups';
export { checkDocument, itemsOf, slotOf, slotsOf, withChildren, type Holder, type Slot } from './model/tree';

// Shapes
export {
  anchorShares,
  defaultKnobs,
  findShape,
  framePath,
  PRESET_PREFIX,
  seatRect,
  shapeOf,
  SHAPES,
} from './shapes/index';
export { SYNONYMS } from './shapes/synonyms';
export { textBoxOf, wordsIn } from './shapes/text-box';
export { FAMILIES, knobValue, type Family, type Knob, type Knobs, type Preset, type Shape } from './shapes/shape';

// Geometries of ISO/IEC 29500
export { evaluate, predefined, type Values } from './presets/guides';
export {
  drawGeometry,
  readCompact,
  silhouetteOf,
  type DrawnPath,
  type FillMode,
  type Geometry,
  type GeometryPath,
  type Step,
} from './presets/geometry';
export { PRESET_NAMES, presetGeometry } from './presets/index';

// Placement
export * from './placement/view';
export * from './placement/reframe';
export * from './placement/tile';
export {
  aimLying,
  lyingOf,
  movedAt,
  partedAt,
  positionsThatHold,
  rangeAt,
  rangesOf,
  shownShares,
  withRanges,
  type Lying,
} from './fluid/lying';
export { edgePath, SECTION_EDGES } from './fluid/section';
export { copyWidths, drawnIn, sizesOf, type DrawnInWindow } from './fluid/sizes';
export { LEAST_LETTERS, LETTERS_SHARE, lettersAt } from './fluid/letters';
export {
  atEveryWidth,
  hasPositions,
  isRectangle,
  leastShown,
  type BoxInWindow,
  type EveryWidth,
  type Positions,
} from './fluid/every-width';
export * from './placement/adjust';
export * from './placement/figures';
export { ontoPart, shownPart } from './placement/part';
export { leastZoom, type Framed } from './placement/axes';
export { textInset } from './placement/inset';
export { subjectAlone } from './placement/subject-alone';
export {
  ALL_ROUND,
  isAllRound,
  lineFor,
  oversteppingAt,
  overstepPath,
  reachesOver,
  SIDES,
  silhouettePath,
  subjectOf,
  subjectPath,
  withLine,
  type Side,
} from './placement/overstep';
export { keepInView, largestRectangle, showWholly, wholePicture, type KeepFit } from './placement/keep';
export { aimAt } from './placement/aim';
export { uprightSize, uprightTurn } from './placement/upright';
export { roomFor, sizeWithin } from './placement/new-size';
export {
  bandOf,
  cutMarks,
  keptOfMark,
  keptOfMarks,
  keptShare,
  rankShapes,
  type Band,
  type Ranked,
} from './placement/rank';

// Looking at pictures
export { FaceSchema, faceSubject, foremost, unionOf, withSharpness, type Face } from './analysis/faces';
export { onPicture, sameRegion, suggestedMarks } from './analysis/marks';
export { followColours, maskFollowing, type Follow } from './cut-out/guided-filter';
export {
  components,
  INSIDE,
  maskBounds,
  overlap,
  BrushStrokeSchema,
  tidied,
  underStroke,
  type Mask,
  type BrushStroke,
} from './cut-out/mask';
export { SEED, seedsOf, withStrokes, type Seeds, type SubjectHints } from './cut-out/seeds';
export { findSubject, SUBJECT_SIDE } from './analysis/subject';
export type { Pixels } from './model/pixels';
export type { Subject } from './model/subject';
export { textBlocks, WordSchema, type TextBlock, type Word } from './analysis/words';
export { coarser, weigh, weighRegion, type Weights } from './analysis/weights';
export * from './analysis/findings';
export { aroundOf, layAround, partsAround, wearsAround, type AroundPart } from './finish/around';
export * from './finish/finish';
export * from './finish/uneven';
export * from './analysis/palette';

// Painting
export type { Context, Gradient, Surface } from './paint/context';
export * from './paint/painter';
export { mirroredStops } from './paint/gradient';
export { paintPage, type PageLayer, type PageSurface, type PaintedLayer, type PaintedPage } from './paint/page';
export { fittedWords, lettersIn, lettersOf, wordsOutside } from './paint/fit-words';
export { lineIn, linesOf, paintWords, type Line, type TypeContext } from './paint/words';

// Texts on pages
export * from './flow';

// Outline, tone
export * from './outline/bands';
export * from './outline/dash';
export { casterPath, edgeBounds, outlineStrokes, type Stroke } from './outline/strokes';
export { blurSigma, changesPixels, ownTone, toneColour, tonePixels, toneSteps, type ToneStep } from './tone/tone';

// Writing a frame as markup
export { cuesIn, readCaptions } from './video/captions';
export { escapeXml, frameToSvg, svgParts, svgToneStep, type SvgParts, type SvgPicture } from './svg/writer';
export { cssClip, cssPaint, frameToCss, type CssFigure, type Within } from './css/writer';

// Reading what people type
export * from './text';

// What stands round pictures
export { drawnBox, reachOf, resolveTies, RULES, USUAL_SHARE } from './ties/index';
export { tiedGrouped } from './ties/grouping';
export { distanceOf, tieAsItStands } from './ties/as-it-stands';
export { isBand } from './ties/behind';
export { besideInText, boxInText } from './ties/in-text';
export { isLook, LOOKS } from './model/looks';
export * from './pieces/index';
export * from './spreads/index';
export { calmestPlace } from './legibility/calm';
export * from './legibility/contrast';
export { groundColours, inking, unreadableOn, type Unreadable } from './legibility/grounds';
export {
  beginningOf,
  factsOfWords,
  JUDGED_PIXELS,
  lookOfWords,
  nearLetters,
  wordsAround,
  type WordsLook,
} from './legibility/judge';
export { faceCovered, regionOnPage } from './legibility/over-face';
