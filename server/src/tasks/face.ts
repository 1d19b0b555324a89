import { paintedBounds, type Frame, type Size } from '@gable/core';
import { PNG, renderFrame, sharpOf } from '@gable/render';
import { readPicture, weighSource, type PictureSource } from './picture-source';
import { task, type Made } from './task';

/** A framed picture as the server paints it, small, as a PNG. */
export const face = task({
  lane: 'paint',
  seconds: 15,
  weigh: ({ source }) => weighSource(source),
  async run(
    { source, frame, size, side }: { source: PictureSource; frame: Frame; size: Size; side: number },
    context,
  ): Promise<Made> {
    const bytes = await readPicture(source, context);
    const b = paintedBounds(frame);
    const pixels = await renderFrame(frame, size, bytes, side / Math.max(b.width, b.height));
    return context.made(await sharpOf(pixels).png(PNG).toBuffer());
  },
});
