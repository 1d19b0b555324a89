import { z } from 'zod';
import { GableError } from '../errors';
import { ItemSchema, PageSchema, PaperSchema, type Document, type Item, type Page, type Paper } from './document';
import { itemsOf, notThere, slotOf, withChildren, withItems, type Slot } from './tree';

const Id = z.string();
/** Checked when it is applied: the item with it must be one. */
export const ValueSchema = z.json();
const SlotSchema = z.object({
  in: z.union([
    z.strictObject({ page: Id }),
    z.strictObject({ layer: Id }),
    z.strictObject({ story: Id }),
    z.strictObject({ group: Id }),
  ]),
  index: z.number().int().min(0),
});

/**
 * One small change of a document. `set` changes one property by its path (`outline`, `fill.placement`); without a value it
 * takes the property away. What holds others is added empty and filled by operations of its own.
 */
export const OperationSchema = z.discriminatedUnion('op', [
  z.strictObject({ op: z.literal('add'), item: ItemSchema, slot: SlotSchema }),
  z.strictObject({ op: z.literal('remove'), id: Id }),
  z.strictObject({ op: z.literal('set'), id: Id, path: z.string(), value: ValueSchema.optional() }),
  z.strictObject({ op: z.literal('move'), id: Id, slot: SlotSchema }),
  z.strictObject({
    op: z.literal('page-add'),
    page: PageSchema,
    index: z.number().int().min(0),
    /** The page that a new one is made like in its file: a copy with all that lies on it, or an empty one of its kind. */
    like: z.strictObject({ page: Id, copy: z.boolean() }).optional(),
  }),
  z.strictObject({ op: z.literal('page-remove'), id: Id }),
  z.strictObject({ op: z.literal('page-set'), id: Id, path: z.string(), value: ValueSchema.optional() }),
  z.strictObject({ op: z.literal('page-move'), id: Id, index: z.number().int().min(0) }),
]);
export type Operation =
  | { op: 'add'; item: Item; slot: Slot }
  | { op: 'remove'; id: string }
  | { op: 'set' | 'page-set'; id: string; path: string; value?: unknown }
  | { op: 'move'; id: string; slot: Slot }
  | { op: 'page-add'; page: Page; index: number; like?: { page: string; copy: boolean } | undefined }
  | { op: 'page-remove'; id: string }
  | { op: 'page-move'; id: string; index: number };

/** A document after a change, and what takes the change back. */
export interface Applied {
  document: Document;
  inverse: Operation[];
}

/** Properties that only other operations change. */
const STRUCTURE: ReadonlySet<string> = new Set(['id', 'kind', 'children', 'items']);

const refused = (why: string, id: string): GableError =>
  new GableError('bad-operation', `This change cannot be made: ${why}.`, 'Reload the page, then do it again.', { id });

/**
 * Applies operations one after another: all of them, or none.
 * @returns the new document, and the operations that give the old one back
 * @throws GableError `no-such-item`, `bad-operation`
 */
export function applyAll(document: Document, operations: readonly Operation[]): Applied {
  let now = document;
  const inverse: Operation[][] = [];
  /** A copy of all items that runs of `set` share: a document may have thousands. Each is checked once, at the end of its run. */
  let items: Record<string, Item> | null = null;
  const paths = new Map<string, string>();
  const check = (): void => {
    for (const [id, path] of paths) items![id] = checkedItem(items![id]!, path);
    paths.clear();
    items = null;
  };
  for (const operation of operations) {
    if (operation.op === 'set') {
      if (!items) now = { ...now, items: (items = { ...now.items }) };
      const { item, back } = changed(items, operation);
      items[item.id] = item;
      paths.set(item.id, operation.path);
      inverse.push([back]);
      continue;
    }
    check();
    const done = apply(now, operation);
    now = done.document;
    inverse.push(done.inverse);
  }
  check();
  return { document: now, inverse: inverse.reverse().flat() };
}

/** Applies one operation. @throws GableError `no-such-item`, `bad-operation` */
export function apply(document: Document, operation: Operation): Applied {
  switch (operation.op) {
    case 'add':
      return add(document, operation.item, operation.slot);
    case 'remove':
      return remove(document, operation.id);
    case 'set':
      return applyAll(document, [operation]);
    case 'move':
      return move(document, operation.id, operation.slot);
    case 'page-add':
      return addPage(document, operation.page, operation.index);
    case 'page-remove':
      return removePage(document, operation.id);
    case 'page-set':
      return setPage(document, operation);
    case 'page-move':
      return movePage(document, operation.id, operation.index);
  }
}

