import { radians } from '../geometry/numeric';
import { pen, type Pen } from '../geometry/pen';
import { flatten, type Path } from '../geometry/path';
import { fromPolygons, merged } from '../geometry/polygons';
import { knob, onBoard, shape, type Shape } from './shape';

/** Windows, doors and gables: a family of our own. Pointed and round arches as masons strike them. */

const rise = (label: string, initial: number, range: readonly [number, number] = [0.1, 0.8]) =>
  knob('rise', label, range, initial, (w, h, v) => [w, h * v]);

const gable = shape(
  'windows',
  'gable',
  'Gable',
  [rise('Height of the roof', 0.36)],
  (w, h, v) =>
    pen()
      .m(0, h)
      .l(0, h * v!, w / 2, 0, w, h * v!, w, h)
      .z().path,
);

/** A gable whose roof stands out over the walls. */
const dormer = shape(
  'windows',
  'dormer',
  'Dormer',
  [rise('Height of the roof', 0.42), knob('eaves', 'Width of the eaves', [0.02, 0.25], 0.12, (w, h, v) => [w * v, h])],
  (w, h, roof, eaves) => {
    const e = w * eaves!;
    const y = h * roof!;
    return pen()
      .m(e, h)
      .l(e, y, 0, y, w / 2, 0, w, y, w - e, y, w - e, h)
      .z().path;
  },
);

const roundArch = shape('windows', 'round-arch', 'Round arch', [], (w, h) => {
  const ry = Math.min(w / 2, h);
  return pen()
    .m(0, h)
    .l(0, ry)
    .a(w / 2, ry, w / 2, 0)
    .a(w / 2, ry, w, ry)
    .l(w, h)
    .z().path;
});

/** A flat arch: part of a large circle. */
const segmentArch = shape('windows', 'segment-arch', 'Segment arch', [rise('Rise', 0.16, [0.04, 0.45])], (w, h, v) => {
  const s = Math.min(h * v!, w / 2);
  const r = (w * w) / 8 / s + s / 2;
  return pen().m(0, h).l(0, s).a(r, r, w, s).l(w, h).z().path;
});

/** Two arcs struck from the springers' level; where the point is too low for that, the arch is pressed down. */
function pointed(p: Pen, x: number, w: number, y: number, h: number): Pen {
  const full = Math.max(y, w * 0.6);
  const r = (w * w + 4 * full * full) / (4 * w);
  const ry = (r * y) / full;
  return p
    .m(x, h)
    .l(x, y)
    .a(r, ry, x + w / 2, 0)
    .a(r, ry, x + w, y)
    .l(x + w, h)
    .z();
}

const lancet = shape(
  'windows',
  'lancet',
  'Lancet',
  [rise('Height of the point', 0.72, [0.25, 0.9])],
  (w, h, v) => pointed(pen(), 0, w, h * v!, h).path,
);

const tudor = shape('windows', 'tudor-arch', 'Four-centred arch', [rise('Rise', 0.34, [0.15, 0.6])], (w, h, v) => {
  const y = h * v!;
  return pen()
    .m(0, h)
    .l(0, y)
    .c(0, y * 0.45, w * 0.14, y * 0.3, w / 2, 0)
    .c(w * 0.86, y * 0.3, w, y * 0.45, w, y)
    .l(w, h)
    .z().path;
});

const ogee = shape('windows', 'ogee', 'Ogee', [rise('Height of the curve', 0.6, [0.3, 0.9])], (w, h, v) => {
  const y = h * v!;
  return pen()
    .m(0, h)
    .l(0, y)
    .c(0, y * 0.42, w * 0.44, y * 0.5, w / 2, 0)
    .c(w * 0.56, y * 0.5, w, y * 0.42, w, y)
    .l(w, h)
    .z().path;
});

/** More than half a circle over a narrower opening. */
const horseshoe = shape(
  'windows',
  'horseshoe',
  'Horseshoe arch',
  [knob('throat', 'Width of the opening', [0.4, 0.95], 0.68, (w, h, v) => [(w * (1 + v)) / 2, h])],
  (w, h, throat) => {
    const half = (w * throat!) / 2;
    const ry = Math.min(w / 2, h * 0.45);
    const y = ry + ry * Math.sqrt(1 - throat! * throat!);
    return pen()
      .m(w / 2 - half, h)
      .l(w / 2 - half, y)
      .a(w / 2, ry, w / 2, 0)
      .a(w / 2, ry, w / 2 + half, y)
      .l(w / 2 + half, h)
      .z().path;
  },
);

