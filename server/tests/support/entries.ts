import {
  changesOf,
  documentOfPictures,
  frameOfItem,
  itemIdOf,
  withChanges,
  withFrame,
  type Changes,
  type Frame,
  type NewEntry,
  type PictureItem,
  type PlacedPicture,
  type Size,
} from '@gable/core';
import { randomUUID } from 'node:crypto';

/** A work as the server tells of it. */
export interface ToldWork {
  id: string;
  revision: number;
  pictures: readonly PlacedPicture[];
  sheets?: readonly Size[] | undefined;
  changes: Changes;
}

/** Frames that differ from the file, by number. */
export const framesOf = ({ pictures, changes }: Pick<ToldWork, 'pictures' | 'changes'>): Record<string, Frame> =>
  Object.fromEntries(
    pictures.flatMap((p) => {
      const item = changes.items[itemIdOf(p)];
      return item ? [[String(p.n), frameOfItem(item as PictureItem, p.n)]] : [];
    }),
  );

/** What makes these the frames of a work: those that are not named are as the file has them. */
export function entryOf(work: ToldWork, frames: Record<string, Frame>, name = 'changed'): NewEntry {
  const document = withChanges(documentOfPictures(work.pictures, { sheets: work.sheets }), work.changes);
  const operations = work.pictures.flatMap((p) => {
    const item = document.items[itemIdOf(p)] as PictureItem;
    return changesOf(item, withFrame(item, frames[String(p.n)] ?? p.frame, p.size));
  });
  return { id: randomUUID(), name, operations };
}

/** The body of a request that makes these the frames of a work. */
export const saveOf = (
  work: ToldWork,
  frames: Record<string, Frame>,
  more: { name?: string; base?: number; over?: boolean } = {},
): object => ({
  base: more.base ?? work.revision,
  entries: [entryOf(work, frames, more.name)],
  ...(more.over && { over: true }),
});
