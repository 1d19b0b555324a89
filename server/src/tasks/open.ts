import { wellFormedIn, type Changes } from '@gable/core';
import { lifted, openFile, type Source } from '@gable/formats';
import type { Opened } from '../db/models';
import { openRef, task, weighFile, type BytesRef, type FileRef, type Made } from './task';

/** Counts up whenever more is read of files, or what lies on their pages gets other names: works that were opened before are read again (`works/reread.ts`). */
export const READING = 10;

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

/** A file that came in. */
export interface Upload {
  opened: Opened;
  /** Without what Gable put beside the pictures of its text, that as changes, and the file without it; nothing where there is none. */
  own?: { made: Made; changes: Changes };
}

/** Opens a file that comes in; what Gable put beside the pictures of its text is known as that again. */
export const open = task({
  lane: 'quick',
  seconds: 60,
  weigh: weighFile,
  async run({ file }: { file: BytesRef }, { read, made }): Promise<Upload> {
    const bytes = await read(file);
    const own = lifted(bytes);
    if (!own) return { opened: openedOf(openFile(bytes)) };
    return {
      opened: openedOf(openFile(own.bytes)),
      own: { made: await made(own.bytes), changes: wellFormedIn(own.changes) },
    };
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
