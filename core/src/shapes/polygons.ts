import { clamp, radians } from '../geometry/numeric';
import { polygon, type Path } from '../geometry/path';
import { knob, onBoard, plainPreset, presetShape, shape, type Preset, type Shape } from './shape';

type Pairs = readonly (readonly [number, number])[];

/** Corners of a regular polygon with one corner up, in its own bounds; and width over height of those bounds. */
function regular(sides: number, turn = 0): { corners: Pairs; ratio: number } {
  const raw = Array.from({ length: sides }, (_, i) => {
    const a = radians(-90 + turn + (360 * i) / sides);
    return [Math.cos(a), Math.sin(a)] as const;
  });
  const xs = raw.map((p) => p[0]);
  const ys = raw.map((p) => p[1]);
  const [x0, y0] = [Math.min(...xs), Math.min(...ys)];
  const [width, height] = [Math.max(...xs) - x0, Math.max(...ys) - y0];
  return { corners: raw.map(([x, y]) => [(x - x0) / width, (y - y0) / height] as const), ratio: width / height };
}

const stretch = (corners: Pairs, w: number, h: number): Path =>
  polygon(corners.map(([x, y]) => [x * w, y * h] as const));

/** A regular polygon insists on its ratio, or it would not be regular. */
function regularShape(name: string, label: string, sides: number, turn: number, preset?: Preset): Shape {
  const { corners, ratio } = regular(sides, turn);
  return shape('polygons', name, label, [], (w, h) => stretch(corners, w, h), {
    locked: ratio,
    ...(preset ? { preset } : {}),
  });
}

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
    knob('point', 'Length of the points', [0, 0.5], HEXAGON_RATIO / 4, (w, h, value) => [Math.min(w, h) * value, 0]),
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

export const diamond = shape(
  'polygons',
  'diamond',
  'Diamond',
  [],
  onBoard((p) => p.m(0, 50).l(50, 0, 100, 50, 50, 100).z()),
  { preset: plainPreset('diamond') },
);

const kite = shape(
  'polygons',
  'kite',
  'Kite',
  [knob('shoulder', 'Height of the shoulders', [0.1, 0.45], 0.3, (w, h, v) => [w, h * v])],
  (w, h, v) =>
    stretch(
      [
        [0.5, 0],
        [1, v!],
        [0.5, 1],
        [0, v!],
      ],
      w,
      h,
    ),
);

const slope = shape(
  'polygons',
  'slope',
  'Slope',
  [
    knob('left', 'Left edge', [0, 0.9], 0.35, (_, h, v) => [0, h * v]),
    knob('right', 'Right edge', [0, 0.9], 0, (w, h, v) => [w, h * v]),
  ],
  (w, h, left, right) =>
    stretch(
      [
        [0, left!],
        [1, right!],
        [1, 1],
        [0, 1],
      ],
      w,
      h,
    ),
);

/** An arrowhead without a shaft: a triangle with its base drawn in. */
const dart = shape(
  'polygons',
  'dart',
  'Dart',
  [knob('notch', 'Depth of the notch', [0.05, 0.8], 0.3, (w, h, v) => [w / 2, h * (1 - v)])],
  (w, h, v) =>
    stretch(
      [
        [0.5, 0],
        [1, 1],
        [0.5, 1 - v!],
        [0, 1],
      ],
      w,
      h,
    ),
);

export const POLYGONS: readonly Shape[] = [
  presetShape('polygons', 'triangle', 'Triangle', 'triangle', [
    { name: 'apex', label: 'Place of the tip', adjust: 'adj', range: [0, 1], at: 'x2 t' },
  ]),
  presetShape('polygons', 'right-triangle', 'Right triangle', 'rtTriangle'),
  kite,
  dart,
  presetShape('polygons', 'parallelogram', 'Parallelogram', 'parallelogram', [
    { name: 'slant', label: 'Slant', adjust: 'adj', range: [0, 1], at: 'x2 t' },
  ]),
  presetShape('polygons', 'trapezoid', 'Trapezoid', 'trapezoid', [
    { name: 'slant', label: 'Slant', adjust: 'adj', range: [0, 0.5], at: 'x2 t' },
  ]),
  slope,
  regularShape('pentagon', 'Pentagon', 5, 0, plainPreset('pentagon')),
  regularShape('heptagon', 'Heptagon', 7, 0, plainPreset('heptagon')),
  presetShape(
    'polygons',
    'octagon',
    'Octagon',
    'octagon',
    [{ name: 'cut', label: 'Size of the cut', adjust: 'adj', range: [0.15, 0.45], at: 'x1 t' }],
    1,
  ),
  regularShape('nonagon', 'Nonagon', 9, 0),
  regularShape('decagon', 'Decagon', 10, 18, plainPreset('decagon')),
  regularShape('hendecagon', 'Hendecagon', 11, 0),
  regularShape('dodecagon', 'Dodecagon', 12, 15, plainPreset('dodecagon')),
];
