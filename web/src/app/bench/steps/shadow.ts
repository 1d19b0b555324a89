import { shadowTries } from '../tries/look-tries';
import { ShadowKnobs } from './shadow-knobs';
import type { Step } from './step';
import { whole } from './whole';

export const shadow: Step = {
  name: 'shadow',
  label: 'Shadow',
  for: ['framed'],
  cuts: false,
  ...whole(({ shadow }) => ({ shadow })),
  tries: shadowTries,
  controls: ShadowKnobs,
};
