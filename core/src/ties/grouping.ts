import type { Document, ItemId } from '../model/document';
import { meets } from '../geometry/measure';
import { isPictureItem } from '../model/frame-item';
import { grouping } from '../model/groups';
import { applyAll } from '../model/operations';
import { drawnBox } from './index';

/**
 * Each picture of a page in one group with all that follows it, at the height of the front one of them, where nothing else lies between
 * them that would come to lie otherwise.
 * @param takes can this be in a group?
 */
export function tiedGrouped(document: Document, takes: (id: ItemId) => boolean): Document {
  let now = document;
  for (const page of document.pages)
    for (const id of page.items) {
      const item = document.items[id]!;
      if (!isPictureItem(item) || item.tie) continue;
      const set = setOf(document, page.items, id);
      if (set.length > 1 && set.every(takes) && canMeet(document, page.items, set))
        now = applyAll(now, grouping(now, page.id, set, `group-${set[0]}`)).document;
    }
  return now;
}

/** A picture and what follows it, and what follows that, in their order. */
function setOf({ items }: Document, order: readonly ItemId[], first: ItemId): ItemId[] {
  const set = new Set([first]);
  for (let size = 0; size < set.size;) {
    size = set.size;
    for (const id of order) if (set.has(items[id]?.tie?.to ?? '')) set.add(id);
  }
  return order.filter((id) => set.has(id));
}

/** Can all of a set be as high as the front one of them, and look as it did? */
function canMeet({ items }: Document, order: readonly ItemId[], set: readonly ItemId[]): boolean {
  const own = new Set(set);
  const top = order.indexOf(set.at(-1)!);
  return set.every((id) => {
    const passed = order.slice(order.indexOf(id) + 1, top).filter((other) => !own.has(other));
    return passed.every((other) => !meets(drawnBox(items[id]!), drawnBox(items[other]!)));
  });
}
