import { textBlocks, type Size, type TextBlock } from '@gable/core';
import { findWords } from '@gable/render/words';
import { readPicture, weighSource, type PictureSource } from './picture-source';
import { task } from './task';

/** The words in a picture. */
export const readWords = task({
  lane: 'look',
  seconds: 60,
  // The reader and its data are in memory beside the picture.
  weigh: ({ source }) => weighSource(source) + 150 * 1024 * 1024,
  async run({ source, size }: { source: PictureSource; size: Size }, context): Promise<{ words: TextBlock[] }> {
    return { words: textBlocks(await findWords(await readPicture(source, context), size), size) };
  },
});
