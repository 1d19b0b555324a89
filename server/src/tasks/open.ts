import { wellFormedIn } from '@gable/core';
import { openFile, type Source } from '@gable/formats';
import type { Opened } from '../db/models';
import { openRef, task, weighFile, type BytesRef, type FileRef } from './task';

/** Counts up whenever more is read of files, or what lies on their pages gets other names: works that were opened before are read again (`works/reread.ts`). */
export const READING = 5;

/** What opening a file found; every text in it can be stored. */
export function openedOf({ format, signed, pages, pictures, sheets, layers, stories, leftOut }: Source): Opened {
  return wellFormedIn({
    format,
    signed,
    reading: READING,
    pages,
    pictures,
    sheets,
    ...(layers && { layers }),
    ...(stories && { stories }),
    ...(leftOut && { leftOut }),
  });
}

/** Opens a file. */
export const open = task({
  lane: 'quick',
  seconds: 60,
  weigh: weighFile,
  async run({ file }: { file: BytesRef }, { read }): Promise<Opened> {
    return openedOf(openFile(await read(file)));
  },
});

/** Opens the file of a work again, with what its pictures are called. */
export const reread = task({
  lane: 'quick',
  seconds: 60,
  weigh: weighFile,
  async run({ file }: { file: FileRef }, context): Promise<Opened> {
    return openedOf(await openRef(file, context));
  },
});
