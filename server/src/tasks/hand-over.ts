import type { Frame } from '@gable/core';
import { slim, slimWords } from '@gable/cli/slim';
import type { SlimWish } from '@gable/formats';
import { savedBytes } from './save';
import { task, weighFile, type BytesRef, type Made } from './task';

/** A long job's result: the file, and what was done to make it smaller, in words. */
export interface Said {
  made: Made;
  said: string | null;
}

/** The file with its frames, smaller if that was asked for; says how far it is. */
export const handOver = task({
  lane: 'long',
  seconds: 30 * 60,
  weigh: weighFile,
  async run(
    { file, frames, slim: wish }: { file: BytesRef; frames: Frame[]; slim?: SlimWish | undefined },
    context,
  ): Promise<Said> {
    const saved = await savedBytes(file, frames, context, context.progress);
    if (!wish) return { made: await context.made(saved), said: null };
    const slimmed = await slim(saved, wish, context.progress);
    return { made: await context.made(slimmed.bytes), said: slimWords(slimmed) };
  },
});
