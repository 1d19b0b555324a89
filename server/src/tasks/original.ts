import { readPicture, weighSource, type PictureSource } from './picture-source';
import { task, type Made } from './task';

/** The data of a picture as they are, wherever they are. */
export const original = task({
  lane: 'paint',
  seconds: 15,
  weigh: ({ source }) => weighSource(source),
  async run({ source }: { source: PictureSource }, context): Promise<Made> {
    return context.made(await readPicture(source, context));
  },
});
