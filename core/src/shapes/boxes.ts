import { pen } from '../geometry/pen';
import type { Path } from '../geometry/path';

/** Outlines that many shapes begin with. Each fills a box of `w` × `h`, running clockwise. */

export const boxPath = (w: number, h: number): Path => pen().m(0, 0).l(w, 0, w, h, 0, h).z().path;

/** Two half arcs, starting at the left. */
export const ellipsePath = (w: number, h: number): Path =>
  pen()
    .m(0, h / 2)
    .a(w / 2, h / 2, w, h / 2)
    .a(w / 2, h / 2, 0, h / 2)
    .z().path;

/** A box with rounded corners: radii in points from the top left clockwise, or one for all. */
export function roundedBox(w: number, h: number, radii: number | readonly [number, number, number, number]): Path {
  const [a, b, c, d] = typeof radii === 'number' ? [radii, radii, radii, radii] : radii;
  return pen()
    .m(0, a)
    .a(a, a, a, 0)
    .l(w - b, 0)
    .a(b, b, w, b)
    .l(w, h - c)
    .a(c, c, w - c, h)
    .l(d, h)
    .a(d, d, 0, h - d)
    .z().path;
}
