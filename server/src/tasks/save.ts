import type { Frame, GableError } from '@gable/core';
import { saveRasterised } from '@gable/render';
import { openFile } from '@gable/formats';
import { originalsOf } from './originals';
import { task, weighFile, type BytesRef, type Made, type TaskContext } from './task';

/** A file with its frames, as bytes. */
export async function savedBytes(
  file: BytesRef,
  frames: readonly Frame[],
  context: TaskContext,
  progress: (done: number, total: number) => void = () => undefined,
  passOver?: (n: number, reason: GableError) => void,
): Promise<Uint8Array> {
  const opened = openFile(await context.read(file));
  return saveRasterised(opened, frames, originalsOf(opened, context), progress, passOver);
}

/** A file with its frames, for whoever waits for it. */
export const save = task({
  lane: 'quick',
  seconds: 60,
  weigh: weighFile,
  async run({ file, frames }: { file: BytesRef; frames: Frame[] }, context): Promise<Made> {
    return context.made(await savedBytes(file, frames, context));
  },
});
