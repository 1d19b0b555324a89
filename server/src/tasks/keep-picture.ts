import { GableError } from '@gable/core';
import { proxy } from '@gable/render';
import { LIMITS, readDrawable } from '@gable/formats';
import { task, type BytesRef } from './task';

/** What a picture's header tells; size in stored pixels. */
export interface PictureFacts {
  type: string;
  width: number;
  height: number;
  orientation: number;
}

/** Reads a picture whole once: a damaged one is refused now, not when it is needed. */
export const keepPicture = task({
  lane: 'paint',
  seconds: 30,
  weigh: ({ file }) => file.size,
  async run({ file, name }: { file: BytesRef; name: string }, { read }): Promise<PictureFacts> {
    const bytes = await read(file);
    const header = readDrawable(bytes, name);
    const { width, height } = header.pixels;
    const megapixels = (width * height) / 1e6;
    if (megapixels > LIMITS.megapixels)
      throw new GableError(
        'too-many-pixels',
        `“${name}” has ${Math.round(megapixels)} megapixels; Gable takes ${LIMITS.megapixels}.`,
        'Make the picture smaller first.',
      );
    await proxy(bytes, 64);
    const whole = (v: number): number => Math.max(1, Math.round(v));
    return { type: header.type, width: whole(width), height: whole(height), orientation: header.orientation };
  },
});
