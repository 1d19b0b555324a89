import type { Document, Item, Page } from './document';
import { equal } from './equal';
import { apply, applyAll, type Operation } from './operations';
import { holdersOf, itemsOf, sameHolder, slotsOf, withChildren, type Holder } from './tree';

/** Properties whose own properties are told apart: two windows may change them side by side. */
const DEEP: ReadonlySet<string> = new Set(['fill', 'at']);
/** Kept by other operations. */
const STRUCTURE: ReadonlySet<string> = new Set(['id', 'kind', 'children', 'items']);

/**
 * The operations that make one document of another; none exactly when they are equal. Layers and stories are the file's: both
 * documents must have the same.
 */
export function diff(from: Document, to: Document): Operation[] {
  const operations: Operation[] = sameStructure(from, to) ? [] : structural(from, to);
  const now = operations.length > 0 ? applyAll(from, operations).document : from;
  // Ties last: they lead to items that must be there.
  const changes = [...Object.values(to.items)].flatMap((item) => settings('set', now.items[item.id]!, item));
  const ties = changes.filter(({ path }) => path === 'tie');
  operations.push(...changes.filter(({ path }) => path !== 'tie'));
  operations.push(
    ...ties.filter(({ value }) => value === undefined),
    ...ties.filter(({ value }) => value !== undefined),
  );
  for (const page of to.pages) operations.push(...settings('page-set', pageOf(now, page.id), page));
  for (const { id, page } of to.stories) {
    const was = from.stories.find((s) => s.id === id)?.page;
    if (page && was) operations.push(...settings('page-set', { id, ground: was.ground }, { id, ground: page.ground }));
  }
  return operations;
}

/** Do two documents hold the same items in the same places? Then they differ in properties at most. */
function sameStructure(from: Document, to: Document): boolean {
  const sameIds = (a: readonly string[], b: readonly string[]): boolean =>
    a === b || (a.length === b.length && a.every((id, i) => id === b[i]));
  const sameLists = (
    a: readonly { id: string; items: readonly string[] }[],
    b: readonly { id: string; items: readonly string[] }[],
  ): boolean =>
    a === b || (a.length === b.length && a.every((h, i) => h.id === b[i]!.id && sameIds(h.items, b[i]!.items)));
  if (!sameLists(from.pages, to.pages) || !sameLists(from.layers, to.layers) || !sameLists(from.stories, to.stories))
    return false;
  const ids = Object.keys(to.items);
  return (
    ids.length === Object.keys(from.items).length &&
    ids.every((id) => {
      const [was, is] = [from.items[id], to.items[id]!];
      if (was === is) return true;
      if (was?.kind !== is.kind) return false;
      return was.kind !== 'group' || is.kind !== 'group' || sameIds(was.children, is.children);
    })
  );
}

/** Operations that put, take and move items and pages. */
function structural(from: Document, to: Document): Operation[] {
  const operations: Operation[] = [];
  let now = from;
  const act = (operation: Operation): void => {
    operations.push(operation);
    now = apply(now, operation).document;
  };
  const known = new Set(from.pages.map((p) => p.id));
  for (const page of to.pages)
    if (!known.has(page.id)) act({ op: 'page-add', page: { ...page, items: [] }, index: now.pages.length });

  const holders = new Map([...slotsOf(from)].map(([id, slot]) => [id, slot.in]));
  // Holders before what they hold: whatever is put into a group finds it, and no group comes to lie in itself.
  for (const holder of holdersOf(to)) {
    const list = itemsOf(to, holder);
    for (const [i, id] of list.entries()) {
      const item = to.items[id]!;
      const known = now.items[id];
      if (known && known.kind !== item.kind) act({ op: 'remove', id });
      if (now.items[id] && sameHolder(holders.get(id)!, holder)) continue;
      // Behind the one before it.
      const slot = { in: holder, index: i === 0 ? 0 : itemsOf(now, holder).indexOf(list[i - 1]!) + 1 };
      act(now.items[id] ? { op: 'move', id, slot } : { op: 'add', item: bare(item), slot });
      holders.set(id, holder);
    }
  }
  for (const id of Object.keys(from.items)) {
    if (!now.items[id] || to.items[id]) continue;
    for (const inner of withChildren(now, id).reverse()) if (!to.items[inner]) act({ op: 'remove', id: inner });
  }
  const wanted = new Set(to.pages.map((p) => p.id));
  for (const { id } of from.pages) if (!wanted.has(id)) act({ op: 'page-remove', id });

  sort(
    () => now.pages.map((p) => p.id),
    to.pages.map((p) => p.id),
    (id, index) => act({ op: 'page-move', id, index }),
  );
  for (const holder of holdersOf(to)) order(holder);
  return operations;

  function order(holder: Holder): void {
    sort(
      () => itemsOf(now, holder),
      itemsOf(to, holder),
      (id, index) => act({ op: 'move', id, slot: { in: holder, index } }),
    );
  }
}

