import { equal, type Frame } from '@gable/core';
import { placeTries } from '../tries/placing-tries';
import { PlaceKnobs } from './place-knobs';
import type { Step } from './step';

const partOf = ({ turn, flip, flow, anchor, hover }: Frame): Partial<Frame> => ({
  turn,
  flip,
  flow,
  ...(anchor && { anchor }),
  ...(hover && { hover }),
});

export const place: Step = {
  name: 'place',
  label: 'Place',
  for: ['framed'],
  cuts: false,
  changed: (frame, original) =>
    !equal(partOf(frame), partOf(original)) ||
    (frame.flow === 'floating' && (frame.box.x !== original.box.x || frame.box.y !== original.box.y)),
  reset: ({ hover, ...frame }, original) => {
    void hover;
    return { ...frame, ...partOf(original), box: { ...frame.box, x: original.box.x, y: original.box.y } };
  },
  tries: placeTries,
  controls: PlaceKnobs,
};
