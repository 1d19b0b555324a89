import { knob, onBoard, presetShape, shape, type PresetKnob, type Shape } from './shape';
import { pen } from '../geometry/pen';

const shaft = (at: string, adjust = 'adj1', range: readonly [number, number] = [0.05, 1]): PresetKnob => ({
  name: 'shaft',
  label: 'Width of the shaft',
  adjust,
  range,
  at,
});
const head = (at: string, adjust = 'adj2', range: readonly [number, number] = [0.05, 1]): PresetKnob => ({
  name: 'head',
  label: 'Length of the head',
  adjust,
  range,
  at,
});
const heads = (at: readonly [string, string, string]): PresetKnob[] => [
  { name: 'shaft', label: 'Width of the shaft', adjust: 'adj1', range: [0.05, 0.5], at: at[0] },
  { name: 'spread', label: 'Width of the heads', adjust: 'adj2', range: [0.13, 0.4], at: at[1] },
  { name: 'head', label: 'Length of the heads', adjust: 'adj3', range: [0.05, 0.5], at: at[2] },
];

/** A swung arrow: a quarter of a ring that ends in a head. */
const curved = shape(
  'arrows',
  'arrow-curved',
  'Curved arrow',
  [knob('width', 'Width of the band', [0.1, 0.5], 0.28, (w, h, v) => [w * v, h])],
  (w, h, v) => {
    const head = 0.3;
    const band = v! * 0.8;
    const mid = 0.36;
    const inner = mid + band / 2;
    const outer = mid - band / 2;
    const x = w * (1 - head);
    return pen()
      .m(0, h)
      .a(x, h * (1 - outer), x, h * outer)
      .l(x, 0, w, h * mid, x, h * mid * 2, x, h * inner)
      .a(x - w * band, h * (1 - inner), w * band, h, false)
      .z().path;
  },
);

/** Only the head, with a hollow behind: a solid pointer. */
const pointer = shape(
  'arrows',
  'pointer',
  'Pointer',
  [],
  onBoard((p) => p.m(0, 0).l(100, 50, 0, 100, 26, 50).z()),
);

export const ARROWS: readonly Shape[] = [
  presetShape('arrows', 'arrow-right', 'Arrow right', 'rightArrow', [shaft('l y1'), head('x1 t')]),
  presetShape('arrows', 'arrow-left', 'Arrow left', 'leftArrow', [shaft('r y1'), head('dx1 t')]),
  presetShape('arrows', 'arrow-up', 'Arrow up', 'upArrow', [shaft('x1 b'), head('l dy2')]),
  presetShape('arrows', 'arrow-down', 'Arrow down', 'downArrow', [shaft('x1 t'), head('l y1')]),
  presetShape('arrows', 'arrow-both', 'Arrow both ways', 'leftRightArrow', [
    shaft('x2 y1'),
    { ...head('x2 t', 'adj2', [0.05, 0.5]), initial: 0.32 },
  ]),
  presetShape('arrows', 'arrow-updown', 'Arrow up and down', 'upDownArrow', [
    shaft('x1 y2'),
    { ...head('l y2', 'adj2', [0.05, 0.5]), initial: 0.32 },
  ]),
  presetShape('arrows', 'arrow-notched', 'Notched arrow', 'notchedRightArrow', [shaft('x1 y1'), head('x1 t')]),
  presetShape('arrows', 'arrow-striped', 'Striped arrow', 'stripedRightArrow', [
    shaft('x4 y1'),
    head('x5 t', 'adj2', [0.05, 0.8]),
  ]),
  presetShape('arrows', 'signpost', 'Signpost', 'homePlate', [
    { name: 'point', label: 'Length of the point', adjust: 'adj', range: [0.05, 1], at: 'x1 t' },
  ]),
  presetShape('arrows', 'chevron', 'Chevron', 'chevron', [
    { name: 'point', label: 'Length of the point', adjust: 'adj', range: [0.05, 0.95], at: 'x2 t' },
  ]),
  pointer,
  presetShape('arrows', 'arrow-bent', 'Bent arrow', 'bentArrow', [
    ...heads(['th b', 'r aw2', 'x4 t']),
    { name: 'bend', label: 'Radius of the bend', adjust: 'adj4', range: [0, 0.6], at: 'bd dh2' },
  ]),
  presetShape('arrows', 'arrow-bent-up', 'Arrow round a corner', 'bentUpArrow', heads(['l y2', 'x1 y1', 'x3 y1'])),
  presetShape('arrows', 'arrow-turning', 'Turning arrow', 'uturnArrow', [
    { name: 'shaft', label: 'Width of the shaft', adjust: 'adj1', range: [0.05, 0.45], at: 'th b' },
    { name: 'spread', label: 'Width of the head', adjust: 'adj2', range: [0.05, 0.25], at: 'x6 y4' },
    { name: 'head', label: 'Length of the head', adjust: 'adj3', range: [0.05, 0.45], at: 'r y4' },
  ]),
  curved,
  presetShape('arrows', 'arrow-four', 'Arrow four ways', 'quadArrow', heads(['x3 x1', 'x2 x1', 'hc x1'])),
  presetShape('arrows', 'arrow-three', 'Arrow three ways', 'leftRightUpArrow', heads(['x3 x1', 'x2 x1', 'hc x1'])),
  presetShape('arrows', 'arrow-corner', 'Arrow two ways', 'leftUpArrow', heads(['x3 x1', 'x2 x1', 'x4 x1'])),
];
