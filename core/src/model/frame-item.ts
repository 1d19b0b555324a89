import type { FramedItem, ItemId, Position } from './document';
import { uprightTurn } from '../placement/upright';
import { equal } from './equal';
import { CENTRED, FULL_SEAT, type Frame, type Size, type Source } from './frame';

/** Items that the codecs read and write as frames: those with a picture in them, and without words. */
export type PictureItem = FramedItem & { fill: FramedItem['fill'] & { kind: 'picture' }; text: null };

export const isPictureItem = (item: { kind: string }): item is PictureItem => {
  const { fill, text } = item as FramedItem;
  return item.kind === 'framed' && fill?.kind === 'picture' && text === null;
};

/** What a file's own picture is known by in its file, which stands in folders, too: `p4`. */
const keyOf = (id: ItemId): string => id.slice(id.lastIndexOf('.') + 1);

/** How a picture that is there can stand; one for a margin then stands in its text. */
export type Standing = Exclude<Position['on'], 'margin'>;

/**
 * A frame of an opened file as an item.
 * @param size of the file's own picture, in pixels
 */
export function itemOfFrame(id: ItemId, frame: Frame, size: Size, on: Standing): PictureItem {
  const { box, turn, flip, alt, shape, seat, outline, shadow, finish } = frame;
  const { placement, backing, tone, keep, overstep, positions, hover, section, video, source, anchor, paragraph } =
    frame;
  return {
    kind: 'framed',
    id,
    at: on === 'anchor' ? { on, box, ...(anchor && { anchor }), ...(paragraph && { paragraph }) } : { on, box },
    turn,
    flip,
    opacity: 1,
    alt,
    shape,
    seat,
    outline,
    shadow,
    ...(finish !== undefined && { finish }),
    fill: {
      kind: 'picture',
      source: source ? { from: 'kept', ...source } : { from: 'file', key: keyOf(id), size },
      placement,
      backing,
      ...(tone && { tone }),
      keep: keep ?? [],
      ...(overstep && { overstep }),
      ...(positions && { positions }),
      ...(hover && { hover }),
      ...(section && { section }),
      ...(video && { video }),
    },
    text: null,
  };
}

/** Does it stand in its text like a letter? In a margin it has a line of its own, or a place of the page. */
const inLine = (at: Position): boolean =>
  at.on === 'line' || at.on === 'element' || (at.on === 'margin' && at.anchor === undefined);

/** The item as the frame of the picture with this number. */
export function frameOfItem(item: PictureItem, n: number): Frame {
  const { at, turn, flip, alt, shape, seat, outline, shadow, finish, fill } = item;
  const { placement, backing, tone, keep, overstep, positions, hover, section, video, source } = fill;
  return {
    n,
    flow: inLine(at) ? 'inline' : 'floating',
    ...((at.on === 'anchor' || at.on === 'margin') && at.anchor && { anchor: at.anchor }),
    ...(at.on === 'anchor' && at.paragraph && { paragraph: at.paragraph }),
    box: at.box,
    turn,
    flip,
    seat,
    shape,
    placement,
    backing,
    outline,
    shadow,
    alt,
    ...(tone && { tone }),
    ...(keep.length > 0 && { keep }),
    ...(overstep && { overstep }),
    ...(positions && { positions }),
    ...(hover && { hover }),
    ...(section && { section }),
    ...(video && { video }),
    ...(finish !== undefined && { finish }),
    ...(source.from === 'kept' && { source: replacementOf(source) }),
  };
}

function replacementOf({ sha256, name, type, size, orientation }: Source): Source {
  return { sha256, name, type, size, orientation };
}

/**
 * The item as another frame has it; what a frame does not say of it stays.
 * @param size of the file's own picture, in pixels
 */
export function withFrame(item: PictureItem, frame: Frame, size: Size): PictureItem {
  const { finish, ...kept } = item;
  void finish;
  const { tone, overstep, positions, hover, section, video, ...fill } = item.fill;
  void [tone, overstep, positions, hover, section, video];
  const on = onWith(item.at.on, frame);
  const next = itemOfFrame(item.id, frame, size, on === 'margin' ? 'anchor' : on);
  return {
    ...kept,
    ...next,
    opacity: item.opacity,
    at: on === item.at.on ? placedAs(item.at, frame) : next.at,
    fill: { ...fill, ...next.fill },
  };
}

function placedAs(at: Position, { box, anchor, paragraph }: Frame): Position {
  if (at.on !== 'anchor') return { ...at, box };
  const { paragraph: was, ...rest } = at;
  void was;
  return { ...rest, box, ...(anchor && { anchor }), ...(paragraph && { paragraph }) };
}

/** In a text, pictures come out of the line and go back into it. */
const onWith = (on: Position['on'], { flow }: Frame): Position['on'] =>
  on !== 'line' && on !== 'anchor' ? on : flow === 'inline' ? 'line' : 'anchor';

/** Is it as it was put in, all but its place, and the video that it is seen of? */
export const isPlain = ({ id, at, alt, ...item }: PictureItem): boolean => {
  const { video, ...fill } = item.fill;
  const { source } = fill;
  if (source.from !== 'kept') return false;
  const { id: name, at: place, alt: words, ...plain } = newPicture(id, at, source, alt);
  void [name, place, words, video];
  return equal({ ...item, fill }, plain);
};

/** A picture that is put in: a plain box that shows all of it upright, as far as the box has its ratio. */
export const newPicture = (id: ItemId, at: Position, source: Source, alt = ''): PictureItem => ({
  kind: 'framed',
  id,
  at,
  turn: 0,
  flip: { horizontal: false, vertical: false },
  opacity: 1,
  alt,
  shape: { name: 'rectangle', knobs: {} },
  seat: FULL_SEAT,
  outline: null,
  shadow: null,
  fill: {
    kind: 'picture',
    source: { from: 'kept', ...source },
    placement: { ...CENTRED, ...uprightTurn(source.orientation) },
    backing: null,
    keep: [],
  },
  text: null,
});

/** A shape without a picture, as the painter of frames takes it. @param placed how it lies on its page, whatever groups it is in */
export const frameOfBlock = (
  item: Pick<FramedItem, 'fill' | 'outline' | 'shadow' | 'shape' | 'seat' | 'alt'>,
  { box, turn, flip }: Pick<Frame, 'box' | 'turn' | 'flip'>,
): Frame => ({
  ...{ n: 1, flow: 'floating', box, turn, flip, seat: item.seat, shape: item.shape, placement: CENTRED },
  backing: item.fill?.kind === 'paint' ? item.fill.paint : null,
  ...{ outline: item.outline, shadow: item.shadow, alt: item.alt },
});
