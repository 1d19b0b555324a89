import { shapeOf } from '@gable/core';
import { shapeTries } from '../tries/shape-tries';
import { ShapeKnobs } from './shape-knobs';
import type { Step } from './step';
import { whole } from './whole';

export const shape: Step = {
  name: 'shape',
  label: 'Shape',
  title: (frame) => shapeOf(frame.shape)?.label ?? 'Shape of the file',
  for: ['framed'],
  cuts: true,
  ...whole(({ shape, seat }) => ({ shape, seat })),
  tries: shapeTries,
  controls: ShapeKnobs,
};
