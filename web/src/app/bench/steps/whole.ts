import { equal, type Frame } from '@gable/core';
import type { Step } from './step';

/** How a step is put back whose properties are its own alone. */
export const whole = (partOf: (frame: Frame) => Partial<Frame>): Pick<Step, 'changed' | 'reset'> => ({
  changed: (frame, original) => !equal(partOf(frame), partOf(original)),
  reset: (frame, original) => ({ ...frame, ...partOf(original) }),
});
