import { GableError, type Size } from '@gable/core';
import { storable } from '@gable/render';
import { openFile, type MarginPicture } from '@gable/formats';
import { task, weighFile, type BytesRef, type Made } from './task';

/** A picture for a margin, as it was kept. */
export type MarginWish = Omit<MarginPicture, 'picture'> & { picture: { bytes: BytesRef; type: string; size: Size } };

/** The document with a picture in its header or footer, and the parts that now begin with it. */
export const margin = task({
  lane: 'quick',
  seconds: 60,
  weigh: weighFile,
  async run(
    { file, wish: { picture, ...wish } }: { file: BytesRef; wish: MarginWish },
    context,
  ): Promise<{ made: Made; parts: string[] }> {
    const opened = openFile(await context.read(file));
    if (!opened.putInMargin)
      throw new GableError(
        'no-margin',
        'Only text documents (.docx) get pictures in their headers and footers.',
        'Put the picture on a slide or a page in the program it was made with.',
      );
    const bytes = await context.read(picture.bytes);
    const { bytes: made, parts } = opened.putInMargin({
      ...wish,
      picture: await storable({ bytes, size: picture.size }, picture.type),
    });
    return { made: await context.made(made), parts };
  },
});
