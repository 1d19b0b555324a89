import { positionTries } from '../tries/placing-tries';
import { PositionKnobs } from './position-knobs';
import type { Step } from './step';
import { whole } from './whole';

export const position: Step = {
  name: 'position',
  label: 'Position',
  for: ['framed'],
  cuts: true,
  ...whole(({ placement, backing }) => ({ placement, backing })),
  tries: positionTries,
  controls: PositionKnobs,
};
