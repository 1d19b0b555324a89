import { enclosingCircle } from '../geometry/enclosing-circle';
import { frameMatrix } from '../geometry/frame-matrix';
import { radians } from '../geometry/numeric';
import { flatten } from '../geometry/path';
import { applyTo } from '../geometry/transform';
import { framePath } from '../shapes/index';
import type { Rule } from './rule';

/** So finely outlines are flattened, in shares of their box. */
const FINE = 1 / 200_000;

/** Of the diameter of the circle that words stand along: how large they are set where nothing is said. */
export const USUAL_SHARE = 0.13;

/** What stands along a circle is drawn in a box of so many of its radii from the middle to each side: an em beyond it. */
export const reachOf = (share: number): number => 1 + 2 * share;

/**
 * Along: about the smallest circle round what is drawn of it, larger by a gap. The box is that of the whole circle, whatever part of it
 * has letters, so that these keep their place on it.
 */
export const along: Rule = ({ drawn, bare, box, shape, seat, turn }, _own, { gap, share = USUAL_SHARE }) => {
  const flip = { horizontal: false, vertical: false };
  const onPage = frameMatrix({ box, turn, flip });
  const points = flatten(framePath({ box, shape, seat }), Math.max(box.width, box.height) * FINE)
    .flat()
    .map((p) => applyTo(onPage, p));
  const circle = enclosingCircle(points);
  // Its line, and rings round it, reach as far beyond it on all sides.
  const [cos, sin] = [Math.cos(radians(turn)), Math.sin(radians(turn))].map(Math.abs) as [number, number];
  const beyond = Math.max(0, (drawn.width - bare().width) / 2 / (cos + sin));
  const r = Math.max(0.1, circle.r + beyond + gap) * reachOf(share);
  return { box: { x: circle.x - r, y: circle.y - r, width: 2 * r, height: 2 * r } };
};
