import type { Face, Size } from '@gable/core';
import { findFaces } from '@gable/render/faces';
import { readPicture, weighSource, type PictureSource } from './picture-source';
import { task } from './task';

/** What is in a picture: its faces. */
export const look = task({
  lane: 'look',
  seconds: 20,
  // The finder and its models are in memory beside the picture.
  weigh: ({ source }) => weighSource(source) + 100 * 1024 * 1024,
  async run({ source, size }: { source: PictureSource; size: Size }, context): Promise<{ faces: Face[] }> {
    return { faces: await findFaces(await readPicture(source, context), size) };
  },
});
