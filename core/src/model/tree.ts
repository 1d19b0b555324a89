import { GableError } from '../errors';
import type { Document, ItemId } from './document';

/** What holds items in an order: a page, a layer, a story or a group. */
export type Holder = { page: string } | { layer: string } | { story: string } | { group: string };
/** A place among the items of a holder, from 0. */
export interface Slot {
  in: Holder;
  index: number;
}

export const sameHolder = (a: Holder, b: Holder): boolean => keyOf(a) === keyOf(b);
export const keyOf = (holder: Holder): string => {
  const [kind, id] = Object.entries(holder)[0] as [string, string];
  return `${kind} ${id}`;
};

export const notThere = (what: string, id: string): GableError =>
  new GableError('no-such-item', `There is no ${what} “${id}” in this document.`, 'Reload the page.', { id });

/** The items of a holder, in order. @throws GableError `no-such-item` */
export function itemsOf(document: Document, holder: Holder): readonly ItemId[] {
  if ('group' in holder) {
    const group = document.items[holder.group];
    if (group?.kind !== 'group') throw notThere('group', holder.group);
    return group.children;
  }
  const [kind, id] = Object.entries(holder)[0] as ['page' | 'layer' | 'story', string];
  const lists = { page: document.pages, layer: document.layers, story: document.stories } as const;
  const found = lists[kind].find((h) => h.id === id);
  if (!found) throw notThere(kind, id);
  return found.items;
}

/** The same document with other items in a holder. */
export function withItems(document: Document, holder: Holder, items: ItemId[]): Document {
  if ('group' in holder) {
    const group = document.items[holder.group];
    if (group?.kind !== 'group') throw notThere('group', holder.group);
    return { ...document, items: { ...document.items, [group.id]: { ...group, children: items } } };
  }
  const swap = <T extends { id: string; items: ItemId[] }>(list: readonly T[], id: string): T[] =>
    list.map((h) => (h.id === id ? { ...h, items } : h));
  if ('page' in holder) return { ...document, pages: swap(document.pages, holder.page) };
  if ('layer' in holder) return { ...document, layers: swap(document.layers, holder.layer) };
  return { ...document, stories: swap(document.stories, holder.story) };
}

/** Every holder, those that hold others first. */
export function holdersOf(document: Document): Holder[] {
  const out: Holder[] = [
    ...document.layers.map(({ id }) => ({ layer: id })),
    ...document.stories.map(({ id }) => ({ story: id })),
    ...document.pages.map(({ id }) => ({ page: id })),
  ];
  for (const holder of out)
    for (const id of itemsOf(document, holder)) if (document.items[id]?.kind === 'group') out.push({ group: id });
  return out;
}

/** Where every item stands. */
export function slotsOf(document: Document): Map<ItemId, Slot> {
  const slots = new Map<ItemId, Slot>();
  for (const holder of holdersOf(document))
    for (const [index, id] of itemsOf(document, holder).entries()) slots.set(id, { in: holder, index });
  return slots;
}

/** Where an item stands. @throws GableError `no-such-item` */
export function slotOf(document: Document, id: ItemId): Slot {
  const slot = slotsOf(document).get(id);
  if (!slot) throw notThere('item', id);
  return slot;
}

/** An item and all that it holds, the outer ones first. */
export function withChildren(document: Document, id: ItemId): ItemId[] {
  const item = document.items[id];
  return item?.kind === 'group' ? [id, ...item.children.flatMap((c) => withChildren(document, c))] : [id];
}

/**
 * Is the document whole? Every item stands in one place, every place names an item that there is, ties lead to items and in
 * no circle.
 * @throws GableError `bad-document` that names what is wrong
 */
export function checkDocument(document: Document): void {
  const wrong = (why: string, id: string): never => {
    throw new GableError('bad-document', `The document is incomplete: ${why}.`, 'Open the file again.', { id });
  };
  const seen = new Set<ItemId>();
  for (const holder of holdersOf(document))
    for (const id of itemsOf(document, holder)) {
      if (!document.items[id]) wrong('a place without its item', id);
      if (seen.has(id)) wrong('an item in two places', id);
      seen.add(id);
    }
  for (const [id, item] of Object.entries(document.items)) {
    if (item.id !== id) wrong('an item under another name', id);
    if (!seen.has(id)) wrong('an item without a place', id);
    for (let at = item, steps = 0; at.tie; steps++) {
      const to = document.items[at.tie.to] ?? wrong('a tie that leads nowhere', at.id);
      if (to.id === id || steps > Object.keys(document.items).length) wrong('ties in a circle', id);
      at = to;
    }
  }
}
