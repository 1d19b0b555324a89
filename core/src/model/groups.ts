import { boundsOfBoxes } from '../geometry/measure';
import { drawnBox } from '../ties/index';
import { isAdded, type Document, type GroupItem, type Item, type ItemId, type Position } from './document';
import { equal } from './equal';
import { applyAll, type Operation } from './operations';
import { itemsOf, slotOf, withChildren } from './tree';

/** Lengths that files write differ by less than this share where they mean the same. */
const AS_WRITTEN = 1e-5;

/** Does what is in a group count as its page does: is the group neither turned, mirrored nor scaled? */
export const isPlainGroup = ({ at, space, turn, flip }: GroupItem): boolean =>
  turn === 0 && !flip.horizontal && !flip.vertical && equal(at.box, space, AS_WRITTEN);

/** The plain group that an item is in directly; null where it is in none, or in one that counts otherwise. */
export function groupOf(document: Document, id: ItemId): GroupItem | null {
  const group = Object.values(document.items).find((i) => i.kind === 'group' && i.children.includes(id));
  return group?.kind === 'group' && isPlainGroup(group) ? group : null;
}

/** These, with all that follows them and all that they follow: ties lead out of no group. In the order of their page. */
export function withTied({ items }: Document, order: readonly ItemId[], ids: readonly ItemId[]): ItemId[] {
  const set = new Set(ids);
  for (let size = 0; size < set.size;) {
    size = set.size;
    for (const id of order) {
      const to = items[id]?.tie?.to;
      if (to === undefined) continue;
      if (set.has(to)) set.add(id);
      else if (set.has(id) && order.includes(to)) set.add(to);
    }
  }
  return order.filter((id) => set.has(id));
}

/**
 * What puts items of a page together in a new group, at the height of the front one of them.
 * @param set in the order of the page, at least two
 */
export function grouping(document: Document, page: string, set: readonly ItemId[], id: ItemId): Operation[] {
  const order = document.pages.find((p) => p.id === page)!.items;
  const box = boundsOfBoxes(set.map((child) => drawnBox(document.items[child]!)));
  const group: GroupItem = {
    ...{ kind: 'group', id, at: { on: 'page', box }, turn: 0, opacity: 1, alt: '', children: [], space: box },
    flip: { horizontal: false, vertical: false },
  };
  return [
    { op: 'add', item: group, slot: { in: { page }, index: order.indexOf(set.at(-1)!) + 1 } },
    ...set.flatMap((child, index): Operation[] => [
      { op: 'move', id: child, slot: { in: { group: id }, index } },
      { op: 'set', id: child, path: 'at', value: placeIn('group', document.items[child]!) },
    ]),
  ];
}

/** What counts from cells does so in a group, too. */
const placeIn = (on: 'page' | 'group', { at }: Item): Position => (at.on === 'cells' ? at : { on, box: at.box });

/**
 * What takes a plain group apart: all that is in it lies in its place, as it did. One of the file stays without anything in it, and is
 * gone from what is written.
 * @param file whose order its page keeps: what is in a group that was made comes back to where it has it
 */
export function ungrouping(document: Document, id: ItemId, file?: Document): Operation[] {
  const group = document.items[id] as GroupItem;
  const { in: holder, index } = slotOf(document, id);
  const on = 'page' in holder ? 'page' : 'group';
  const places =
    file && isAdded(id) && 'page' in holder
      ? inFileOrder(document, { page: holder.page, items: itemsOf(document, holder), loose: group.children }, file)
      : group.children.map((child, k) => ({ id: child, index: index + k }));
  return [
    ...places.flatMap(({ id: child, index: at }): Operation[] => [
      { op: 'move', id: child, slot: { in: holder, index: at } },
      { op: 'set', id: child, path: 'at', value: placeIn(on, document.items[child]!) },
    ]),
    ...(isAdded(id) ? [{ op: 'remove' as const, id }] : []),
  ];
}

/**
 * Where some items come among those of a page, one after the other, in the order of its file; what was added comes on the side of what it
 * stands beside that it is on among them.
 */
export function inFileOrder(
  { items: all }: Document,
  { page, items, loose }: { page: string; items: readonly ItemId[]; loose: readonly ItemId[] },
  file: Document,
): { id: ItemId; index: number }[] {
  const height = new Map(allOn(file, page).map((id, i) => [id, i]));
  const now = [...items];
  const besides = (id: ItemId | undefined): ItemId | undefined => {
    const at = id === undefined ? undefined : all[id]?.at;
    return at && 'beside' in at ? at.beside : undefined;
  };
  /** Behind something, and all that was added there. */
  const behind = (at: number): number => {
    let index = at + 1;
    while (at >= 0 && besides(now[index]) === now[at]) index++;
    return index;
  };
  const placeOf = (id: ItemId): number => {
    const own = height.get(id);
    if (own !== undefined) return behind(now.findLastIndex((other) => (height.get(other) ?? Infinity) < own));
    const to = now.indexOf(besides(id) ?? '');
    return to < 0 ? now.length : loose.indexOf(id) < loose.indexOf(now[to]!) ? to : behind(to);
  };
  const filed = loose.filter((id) => height.has(id)).sort((a, b) => height.get(a)! - height.get(b)!);
  return [...filed, ...loose.filter((id) => !height.has(id))].map((id) => {
    const index = placeOf(id);
    now.splice(index, 0, id);
    return { id, index };
  });
}

/** A group that was made, by the places that what is in it has among all of its page. */
export interface MadeGroup {
  page: string;
  id: ItemId;
  children: readonly ItemId[];
}

/** A document without the groups that were made in it, whose content lies on its page, and without those that are empty; and these groups. */
export function withoutMade(document: Document): { document: Document; made: MadeGroup[] } {
  let now = withoutEmpty(document);
  const made = now.pages.flatMap((page) =>
    page.items.flatMap((id): MadeGroup[] => {
      const item = now.items[id];
      return isAdded(id) && item?.kind === 'group' ? [{ page: page.id, id, children: item.children }] : [];
    }),
  );
  for (const { id } of made) now = applyAll(now, ungrouping(now, id)).document;
  return { document: now, made: made.filter((g) => g.children.length > 1) };
}

/** A document without groups that nothing is in. */
export function withoutEmpty(document: Document): Document {
  const empty = Object.values(document.items).filter((i) => i.kind === 'group' && i.children.length === 0);
  const gone = empty.map(({ id }): Operation => ({ op: 'remove', id }));
  return gone.length > 0 ? applyAll(document, gone).document : document;
}

/** All on a page, groups before what is in them. */
export const allOn = (document: Document, page: string): ItemId[] =>
  document.pages.find((p) => p.id === page)!.items.flatMap((id) => withChildren(document, id));
