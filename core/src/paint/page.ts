import { cssColour } from '../colour';
import { GableError } from '../errors';
import { boxMatrix } from '../geometry/frame-matrix';
import { flatten, type Point } from '../geometry/path';
import type { ForeignItem, Mark } from '../model/document';
import { FULL_SEAT, type Box, type Size } from '../model/frame';
import { frameOfBlock } from '../model/frame-item';
import type { Placed } from '../model/stack';
import type { Surface } from './context';
import { paintFrame, type PaintTarget } from './painter';
import { framePath } from '../shapes/index';
import { wordsIn } from '../shapes/text-box';
import { paintWords, type TypeContext } from './words';

/** Pixels of something that was painted before: a frame with its picture, a drawing, what a browser laid out. */
export interface PaintedLayer {
  image: unknown;
  /** Where it lies on the page, in points. */
  box: Box;
}
/** What lies on a page, from the back to the front: items, and layers that are ready. */
export type PageLayer = Placed | PaintedLayer;

/** A page to be painted. In points. */
export interface PaintedPage {
  size: Size;
  /** `#rrggbb` behind everything; null for none */
  ground: string | null;
  /** Edges of the columns and rows of a sheet. */
  grid?: { x: readonly number[]; y: readonly number[] } | undefined;
  layers: readonly PageLayer[];
}

/** A surface whose canvas sets type as well. */
export type PageSurface = Surface & { context: TypeContext };

/** The colour of the lines between cells. */
const GRID = '#ddd6c7';

/**
 * Paints a page: its ground, then layer upon layer. Blocks, texts and what is only shown are painted here; frames with
 * pictures come as layers, since their pixels are decoded and toned for their size.
 */
export function paintPage(
  surface: PageSurface,
  { size, ground, grid, layers }: PaintedPage,
  target: PaintTarget,
): void {
  const { context } = surface;
  const { x, y, scale } = target;
  context.save();
  if (ground !== null) {
    context.fillStyle = ground;
    context.fillRect(x, y, size.width * scale, size.height * scale);
  }
  context.fillStyle = GRID;
  const thick = Math.max(1, 0.5 * scale);
  for (const v of grid?.x ?? []) context.fillRect(x + v * scale, y, thick, size.height * scale);
  for (const v of grid?.y ?? []) context.fillRect(x, y + v * scale, size.width * scale, thick);
  for (const layer of layers)
    if ('image' in layer) {
      const { box } = layer;
      context.drawImage(layer.image, x + box.x * scale, y + box.y * scale, box.width * scale, box.height * scale);
    } else paintItem(surface, layer, target);
  context.restore();
}

function paintItem(surface: PageSurface, placed: Placed, target: PaintTarget): void {
  const { item, box } = placed;
  const { context } = surface;
  if (item.kind === 'foreign') {
    if (item.look) paintLook(surface, item.look, placed, target);
    for (const mark of item.preview ?? []) paintMark(context, mark, target);
  }
  if (item.kind !== 'framed' || item.fill?.kind === 'picture') return;
  const at = { x: target.x + box.x * target.scale, y: target.y + box.y * target.scale, scale: target.scale };
  try {
    paintFrame(surface, frameOfBlock(item, placed), null, at);
  } catch (error) {
    // A shape that cannot be drawn is none; its words are there all the same.
    if (!(error instanceof GableError)) throw error;
  }
  if (!item.text) return;
  context.save();
  context.translate(at.x, at.y);
  context.scale(at.scale, at.scale);
  // Words are turned with their shape, and never mirrored.
  context.transform(...boxMatrix({ box, turn: placed.turn, flip: { horizontal: false, vertical: false } }));
  paintWords(context, wordsIn(box, item, item.text), box);
  context.restore();
}

type Look = NonNullable<ForeignItem['look']>;

