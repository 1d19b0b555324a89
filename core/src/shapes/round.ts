import { radians } from '../geometry/numeric';
import { pen } from '../geometry/pen';
import type { Path } from '../geometry/path';
import { ellipsePath, roundedBox } from './boxes';
import { knob, onBoard, plainPreset, presetShape, shape, type Shape } from './shape';

/** Always truly round: choosing it makes the box square. */
export const circle = shape('round', 'circle', 'Circle', [], ellipsePath, {
  locked: 1,
  preset: plainPreset('ellipse'),
});

/** The oval: keeps the box as it is. */
export const ellipse = shape('round', 'ellipse', 'Ellipse', [], ellipsePath, { preset: plainPreset('ellipse') });

const half = shape(
  'round',
  'half',
  'Half circle',
  [],
  (w, h) =>
    pen()
      .m(0, h)
      .a(w / 2, h, w / 2, 0)
      .a(w / 2, h, w, h)
      .z().path,
  { locked: 2 },
);

const quarter = presetShape('round', 'quarter', 'Quarter circle', 'pieWedge', [], 1);

const degrees = (name: string, label: string, adjust: string, at: string) =>
  ({ name, label, adjust, range: [0, 359.99], at, unit: 'degree' }) as const;

const sector = presetShape('round', 'sector', 'Sector', 'pie', [
  degrees('start', 'Start', 'adj1', 'x1 y1'),
  degrees('end', 'End', 'adj2', 'hc vc'),
]);

const chord = presetShape('round', 'chord', 'Chord', 'chord', [
  degrees('start', 'Start', 'adj1', 'x1 y1'),
  degrees('end', 'End', 'adj2', 'hc vc'),
]);

const ring = presetShape(
  'round',
  'ring',
  'Ring',
  'donut',
  [{ name: 'width', label: 'Width of the ring', adjust: 'adj', range: [0.02, 0.48], at: 'dr vc' }],
  1,
);

const rainbow = presetShape('round', 'rainbow', 'Rainbow', 'blockArc', [
  degrees('start', 'Start', 'adj1', 'x1 y1'),
  degrees('end', 'End', 'adj2', 'x2 y2'),
  { name: 'width', label: 'Width of the band', adjust: 'adj3', range: [0.02, 0.5], at: 'hc dr' },
]);

/** Where two equal circles overlap, standing upright. */
const lens = shape('round', 'lens', 'Lens', [], (w, h) => {
  // A true vesica at 1 : √3; in another box it is stretched.
  const rx = w;
  const ry = h / Math.sqrt(3);
  return pen()
    .m(w / 2, 0)
    .a(rx, ry, w / 2, h)
    .a(rx, ry, w / 2, 0)
    .z().path;
});

/** Two half ellipses that meet at the widest line. */
const egg = shape(
  'round',
  'egg',
  'Egg',
  [knob('belly', 'Height of the widest line', [0.5, 0.75], 0.62, (w, h, v) => [w, h * v])],
  (w, h, belly) =>
    pen()
      .m(0, h * belly!)
      .a(w / 2, h * belly!, w, h * belly!)
      .a(w / 2, h * (1 - belly!), 0, h * belly!)
      .z().path,
);

const pill = shape('round', 'pill', 'Pill', [], (w, h) => roundedBox(w, h, Math.min(w, h) / 2));

/** |x|ⁿ + |y|ⁿ = 1 (G. Lamé): between circle (2) and square, as curves through 96 points of it. */
const superellipse = shape(
  'round',
  'superellipse',
  'Superellipse',
  [
    {
      ...knob('power', 'Fullness', [2.2, 10], 4, (w, h, v) => [
        (w / 2) * (1 + 0.5 ** (1 / v)),
        (h / 2) * (1 - 0.5 ** (1 / v)),
      ]),
      unit: 'number',
    },
  ],
  (w, h, power) => {
    const points = Array.from({ length: 96 }, (_, i) => {
      const t = radians((360 * i) / 96);
      const at = (v: number): number => Math.sign(v) * Math.abs(v) ** (2 / power!);
      return [(w / 2) * (1 + at(Math.cos(t))), (h / 2) * (1 + at(Math.sin(t)))] as const;
    });
    return smooth(points);
  },
);

const bean = shape(
  'round',
  'bean',
  'Bean',
  [],
  onBoard((p) =>
    p
      .m(30, 4)
      .c(52, -8, 66, 14, 74, 26)
      .c(86, 42, 102, 50, 99, 72)
      .c(96, 96, 66, 106, 44, 96)
      .c(18, 86, -2, 62, 1, 34)
      .c(2, 18, 14, 10, 30, 4)
      .z(),
  ),
);

/** A closed smooth curve through points: Catmull-Rom splines as cubic curves. */
export function smooth(points: readonly (readonly [number, number])[]): Path {
  const n = points.length;
  const at = (i: number): readonly [number, number] => points[((i % n) + n) % n]!;
  const out = pen().m(...(at(0) as [number, number]));
  for (let i = 0; i < n; i++) {
    const [x0, y0] = at(i - 1);
    const [x1, y1] = at(i);
    const [x2, y2] = at(i + 1);
    const [x3, y3] = at(i + 2);
    out.c(x1 + (x2 - x0) / 6, y1 + (y2 - y0) / 6, x2 - (x3 - x1) / 6, y2 - (y3 - y1) / 6, x2, y2);
  }
  return out.z().path;
}

export const ROUND: readonly Shape[] = [
  half,
  quarter,
  sector,
  chord,
  ring,
  rainbow,
  lens,
  egg,
  pill,
  superellipse,
  bean,
];
