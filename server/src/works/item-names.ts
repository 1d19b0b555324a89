import type { PageItem } from '@gable/core';
import type { Opened } from '../db/models';

/** What lies on pages, on what they share, and in texts, but for pictures, in its order. */
const namesIn = ({ sheets = [], layers = [], stories = [] }: Opened): string[][] =>
  [...sheets, ...layers, ...stories].map(({ items }) =>
    (items as readonly PageItem[]).flatMap((item) => ('picture' in item ? [] : [item.id])),
  );

/** What items of a file are called since it was read anew, by what they were called before; where none were, nothing. */
export function newNames(was: Opened, now: Opened): ReadonlyMap<string, string> {
  const [before, after] = [namesIn(was), namesIn(now)];
  return new Map(
    before.flatMap((ids, i) => {
      const next = after[i] ?? [];
      // Another number of items: more is read now, and nothing of it was changed then.
      return ids.length === next.length ? ids.map((id, j) => [id, next[j]!] as const) : [];
    }),
  );
}

/** A stored value with other names for items, wherever they stand in it: as values or as keys. */
export function renamedIn<T>(value: T, names: ReadonlyMap<string, string>): T {
  const walk = (v: unknown): unknown => {
    if (typeof v === 'string') return names.get(v) ?? v;
    if (Array.isArray(v)) return v.map(walk);
    if (typeof v !== 'object' || v === null) return v;
    return Object.fromEntries(Object.entries(v).map(([key, own]) => [names.get(key) ?? key, walk(own)]));
  };
  return walk(value) as T;
}
