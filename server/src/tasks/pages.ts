import { pageOf, type PageWish } from './page-of';
import { openRef, task, weighFile, type FileRef, type Made } from './task';

/** A page as HTML, for showing it. */
export const pages = task({
  lane: 'quick',
  setsWords: true,
  seconds: 60,
  weigh: weighFile,
  async run({ file, ...wish }: PageWish & { file: FileRef }, context): Promise<Made> {
    return context.made(pageOf(await openRef(file, context), wish));
  },
});
