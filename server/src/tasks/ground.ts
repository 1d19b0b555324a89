import { paintGround, paintHeld } from '@gable/render/scene';
import { openRef, task, weighFile, type FileRef, type Made } from './task';

/** A drawing without its pictures, or what lies behind a slide, as a PNG; null where there is none. */
export const ground = task({
  lane: 'paint',
  seconds: 20,
  weigh: weighFile,
  async run({ file, page }: { file: FileRef; page: number }, context): Promise<Made | null> {
    const png = await paintGround(await openRef(file, context), page);
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
