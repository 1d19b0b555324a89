import type { ShapeChoice } from '@gable/core';
import { silhouetteFrom } from '@gable/render';
import { task, type BytesRef } from './task';

/** A shape from the author's own drawing or picture. */
export const silhouette = task({
  lane: 'paint',
  seconds: 30,
  weigh: ({ file }) => file.size * 4,
  async run(
    { file, name }: { file: BytesRef; name: string },
    { read },
  ): Promise<{ shape: ShapeChoice; textLeftOut: boolean }> {
    const { choice, textLeftOut } = await silhouetteFrom(await read(file), name);
    return { shape: choice, textLeftOut };
  },
});
