import { addedId, itemIdOf, type FramedItem } from '@gable/core';
import type { BesideItem } from '../metadata/items';
import type { AroundPicture } from './contract';

/** What stood beside a picture in a file, under names of its own, each following what it followed there. @param own in the file's order */
export function besideOf(n: number, own: readonly BesideItem[]): Omit<AroundPicture, 'n'> {
  const all = [...own.filter((o) => o.side === 'before'), ...own.filter((o) => o.side === 'behind')];
  const ids = all.map((_, i) => addedId(`own-${n}-${i + 1}`));
  const named = ({ item, follows }: BesideItem, i: number): FramedItem => {
    const to = follows === undefined ? itemIdOf({ n }) : (ids[follows] ?? itemIdOf({ n }));
    const at = { ...item.at, beside: itemIdOf({ n }) } as FramedItem['at'];
    return { ...item, id: ids[i]!, at, ...(item.tie && { tie: { ...item.tie, to } }) };
  };
  const items = all.map(named);
  const count = own.filter((o) => o.side === 'before').length;
  return { before: items.slice(0, count), behind: items.slice(count) };
}
