import {
  applyTo,
  axesMatrix,
  boxMatrix,
  invert,
  movedTo,
  paintedBounds,
  withOverstep,
  pictureOffset,
  type Frame,
  type Handle,
  type Point,
  type Size,
  type Turned,
} from '@gable/core';

/** Where the frame lies on the board, in CSS pixels. */
export interface BoardLayout {
  /** CSS pixels per point. */
  scale: number;
  /** Top left of the box. */
  x: number;
  y: number;
}

/** Room for the dimension lines beside and below the frame. */
const SIDE = 110;
const BELOW = 60;
/** What of the rest a frame takes, across and down; with a subject that reaches over its edge. */
const FULL = [0.72, 0.86] as const;
const OVERSTEPPED = [0.62, 0.66] as const;

/**
 * Fits the taken frame's box large into the board and leaves room for the rest of the picture round it. A try that is
 * only looked at keeps this scale and this centre, so that nothing jumps while comparing.
 */
export function boardLayout(width: number, height: number, taken: Frame, shown: Frame): BoardLayout {
  // A shadow may fall outside: it would only make the frame small. A subject that reaches over the edge has a fixed room:
  // the frame must not shrink and grow while the picture is moved.
  const b = paintedBounds({ ...withOverstep(taken, null), shadow: null });
  const [across, down] = taken.overstep ? OVERSTEPPED : FULL;
  const scale = Math.min(
    (Math.max(40, width - 2 * SIDE) * across) / b.width,
    (Math.max(40, height - BELOW - 24) * down) / b.height,
  );
  const cx = width / 2;
  const cy = (height - BELOW + 24) / 2;
  return { scale, x: cx - (shown.box.width * scale) / 2, y: cy - (shown.box.height * scale) / 2 };
}

/** The layout at which the picture stays where it was on the board while shape and box move over it. */
export function heldLayout(from: BoardLayout, before: Frame, now: Frame, picture: Size): BoardLayout {
  const a = pictureOffset(before, picture);
  const b = pictureOffset(now, picture);
  const step = applyTo(axesMatrix(before), { x: a.x - b.x, y: a.y - b.y });
  const { scale } = from;
  return {
    scale,
    x: from.x + (before.box.width / 2 + step.x - now.box.width / 2) * scale,
    y: from.y + (before.box.height / 2 + step.y - now.box.height / 2) * scale,
  };
}

/** The layout at which the side or corner that is not dragged, or the middle, stays where it was while the frame is sized. */
export function pinnedLayout(
  from: BoardLayout,
  before: Frame,
  now: Frame,
  handle: Handle,
  about: 'opposite' | 'middle',
): BoardLayout {
  const pin = ({ box }: Frame): Point =>
    about === 'middle'
      ? { x: box.width / 2, y: box.height / 2 }
      : { x: (box.width * (1 - handle.x)) / 2, y: (box.height * (1 - handle.y)) / 2 };
  const upright = (frame: Frame): Frame => ({ ...frame, flip: { horizontal: false, vertical: false } });
  const was = ontoBoard(upright(before), from, pin(before));
  const is = ontoBoard(upright(now), from, pin(now));
  return { scale: from.scale, x: from.x + was.x - is.x, y: from.y + was.y - is.y };
}

/** The frame moved on its page. Points. */
export const movedBy = (frame: Frame, dx: number, dy: number): Frame =>
  movedTo(frame, { ...(dx !== 0 && { x: frame.box.x + dx }), ...(dy !== 0 && { y: frame.box.y + dy }) });

/** A step on the page as a step in the frame's own upright, unflipped space. */
export const intoFrame = (frame: Turned, dx: number, dy: number): Point =>
  applyTo(invert(axesMatrix(frame)), { x: dx, y: dy });

/** A point of the board as a point of the box, in points. */
export const intoBox = (frame: Frame, layout: BoardLayout, x: number, y: number): Point =>
  applyTo(invert(boxMatrix(frame)), { x: (x - layout.x) / layout.scale, y: (y - layout.y) / layout.scale });

/** A point of the box as a point of the board. */
export function ontoBoard(frame: Frame, layout: BoardLayout, at: Point): Point {
  const p = applyTo(boxMatrix(frame), at);
  return { x: layout.x + p.x * layout.scale, y: layout.y + p.y * layout.scale };
}
