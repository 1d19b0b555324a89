import { outlineTries } from '../tries/look-tries';
import { OutlineKnobs } from './outline-knobs';
import type { Step } from './step';
import { whole } from './whole';

export const outline: Step = {
  name: 'outline',
  label: 'Outline',
  for: ['framed'],
  cuts: false,
  ...whole(({ outline }) => ({ outline })),
  tries: outlineTries,
  controls: OutlineKnobs,
};
