import { ratioTries } from '../tries/placing-tries';
import { RatioKnobs } from './ratio-knobs';
import type { Step } from './step';

export const ratio: Step = {
  name: 'ratio',
  label: 'Ratio',
  for: ['framed'],
  cuts: true,
  changed: ({ box }, { box: was }) => box.width !== was.width || box.height !== was.height,
  // Where it stands is another step's.
  reset: (frame, { box }) => ({ ...frame, box: { ...box, x: frame.box.x, y: frame.box.y } }),
  tries: ratioTries,
  controls: RatioKnobs,
};
