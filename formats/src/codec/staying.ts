import { itemIdOf, type GroupItem, type ItemId } from '@gable/core';
import type { Element } from '../xml/located';
import type { ItemsOnPages } from './tied';
import type { PageLocks, Sheet } from './contract';

/** What of a page must stay as it is. */
interface Staying {
  /** Can it neither come into a group nor, where it is one, be taken apart? @param group itself, where it is one */
  stays(id: ItemId, group?: GroupItem): boolean;
  /** Is it locked? */
  isLocked(id: ItemId): boolean;
}

/** Pages that tell what on them stays as it is grouped, and what is locked. */
export const withStaying = (sheets: readonly Sheet[], { stays, isLocked }: Staying): Sheet[] =>
  sheets.map((sheet) => {
    const all = sheet.items.map((item) =>
      'picture' in item
        ? { id: itemIdOf({ n: item.picture }) }
        : { id: item.id, group: item.kind === 'group' ? item : undefined },
    );
    const still = all.filter(({ id, group }) => stays(id, group)).map(({ id }) => id);
    const locked = all.filter(({ id, group }) => !group && isLocked(id)).map(({ id }) => id);
    return { ...sheet, ...(still.length > 0 && { stays: still }), ...(locked.length > 0 && { locked }) };
  });

/** A page whose items have other names. */
export const stayingAs = (
  { stays, locked }: Pick<Sheet, 'stays' | 'locked'>,
  name: (id: ItemId) => ItemId,
): Pick<Sheet, 'stays' | 'locked'> => ({
  ...(stays && { stays: stays.map(name) }),
  ...(locked && { locked: locked.map(name) }),
});

/** Tells of each element of pages whether it is locked, where they are counted as they were written. */
export function tellLocks(
  locks: PageLocks,
  { itemsOn, elementOf }: ItemsOnPages,
  tell: (e: Element, locked: boolean) => void,
): void {
  for (const [i, own] of locks.entries()) {
    const all = itemsOn(i + 1).map(elementOf);
    if (all.length === own.length) own.forEach((locked, at) => all[at] && tell(all[at], locked));
  }
}
