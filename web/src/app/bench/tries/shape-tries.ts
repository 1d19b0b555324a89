import {
  defaultKnobs,
  equal,
  movedToSubject,
  SHAPES,
  SYNONYMS,
  withShape,
  type Family,
  type Frame,
  type Shape,
  type ShapeChoice,
} from '@gable/core';
import { cutNote, type Try, type TryContext } from './try';

/** Which shapes are on offer. */
export interface ShapeFilter {
  /** One family; `recent` for those taken before, `own` for the author's silhouettes; null for all. */
  family: Family | 'recent' | 'own' | null;
  /** Words that the name must hold. */
  words: string;
  /** Only shapes that insist on their ratio, or only those that take any. */
  ratio: 'any' | 'locked' | 'free';
  recent: readonly string[];
}

export const ALL_SHAPES: ShapeFilter = { family: null, words: '', ratio: 'any', recent: [] };

/** All that a shape is found by. */
const wordsOf = ({ label, name, family }: Shape): string =>
  `${label} ${name} ${family} ${SYNONYMS[name] ?? ''}`.toLowerCase();

function offered({ family, words, ratio, recent }: ShapeFilter): readonly Shape[] {
  if (family === 'own') return [];
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const all = family === 'recent' ? recent.flatMap((n) => SHAPES.find((s) => s.name === n) ?? []) : SHAPES;
  return all.filter(
    (s) =>
      (family === null || family === 'recent' || s.family === family) &&
      (ratio === 'any' || (s.locked !== null) === (ratio === 'locked')) &&
      wanted.every((w) => wordsOf(s).includes(w)),
  );
}

/** A frame in another shape: a first one keeps the subject, where the file's own crop would cut it. */
function shaped({ frame, size, subject, placed }: TryContext, choice: ShapeChoice): { frame: Frame; unmoved?: Frame } {
  return seenTo({ size, subject, placed }, withShape(frame, choice, size, subject));
}

function seenTo(
  { size, subject, placed }: Pick<TryContext, 'size' | 'subject' | 'placed'>,
  next: Frame,
): { frame: Frame; unmoved?: Frame } {
  const moved = subject && !placed ? movedToSubject(next, size, subject) : null;
  return moved ? { frame: moved, unmoved: next } : { frame: next };
}

/** Shapes in their stable order, the circle first: all, or those asked for; then the author's own. */
export function shapeTries(context: TryContext, filter: ShapeFilter = ALL_SHAPES): Try[] {
  const { frame, size, ranking } = context;
  const known = offered(filter).map((shape): Try => {
    const knobs = frame.shape.name === shape.name ? frame.shape.knobs : defaultKnobs(shape);
    const current = frame.shape.name === shape.name;
    const kept = ranking?.get(shape.name);
    const next = current
      ? seenTo(context, frame)
      : kept
        ? { frame: kept }
        : shaped(context, { name: shape.name, knobs });
    return {
      id: shape.name,
      label: shape.label,
      note: cutNote(next.frame, size),
      ...next,
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
      const next = shaped(context, shape);
      return {
        id: `own-${id}`,
        label: name,
        note: cutNote(next.frame, size),
        ...next,
        current: equal(frame.shape.drawn, shape.drawn) && frame.shape.name === shape.name,
        entry: name,
      };
    }),
  ];
}
