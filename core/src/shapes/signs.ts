import { pen } from '../geometry/pen';
import { knob, onBoard, presetShape, shape, type PresetKnob, type Shape } from './shape';

const weight = (at: string, max: number, adjust = 'adj1'): PresetKnob => ({
  name: 'weight',
  label: 'Thickness',
  adjust,
  range: [0.03, max],
  at,
});

/** Upright cross whose arms sit above the middle. */
const cross = shape(
  'signs',
  'cross',
  'Cross',
  [knob('arm', 'Width of the arms', [0.08, 0.5], 0.26, (w, _, v) => [(w * (1 + v)) / 2, 0])],
  (w, h, arm) => {
    const half = (w * arm!) / 2;
    const y = h * 0.34;
    const t = Math.min(half, y * 0.9);
    return pen()
      .m(w / 2 - half, 0)
      .l(w / 2 + half, 0, w / 2 + half, y - t, w, y - t, w, y + t, w / 2 + half, y + t, w / 2 + half, h)
      .l(w / 2 - half, h, w / 2 - half, y + t, 0, y + t, 0, y - t, w / 2 - half, y - t)
      .z().path;
  },
);

const tick = shape(
  'signs',
  'tick',
  'Tick',
  [],
  onBoard((p) => p.m(0, 58).l(16, 40, 38, 62, 84, 6, 100, 22, 40, 94).z()),
);

const hash = shape(
  'signs',
  'hash',
  'Hash',
  [],
  onBoard((p) =>
    p
      .m(22, 0)
      .l(
        40,
        0,
        40,
        22,
        60,
        22,
        60,
        0,
        78,
        0,
        78,
        22,
        100,
        22,
        100,
        40,
        78,
        40,
        78,
        60,
        100,
        60,
        100,
        78,
        78,
        78,
        78,
        100,
        60,
        100,
        60,
        78,
        40,
        78,
        40,
        100,
        22,
        100,
        22,
        78,
        0,
        78,
        0,
        60,
        22,
        60,
        22,
        40,
        0,
        40,
        0,
        22,
        22,
        22,
      )
      .z()
      .m(40, 40)
      .l(40, 60, 60, 60, 60, 40)
      .z(),
  ),
);

const stairs = shape(
  'signs',
  'stairs',
  'Stairs',
  [],
  onBoard((p) => p.m(0, 100).l(0, 75, 25, 75, 25, 50, 50, 50, 50, 25, 75, 25, 75, 0, 100, 0, 100, 100).z()),
);

export const SIGNS: readonly Shape[] = [
  presetShape('signs', 'plus', 'Plus', 'plus', [
    { name: 'arm', label: 'Length of the arms', adjust: 'adj', range: [0.02, 0.48], at: 'x1 t' },
  ]),
  presetShape('signs', 'plus-slim', 'Plus, slim', 'mathPlus', [weight('x3 y1', 0.73)]),
  presetShape('signs', 'minus', 'Minus', 'mathMinus', [weight('x1 y1', 1)]),
  presetShape('signs', 'times', 'Times', 'mathMultiply', [weight('xB yB', 0.5)]),
  presetShape('signs', 'divide', 'Divide', 'mathDivide', [weight('x1 y3', 0.36)]),
  presetShape('signs', 'equals', 'Equals', 'mathEqual', [
    weight('x1 y1', 0.36),
    { name: 'gap', label: 'Gap', adjust: 'adj2', range: [0.02, 0.5], at: 'x2 y2' },
  ]),
  cross,
  tick,
  hash,
  stairs,
  presetShape('signs', 'frame', 'Frame', 'frame', [
    { name: 'width', label: 'Width of the frame', adjust: 'adj1', range: [0.01, 0.48], at: 'x1 vc' },
  ]),
  presetShape('signs', 'half-frame', 'Half frame', 'halfFrame', [
    { name: 'top', label: 'Width at the top', adjust: 'adj1', range: [0.05, 0.6], at: 'hc y1' },
    { name: 'side', label: 'Width at the side', adjust: 'adj2', range: [0.05, 0.6], at: 'x1 vc' },
  ]),
  presetShape('signs', 'corner', 'Corner', 'corner', [
    { name: 'foot', label: 'Height of the foot', adjust: 'adj1', range: [0.05, 0.95], at: 'r y1' },
    { name: 'post', label: 'Width of the post', adjust: 'adj2', range: [0.05, 0.95], at: 'x1 t' },
  ]),
  presetShape('signs', 'stripe', 'Stripe', 'diagStripe', [
    { name: 'width', label: 'Width', adjust: 'adj', range: [0.05, 0.95], at: 'x2 t' },
  ]),
  presetShape('signs', 'barred', 'Barred circle', 'noSmoking', [
    { name: 'width', label: 'Width', adjust: 'adj', range: [0.03, 0.4], at: 'dr vc' },
  ]),
];
