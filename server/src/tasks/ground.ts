import { GableError } from '@gable/core';
import { LIMITS, type Source } from '@gable/formats';
import sharp from 'sharp';
import { openRef, task, weighFile, type FileRef, type Made } from './task';

/** Pixels across of a drawing behind its pictures. */
const GROUND = 1600;

/** What is in the drawing is painted and never run; nothing it links to is fetched. @returns null where there is nothing */
export async function paintGround(file: Source, page: number): Promise<Uint8Array | null> {
  const ground = file.backdrop?.(page);
  return ground ? painted(ground) : null;
}

async function painted(ground: Uint8Array): Promise<Uint8Array> {
  try {
    return await sharp(ground, { limitInputPixels: LIMITS.megapixels * 1e6, density: 96 })
      .resize(GROUND, GROUND, { fit: 'inside' })
      .png()
      .toBuffer();
  } catch (cause) {
    throw new GableError(
      'bad-svg',
      'The page behind the frames cannot be shown.',
      'Work on in close-up.',
      {},
      { cause },
    );
  }
}

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
    return found ? context.made(await painted(found)) : null;
  },
});
