import type { Try } from './try';

export { ALL_SHAPES, shapeTries, type ShapeFilter } from './shape-tries';
export { shownShare, type Try, type TryContext } from './try';

/** Tries as they are shown: of those that come to the same, the first counts as what the frame has. */
export function withOneCurrent(tries: readonly Try[]): readonly Try[] {
  let found = false;
  return tries.map((t) => {
    if (!t.current || !found) {
      found ||= t.current;
      return t;
    }
    return { ...t, current: false };
  });
}