/** Lobes round a middle, each three quarters of a circle or so, one lobe up. */
export function foil(lobes: number, turn = 0): (w: number, h: number) => Path {
  const reach = 1 / (1 + Math.sin(Math.PI / lobes) * 1.08);
  const r = 1 - reach;
  const circles = Array.from({ length: lobes }, (_, i) => {
    const a = radians(-90 + turn + (360 * i) / lobes);
    const [x, y] = [Math.cos(a) * reach, Math.sin(a) * reach];
    return pen()
      .m(x - r, y)
      .a(r, r, x + r, y)
      .a(r, r, x - r, y)
      .z().path;
  });
  const core = pen();
  for (let i = 0; i < lobes; i++) {
    const a = radians(-90 + turn + (360 * i) / lobes);
    const at = [Math.cos(a) * reach, Math.sin(a) * reach] as const;
    if (i === 0) core.m(...at);
    else core.l(...at);
  }
  core.z();
  const joined = merged([...circles.flatMap((c) => flatten(c, 1e-3)), ...flatten(core.path)]);
  const xs = joined.flat().map((p) => p.x);
  const ys = joined.flat().map((p) => p.y);
  const [x0, y0] = [Math.min(...xs), Math.min(...ys)];
  const [dx, dy] = [Math.max(...xs) - x0, Math.max(...ys) - y0];
  return (w, h) =>
    fromPolygons(joined.map((p) => p.map((q) => ({ x: ((q.x - x0) / dx) * w, y: ((q.y - y0) / dy) * h }))));
}

const porthole = shape(
  'windows',
  'porthole',
  'Porthole',
  [knob('ring', 'Width of the ring', [0.04, 0.2], 0.1, (w, h, v) => [Math.min(w, h) * v, h / 2])],
  (w, h, v) => {
    const oval = (inset: number, sweep: boolean): Path =>
      pen()
        .m(inset, h / 2)
        .a(w / 2 - inset, h / 2 - inset, w - inset, h / 2, sweep)
        .a(w / 2 - inset, h / 2 - inset, inset, h / 2, sweep)
        .z().path;
    const s = Math.min(w, h);
    const gap = s * 0.035;
    return [...oval(0, true), ...oval(s * v!, false), ...oval(s * v! + gap, true)];
  },
  { locked: 1 },
);

const keyhole = shape(
  'windows',
  'keyhole',
  'Keyhole',
  [],
  onBoard((p) => p.m(36, 62).a(34, 31, 64, 62, true, true).l(86, 100, 14, 100).z()),
);

/** Two pointed lights side by side. */
const twinLancet = shape('windows', 'twin-lancet', 'Twin lancet', [], (w, h) => {
  const gap = w * 0.05;
  const light = (w - gap) / 2;
  const y = Math.min(light, h * 0.5);
  return pointed(pointed(pen(), 0, light, y, h), light + gap, light, y, h).path;
});

/** Panes of a casement: two by three. */
const casement = shape(
  'windows',
  'casement',
  'Casement',
  [knob('bar', 'Width of the bars', [0.01, 0.12], 0.05, (w, h, v) => [w / 2 + (Math.min(w, h) * v) / 2, h / 2])],
  (w, h, v) => {
    const bar = Math.min(w, h) * v!;
    const out = pen();
    const pw = (w - bar) / 2;
    const ph = (h - bar) / 2;
    for (const x of [0, pw + bar])
      for (const y of [0, ph + bar])
        out
          .m(x, y)
          .l(x + pw, y, x + pw, y + ph, x, y + ph)
          .z();
    return out.path;
  },
);

const stepped = shape(
  'windows',
  'stepped-gable',
  'Stepped gable',
  [],
  onBoard((p) =>
    p
      .m(0, 100)
      .l(
        0,
        45,
        14,
        45,
        14,
        30,
        27,
        30,
        27,
        15,
        40,
        15,
        40,
        0,
        60,
        0,
        60,
        15,
        73,
        15,
        73,
        30,
        86,
        30,
        86,
        45,
        100,
        45,
        100,
        100,
      )
      .z(),
  ),
);

const oriel = shape(
  'windows',
  'oriel',
  'Oriel',
  [],
  onBoard((p) => p.m(14, 0).l(86, 0, 100, 16, 100, 78, 70, 100, 30, 100, 0, 78, 0, 16).z()),
);

export const WINDOWS: readonly Shape[] = [
  gable,
  dormer,
  stepped,
  roundArch,
  segmentArch,
  lancet,
  tudor,
  ogee,
  horseshoe,
  twinLancet,
  casement,
  oriel,
  keyhole,
  porthole,
  shape('windows', 'trefoil', 'Trefoil', [], foil(3)),
  shape('windows', 'quatrefoil', 'Quatrefoil', [], foil(4), { locked: 1 }),
  shape('windows', 'cinquefoil', 'Cinquefoil', [], foil(5)),
  shape('windows', 'rose', 'Rose window', [], foil(10), { locked: 1 }),
];
