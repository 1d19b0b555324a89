import { defaultKnobs, equal, SHAPES, withShape, type Family, type Shape } from '@gable/core';
import { shownNote, type Try, type TryContext } from './try';

/** Which shapes are on offer. */
export interface ShapeFilter {
  /** One family; `lately` for those taken before, `own` for the author's silhouettes; null for all. */
  family: Family | 'lately' | 'own' | null;
  /** Words that the name must hold. */
  words: string;
  /** Only shapes that insist on their ratio, or only those that take any. */
  ratio: 'any' | 'locked' | 'free';
  lately: readonly string[];
}

export const ALL_SHAPES: ShapeFilter = { family: null, words: '', ratio: 'any', lately: [] };

function offered({ family, words, ratio, lately }: ShapeFilter): readonly Shape[] {
  if (family === 'own') return [];
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const all = family === 'lately' ? lately.flatMap((n) => SHAPES.find((s) => s.name === n) ?? []) : SHAPES;
  return all.filter(
    (s) =>
      (family === null || family === 'lately' || s.family === family) &&
      (ratio === 'any' || (s.locked !== null) === (ratio === 'locked')) &&
      wanted.every((w) => s.label.toLowerCase().includes(w) || s.name.includes(w) || s.family.includes(w)),
  );
}

/** Shapes in their stable order, the circle first: all, or those asked for; then the author's own. */
export function shapeTries(context: TryContext, filter: ShapeFilter = ALL_SHAPES): Try[] {
  const { frame, size, subject, ranking } = context;
  const known = offered(filter).map((shape): Try => {
    const knobs = frame.shape.name === shape.name ? frame.shape.knobs : defaultKnobs(shape);
    const current = frame.shape.name === shape.name;
    const next = current
      ? frame
      : (ranking?.get(shape.name) ?? withShape(frame, { name: shape.name, knobs }, size, subject));
    return {
      id: shape.name,
      label: shape.label,
      note: shownNote(next, size),
      frame: next,
      current,
      entry: shape.label.toLowerCase(),
    };
  });
  const words = filter.words.toLowerCase().trim();
  const own =
    filter.family === null || filter.family === 'own'
      ? context.own.filter((o) => filter.ratio !== 'free' && o.name.toLowerCase().includes(words))
      : [];
  return [
    ...known,
    ...own.map(({ id, name, shape }): Try => {
      const next = withShape(frame, shape, size, subject);
      return {
        id: `own-${id}`,
        label: name,
        note: shownNote(next, size),
        frame: next,
        current: equal(frame.shape.drawn, shape.drawn) && frame.shape.name === shape.name,
        entry: name,
      };
    }),
  ];
}
