import { wellFormedIn } from '@gable/core';
import { openFile } from '@gable/formats';
import type { Opened } from '../db/models';
import { task, weighFile, type BytesRef } from './task';

/** What opening a file finds; every text in it can be stored. */
export const open = task({
  lane: 'quick',
  seconds: 60,
  weigh: weighFile,
  async run({ file }: { file: BytesRef }, { read }): Promise<Opened> {
    const { format, signed, pages, pictures, sheets, layers, stories, leftOut } = openFile(await read(file));
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
  },
});
