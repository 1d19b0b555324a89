import {
  documentOfPictures,
  frameOfItem,
  isPictureItem,
  itemIdOf,
  readChanges,
  withChanges,
  type Document,
  type Frame,
} from '@gable/core';
import type { Work } from '../db/models';

type Opened = Pick<Work, 'opened'>;
type State = Pick<Work, 'opened' | 'changes'>;

/** A work's file as a document. */
export const fileDocument = ({ opened }: Opened): Document => documentOfPictures(opened.pictures, opened);

/** A work as it is now. */
export const documentOf = (work: State): Document => withChanges(fileDocument(work), readChanges(work.changes));

/** Frames that differ from the file, by picture number. */
export function changedFrames({ opened, changes }: State): ReadonlyMap<number, Frame> {
  const { items } = readChanges(changes);
  const frames = new Map<number, Frame>();
  for (const picture of opened.pictures) {
    const item = items[itemIdOf(picture)];
    if (item && isPictureItem(item)) frames.set(picture.n, frameOfItem(item, picture.n));
  }
  return frames;
}