const pageOf = (document: Document, id: string): Page => document.pages.find((p) => p.id === id)!;

/** An item without what it holds and what it is tied to, which come when all items are there. */
function bare(item: Item): Item {
  const { tie, ...plain } = item;
  void tie;
  return (plain.kind === 'group' ? { ...plain, children: [] } : plain) as Item;
}

/** Brings a list into an order by few moves: those of the longest rising run stay. */
function sort(
  current: () => readonly string[],
  wanted: readonly string[],
  move: (id: string, index: number) => void,
): void {
  const places = new Map(wanted.map((id, i) => [id, i]));
  const stay = new Set(longestRising(current().map((id) => places.get(id)!)).map((i) => wanted[i]!));
  for (const [i, id] of wanted.entries()) {
    if (stay.has(id)) continue;
    // Behind the one before it; places are counted without the item itself.
    const others = current().filter((other) => other !== id);
    move(id, i === 0 ? 0 : others.indexOf(wanted[i - 1]!) + 1);
  }
}

/** The longest run of rising numbers in a list, not necessarily side by side (patience sorting). */
export function longestRising(list: readonly number[]): number[] {
  const ends: number[] = [];
  const before: number[] = [];
  for (const [i, value] of list.entries()) {
    let low = 0;
    let high = ends.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (list[ends[middle]!]! < value) low = middle + 1;
      else high = middle;
    }
    before[i] = low > 0 ? ends[low - 1]! : -1;
    ends[low] = i;
  }
  const out: number[] = [];
  for (let i = ends.at(-1) ?? -1; i >= 0; i = before[i]!) out.unshift(list[i]!);
  return out;
}

type Setting = Extract<Operation, { op: 'set' | 'page-set' }>;

/** What makes one state of an item of another; none exactly when they are equal. Both must be of one kind. */
export const changesOf = (from: Item, to: Item): Operation[] => settings('set', from, to);

function settings(op: Setting['op'], from: object, to: object): Setting[] {
  const id = (to as { id: string }).id;
  const out: Setting[] = [];
  if (from === to) return out;
  const say = (path: string, value: unknown): void =>
    void out.push(value === undefined ? { op, id, path } : { op, id, path, value });
  const [a, b] = [from as Record<string, unknown>, to as Record<string, unknown>];
  for (const name of new Set([...Object.keys(a), ...Object.keys(b)])) {
    if (STRUCTURE.has(name) || equal(a[name], b[name])) continue;
    const [x, y] = [a[name], b[name]];
    if (!DEEP.has(name) || !isRecord(x) || !isRecord(y) || !sameKind(x, y)) say(name, y);
    else
      for (const inner of new Set([...Object.keys(x), ...Object.keys(y)]))
        if (!equal(x[inner], y[inner])) say(`${name}.${inner}`, y[inner]);
  }
  return out;
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const sameKind = (a: Record<string, unknown>, b: Record<string, unknown>): boolean =>
  a['kind'] === b['kind'] && a['on'] === b['on'];
