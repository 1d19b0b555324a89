import { itemIdOf, type GroupItem, type ItemId } from '@gable/core';
import type { Sheet } from './contract';

/** Pages that tell what on them can neither come into a group nor, where it is one, be taken apart. @param stays of an item, and its group where it is one */
export const withStaying = (sheets: readonly Sheet[], stays: (id: ItemId, group?: GroupItem) => boolean): Sheet[] =>
  sheets.map((sheet) => {
    const all = sheet.items.flatMap((item): ItemId[] => {
      if ('picture' in item) return stays(itemIdOf({ n: item.picture })) ? [itemIdOf({ n: item.picture })] : [];
      return stays(item.id, item.kind === 'group' ? item : undefined) ? [item.id] : [];
    });
    return all.length > 0 ? { ...sheet, stays: all } : sheet;
  });
