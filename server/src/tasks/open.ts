import { wellFormedIn } from '@gable/core';
import { openFile, type Source } from '@gable/formats';
import type { Opened } from '../db/models';
import { task, weighFile, type BytesRef } from './task';

/** What opening a file found; every text in it can be stored. */
export function openedOf({ format, signed, pages, pictures, sheets, layers, stories, leftOut }: Source): Opened {
  return wellFormedIn({
    format,
    signed,
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
