import type { Box } from '../model/frame';
import { cosSin, turnOf } from './numeric';
import { multiply, type Matrix } from './transform';

/** What has axes of its own: first it is flipped, then turned, about the middle of its box. */
export interface Turned {
  turn: number;
  flip: { horizontal: boolean; vertical: boolean };
}
/** A group: what is in it counts in a space of its own, which its box shows. */
export interface Space extends Turned {
  box: Box;
  space: Box;
}

/** A step along a frame's own axes, as a step on its page. */
export function axesMatrix({ turn, flip }: Turned): Matrix {
  const [c, s] = cosSin(turn);
  const [fx, fy] = [flip.horizontal ? -1 : 1, flip.vertical ? -1 : 1];
  return [c * fx, s * fx, -s * fy, c * fy, 0, 0];
}

/** A point of a frame's box as it lies when the box is turned and flipped; both count from the corner of the upright box. */
export function boxMatrix(frame: Turned & { box: Pick<Box, 'width' | 'height'> }): Matrix {
  const [x, y] = [frame.box.width / 2, frame.box.height / 2];
  return multiply([1, 0, 0, 1, x, y], multiply(axesMatrix(frame), [1, 0, 0, 1, -x, -y]));
}

/**
 * A point of a frame's box as a point of its page.
 * @param ancestors the groups round it, the nearest first
 */
export function frameMatrix(frame: Turned & { box: Box }, ancestors: readonly Space[] = []): Matrix {
  const placed = multiply([1, 0, 0, 1, frame.box.x, frame.box.y], boxMatrix(frame));
  return ancestors.reduce((inner, group) => multiply(groupMatrix(group), inner), placed);
}

/**
 * A frame in groups as one that lies on their page by itself: the same box, turned and flipped as the groups have it.
 * Exact as long as the groups keep ratios, or the frame is not turned in them.
 */
export function placedIn<T extends Turned & { box: Box }>(frame: T, ancestors: readonly Space[]): T {
  if (ancestors.length === 0) return frame;
  const [a, b, c, d, e, f] = frameMatrix(frame, ancestors);
  const { width: w, height: h } = frame.box;
  const kx = Math.hypot(a, b);
  const ky = Math.abs(a * d - b * c) / kx;
  const odd = (side: 'horizontal' | 'vertical'): boolean =>
    [frame, ...ancestors].filter((t) => t.flip[side]).length % 2 > 0;
  const flip = { horizontal: odd('horizontal'), vertical: odd('vertical') };
  const k = flip.horizontal ? -1 : 1;
  const [width, height] = [w * kx, h * ky];
  const [x, y] = [a * (w / 2) + c * (h / 2) + e - width / 2, b * (w / 2) + d * (h / 2) + f - height / 2];
  return { ...frame, box: { x, y, width, height }, turn: turnOf((Math.atan2(b * k, a * k) * 180) / Math.PI), flip };
}

/** A point of a group's own space as a point of what the group stands in. */
function groupMatrix(group: Space): Matrix {
  const { box, space } = group;
  const [kx, ky] = [box.width / space.width, box.height / space.height];
  return multiply(frameMatrix(group), [kx, 0, 0, ky, -space.x * kx, -space.y * ky]);
}