/** A line, or another form that is not edited, with its tips. */
function paintLook(surface: Surface, { shape, outline, paint, tips }: Look, placed: Placed, target: PaintTarget): void {
  const { box, turn, flip } = placed;
  const fill = paint && { kind: 'paint' as const, paint };
  const block = frameOfBlock({ fill, outline, shadow: null, shape, seat: FULL_SEAT, alt: '' }, placed);
  const at = { x: target.x + box.x * target.scale, y: target.y + box.y * target.scale, scale: target.scale };
  const { context } = surface;
  try {
    paintFrame(surface, block, null, at);
    if (!outline || !tips) return;
    const points = flatten(framePath(block), 0.5).flat();
    const [first, second, beforeLast, last] = [points[0], points[1], points.at(-2), points.at(-1)];
    if (!first || !second || !beforeLast || !last) return;
    context.save();
    context.translate(at.x, at.y);
    context.scale(at.scale, at.scale);
    context.transform(...boxMatrix({ box, turn, flip }));
    const { paint: line } = outline;
    const { colour, opacity } = line.kind === 'solid' ? line : line.stops[0]!;
    context.fillStyle = cssColour(colour, opacity);
    if (tips.start) paintTip(context, second, first, outline.weight);
    if (tips.end) paintTip(context, beforeLast, last, outline.weight);
    context.restore();
  } catch (error) {
    // A line that cannot be drawn is none.
    if (!(error instanceof GableError)) throw error;
  }
}

/** A tip three times as long and wide as its line is thick (common practice). */
function paintTip(context: Surface['context'], from: Point, to: Point, weight: number): void {
  const length = Math.hypot(to.x - from.x, to.y - from.y) || 1;
  const [ux, uy] = [(to.x - from.x) / length, (to.y - from.y) / length];
  const [back, half] = [2.2 * weight, 1.5 * weight];
  context.beginPath();
  context.moveTo(to.x + 0.8 * weight * ux, to.y + 0.8 * weight * uy);
  context.lineTo(to.x - back * ux - half * uy, to.y - back * uy + half * ux);
  context.lineTo(to.x - back * ux + half * uy, to.y - back * uy - half * ux);
  context.closePath();
  context.fill();
}

/** Between a mark's edge and its words, in points. */
const MARK_INSET = 4;

/** A box with words by which something is shown; those of a cell stand at its foot, on one line. */
function paintMark(context: TypeContext, mark: Mark, { x, y, scale }: PaintTarget): void {
  const {
    box,
    turn,
    fill,
    text,
    size,
    colour,
    align,
    inset,
    font = '',
    weight = 400,
    italic = false,
    edges = {},
    words,
  } = mark;
  context.save();
  context.translate(x + box.x * scale, y + box.y * scale);
  context.scale(scale, scale);
  context.transform(...boxMatrix({ box, turn, flip: { horizontal: false, vertical: false } }));
  if (fill) {
    context.fillStyle = cssColour(fill, 1);
    context.fillRect(0, 0, box.width, box.height);
  }
  for (const [side, line] of Object.entries(edges)) {
    context.fillStyle = cssColour(line.colour, 1);
    const { weight: w } = line;
    if (side === 'top' || side === 'bottom')
      context.fillRect(-w / 2, (side === 'top' ? 0 : box.height) - w / 2, box.width + w, w);
    else context.fillRect((side === 'left' ? 0 : box.width) - w / 2, -w / 2, w, box.height + w);
  }
  if (words) paintWords(context, words, box);
  const edge = inset ?? MARK_INSET;
  const run = { text, font, size, weight, italic, underline: false };
  if (text)
    paintWords(
      context,
      {
        paragraphs: [{ align: ALIGN[align], runs: [{ ...run, paint: { kind: 'solid', colour, opacity: 1 } }] }],
        anchor: inset === undefined ? 'middle' : 'bottom',
        inset: { top: 0, right: edge, bottom: 0, left: edge },
      },
      box,
      { wrap: inset === undefined },
    );
  context.restore();
}
const ALIGN = { left: 'start', center: 'centre', right: 'end' } as const;
