import type { ItemId } from './document';

/** What of pages can look otherwise in a kind of file: see `Capabilities.restyles` of its codec. */
export type Restyles = 'ground' | 'apart' | 'all' | null;

/** Can what a file has on its pages look otherwise? @param sheets its pages, with what on them Gable has put there (`apart`) */
export const canRestyle = (
  restyles: Restyles,
  sheets: readonly { apart?: readonly ItemId[] | undefined }[],
  id: ItemId,
): boolean => restyles === 'all' || (restyles === 'apart' && sheets.some((s) => s.apart?.includes(id) === true));
