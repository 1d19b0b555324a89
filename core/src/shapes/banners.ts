import { pen } from '../geometry/pen';
import { knob, onBoard, presetShape, shape, type Shape } from './shape';

const cut = (label: string, initial: number) =>
  knob('cut', label, [0.05, 0.45], initial, (w, h, v) => [w - Math.min(w, h) * v, h / 2]);

/** A flag with two tails. */
const swallowtail = shape('banners', 'swallowtail', 'Swallowtail', [cut('Depth of the cut', 0.35)], (w, h, v) => {
  const c = Math.min(w, h) * v!;
  return pen()
    .m(0, 0)
    .l(w, 0, w - c, h / 2, w, h, 0, h)
    .z().path;
});

/** A ribbon with a cut at both ends. */
const ribbonFlat = shape('banners', 'ribbon-flat', 'Flat ribbon', [cut('Depth of the cuts', 0.25)], (w, h, v) => {
  const c = Math.min(w, h) * v!;
  return pen()
    .m(0, 0)
    .l(w, 0, w - c, h / 2, w, h, 0, h, c, h / 2)
    .z().path;
});

const pennant = shape(
  'banners',
  'pennant',
  'Pennant',
  [],
  onBoard((p) => p.m(0, 0).l(100, 34, 100, 66, 0, 100).z()),
);

const bookmark = shape(
  'banners',
  'bookmark',
  'Bookmark',
  [knob('cut', 'Depth of the cut', [0.05, 0.45], 0.22, (w, h, v) => [w / 2, h * (1 - v)])],
  (w, h, v) =>
    pen()
      .m(0, 0)
      .l(w, 0, w, h, w / 2, h * (1 - v!), 0, h)
      .z().path,
);

const shield = shape(
  'banners',
  'shield',
  'Shield',
  [],
  onBoard((p) => p.m(0, 0).q(50, 9, 100, 0).l(100, 46).c(100, 74, 76, 92, 50, 100).c(24, 92, 0, 74, 0, 46).z()),
);

const crest = shape(
  'banners',
  'crest',
  'Crest',
  [],
  onBoard((p) =>
    p
      .m(0, 12)
      .q(18, 14, 24, 0)
      .q(38, 10, 50, 4)
      .q(62, 10, 76, 0)
      .q(82, 14, 100, 12)
      .c(88, 40, 110, 74, 62, 90)
      .q(54, 92, 50, 100)
      .q(46, 92, 38, 90)
      .c(-10, 74, 12, 40, 0, 12)
      .z(),
  ),
);

/** A label with a slanted end and a hole for a string. */
const tag = shape('banners', 'tag', 'Tag', [], (w, h) => {
  const c = Math.min(w * 0.3, h * 0.5);
  const r = Math.min(w, h) * 0.06;
  return pen()
    .m(c, 0)
    .l(w, 0, w, h, c, h, 0, h * 0.72, 0, h * 0.28)
    .z()
    .m(c * 0.75 - r, h / 2)
    .a(r, r, c * 0.75 + r, h / 2, false)
    .a(r, r, c * 0.75 - r, h / 2, false)
    .z().path;
});

const bunting = shape(
  'banners',
  'bunting',
  'Bunting',
  [],
  onBoard((p) => p.m(0, 0).l(100, 0, 100, 22, 84, 100, 67, 22, 50, 100, 33, 22, 16, 100, 0, 22).z()),
);

const plaque = shape(
  'banners',
  'cartouche',
  'Cartouche',
  [],
  onBoard((p) =>
    p
      .m(0, 50)
      .c(0, 30, 14, 34, 14, 14)
      .c(30, 14, 34, 0, 50, 0)
      .c(66, 0, 70, 14, 86, 14)
      .c(86, 34, 100, 30, 100, 50)
      .c(100, 70, 86, 66, 86, 86)
      .c(70, 86, 66, 100, 50, 100)
      .c(34, 100, 30, 86, 14, 86)
      .c(14, 66, 0, 70, 0, 50)
      .z(),
  ),
);

export const BANNERS: readonly Shape[] = [
  swallowtail,
  ribbonFlat,
  presetShape('banners', 'ribbon-up', 'Ribbon, raised', 'ribbon2', [
    { name: 'fold', label: 'Height of the fold', adjust: 'adj1', range: [0.05, 0.33], at: 'hc y2' },
    { name: 'width', label: 'Width of the middle', adjust: 'adj2', range: [0.25, 0.75], at: 'x2 t' },
  ]),
  presetShape('banners', 'ribbon-down', 'Ribbon, lowered', 'ribbon', [
    { name: 'fold', label: 'Height of the fold', adjust: 'adj1', range: [0.05, 0.33], at: 'hc dy2' },
    { name: 'width', label: 'Width of the middle', adjust: 'adj2', range: [0.25, 0.75], at: 'x2 b' },
  ]),
  pennant,
  bunting,
  bookmark,
  tag,
  shield,
  crest,
  plaque,
];
