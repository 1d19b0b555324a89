import { boundsOfPoints } from '../geometry/measure';
import { boxMatrix } from '../geometry/frame-matrix';
import type { Rect } from '../geometry/path';
import { applyTo } from '../geometry/transform';
import type { Frame, Region, Size } from '../model/frame';
import { deriveView, ontoBox } from '../placement/view';

/** Where a part of a picture lies on its page: the upright box round it. @param size of the picture, in pixels */
export function regionOnPage(
  frame: Pick<Frame, 'box' | 'placement' | 'turn' | 'flip'>,
  { u, v, width, height }: Region,
  size: Size,
): Rect {
  const { matrix } = deriveView(frame.placement, frame.box, size);
  const placed = boxMatrix(frame);
  const b = boundsOfPoints(
    [u, u + width].flatMap((x) => [v, v + height].map((y) => applyTo(placed, ontoBox(matrix, { u: x, v: y }, size)))),
  );
  return { ...b, x: frame.box.x + b.x, y: frame.box.y + b.y };
}

/** How much of a face letters cover, 0 to 1: of that which they cover most. */
export function faceCovered(letters: Rect, faces: readonly Rect[]): number {
  const shared = (from: number, to: number, a: number, b: number): number =>
    Math.max(0, Math.min(to, b) - Math.max(from, a));
  return Math.max(
    0,
    ...faces.map((f) => {
      const across = shared(f.x, f.x + f.width, letters.x, letters.x + letters.width);
      const down = shared(f.y, f.y + f.height, letters.y, letters.y + letters.height);
      return (across * down) / Math.max(1e-9, f.width * f.height);
    }),
  );
}
