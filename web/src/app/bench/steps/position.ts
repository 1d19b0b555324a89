import { equal, withOverstep, type Frame } from '@gable/core';
import { positionTries } from '../tries/placing-tries';
import { PositionKnobs } from './position-knobs';
import type { Step } from './step';

const partOf = ({ placement, backing, overstep }: Frame): Partial<Frame> => ({ placement, backing, overstep });

export const position: Step = {
  name: 'position',
  label: 'Position',
  for: ['framed'],
  cuts: true,
  changed: (frame, original) => !equal(partOf(frame), partOf(original)),
  reset: (frame, { placement, backing, overstep }) => withOverstep({ ...frame, placement, backing }, overstep ?? null),
  tries: positionTries,
  controls: PositionKnobs,
};
