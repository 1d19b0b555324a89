import type { Box, Handle, Point } from '@gable/core';
import { REACH, snapEdges, type PageGuide, type Rests } from './snap';

/** How exactly a side lies on a line, in CSS pixels. */
const EXACT = 0.4;

interface Pulling<P> {
  /** What comes of pulling a handle so far, in points. */
  at: (by: Point) => P;
  /** Where that is shown, in CSS pixels. */
  boxOf: (pull: P) => Box;
  by: Point;
  handle: Handle;
  rests: Rests | null;
  /** CSS pixels to the point. */
  scale: number;
}

const edgeOf = (box: Box, handle: Handle, axis: 'x' | 'y'): number =>
  box[axis] + (handle[axis] > 0 ? (axis === 'x' ? box.width : box.height) : 0);

/**
 * A side or a corner that is pulled comes to rest in line with what else lies on the page. Where the ratio is kept, one side of a
 * corner can.
 */
export function restingPull<P>({ at, boxOf, by, handle, rests, scale }: Pulling<P>): { pull: P; guides: PageGuide[] } {
  let [pull, way] = [at(by), by];
  const guides: PageGuide[] = [];
  if (!rests) return { pull, guides };
  for (const rest of snapEdges(boxOf(pull), handle, rests, REACH)) {
    const { axis } = rest;
    const to = edgeOf(boxOf(pull), handle, axis) + rest.by;
    const held = guides.map((g) => ({ axis: g.axis, at: g.at }));
    let [next, nextWay] = [pull, way];
    // A kept ratio moves a side less than its handle: what is missing is made up for.
    for (let i = 0; i < 5 && Math.abs(to - edgeOf(boxOf(next), handle, axis)) > EXACT / 4; i++) {
      const missing = to - edgeOf(boxOf(next), handle, axis);
      nextWay = { ...nextWay, [axis]: nextWay[axis] + missing / scale };
      next = at(nextWay);
    }
    const rested = (g: { axis: 'x' | 'y'; at: number }): boolean =>
      Math.abs(edgeOf(boxOf(next), handle, g.axis) - g.at) <= EXACT;
    if (![...held, { axis, at: to }].every(rested)) continue;
    [pull, way] = [next, nextWay];
    guides.push(...rest.guides);
  }
  return { pull, guides };
}
