import { shapeTries } from '../tries/shape-tries';
import { ShapeKnobs } from './shape-knobs';
import type { Step } from './step';
import { whole } from './whole';

export const shape: Step = {
  name: 'shape',
  label: 'Shape',
  for: ['framed'],
  cuts: true,
  ...whole(({ shape, seat }) => ({ shape, seat })),
  tries: shapeTries,
  controls: ShapeKnobs,
};
