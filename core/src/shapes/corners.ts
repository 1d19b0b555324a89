import { clamp } from '../geometry/numeric';
import { polygon, type Path } from '../geometry/path';
import { plainPreset, type Shape } from './shape';

const box = (w: number, h: number): Path =>
  polygon([
    [0, 0],
    [w, 0],
    [w, h],
    [0, h],
  ]);

export const rectangle: Shape = {
  name: 'rectangle',
  label: 'Rectangle',
  family: 'corners',
  locked: null,
  knobs: [],
  path: box,
  preset: plainPreset('rect'),
};

export const square: Shape = {
  name: 'square',
  label: 'Square',
  family: 'corners',
  locked: 1,
  knobs: [],
  path: box,
  preset: plainPreset('rect'),
};

/** Corners rounded by a share of the shorter side; half of it gives a pill. */
export const rounded: Shape = {
  name: 'rounded',
  label: 'Rounded',
  family: 'corners',
  locked: null,
  knobs: [
    {
      name: 'radius',
      label: 'Corner radius',
      min: 0,
      max: 0.5,
      // The default of the preset of the same form: 16,667 (Annex D, roundRect).
      default: 0.16667,
      handle: (w, h, value) => ({ x: Math.min(w, h) * value, y: 0 }),
    },
  ],
  path(w, h, knobs) {
    const r = Math.min(w, h) * clamp(knobs['radius'] ?? 0, 0, 0.5);
    if (r === 0) return box(w, h);
    const arc = { op: 'A', rx: r, ry: r, turn: 0, large: false, sweep: true } as const;
    return [
      { op: 'M', x: 0, y: r },
      { ...arc, x: r, y: 0 },
      { op: 'L', x: w - r, y: 0 },
      { ...arc, x: w, y: r },
      { op: 'L', x: w, y: h - r },
      { ...arc, x: w - r, y: h },
      { op: 'L', x: r, y: h },
      { ...arc, x: 0, y: h - r },
      { op: 'Z' },
    ];
  },
  preset: {
    name: 'roundRect',
    toAdjust: (knobs) => ({ adj: Math.round((knobs['radius'] ?? 0.16667) * 100_000) }),
    fromAdjust: (adjust) => ({ radius: clamp((adjust['adj'] ?? 16_667) / 100_000, 0, 0.5) }),
  },
};
