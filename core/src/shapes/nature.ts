import { radians } from '../geometry/numeric';
import { pen } from '../geometry/pen';
import { mergedPath } from '../geometry/polygons';
import { count, knob, onBoard, presetShape, shape, type Shape } from './shape';
import { smooth } from './round';

/** Two cubic curves whose control points are the guides of the preset of the same name (Annex D, heart; from memory). */
export const heart: Shape = presetShape('nature', 'heart', 'Heart', 'heart');

/** Petals round a middle: r = 1 − d · (1 − |cos(n·θ/2)|), drawn as a smooth curve. */
const flower = shape(
  'nature',
  'flower',
  'Flower',
  [
    count('petals', 'Petals', [4, 16], 6),
    knob('depth', 'Depth between the petals', [0.1, 0.7], 0.38, (w, h, v) => [w / 2, (h / 2) * v]),
  ],
  (w, h, petals, depth) => {
    const steps = petals! * 24;
    return smooth(
      Array.from({ length: steps }, (_, i) => {
        const a = (2 * Math.PI * i) / steps;
        const r = 1 - depth! * (1 - Math.abs(Math.cos((petals! * a) / 2)));
        return [w / 2 + (w / 2) * r * Math.sin(a), h / 2 - (h / 2) * r * Math.cos(a)] as const;
      }),
    );
  },
  { locked: 1 },
);

const leaf = shape(
  'nature',
  'leaf',
  'Leaf',
  [],
  onBoard((p) => p.m(0, 100).c(-6, 40, 30, 0, 100, 0).c(102, 68, 62, 106, 0, 100).z()),
);

/** Four hearts with their tips together. */
const clover = shape(
  'nature',
  'clover',
  'Clover',
  [],
  (w, h) => {
    const out = pen().m(w / 2, h / 2);
    for (let i = 0; i < 4; i++) {
      const at = (x: number, y: number): [number, number] => {
        const a = radians(90 * i);
        const [c, s] = [Math.round(Math.cos(a)), Math.round(Math.sin(a))];
        return [w / 2 + (w / 2) * (x * c - y * s), h / 2 + (h / 2) * (x * s + y * c)];
      };
      out
        .c(...at(-0.62, -0.36), ...at(-0.66, -1.02), ...at(-0.28, -1))
        .c(...at(-0.12, -1), ...at(0, -0.9), ...at(0, -0.78))
        .c(...at(0, -0.9), ...at(0.12, -1), ...at(0.28, -1))
        .c(...at(0.66, -1.02), ...at(0.62, -0.36), ...at(0, 0));
    }
    return mergedPath(out.z().path, 'nonzero', Math.max(w, h) / 4000);
  },
  { locked: 1 },
);

const flame = shape(
  'nature',
  'flame',
  'Flame',
  [],
  onBoard((p) =>
    p
      .m(48, 0)
      .c(54, 22, 84, 30, 90, 62)
      .c(94, 84, 76, 100, 50, 100)
      .c(24, 100, 4, 84, 8, 58)
      .c(10, 44, 20, 36, 22, 24)
      .c(30, 32, 33, 38, 34, 46)
      .c(46, 36, 52, 18, 48, 0)
      .z(),
  ),
);

const hills = shape(
  'nature',
  'hills',
  'Hills',
  [],
  onBoard((p) =>
    p.m(0, 100).l(0, 62).c(14, 20, 30, 6, 42, 34).c(48, 48, 54, 44, 60, 34).c(74, 12, 90, 30, 100, 58).l(100, 100).z(),
  ),
);

const bulb = shape(
  'nature',
  'pear',
  'Pear',
  [],
  onBoard((p) =>
    p
      .m(50, 0)
      .c(66, 0, 70, 16, 72, 32)
      .c(76, 50, 100, 54, 100, 76)
      .c(100, 94, 78, 100, 50, 100)
      .c(22, 100, 0, 94, 0, 76)
      .c(0, 54, 24, 50, 28, 32)
      .c(30, 16, 34, 0, 50, 0)
      .z(),
  ),
);

const butterfly = shape(
  'nature',
  'butterfly',
  'Butterfly',
  [],
  onBoard((p) =>
    p
      .m(50, 26)
      .c(58, 4, 84, -4, 98, 4)
      .c(104, 24, 92, 46, 74, 52)
      .c(90, 58, 92, 80, 80, 94)
      .c(66, 104, 54, 86, 50, 70)
      .c(46, 86, 34, 104, 20, 94)
      .c(8, 80, 10, 58, 26, 52)
      .c(8, 46, -4, 24, 2, 4)
      .c(16, -4, 42, 4, 50, 26)
      .z(),
  ),
);

export const NATURE: readonly Shape[] = [
  leaf,
  presetShape('nature', 'drop', 'Drop', 'teardrop', [
    { name: 'point', label: 'Length of the point', adjust: 'adj', range: [0, 1], at: 'x1 y1' },
  ]),
  flower,
  clover,
  presetShape('nature', 'cloud', 'Cloud', 'cloud'),
  presetShape('nature', 'crescent', 'Crescent', 'moon', [
    { name: 'width', label: 'Width of the moon', adjust: 'adj', range: [0.05, 0.87], at: 'g0w vc' },
  ]),
  presetShape('nature', 'sun', 'Sun', 'sun', [
    { name: 'rays', label: 'Length of the rays', adjust: 'adj', range: [0.125, 0.46], at: 'x19 vc' },
  ]),
  presetShape('nature', 'wave', 'Wave', 'wave', [
    { name: 'height', label: 'Height of the wave', adjust: 'adj1', range: [0, 0.2], at: 'l y1' },
    { name: 'shift', label: 'Shift', adjust: 'adj2', range: [-0.1, 0.1], at: 'x2 b' },
  ]),
  presetShape('nature', 'double-wave', 'Double wave', 'doubleWave', [
    { name: 'height', label: 'Height of the wave', adjust: 'adj1', range: [0, 0.125], at: 'l y1' },
    { name: 'shift', label: 'Shift', adjust: 'adj2', range: [-0.1, 0.1], at: 'x2 b' },
  ]),
  presetShape('nature', 'bolt', 'Bolt', 'lightningBolt'),
  flame,
  hills,
  bulb,
  butterfly,
];
