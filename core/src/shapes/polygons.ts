import { clamp } from '../geometry/numeric';
import { polygon } from '../geometry/path';
import { plainPreset, type Shape } from './shape';

/** Lying regular hexagon: width over height is 2 : √3. */
const HEXAGON_RATIO = 2 / Math.sqrt(3);

/**
 * The six-sided shape with its points left and right. `point` is how far the slopes reach in, as a share of the shorter
 * side; at the default, in its own ratio, all sides are equal.
 * The preset (Annex D, hexagon) also has `vf`, whose default of 115,470 makes the upper edge touch the box.
 */
export const hexagon: Shape = {
  name: 'hexagon',
  label: 'Hexagon',
  family: 'polygons',
  locked: HEXAGON_RATIO,
  knobs: [
    {
      name: 'point',
      label: 'Length of the points',
      min: 0,
      max: 0.5,
      default: HEXAGON_RATIO / 4,
      handle: (w, h, value) => ({ x: Math.min(w, h) * value, y: 0 }),
    },
  ],
  path(w, h, knobs) {
    // At most half the width, as the standard's guide `maxAdj` has it.
    const x = Math.min(w / 2, Math.min(w, h) * Math.max(0, knobs['point'] ?? HEXAGON_RATIO / 4));
    return polygon([
      [0, h / 2],
      [x, 0],
      [w - x, 0],
      [w, h / 2],
      [w - x, h],
      [x, h],
    ]);
  },
  preset: {
    name: 'hexagon',
    toAdjust: (knobs) => ({ adj: Math.round((knobs['point'] ?? HEXAGON_RATIO / 4) * 100_000), vf: 115_470 }),
    fromAdjust: (adjust, w, h) => ({ point: clamp((adjust['adj'] ?? 25_000) / 100_000, 0, w / 2 / Math.min(w, h)) }),
  },
};

export const diamond: Shape = {
  name: 'diamond',
  label: 'Diamond',
  family: 'polygons',
  locked: null,
  knobs: [],
  path: (w, h) =>
    polygon([
      [0, h / 2],
      [w / 2, 0],
      [w, h / 2],
      [w / 2, h],
    ]),
  preset: plainPreset('diamond'),
};
