import type { StepName } from '../steps';
import { outlineTries, shadowTries, toneTries } from './look-tries';
import { placeTries, positionTries, ratioTries } from './placing-tries';
import { shapeTries, type ShapeFilter } from './shape-tries';
import type { Try, TryContext } from './try';

export { ALL_SHAPES, shapeTries, type ShapeFilter } from './shape-tries';
export { shownShare, type Try, type TryContext } from './try';

/** The alternatives of a step; of those that come to the same, the first counts as what the frame has. */
export function triesOf(step: StepName, context: TryContext, filter: ShapeFilter): readonly Try[] {
  let found = false;
  return all(step, context, filter).map((t) => {
    if (!t.current || !found) {
      found ||= t.current;
      return t;
    }
    return { ...t, current: false };
  });
}

function all(step: StepName, context: TryContext, filter: ShapeFilter): readonly Try[] {
  switch (step) {
    case 'shape':
      return shapeTries(context, filter);
    case 'ratio':
      return ratioTries(context);
    case 'position':
      return positionTries(context);
    case 'outline':
      return outlineTries(context);
    case 'shadow':
      return shadowTries(context);
    case 'tone':
      return toneTries(context);
    case 'place':
      return placeTries(context);
  }
}
