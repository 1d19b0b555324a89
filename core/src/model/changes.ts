import { z } from 'zod';
import { FillSchema, isAdded, ItemSchema, papersOf, type Document, type Item, type ItemId } from './document';
import { resolveTies } from '../ties/index';
import { equal } from './equal';

/** What lies on a page from the back to the front, or stands in a text in its order, by the name of the page or the text. */
const OrdersSchema = z.record(z.string(), z.array(z.string()).max(20_000));

/** As earlier releases stored them. */
const FirstSchema = z.strictObject({ version: z.literal(1), items: z.record(z.string(), ItemSchema) });

/**
 * What a work differs in from its file, as it is stored: each changed item whole, what was added to pages, and the order of pages
 * that have something new. What the file says itself is not stored a second time. An earlier version is read by a step of its own
 * in `readChanges`.
 */
export const ChangesSchema = z.strictObject({
  version: z.literal(2),
  items: z.record(z.string(), ItemSchema),
  orders: OrdersSchema,
  /** Colours behind pages that have another than in their file, by the name of the page or of the text. */
  grounds: z.record(z.string(), FillSchema).optional(),
});
export type Changes = z.infer<typeof ChangesSchema>;

export const NO_CHANGES: Changes = { version: 2, items: {}, orders: {} };

/** Stored changes, of this version or an older one. @throws ZodError for what no version has written */
export function readChanges(stored: unknown): Changes {
  const first = FirstSchema.safeParse(stored);
  return first.success ? { ...NO_CHANGES, items: first.data.items } : ChangesSchema.parse(stored);
}

/** The document of a file with what was changed; what is tied stands where its rule has it. */
export function withChanges(file: Document, { items, orders, grounds }: Changes): Document {
  const document = grounds ? withGrounds(file, grounds) : file;
  const placed = new Set([...Object.values(orders).flat(), ...heldIn(items)]);
  const known = Object.entries(items).filter(([id]) => document.items[id] || (isAdded(id) && placed.has(id)));
  if (known.length === 0 && placed.size === 0) return document;
  const all = { ...document.items, ...Object.fromEntries(known) };
  for (const item of Object.values(all))
    if (item.kind === 'group' && item !== document.items[item.id])
      all[item.id] = { ...item, children: item.children.filter((id) => all[id]) };
  const [before, held] = [heldIn(document.items), heldIn(all)];
  const isNew = (id: ItemId): boolean => all[id] !== undefined && !held.has(id) && (isAdded(id) || before.has(id));
  const ordered = <T extends Ordered>(holders: readonly T[]): T[] =>
    holders.map((holder) => {
      const order = orders[holder.id];
      if (!order) return holder;
      const own = holder.items.filter((id) => !held.has(id));
      return { ...holder, items: inOrder(own, order, isNew) };
    });
  const [pages, stories] = [ordered(document.pages), ordered(document.stories)];
  const there = new Set([...pages, ...stories].flatMap((p) => p.items));
  for (const id of there) {
    const item = all[id];
    if (item?.kind === 'group') item.children.forEach((child) => there.add(child));
  }
  // What lay on a page that is gone is gone, too.
  for (const id of Object.keys(all)) if (isAdded(id) && !there.has(id)) delete all[id];
  return resolveTies({ ...document, pages, stories, items: all });
}

/** All that is in groups. */
const heldIn = (items: Document['items']): ReadonlySet<ItemId> =>
  new Set(Object.values(items).flatMap((i) => (i.kind === 'group' ? i.children : [])));

const withGrounds = (document: Document, grounds: NonNullable<Changes['grounds']>): Document => ({
  ...document,
  pages: document.pages.map((page) => (grounds[page.id] ? { ...page, ground: grounds[page.id]! } : page)),
  stories: document.stories.map((story) =>
    story.page && grounds[story.id] ? { ...story, page: { ...story.page, ground: grounds[story.id]! } } : story,
  ),
});

/** What is behind pages that have another ground than in their file. */
export function groundsFrom(file: Document, document: Document): Pick<Changes, 'grounds'> {
  const was = new Map(papersOf(file).map((p) => [p.id, p.ground]));
  const changed = papersOf(document).flatMap(({ id, ground }) =>
    ground && was.has(id) && !equal(was.get(id), ground) ? [[id, ground] as const] : [],
  );
  return changed.length > 0 ? { grounds: Object.fromEntries(changed) } : {};
}

interface Ordered {
  id: string;
  items: ItemId[];
}

/** Items of a page as they were ordered; what came to it since keeps its place behind what it came behind, or in front of all. */
function inOrder(own: readonly ItemId[], order: readonly ItemId[], isNew: (id: ItemId) => boolean): ItemId[] {
  const here = new Set(own);
  const out = order.filter((id) => here.has(id) || isNew(id));
  const ordered = new Set(out);
  for (const [i, id] of own.entries()) {
    if (ordered.has(id)) continue;
    const before = own.slice(0, i).findLast((b) => out.includes(b));
    const isLast = own.slice(i + 1).every((b) => !ordered.has(b));
    out.splice(isLast && i > 0 ? out.length : before === undefined ? 0 : out.indexOf(before) + 1, 0, id);
  }
  return out;
}

/**
 * Items that are not as the file has them.
 * @param document made of `file` by `withChanges` or operations
 * @param orders does what the file has come in another order?
 */
export function changesFrom(file: Document, document: Document, orders = false): Changes {
  const items: Record<string, Item> = {};
  for (const [id, item] of Object.entries(document.items)) {
    const was = file.items[id];
    if (!equal(was, item)) items[id] = item;
  }
  return { version: 2, items, orders: ordersFrom(file, document, orders), ...groundsFrom(file, document) };
}

/**
 * The order of pages and texts to which something was added.
 * @param own also of those that have what their file has in another order: where a format can say that
 */
export function ordersFrom(file: Document, document: Document, own = false): Changes['orders'] {
  const known = new Map([...file.pages, ...file.stories].map((h) => [h.id, h.items]));
  return Object.fromEntries(
    [...document.pages, ...document.stories].flatMap(({ id, items }) => {
      const was = known.get(id);
      return was && (items.some(isAdded) || (own && !equal(items, was))) ? [[id, items]] : [];
    }),
  );
}
