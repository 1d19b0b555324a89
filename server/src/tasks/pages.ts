import type { Frame } from '@gable/core';
import { pageOf } from './page-of';
import { openRef, task, weighFile, type FileRef, type Made } from './task';

/** A page as HTML, for showing it. */
export const pages = task({
  lane: 'quick',
  seconds: 60,
  weigh: weighFile,
  async run({ file, frames, page }: { file: FileRef; frames: Frame[]; page: number }, context): Promise<Made> {
    return context.made(pageOf(await openRef(file, context), frames, page));
  },
});
