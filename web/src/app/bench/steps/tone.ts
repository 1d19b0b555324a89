import { equal } from '@gable/core';
import { toneTries } from '../tries/look-tries';
import type { Step } from './step';
import { ToneKnobs } from './tone-knobs';

export const tone: Step = {
  name: 'tone',
  label: 'Tone',
  for: ['framed'],
  cuts: false,
  changed: (frame, original) => !equal(frame.tone, original.tone),
  reset: ({ tone: now, ...frame }, original) => {
    void now;
    return original.tone ? { ...frame, tone: original.tone } : frame;
  },
  tries: toneTries,
  controls: ToneKnobs,
};
