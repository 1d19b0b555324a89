import { proxy as smaller } from '@gable/render';
import { readPicture, weighSource, type PictureSource } from './picture-source';
import { task, type Made } from './task';

/** A smaller copy of a picture, for the screen. */
export const proxy = task({
  lane: 'paint',
  seconds: 15,
  weigh: ({ source }) => weighSource(source),
  async run({ source, side }: { source: PictureSource; side: number }, context): Promise<{ type: string; made: Made }> {
    const { type, data } = await smaller(await readPicture(source, context), side);
    return { type, made: await context.made(data) };
  },
});
