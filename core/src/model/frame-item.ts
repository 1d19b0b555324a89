import type { FramedItem, ItemId, Position } from './document';
import type { Frame, Size } from './frame';

/** Items that the codecs read and write as frames: those with a picture in them, and without words. */
export type PictureItem = FramedItem & { fill: FramedItem['fill'] & { kind: 'picture' }; text: null };

export const isPictureItem = (item: { kind: string }): item is PictureItem => {
  const { fill, text } = item as FramedItem;
  return item.kind === 'framed' && fill?.kind === 'picture' && text === null;
};

/**
 * A frame of an opened file as an item.
 * @param size of the file's own picture, in pixels
 */
export function itemOfFrame(id: ItemId, frame: Frame, size: Size, on: Position['on']): PictureItem {
  const { box, turn, flip, alt, shape, seat, outline, shadow, finish, placement, backing, tone, keep, source } = frame;
  return {
    kind: 'framed',
    id,
    at: { on, box },
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
      source: source ? { from: 'kept', ...source } : { from: 'file', key: id, size },
      placement,
      backing,
      ...(tone && { tone }),
      keep: keep ? [keep] : [],
    },
    text: null,
  };
}

/** The item as the frame of the picture with this number. */
export function frameOfItem(item: PictureItem, n: number): Frame {
  const { at, turn, flip, alt, shape, seat, outline, shadow, finish, fill } = item;
  const { placement, backing, tone, keep } = fill;
  return {
    n,
    flow: at.on === 'line' ? 'inline' : 'floating',
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
    ...(keep[0] && { keep: keep[0] }),
    ...(finish !== undefined && { finish }),
  };
}
