import { placedIn } from '../geometry/frame-matrix';
import { meets } from '../geometry/measure';
import { isAdded } from './document';
import type { Document, ForeignItem, FramedItem, GroupItem, ItemId, Page } from './document';
import type { Box, Frame } from './frame';
import { isPictureItem, type PictureItem } from './frame-item';
import { itemsOf, type Holder } from './tree';

/** An item that is drawn, and how it lies on its page, whatever groups it is in. */
export interface Placed {
  item: FramedItem | ForeignItem;
  box: Box;
  turn: number;
  flip: Frame['flip'];
}

/** The groups round each item that is in one, the nearest first. */
export function groupsRound({ items }: Document): ReadonlyMap<ItemId, readonly GroupItem[]> {
  const holder = new Map<ItemId, GroupItem>();
  for (const item of Object.values(items))
    if (item.kind === 'group') for (const child of item.children) holder.set(child, item);
  const round = new Map<ItemId, GroupItem[]>();
  for (const id of holder.keys()) {
    const groups: GroupItem[] = [];
    for (let at = holder.get(id); at; at = holder.get(at.id)) groups.push(at);
    round.set(id, groups);
  }
  return round;
}

/** A group as `placedIn` takes it. */
export const spaceOf = ({ at, space, turn, flip }: GroupItem): Parameters<typeof placedIn>[1][number] => ({
  box: at.box,
  space,
  turn,
  flip,
});

/** All that is drawn on a page, from the back to the front: what its layers have comes first, groups are taken apart. */
export function stackOf(document: Document, page: Page): Placed[] {
  const out: Placed[] = [];
  const visit = (id: ItemId, groups: readonly GroupItem[]): void => {
    const item = document.items[id];
    if (!item) return;
    if (item.kind === 'group') item.children.forEach((child) => visit(child, [item, ...groups]));
    else {
      const { turn, flip } = item;
      out.push({ item, ...placedIn({ box: item.at.box, turn, flip }, groups.map(spaceOf)) });
    }
  };
  for (const layer of page.layers) itemsOf(document, { layer }).forEach((id) => visit(id, []));
  page.items.forEach((id) => visit(id, []));
  return out;
}

/**
 * What of a page is not painted, since the picture behind it shows it: all but what lies over something that is, which must be painted
 * once more, or it would not be seen.
 * @param sheet is all that is no picture in that (`drawn`), and what is not for all that (`apart`)?
 * @param other what that picture shows otherwise
 */
export function shownBehind(
  stack: readonly Placed[],
  { drawn, apart = [] }: { drawn?: true | undefined; apart?: readonly ItemId[] | undefined },
  other: Iterable<ItemId> = [],
): ReadonlySet<ItemId> {
  if (!drawn) return new Set();
  const own = new Set([...apart, ...other]);
  const behind = new Set<ItemId>();
  const painted: Box[] = [];
  for (const { item, box } of stack)
    if (isPictureItem(item) || isAdded(item.id) || own.has(item.id) || painted.some((p) => meets(p, box)))
      painted.push(box);
    else behind.add(item.id);
  return behind;
}

/** The most of its page that a shape covers which takes a picture: what covers more is a ground that others lie on. */
const MOST_COVERED = 0.5;

/** Does a shape take a picture that is put on it: an empty placeholder, or one that is painted? */
const takesPicture = (item: Placed['item']): item is FramedItem =>
  item.kind === 'framed' && !isPictureItem(item) && (item.awaits === 'picture' || item.fill !== null);

/**
 * What on a page takes a picture that is put there, from the back to the front: empty placeholders, and painted shapes of the
 * page itself that are no ground for all the rest.
 */
export function targetsOf(document: Document, page: Page): Placed[] {
  const own = stackOf(document, { ...page, layers: [] });
  const area = page.size.width * page.size.height;
  return own.filter(
    ({ item, box }) =>
      takesPicture(item) && (item.awaits === 'picture' || box.width * box.height <= MOST_COVERED * area),
  );
}

/** The shape of a page that a new picture with this box fills: the front one of those that have it. */
export function targetOf(document: Document, page: Page, box: Box): ItemId | null {
  const same = (a: Box): boolean =>
    Math.max(...(['x', 'y', 'width', 'height'] as const).map((k) => Math.abs(a[k] - box[k]))) < 0.05;
  return targetsOf(document, page).findLast((t) => same(t.box))?.item.id ?? null;
}

/** A new picture with the look of the shape that it fills; as it is where it fills none. @param holder of the picture */
export function likeTarget(document: Document, holder: Holder, item: PictureItem): PictureItem {
  const { at } = item;
  const page = 'page' in holder ? document.pages.find((p) => p.id === holder.page) : undefined;
  const target =
    page && at.on === 'page' && at.fills ? document.items[targetOf(document, page, at.box) ?? ''] : undefined;
  if (target?.kind !== 'framed') return item;
  const { shape, outline, shadow, turn, flip } = target;
  return { ...item, shape, outline, shadow, turn, flip };
}

/**
 * How some of a stack come one step forward (1) or go one step back (-1), all of them, each past what is next to it and not among
 * them: one move after the other.
 */
export function raisedAmong(
  stack: readonly ItemId[],
  chosen: ReadonlySet<ItemId>,
  by: 1 | -1,
): { id: ItemId; index: number }[] {
  const now = [...stack];
  const moves: { id: ItemId; index: number }[] = [];
  const order = now.map((_, i) => (by > 0 ? now.length - 1 - i : i));
  for (const i of order) {
    const [id, other] = [now[i]!, now[i + by]];
    if (other === undefined || !chosen.has(id) || chosen.has(other)) continue;
    [now[i], now[i + by]] = [other, id];
    moves.push({ id, index: i + by });
  }
  return moves;
}
