import {
  anchorWith,
  BESIDE_TEXT,
  frameOfBlock,
  shareOfAlign,
  type Anchor,
  type Box,
  type Frame,
  type FramedItem,
} from '@gable/core';

/** A page of a text, in points. */
export interface Room {
  width: number;
  height: number;
  margins: { top: number; right: number; bottom: number; left: number };
  columns: number;
}

/** How far an aligned box lies from what its place counts from; null where that depends on the words. */
function alignedAt(axis: 'x' | 'y', { from, align }: Anchor, size: number, room: Room): number | null {
  const by = shareOfAlign(align?.[axis]);
  const { margins } = room;
  const [whole, before, behind] =
    axis === 'x' ? [room.width, margins.left, margins.right] : [room.height, margins.top, margins.bottom];
  const text = whole - before - behind;
  const lengths: Partial<Record<string, number>> = {
    page: whole,
    margin: text,
    ...(room.columns === 1 && { column: text }),
    'left-margin': before,
    'top-margin': before,
    'right-margin': behind,
    'bottom-margin': behind,
  };
  const length = lengths[from[axis]];
  return by === null || length === undefined ? null : (length - size) * by;
}

/**
 * The box of a frame beside a text: where it is aligned, its place is worked out, so that the frame can be moved from there.
 * @param box with its place as the file has it
 */
export function alignedBox(box: Box, anchor: Anchor | undefined, room: (() => Room) | undefined): Box {
  if (!anchor?.align || !room) return box;
  const { x, y } = anchor.align;
  return {
    ...box,
    ...(x && { x: alignedAt('x', anchor, box.width, room()) ?? 0 }),
    ...(y && { y: alignedAt('y', anchor, box.height, room()) ?? 0 }),
  };
}

/**
 * How a frame is to be tied to its text. One that says nothing of it is tied as its file has it; where it was put somewhere, it
 * is aligned no more.
 * @param was as read
 */
export function anchorNow(was: Frame, next: Frame): Anchor {
  const anchor = next.anchor ?? was.anchor ?? BESIDE_TEXT;
  if (next.anchor || !anchor.align) return anchor;
  const { x, y } = anchor.align;
  // Frames that were kept by an older release count what is aligned from 0.
  const stays = (axis: 'x' | 'y'): boolean => Math.abs(next.box[axis] - was.box[axis]) < 1e-3 || next.box[axis] === 0;
  return anchorWith(anchor, { align: { ...(x && stays('x') && { x }), ...(y && stays('y') && { y }) } });
}

/** A shape of a text itself as its codec places frames. */
export function frameInText(item: FramedItem): Frame {
  const { at, turn, flip } = item;
  const frame = frameOfBlock(item, { box: at.box, turn, flip });
  return at.on === 'anchor' ? { ...frame, ...(at.anchor && { anchor: at.anchor }) } : { ...frame, flow: 'inline' };
}
