import { equal, type Frame } from '@gable/core';

/** The steps, in the order in which people work; none of them locks another. */
export const STEPS = [
  { name: 'shape', label: 'Shape' },
  { name: 'ratio', label: 'Ratio' },
  { name: 'position', label: 'Position' },
  { name: 'outline', label: 'Outline' },
  { name: 'shadow', label: 'Shadow' },
  { name: 'tone', label: 'Tone' },
  { name: 'place', label: 'Place' },
] as const;

export type StepName = (typeof STEPS)[number]['name'];

/** What of a frame belongs to a step, so that one step alone can be put back. */
function partOf(step: StepName, f: Frame): Partial<Frame> {
  switch (step) {
    case 'shape':
      return { shape: f.shape, seat: f.seat };
    case 'ratio':
      return { box: { ...f.box, x: 0, y: 0 } };
    case 'position':
      return { placement: f.placement, backing: f.backing };
    case 'outline':
      return { outline: f.outline };
    case 'shadow':
      return { shadow: f.shadow };
    case 'tone':
      return { tone: f.tone } as Partial<Frame>;
    case 'place':
      return { turn: f.turn, flip: f.flip, flow: f.flow };
  }
}

/** Does a step differ from how the frame came? */
export const stepChanged = (step: StepName, frame: Frame, original: Frame): boolean =>
  !equal(partOf(step, frame), partOf(step, original)) ||
  (step === 'place' && frame.flow === 'floating' && (frame.box.x !== original.box.x || frame.box.y !== original.box.y));

/** The frame with one step as it came. */
export function stepBack(step: StepName, frame: Frame, original: Frame): Frame {
  const { x, y } = frame.box;
  switch (step) {
    case 'ratio':
      return { ...frame, box: { ...original.box, x, y } };
    case 'place':
      return {
        ...frame,
        ...partOf('place', original),
        box: { ...frame.box, x: original.box.x, y: original.box.y },
      };
    case 'tone': {
      const next = { ...frame };
      delete next.tone;
      return original.tone ? { ...next, tone: original.tone } : next;
    }
    default:
      return { ...frame, ...partOf(step, original) };
  }
}
