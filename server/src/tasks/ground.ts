import { withChanges } from '@gable/core';
import { paintGround, paintHeld } from '@gable/render/scene';
import type { ChangedFile } from './save';
import { openRef, task, weighFile, type FileRef, type Made } from './task';

/** A drawing without its pictures, or what lies behind a slide, as a PNG; null where there is none. */
export const ground = task({
  lane: 'paint',
  seconds: 20,
  weigh: weighFile,
  async run({ file, page, changes }: ChangedFile & { page: number }, context): Promise<Made | null> {
    const source = await openRef(file, context);
    const png = await paintGround(source, page, withChanges(source.document, changes));
    return png && context.made(png);
  },
});

/** The picture that a file holds of an item that is not shown, as a PNG; null where there is none. */
export const likeness = task({
  lane: 'paint',
  seconds: 20,
  weigh: weighFile,
  async run({ file, item }: { file: FileRef; item: string }, context): Promise<Made | null> {
    const found = (await openRef(file, context)).likeness?.(item);
    return found ? context.made(await paintHeld(found)) : null;
  },
});