const inserted = <T>(list: readonly T[], index: number, value: T): T[] => [
  ...list.slice(0, index),
  value,
  ...list.slice(index),
];

function add(document: Document, item: Item, { in: holder, index: wished }: Slot): Applied {
  if (document.items[item.id]) throw refused('there is an item of this name already', item.id);
  if (item.kind === 'group' && item.children.length > 0) throw refused('a group is added empty', item.id);
  if (item.tie && !document.items[item.tie.to]) throw refused('its tie leads nowhere', item.id);
  const items = itemsOf(document, holder);
  // The order of a text is that of its file: behind all that it has is a place there, too.
  const index = 'story' in holder ? Math.min(wished, items.length) : wished;
  if (index > items.length) throw refused('there is no such place', item.id);
  const next = withItems(document, holder, inserted(items, index, item.id));
  return {
    document: { ...next, items: { ...next.items, [item.id]: item } },
    inverse: [{ op: 'remove', id: item.id }],
  };
}

function remove(document: Document, id: string): Applied {
  const slot = slotOf(document, id);
  const all = new Set(withChildren(document, id));
  // Items that are tied to a removed one stay where they are.
  const loose = Object.values(document.items).filter((i) => i.tie && all.has(i.tie.to) && !all.has(i.id));
  const items: Record<string, Item> = {};
  for (const [key, item] of Object.entries(document.items)) {
    if (all.has(key)) continue;
    if (loose.includes(item)) {
      const { tie, ...untied } = item;
      void tie;
      items[key] = untied as Item;
    } else items[key] = item;
  }
  const kept = itemsOf(document, slot.in).filter((other) => other !== id);
  const without = withItems({ ...document, items }, slot.in, kept);
  return { document: without, inverse: [...restored(document, id, slot), ...loose.map(tied)] };
}

const tied = ({ id, tie }: Item): Operation => ({ op: 'set', id, path: 'tie', value: tie });

/** What puts an item and all that it holds back; ties among them come when all are there. */
function restored(document: Document, id: string, slot: Slot): Operation[] {
  const adds: Operation[] = [];
  const ties: Operation[] = [];
  const visit = (at: string, place: Slot): void => {
    const item = document.items[at]!;
    const { tie, ...plain } = item;
    const bare = (plain.kind === 'group' ? { ...plain, children: [] } : plain) as Item;
    adds.push({ op: 'add', item: bare, slot: place });
    if (tie) ties.push(tied(item));
    if (item.kind === 'group') item.children.forEach((child, index) => visit(child, { in: { group: item.id }, index }));
  };
  visit(id, slot);
  return [...adds, ...ties];
}

/** A value at a path of one or two names. */
export function valueAt(of: object, path: string): unknown {
  let at: unknown = of;
  for (const name of path.split('.')) at = (at as Record<string, unknown> | null | undefined)?.[name];
  return at;
}

function withValue<T extends object>(of: T, path: string, value: unknown): T {
  const [name, ...rest] = path.split('.') as [string, ...string[]];
  if (rest.length > 0) {
    const inner = (of as Record<string, unknown>)[name];
    if (typeof inner !== 'object' || inner === null) throw refused(`there is no “${name}” to change`, path);
    return { ...of, [name]: withValue(inner, rest.join('.'), value) };
  }
  const { [name as never]: old, ...others } = of;
  void old;
  return (value === undefined ? others : { ...others, [name]: value }) as T;
}

/** `set` with a value, or without one where the property goes. */
const setting = (op: 'set' | 'page-set', id: string, path: string, value: unknown): Operation =>
  value === undefined ? { op, id, path } : { op, id, path, value };

function refuseStructure(path: string, id: string): void {
  if (STRUCTURE.has(path.split('.')[0]!)) throw refused(`“${path}” is changed by other operations`, id);
}

type Setting = { id: string; path: string; value?: unknown };

/** An item with another value, not checked yet, and what takes that back. */
function changed(items: Document['items'], { id, path, value }: Setting): { item: Item; back: Operation } {
  refuseStructure(path, id);
  const item = items[id];
  if (!item) throw notThere('item', id);
  const next = withValue(item, path, value);
  if (path === 'tie') refuseCircle(items, next);
  return { item: next, back: setting('set', id, path, valueAt(item, path)) };
}

/** @param path of the last thing that was set */
function checkedItem(item: Item, path: string): Item {
  const next = ItemSchema.safeParse(item);
  if (!next.success) throw refused(`“${path}” cannot be that`, item.id);
  return next.data;
}

function refuseCircle(items: Document['items'], item: Item): void {
  for (let at: string | undefined = item.tie?.to; at !== undefined; at = items[at]?.tie?.to) {
    if (!items[at]) throw refused('its tie leads nowhere', item.id);
    if (at === item.id) throw refused('ties would go in a circle', item.id);
  }
}

