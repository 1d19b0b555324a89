import type { Frame } from '@gable/core';
import { makeSet, type SetWish } from '@gable/render';
import { openFile } from '@gable/formats';
import type { Said } from './hand-over';
import { originalsOf } from './originals';
import { task, weighFile, type BytesRef } from './task';

/** Every frame as pictures of its own, zipped. */
export const pictureSet = task({
  lane: 'long',
  seconds: 30 * 60,
  weigh: weighFile,
  async run({ file, frames, set }: { file: BytesRef | null; frames: Frame[]; set: SetWish }, context): Promise<Said> {
    const opened = file && openFile(await context.read(file));
    const bytes = await makeSet(frames, originalsOf(opened, context), set, context.progress);
    return { made: await context.made(bytes), said: null };
  },
});
