/** Codecs on bytes: no interface, no DOM, no Node. */
export { LIMITS } from './codec/limits';
export type {
  Block,
  Known,
  LeftOut,
  MarginPicture,
  NewPicture,
  NewPlace,
  FontFile,
  PagePlan,
  Media,
  OpenedPicture,
  SitePicture,
  Place,
  Problem,
  ItemFidelity,
  Sheet,
  Source,
  ReplacementImage,
  Where,
} from './codec/contract';
export { BLANKS, type BlankPage } from './blank';
export { drawnAs, type Drawn } from './blank/drawn';
export {
  CAPABILITIES,
  FEATURES,
  IN_THE_BOX,
  paintedOf,
  type Capabilities,
  type Feature,
  type Format,
} from './codec/capabilities';
export { inflateUpTo, readArchive, readEntry, type Archive, type Entry } from './zip/reader';
export { spliceArchive } from './zip/writer';
export { crc32 } from './zip/crc32';
export { filled, type PiecesOf } from './zip/fill';
export { readDrawable, readHeader, type PictureHeader } from './raster/header';
export { decodeXml, parseXml, type Element } from './xml/located';
export { lifted } from './codec/lifted';
export { openFile, withFonts, withFrames, withTiedGrouped, type OpenOptions } from './codec/source';
export { withLaidNames } from './codec/laid';
export { calledSheet } from './codec/page-names';
export { surveyFile, surveyPicture, type SurveyPicture } from './survey';
export { withoutPrivate } from './raster/private';
export { applySlim, planSlim, type SlimPlan, type SlimStep, type SlimWish } from './slim';