function move(document: Document, id: string, slot: Slot): Applied {
  const from = slotOf(document, id);
  if ('group' in slot.in && withChildren(document, id).includes(slot.in.group))
    throw refused('a group cannot be put into itself', id);
  const out = withItems(
    document,
    from.in,
    itemsOf(document, from.in).filter((other) => other !== id),
  );
  const items = itemsOf(out, slot.in);
  if (slot.index > items.length) throw refused('there is no such place', id);
  return {
    document: withItems(out, slot.in, inserted(items, slot.index, id)),
    inverse: [{ op: 'move', id, slot: from }],
  };
}

function addPage(document: Document, page: Page, index: number): Applied {
  if (document.pages.some((p) => p.id === page.id)) throw refused('there is a page of this name already', page.id);
  if (page.items.length > 0) throw refused('a page is added empty', page.id);
  if (index > document.pages.length) throw refused('there is no such place', page.id);
  return {
    document: { ...document, pages: inserted(document.pages, index, page) },
    inverse: [{ op: 'page-remove', id: page.id }],
  };
}

function pageIndex(document: Document, id: string): number {
  const index = document.pages.findIndex((p) => p.id === id);
  if (index < 0) throw notThere('page', id);
  return index;
}

function removePage(document: Document, id: string): Applied {
  const index = pageIndex(document, id);
  const page = document.pages[index]!;
  // From the front, so that each comes back to where it was.
  const emptied = applyAll(
    document,
    page.items.toReversed().map((item) => ({ op: 'remove' as const, id: item })),
  );
  return {
    document: { ...emptied.document, pages: emptied.document.pages.filter((p) => p.id !== id) },
    inverse: [{ op: 'page-add', page: { ...page, items: [] }, index }, ...emptied.inverse],
  };
}

function setPage(document: Document, { id, path, value }: Setting): Applied {
  refuseStructure(path, id);
  const story = document.stories.find((s) => s.id === id);
  if (story?.page) return setPaper(document, story.page, { id, path, value });
  const page = document.pages[pageIndex(document, id)]!;
  const next = PageSchema.safeParse(withValue(page, path, value));
  if (!next.success) throw refused(`“${path}” cannot be that`, id);
  return {
    document: { ...document, pages: document.pages.map((p) => (p.id === id ? next.data : p)) },
    inverse: [setting('page-set', id, path, valueAt(page, path))],
  };
}

/** The pages of a text are known by its name; only what is behind them can be another. */
function setPaper(document: Document, paper: Paper, { id, path, value }: Setting): Applied {
  const next = PaperSchema.safeParse(withValue(paper, path, value));
  if (!/^ground(\.|$)/.test(path) || !next.success) throw refused(`“${path}” cannot be that`, id);
  return {
    document: {
      ...document,
      stories: document.stories.map((s) => (s.id === id ? { ...s, page: next.data } : s)),
    },
    inverse: [setting('page-set', id, path, valueAt(paper, path))],
  };
}

function movePage(document: Document, id: string, index: number): Applied {
  const from = pageIndex(document, id);
  if (index >= document.pages.length) throw refused('there is no such place', id);
  const others = document.pages.filter((p) => p.id !== id);
  return {
    document: { ...document, pages: inserted(others, index, document.pages[from]!) },
    inverse: [{ op: 'page-move', id, index: from }],
  };
}

/** What an operation changes, by name: an item or a page as a whole, one of its properties, or its place. */
function touched(operation: Operation): { id: string; path: string } {
  switch (operation.op) {
    case 'add':
      return { id: operation.item.id, path: '' };
    case 'page-add':
      return { id: operation.page.id, path: '' };
    case 'remove':
    case 'page-remove':
      return { id: operation.id, path: '' };
    case 'move':
    case 'page-move':
      return { id: operation.id, path: 'order' };
    case 'set':
    case 'page-set':
      return { id: operation.id, path: operation.path };
  }
}

/**
 * Do two changes of the same document contradict each other? Those of different items, or of different properties of one,
 * do not; a change and a removal do.
 */
export function conflict(a: readonly Operation[], b: readonly Operation[]): boolean {
  const inside = (x: string, y: string): boolean => x === '' || x === y || y.startsWith(`${x}.`);
  const theirs = new Map<string, string[]>();
  for (const { id, path } of b.map(touched)) theirs.set(id, [...(theirs.get(id) ?? []), path]);
  return a
    .map(touched)
    .some(({ id, path }) => theirs.get(id)?.some((other) => inside(path, other) || inside(other, path)) ?? false);
}
