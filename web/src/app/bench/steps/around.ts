import { AroundKnobs } from '../../around/around-knobs';
import { aroundTries } from '../tries/around-tries';
import type { Step } from './step';

export const around: Step = {
  name: 'around',
  label: 'Around',
  for: ['framed'],
  cuts: false,
  tries: aroundTries,
  changed: () => false,
  reset: (frame) => frame,
  controls: AroundKnobs,
};
