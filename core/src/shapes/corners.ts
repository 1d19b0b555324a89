import { pen } from '../geometry/pen';
import { polygon } from '../geometry/path';
import { boxPath, roundedBox } from './boxes';
import { knob, onBoard, plainPreset, presetShape, shape, type PresetKnob, type Shape } from './shape';

export const rectangle = shape('corners', 'rectangle', 'Rectangle', [], boxPath, { preset: plainPreset('rect') });
export const square = shape('corners', 'square', 'Square', [], boxPath, { locked: 1, preset: plainPreset('rect') });

const size = (label: string, adjust = 'adj', at = 'x1 t', name = 'radius', initial?: number): PresetKnob => ({
  name,
  label,
  adjust,
  range: [0, 0.5],
  at,
  ...(initial === undefined ? {} : { initial }),
});

/** Corners rounded by a share of the shorter side; half of it gives a pill. */
export const rounded = presetShape('corners', 'rounded', 'Rounded', 'roundRect', [size('Corner radius')]);

const KAPPA = Math.SQRT1_2;
const corner = (name: string, label: string, initial: number, right: boolean, bottom: boolean) =>
  knob(name, label, [0, 0.5], initial, (w, h, v) => {
    const r = Math.min(w, h) * v * (1 - KAPPA);
    return [right ? w - r : r, bottom ? h - r : r];
  });

/** Each corner with a radius of its own. */
const roundedEach = shape(
  'corners',
  'rounded-each',
  'Rounded, each corner',
  [
    corner('topLeft', 'Top left', 0.5, false, false),
    corner('topRight', 'Top right', 0.1, true, false),
    corner('bottomRight', 'Bottom right', 0.35, true, true),
    corner('bottomLeft', 'Bottom left', 0.1, false, true),
  ],
  (w, h, ...radii) => roundedBox(w, h, radii.map((v) => v * Math.min(w, h)) as [number, number, number, number]),
);

const notch = (name: string, label: string, initial: number) =>
  knob(name, label, [0.02, 0.45], initial, (w, h, v) => [Math.min(w, h) * v, Math.min(w, h) * v]);

/** A square bite out of each corner. */
const notched = shape('corners', 'notched', 'Notched', [notch('size', 'Size of the notch', 0.12)], (w, h, v) => {
  const s = Math.min(w, h) * v!;
  return pen()
    .m(0, s)
    .l(s, s, s, 0, w - s, 0, w - s, s, w, s, w, h - s, w - s, h - s, w - s, h, s, h, s, h - s, 0, h - s)
    .z().path;
});

const bevelled = shape(
  'corners',
  'bevelled',
  'Bevelled',
  [
    knob('across', 'Cut across', [0, 0.5], 0.3, (w, h, v) => [Math.min(w, h) * v, 0]),
    knob('down', 'Cut down', [0, 0.5], 0.12, (w, h, v) => [0, Math.min(w, h) * v]),
  ],
  (w, h, across, down) => {
    const x = Math.min(w, h) * across!;
    const y = Math.min(w, h) * down!;
    return polygon([
      [0, y],
      [x, 0],
      [w - x, 0],
      [w, y],
      [w, h - y],
      [w - x, h],
      [x, h],
      [0, h - y],
    ]);
  },
);

/** Round bites at the middle of the short sides, as a ticket has. */
const ticket = shape(
  'corners',
  'ticket',
  'Ticket',
  [knob('bite', 'Size of the bite', [0.05, 0.3], 0.16, (w, h, v) => [Math.min(w, h) * v, h / 2])],
  (w, h, bite) => {
    const r = Math.min(w, h) * bite!;
    return pen()
      .m(0, 0)
      .l(w, 0, w, h / 2 - r)
      .a(r, r, w, h / 2 + r, false)
      .l(w, h, 0, h, 0, h / 2 + r)
      .a(r, r, 0, h / 2 - r, false)
      .z().path;
  },
);

