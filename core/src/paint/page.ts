import { cssColour } from '../colour';
import { GableError } from '../errors';
import { boxMatrix } from '../geometry/frame-matrix';
import type { FramedItem, Mark } from '../model/document';
import { CENTRED, type Box, type Frame, type Size } from '../model/frame';
import type { Placed } from '../model/stack';
import type { Surface } from './context';
import { paintFrame, type PaintTarget } from './painter';
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
  /** `#rrggbb` behind everything */
  ground: string;
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
  context.fillStyle = ground;
  context.fillRect(x, y, size.width * scale, size.height * scale);
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
  if (item.kind === 'foreign') for (const mark of item.preview ?? []) paintMark(context, mark, target);
  if (item.kind !== 'framed' || item.fill?.kind === 'picture') return;
  const at = { x: target.x + box.x * target.scale, y: target.y + box.y * target.scale, scale: target.scale };
  try {
    paintFrame(surface, blockOf(item, placed), null, at);
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
  paintWords(context, item.text, box);
  context.restore();
}

/** A shape without a picture, as the painter of frames takes it. */
const blockOf = ({ fill, outline, shadow, shape, seat, alt }: FramedItem, { box, turn, flip }: Placed): Frame => ({
  n: 1,
  flow: 'floating',
  box,
  turn,
  flip,
  seat,
  shape,
  placement: CENTRED,
  backing: fill?.kind === 'paint' ? fill.paint : null,
  outline,
  shadow,
  alt,
});

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
  const edge = inset ?? MARK_INSET;
  const run = { text, font, size, weight, italic, underline: false };
  if (text)
    paintWords(
      context,
      {
        paragraphs: [{ align: ALIGN[align], runs: [{ ...run, paint: { kind: 'solid', colour, opacity: 1 } }] }],
        anchor: inset === undefined ? 'top' : 'bottom',
        inset: { top: inset === undefined ? edge : 0, right: edge, bottom: 0, left: edge },
      },
      box,
      { wrap: inset === undefined },
    );
  context.restore();
}
const ALIGN = { left: 'start', center: 'centre', right: 'end' } as const;
