import type { FontFacts } from '@gable/core/silhouette';
import { plainFont } from '@gable/render';
import { task, type BytesRef, type Made } from './task';

/** A font of the author's own, as a plain font file, with what it says of itself. */
export const keepFont = task({
  lane: 'quick',
  seconds: 30,
  weigh: ({ file }) => file.size * 8,
  async run({ file }: { file: BytesRef }, { read, made }): Promise<{ facts: FontFacts; made: Made }> {
    const { bytes, facts } = await plainFont(await read(file));
    return { facts, made: await made(bytes) };
  },
});
