import { flatten, type Rect } from '../geometry/path';
import { framePath } from '../shapes/index';
import type { Framed } from './axes';
import { largestRectangle } from './keep';

/**
 * Where text fits inside a frame's shape: the largest upright rectangle of the box's own ratio, in points from the box's
 * top left. Worked out from the outline, so that it holds for every shape and every setting of its knobs.
 * @returns null for a shape without an inside
 */
export function textInset(frame: Pick<Framed, 'box' | 'seat' | 'shape'>): Rect | null {
  const { width, height } = frame.box;
  return largestRectangle(flatten(framePath(frame), Math.max(width, height) / 1000), width / height);
}
