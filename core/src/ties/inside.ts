import { enclosingCircle } from '../geometry/enclosing-circle';
import { flatten } from '../geometry/path';
import { framePath } from '../shapes/index';
import type { Rule } from './rule';

/** So finely outlines are flattened, in shares of their box. */
const FINE = 1 / 2000;

/**
 * Inside: concentric with the middle of its box. The smallest circle round its ink takes a share of the largest circle there, so
 * that letters are centred by what is seen of them.
 */
export const inside: Rule = ({ box }, own, { share = 0.8 }) => {
  const { width, height } = own.at.box;
  const size = { x: 0, y: 0, width, height };
  const points = flatten(framePath({ box: size, shape: own.shape, seat: own.seat }), Math.max(width, height) * FINE);
  const ink = enclosingCircle(points.flat());
  const k = ink.r > 0 ? ((Math.min(box.width, box.height) / 2) * share) / ink.r : 1;
  return {
    box: {
      x: box.x + box.width / 2 - ink.x * k,
      y: box.y + box.height / 2 - ink.y * k,
      width: width * k,
      height: height * k,
    },
  };
};
