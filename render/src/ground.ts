import { GableError, type Document } from '@gable/core';
import { LIMITS, type Source } from '@gable/formats';
import sharp from 'sharp';

/** Pixels across of a drawing behind its pictures. */
const GROUND = 1600;

/**
 * What is in the drawing is painted and never run; nothing it links to is fetched.
 * @param as the document whose shapes and words are shown
 * @returns null where there is nothing
 */
export async function paintGround(file: Source, page: number, as?: Document): Promise<Uint8Array | null> {
  const ground = file.backdrop?.(page, as);
  return ground ? paintHeld(ground) : null;
}

/** A picture that a file holds, as a PNG. @throws GableError `bad-svg` */
export async function paintHeld(ground: Uint8Array): Promise<Uint8Array> {
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
