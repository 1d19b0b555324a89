import {
  equal,
  GableError,
  isPictureItem,
  longestRising,
  slotsOf,
  type Document,
  type GroupItem,
  type ItemId,
} from '@gable/core';
import type { Element } from '../xml/located';
import type { Arrangement } from './contract';
import { applyEdits, type Edit } from '../xml/splice';

/** An element that holds items, and the items in it, before and after. */
export interface Holding {
  /** Its children are items and what belongs to the element itself. */
  container: Element;
  /** New items go before this child where no item follows them. */
  last?: Element | undefined;
  before: readonly ItemId[];
  after: readonly ItemId[];
}

/** What a format knows of the items of a part. */
export interface ArrangedPart {
  text: string;
  from: Document;
  to: Document;
  /** Where each item of the file stands. */
  elements: ReadonlyMap<ItemId, Element>;
  /** The markup of a new item; `inner` is that of what is in it. */
  create(id: ItemId, inner: string): string;
  /** All that goes with an item that is removed; the child of its container where nothing is said. */
  removed?: (id: ItemId) => Element;
  /** Changes within elements, wherever these come to stand. */
  within: readonly Edit[];
}

/** What stands round one item alone: alternate content, a link, a group that is no item of its own. */
const ROUND_ONE = /^(AlternateContent|Choice|Fallback|g|a|svg|switch)$/;

/** The child of a container that an element is in. */
export function memberOf(container: Element, element: Element): Element {
  let at = element;
  while (at.parent && at.parent !== container) at = at.parent;
  return at;
}

const isGroup = (document: Document, id: ItemId): boolean => document.items[id]?.kind === 'group';
const childrenOf = (document: Document, id: ItemId): readonly ItemId[] =>
  isGroup(document, id) ? (document.items[id] as GroupItem).children : [];

/**
 * Puts items of a part in another order, into groups and out of them. What stays in its order keeps its place; all that moves
 * is taken along as it is written.
 */
export function arrangePart(part: ArrangedPart, holdings: readonly Holding[]): string {
  const { text, from, to, elements, create, within, removed } = part;

  const editsOf = ({ container, last, before, after }: Holding): Edit[] => {
    const stays = new Set(inOrder(before, after));
    const edits: Edit[] = [];
    for (const id of before) {
      if (stays.has(id)) continue;
      const gone = !to.items[id] && removed ? removed(id) : memberOf(container, elements.get(id)!);
      edits.push({ start: gone.start, end: gone.end, text: '' });
    }
    let coming = '';
    for (const id of after) {
      if (!stays.has(id)) {
        coming += textOf(id);
        continue;
      }
      const member = memberOf(container, elements.get(id)!);
      if (coming) edits.push({ start: member.start, end: member.start, text: coming });
      coming = '';
      if (isGroup(from, id)) edits.push(...editsOf(groupHolding(id)));
    }
    const end = last?.start ?? container.closeStart;
    if (coming && container.openEnd === container.end) {
      const open = text.slice(container.start, container.end).replace(/\s*\/>$/, '>');
      edits.push({ start: container.start, end: container.end, text: `${open}${coming}</${container.name}>` });
    } else if (coming) edits.push({ start: end, end, text: coming });
    return edits;
  };

  /** Changes of a stretch, with those within its elements, but for what is taken away. */
  const combined = (edits: readonly Edit[], start: number, end: number): Edit[] => [
    ...edits,
    ...within.filter(
      (w) =>
        w.start >= start &&
        w.end <= end &&
        !edits.some((gone) => gone.end > gone.start && w.start >= gone.start && w.end <= gone.end),
    ),
  ];

  const groupHolding = (id: ItemId): Holding => ({
    container: elements.get(id)!,
    last: elements.get(id)!.children.find((c) => c.local === 'extLst'),
    before: childrenOf(from, id),
    after: childrenOf(to, id),
  });

  /** An item as it is to be written. */
  function textOf(id: ItemId): string {
    const element = elements.get(id);
    if (!element) return create(id, childrenOf(to, id).map(textOf).join(''));
    const { start, end } = outermost(element);
    const inner = combined(isGroup(from, id) ? editsOf(groupHolding(id)) : [], start, end);
    return applyEdits(
      text.slice(start, end),
      inner.map((e) => ({ ...e, start: e.start - start, end: e.end - start })),
    );
  }

  const holders = new Set<Element | undefined>(holdings.map((h) => h.container));
  for (const item of Object.values(from.items)) if (item.kind === 'group') holders.add(elements.get(item.id));
  /** The element with the alternate content, the link or the group for it alone that it stands in. */
  const outermost = (element: Element): Element => {
    let at = element;
    for (let e = element.parent; e && !holders.has(e) && ROUND_ONE.test(e.local); e = e.parent) at = e;
    return at;
  };

  return applyEdits(text, combined(holdings.flatMap(editsOf), 0, text.length));
}

/** The most items that keep their order. */
function inOrder(before: readonly ItemId[], after: readonly ItemId[]): ItemId[] {
  const place = new Map(before.map((id, i) => [id, i]));
  const known = after.filter((id) => place.has(id));
  const stay = new Set(longestRising(known.map((id) => place.get(id)!)));
  return known.filter((id) => stay.has(place.get(id)!));
}

/**
 * Refuses what goes into another group, or onto another page: its places and its looks count there. A new group of a page counts as the
 * page does, and so does one that is taken apart. Groups say nothing but what is in them. Of new items only pictures and such groups can come.
 * @throws GableError `cannot-write`
 */
export function refuseOtherHolders({ from, to, fills }: Pick<Arrangement, 'from' | 'to' | 'fills'>): void {
  const [was, is] = [slotsOf(from), slotsOf(to)];
  for (const [id, slot] of is) {
    if (fills.has(id)) continue;
    // Its box is round what is in it.
    const [group, now] = [from.items[id], to.items[id]!];
    if (group?.kind === 'group' && !equal([group.turn, group.flip, group.alt], [now.turn, now.flip, now.alt]))
      throw new GableError(
        'cannot-write',
        'A group of this kind of file cannot be turned, mirrored or described.',
        'Change what is in it.',
        { id },
      );
    const before = was.get(id)?.in;
    const isNew = 'group' in slot.in && !was.has(slot.in.group);
    const holder = isNew ? is.get((slot.in as { group: ItemId }).group)!.in : slot.in;
    // Out of a group that is gone, in its place.
    if (before && 'group' in before && !to.items[before.group] && equal(was.get(before.group)!.in, holder)) continue;
    const comes = isPictureItem(to.items[id]!) || to.items[id]!.kind === 'group';
    if (before ? equal(before, holder) : comes && 'page' in slot.in) continue;
    throw new GableError(
      'cannot-write',
      'What is in a group of this file, or on one of its pages, cannot go into another.',
      'Move it within its group, or on its page.',
      { id },
    );
  }
}
