import { GableError, isAdded, isPictureItem, itemIdOf, withChanges, type Changes } from '@gable/core';
import { filled } from '@gable/formats';
import { saveRasterised } from '@gable/render';
import { originalsOf } from './originals';
import { openRef, task, weighFile, type FileRef, type Made, type TaskContext } from './task';

/** A file, and what its work differs from it in. */
export interface ChangedFile {
  file: FileRef;
  changes: Changes;
}

/**
 * A file as its work is now, as bytes.
 * @param passOver hears of pictures that cannot be written, by their numbers, and why; without it one of them ends the saving
 */
export async function savedBytes(
  { file, changes }: ChangedFile,
  context: TaskContext,
  progress?: (done: number, total: number) => void,
  passOver?: (n: number, reason: GableError) => void,
): Promise<Uint8Array> {
  const onPages =
    Object.keys(changes.orders).length > 0 ||
    changes.grounds !== undefined ||
    Object.values(changes.items).some((i) => !isPictureItem(i) || i.locked);
  const source = await openRef(file, context, { read: onPages ? 'all' : 'pictures' });
  const stranger = Object.keys(changes.items).find((id) => !source.document.items[id] && !isAdded(id));
  if (stranger !== undefined)
    throw new GableError('no-such-picture', `There is no picture “${stranger}” in this file.`, 'Open it again.', {
      id: stranger,
    });
  const numbers = new Map(source.pictures.map((p) => [itemIdOf(p), p.n]));
  return saveRasterised(source, withChanges(source.document, changes), {
    original: originalsOf(source, context),
    fonts: context.fonts,
    progress,
    passOver: passOver && ((id, reason) => passOver(numbers.get(id)!, reason)),
  });
}

/** A written file with the data of its videos, which were too large to be written with it. */
export const withVideos = (
  bytes: Uint8Array,
  { pieces }: Pick<TaskContext, 'pieces'>,
): Uint8Array | AsyncIterable<Uint8Array> => filled(bytes, pieces);

/** A file as its work is now, for those who wait for it. */
export const save = task({
  lane: 'quick',
  setsWords: true,
  seconds: 60,
  weigh: weighFile,
  async run(changed: ChangedFile, context): Promise<Made> {
    return context.made(withVideos(await savedBytes(changed, context), context));
  },
});
