import type { Block } from '@gable/formats';
import { openRef, task, weighFile, type FileRef } from './task';

/** The blocks of a text, or of a web page, which places for new pictures are counted by. */
export const blocks = task({
  lane: 'quick',
  seconds: 60,
  weigh: weighFile,
  async run({ file, page }: { file: FileRef; page: number }, context): Promise<Block[]> {
    const source = await openRef(file, context, { read: 'pictures' });
    return (source.blocks?.(page) ?? []).map((b) => ({ ...b, words: b.words.slice(0, MOST_CHARS) }));
  },
});
/** Enough to tell a block by. */
const MOST_CHARS = 400;
