import { paintedBounds, pictureOffset, type Box, type Frame, type Point, type Size } from '@gable/core';

/** Where the frame lies on the board, in CSS pixels. */
export interface BoardLayout {
  /** CSS pixels per point. */
  scale: number;
  /** Top left of the box. */
  x: number;
  y: number;
}

/** Room for the dimension lines beside and below the frame. */
const SIDE = 96;
const BELOW = 66;

/**
 * Fits the taken frame's box large into the board and leaves room for the rest of the picture round it. A try that is
 * only looked at keeps this scale and this centre, so that nothing jumps while comparing.
 */
export function boardLayout(width: number, height: number, taken: Frame, shown: Frame): BoardLayout {
  // A shadow may fall outside: it would only make the frame small.
  const b = paintedBounds({ ...taken, shadow: null });
  const scale = Math.min(
    (Math.max(40, width - 2 * SIDE) * 0.72) / b.width,
    (Math.max(40, height - BELOW - 24) * 0.8) / b.height,
  );
  const cx = width / 2;
  const cy = (height - BELOW + 36) / 2;
  return { scale, x: cx - (shown.box.width * scale) / 2, y: cy - (shown.box.height * scale) / 2 };
}

/** The layout at which the picture stays where it was on the board while shape and box move over it. */
export function heldLayout(from: BoardLayout, before: Frame, now: Frame, picture: Size): BoardLayout {
  const a = pictureOffset(before, picture);
  const b = pictureOffset(now, picture);
  const step = outOfFrame(before, a.x - b.x, a.y - b.y);
  const { scale } = from;
  return {
    scale,
    x: from.x + (before.box.width / 2 + step.x - now.box.width / 2) * scale,
    y: from.y + (before.box.height / 2 + step.y - now.box.height / 2) * scale,
  };
}

/** The frame moved on its page. Points. */
export const movedBy = (frame: Frame, dx: number, dy: number): Frame => ({
  ...frame,
  box: { ...frame.box, x: frame.box.x + dx, y: frame.box.y + dy },
});

/** A step on the page as a step in the frame's own upright, unflipped space. */
export function intoFrame(frame: Pick<Frame, 'turn' | 'flip'>, dx: number, dy: number): Point {
  const a = (-frame.turn * Math.PI) / 180;
  const x = dx * Math.cos(a) - dy * Math.sin(a);
  const y = dx * Math.sin(a) + dy * Math.cos(a);
  return { x: frame.flip.horizontal ? -x : x, y: frame.flip.vertical ? -y : y };
}

/** The way back: a step in the frame's own space as a step on the page. */
export function outOfFrame(frame: Pick<Frame, 'turn' | 'flip'>, dx: number, dy: number): Point {
  const a = (frame.turn * Math.PI) / 180;
  const x = frame.flip.horizontal ? -dx : dx;
  const y = frame.flip.vertical ? -dy : dy;
  return { x: x * Math.cos(a) - y * Math.sin(a), y: x * Math.sin(a) + y * Math.cos(a) };
}

/** A point of the board as a point of the box, in points. */
export function intoBox(frame: Frame, layout: BoardLayout, x: number, y: number): Point {
  const { width, height } = frame.box as Box;
  const p = intoFrame(frame, (x - layout.x) / layout.scale - width / 2, (y - layout.y) / layout.scale - height / 2);
  return { x: p.x + width / 2, y: p.y + height / 2 };
}

/** A point of the box as a point of the board. */
export function ontoBoard(frame: Frame, layout: BoardLayout, at: Point): Point {
  const { width, height } = frame.box;
  const p = outOfFrame(frame, at.x - width / 2, at.y - height / 2);
  return { x: layout.x + (p.x + width / 2) * layout.scale, y: layout.y + (p.y + height / 2) * layout.scale };
}
