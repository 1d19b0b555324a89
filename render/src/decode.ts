import {
  blurSigma,
  changesPixels,
  GableError,
  SUBJECT_SIDE,
  tonePixels,
  type Frame,
  type Pixels,
  type Size,
} from '@gable/core';
import { LIMITS } from '@gable/formats';
import sharp from 'sharp';

const SHARP = { limitInputPixels: LIMITS.megapixels * 1e6, failOn: 'error', animated: false } as const;

export const unreadable = (cause: unknown): GableError =>
  new GableError(
    'broken-picture',
    'The picture cannot be read: it is damaged, or Gable does not know its format.',
    'It stays as it is. Insert the picture again in the document.',
    {},
    { cause },
  );

/**
 * Decodes a picture to sRGB pixels as stored: its EXIF orientation is not applied, as office programs do not.
 * @param fit the size to reduce to (pixels); never enlarged
 * @param how `fill` takes the size as it is, `inside` keeps the ratio
 * @param part only this much of the result, in its pixels
 * @throws GableError `broken-picture`
 */
export async function decode(
  bytes: Uint8Array,
  fit?: Size,
  how: 'fill' | 'inside' = 'fill',
  part?: { left: number; top: number; width: number; height: number },
): Promise<Pixels> {
  try {
    let image = sharp(bytes, SHARP).toColourspace('srgb').ensureAlpha();
    if (fit)
      image = image.resize(Math.max(1, Math.round(fit.width)), Math.max(1, Math.round(fit.height)), {
        fit: how,
        kernel: 'lanczos3',
        withoutEnlargement: true,
      });
    if (part) image = image.extract(part);
    const { data, info } = await image.raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, data };
  } catch (cause) {
    throw unreadable(cause);
  }
}

/** A smaller copy for showing, as stored; JPEG, or PNG where there is transparency. @throws GableError `broken-picture` */
export async function proxy(bytes: Uint8Array, side: number): Promise<{ type: string; data: Buffer }> {
  try {
    const image = sharp(bytes, SHARP)
      .resize(side, side, { fit: 'inside', withoutEnlargement: true })
      .toColourspace('srgb');
    const { hasAlpha } = await sharp(bytes, SHARP).metadata();
    return hasAlpha
      ? { type: 'image/png', data: await image.png({ compressionLevel: 6 }).toBuffer() }
      : { type: 'image/jpeg', data: await image.jpeg({ quality: 90, chromaSubsampling: '4:4:4' }).toBuffer() };
  } catch (cause) {
    throw unreadable(cause);
  }
}

/** Pixels small enough to be looked at as a whole: for subjects, weights and colours. @throws GableError `broken-picture` */
export function decodeSmall(bytes: Uint8Array, size: Size): Promise<Pixels> {
  const k = Math.min(1, SUBJECT_SIDE / Math.max(size.width, size.height));
  return decode(bytes, { width: size.width * k, height: size.height * k });
}

/** The pixels under the frame's tone. */
export function toned(pixels: Pixels, frame: Frame, size: Size): Pixels {
  if (!changesPixels(frame.tone)) return pixels;
  return tonePixels(pixels, frame.tone, blurSigma(frame, size, pixels));
}
