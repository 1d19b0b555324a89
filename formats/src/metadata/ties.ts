import { equal, resolveTies, TieSchema, type Document, type ItemId, type Tie } from '@gable/core';

/**
 * How an item follows another, beside its place: the place is plain, so that any program shows it, and counts where it was changed
 * since. What is followed is named by the file's own terms.
 */
export const TIE_NAMESPACE = 'urn:gable:tie:1';

const RuleSchema = TieSchema.omit({ to: true });
export type TieRule = Omit<Tie, 'to'>;

export function encodeTie({ to, ...rule }: Tie): string {
  void to;
  return JSON.stringify(rule);
}

/** The rule as it was written; null for what is none. */
export function decodeTie(text: string): TieRule | null {
  try {
    return RuleSchema.parse(JSON.parse(text));
  } catch {
    return null;
  }
}

/** Files write lengths in steps, and boxes come of several of them; in points. */
const TOLERANCE = 0.02;

/** Items of a file whose ties do not come to the boxes that they have there: they were moved since, and stand by themselves. */
export function loosened(document: Document): ReadonlySet<ItemId> {
  const loose = new Set<ItemId>();
  for (;;) {
    const items = { ...document.items };
    for (const id of loose) {
      const { tie, ...free } = items[id]!;
      void tie;
      items[id] = free as (typeof items)[string];
    }
    const now = resolveTies({ ...document, items }).items;
    const off = new Set(
      Object.values(items).flatMap((i) => (i.tie && !equal(now[i.id]!.at.box, i.at.box, TOLERANCE) ? [i.id] : [])),
    );
    // What follows something that was moved may still stand off it as it did.
    const first = [...off].filter((id) => !off.has(items[id]!.tie!.to));
    if (first.length === 0) return new Set([...loose, ...off]);
    for (const id of first) loose.add(id);
  }
}
