import type { Frame } from '@gable/core';
import { openFile } from '@gable/formats';
import { pageOf } from './page-of';
import { task, weighFile, type BytesRef, type Made } from './task';

/** A page as HTML, or the document with a small stand-in for each picture: for showing its pages. */
export const pages = task({
  lane: 'quick',
  seconds: 60,
  weigh: weighFile,
  async run({ file, frames, page }: { file: BytesRef; frames: Frame[]; page: number }, context): Promise<Made> {
    return context.made(await pageOf(openFile(await context.read(file)), frames, page));
  },
});
