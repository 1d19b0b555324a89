import type { Path } from '../geometry/path';
import { plainPreset, type Shape } from './shape';

/** Two half arcs, starting at the left and running clockwise. */
function ellipsePath(width: number, height: number): Path {
  const arc = { op: 'A', rx: width / 2, ry: height / 2, turn: 0, large: false, sweep: true } as const;
  return [
    { op: 'M', x: 0, y: height / 2 },
    { ...arc, x: width, y: height / 2 },
    { ...arc, x: 0, y: height / 2 },
    { op: 'Z' },
  ];
}

/** Always truly round: choosing it makes the box square. */
export const circle: Shape = {
  name: 'circle',
  label: 'Circle',
  family: 'round',
  locked: 1,
  knobs: [],
  path: ellipsePath,
  preset: plainPreset('ellipse'),
};

/** The oval: keeps the box as it is. */
export const ellipse: Shape = {
  name: 'ellipse',
  label: 'Ellipse',
  family: 'round',
  locked: null,
  knobs: [],
  path: ellipsePath,
  preset: plainPreset('ellipse'),
};
