import { plainPreset, type Shape } from './shape';

/** Two cubic curves whose control points are the guides of the preset of the same name (Annex D, heart; from memory). */
export const heart: Shape = {
  name: 'heart',
  label: 'Heart',
  family: 'nature',
  locked: null,
  knobs: [],
  path(w, h) {
    const c = w / 2;
    const far = (w * 49) / 48;
    const near = (w * 10) / 48;
    return [
      { op: 'M', x: c, y: h / 4 },
      { op: 'C', x1: c + near, y1: -h / 3, x2: c + far, y2: h / 4, x: c, y: h },
      { op: 'C', x1: c - far, y1: h / 4, x2: c - near, y2: -h / 3, x: c, y: h / 4 },
      { op: 'Z' },
    ];
  },
  preset: plainPreset('heart'),
};