/** Perforated all round, like a postage stamp: equal half circles along each side. */
const stamp = shape(
  'corners',
  'stamp',
  'Stamp',
  [knob('tooth', 'Size of the holes', [0.03, 0.12], 0.06, (w, h, v) => [Math.min(w, h) * v * 2, 0])],
  (w, h, tooth) => {
    const wish = Math.min(w, h) * tooth! * 4;
    const out = pen().m(0, 0);
    const side = (x0: number, y0: number, x1: number, y1: number): void => {
      const length = Math.hypot(x1 - x0, y1 - y0);
      const n = Math.max(1, Math.round(length / wish));
      const [dx, dy] = [(x1 - x0) / length, (y1 - y0) / length];
      const step = length / n;
      const r = step / 4;
      for (let i = 0; i < n; i++) {
        const a = i * step + r;
        out.l(x0 + dx * a, y0 + dy * a).a(r, r, x0 + dx * (a + 2 * r), y0 + dy * (a + 2 * r), false);
      }
      out.l(x1, y1);
    };
    side(0, 0, w, 0);
    side(w, 0, w, h);
    side(w, h, 0, h);
    side(0, h, 0, 0);
    return out.z().path;
  },
);

/** A sheet with its lower right corner folded up; a thin line of page shows the fold. */
const folded = shape(
  'corners',
  'folded',
  'Folded corner',
  [knob('size', 'Size of the fold', [0.1, 0.5], 0.28, (w, h, v) => [w - Math.min(w, h) * v, h])],
  (w, h, v) => {
    const s = Math.min(w, h) * v!;
    const gap = Math.min(w, h) * 0.02;
    const x = w - s;
    const y = h - s;
    return pen()
      .m(0, 0)
      .l(w, 0, w, y, x, y, x, h, 0, h)
      .z()
      .m(x + gap, y + gap)
      .l(w - gap * 1.4, y + gap, x + gap, h - gap * 1.4)
      .z().path;
  },
);

const barrel = shape(
  'corners',
  'barrel',
  'Barrel',
  [],
  onBoard((p) => p.m(12, 0).l(88, 0).q(112, 50, 88, 100).l(12, 100).q(-12, 50, 12, 0).z()),
);
const waisted = shape(
  'corners',
  'waisted',
  'Waisted',
  [],
  onBoard((p) => p.m(0, 0).l(100, 0).q(70, 50, 100, 100).l(0, 100).q(30, 50, 0, 0).z()),
);

export const CORNERS: readonly Shape[] = [
  roundedEach,
  presetShape('corners', 'rounded-one', 'One corner rounded', 'round1Rect', [
    size('Corner radius', 'adj', 'x1 t', 'radius', 0.42),
  ]),
  presetShape('corners', 'rounded-top', 'Top corners rounded', 'round2SameRect', [
    size('Radius at the top', 'adj1', 'tx2 t', 'top', 0.32),
    size('Radius at the bottom', 'adj2', 'bx1 b', 'bottom'),
  ]),
  presetShape('corners', 'rounded-opposite', 'Opposite corners rounded', 'round2DiagRect', [
    size('One pair', 'adj1', 'x1 t', 'one', 0.36),
    size('Other pair', 'adj2', 'x2 t', 'other'),
  ]),
  presetShape('corners', 'snipped-one', 'One corner snipped', 'snip1Rect', [
    size('Size of the snip', 'adj', 'x1 t', 'size', 0.36),
  ]),
  presetShape('corners', 'snipped-top', 'Top corners snipped', 'snip2SameRect', [
    size('Snip at the top', 'adj1', 'tx2 t', 'top', 0.38),
    size('Snip at the bottom', 'adj2', 'bx1 b', 'bottom'),
  ]),
  presetShape('corners', 'snipped-opposite', 'Opposite corners snipped', 'snip2DiagRect', [
    size('One pair', 'adj1', 'lx1 t', 'one'),
    size('Other pair', 'adj2', 'rx2 t', 'other', 0.3),
  ]),
  presetShape('corners', 'snipped-rounded', 'One rounded, one snipped', 'snipRoundRect', [
    size('Corner radius', 'adj1', 'x1 t', 'radius', 0.45),
    size('Size of the snip', 'adj2', 'x2 t', 'size', 0.3),
  ]),
  presetShape('corners', 'scooped', 'Scooped', 'plaque', [size('Size of the scoop', 'adj', 'x1 t', 'size')]),
  notched,
  bevelled,
  ticket,
  stamp,
  folded,
  barrel,
  waisted,
];
