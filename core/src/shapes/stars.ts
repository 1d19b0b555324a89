import { radians } from '../geometry/numeric';
import { pen } from '../geometry/pen';
import { polygon } from '../geometry/path';
import { count, knob, onBoard, presetShape, shape, type Shape } from './shape';

const star = (points: number, label: string, at: string): Shape =>
  presetShape('stars', `star-${points}`, label, `star${points}`, [
    // At cos(180°/n) the sides of a star are straight: it has become a polygon.
    { name: 'depth', label: 'Inner size', adjust: 'adj', range: [0.02, Math.cos(Math.PI / points) / 2 - 0.005], at },
  ]);

/** Round bumps all the way round, like a seal of wax paper. */
const seal = shape(
  'stars',
  'seal',
  'Scalloped seal',
  [count('bumps', 'Bumps', [6, 40], 18)],
  (w, h, bumps) => {
    const n = bumps!;
    const step = 360 / n;
    // The bumps are half circles on a circle of radius 1 − r, scaled into the box.
    const inner = 1 / (1 + Math.tan(radians(step / 2)));
    const at = (i: number): [number, number] => {
      const a = radians(-90 - step / 2 + step * i);
      return [w / 2 + (w / 2) * inner * Math.cos(a), h / 2 + (h / 2) * inner * Math.sin(a)];
    };
    const r = inner * Math.sin(radians(step / 2));
    const out = pen().m(...at(0));
    for (let i = 1; i <= n; i++) out.a((w / 2) * r, (h / 2) * r, ...at(i));
    return out.z().path;
  },
  { locked: 1 },
);

const gear = shape(
  'stars',
  'gear',
  'Gear',
  [
    count('teeth', 'Teeth', [5, 32], 12),
    knob('depth', 'Depth of the teeth', [0.04, 0.3], 0.14, (w, h, v) => [w / 2, (h / 2) * v]),
  ],
  (w, h, teeth, depth) => {
    const n = teeth!;
    const points: [number, number][] = [];
    for (let i = 0; i < n; i++)
      for (const [share, out] of [
        [-0.3, false],
        [-0.17, true],
        [0.17, true],
        [0.3, false],
      ] as const) {
        const a = radians(-90 + (360 * (i + share)) / n);
        const r = out ? 1 : 1 - depth!;
        points.push([w / 2 + (w / 2) * r * Math.cos(a), h / 2 + (h / 2) * r * Math.sin(a)]);
      }
    return polygon(points);
  },
  { locked: 1 },
);

/** Four points drawn in with hollow curves. */
const sparkle = shape(
  'stars',
  'sparkle',
  'Sparkle',
  [knob('waist', 'Fullness', [0.02, 0.4], 0.14, (w, h, v) => [w * (0.5 + v / 2), h * (0.5 - v / 2)])],
  (w, h, waist) => {
    const at = (x: number, y: number): [number, number] => [w * (0.5 + x * waist!), h * (0.5 + y * waist!)];
    return pen()
      .m(w / 2, 0)
      .q(...at(0.5, -0.5), w, h / 2)
      .q(...at(0.5, 0.5), w / 2, h)
      .q(...at(-0.5, 0.5), 0, h / 2)
      .q(...at(-0.5, -0.5), w / 2, 0)
      .z().path;
  },
);

const pinwheel = shape(
  'stars',
  'pinwheel',
  'Pinwheel',
  [],
  onBoard((p) =>
    p
      .m(50, 50)
      .l(50, 0)
      .q(78, 4, 74, 26)
      .z()
      .m(50, 50)
      .l(100, 50)
      .q(96, 78, 74, 74)
      .z()
      .m(50, 50)
      .l(50, 100)
      .q(22, 96, 26, 74)
      .z()
      .m(50, 50)
      .l(0, 50)
      .q(4, 22, 26, 26)
      .z(),
  ),
  { locked: 1 },
);

export const STARS: readonly Shape[] = [
  star(4, 'Star of 4', 'x1 y1'),
  star(5, 'Star of 5', 'sx3 sy1'),
  star(6, 'Star of 6', 'sx3 sy1'),
  star(7, 'Star of 7', 'sx4 sy1'),
  star(8, 'Star of 8', 'x1 y1'),
  star(10, 'Star of 10', 'sx4 sy1'),
  star(12, 'Star of 12', 'x1 y1'),
  star(16, 'Star of 16', 'x1 y1'),
  star(24, 'Star of 24', 'x1 y1'),
  star(32, 'Star of 32', 'x1 y1'),
  sparkle,
  seal,
  gear,
  pinwheel,
  presetShape('stars', 'burst', 'Burst', 'irregularSeal1'),
  presetShape('stars', 'burst-wild', 'Wild burst', 'irregularSeal2'),
];
