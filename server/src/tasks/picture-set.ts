import type { Frame } from '@gable/core';
import { makeSet, type SetWish } from '@gable/render';
import type { Said } from './hand-over';
import { originalsOf } from './originals';
import { openRef, task, weighFile, type FileRef } from './task';

/** Every frame as pictures of its own, zipped. */
export const pictureSet = task({
  lane: 'long',
  seconds: 30 * 60,
  weigh: weighFile,
  async run({ file, frames, set }: { file: FileRef | null; frames: Frame[]; set: SetWish }, context): Promise<Said> {
    const opened = file && (await openRef(file, context));
    const bytes = await makeSet(frames, originalsOf(opened, context), set, context.progress);
    return { made: await context.made(bytes), said: null };
  },
});
