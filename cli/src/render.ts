import {
  blurSigma,
  changesPixels,
  deriveView,
  GableError,
  paintedBounds,
  paintFrame,
  SUBJECT_SIDE,
  tonePixels,
  findSubject,
  type Context,
  type Surface,
  type Frame,
  type Pixels,
  type Size,
  type Subject,
} from '@gable/core';
import { LIMITS } from '@gable/formats';
import { createCanvas, ImageData, type Canvas } from '@napi-rs/canvas';
import sharp from 'sharp';

/** The painter's home on the server and in the terminal: `sharp` decodes and scales, a Skia canvas paints. */

const SHARP = { limitInputPixels: LIMITS.megapixels * 1e6, failOn: 'error', animated: false } as const;

const unreadable = (cause: unknown): GableError =>
  new GableError(
    'broken-picture',
    'The picture cannot be read; it is damaged or of a kind Gable does not know.',
    'It is left as it is. Insert the picture again in the document.',
    {},
    { cause },
  );

/**
 * Decodes a picture to sRGB pixels as stored: its EXIF orientation is not applied, as office programs do not.
 * @param fit the size to reduce to (pixels); never enlarged
 * @param how `fill` takes the size as it is, `inside` keeps the ratio
 * @throws GableError `broken-picture`
 */
export async function decode(bytes: Uint8Array, fit?: Size, how: 'fill' | 'inside' = 'fill'): Promise<Pixels> {
  try {
    let image = sharp(bytes, SHARP).toColourspace('srgb').ensureAlpha();
    if (fit)
      image = image.resize(Math.max(1, Math.round(fit.width)), Math.max(1, Math.round(fit.height)), {
        fit: how,
        kernel: 'lanczos3',
        withoutEnlargement: true,
      });
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

/** The point of a picture that matters most. @throws GableError `broken-picture` */
export async function subjectOf(bytes: Uint8Array, size: Size): Promise<Subject> {
  return findSubject(await decodeSmall(bytes, size));
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

/** Pixels as something a canvas can draw. */
export function toCanvas(pixels: Pixels): Canvas {
  const canvas = createCanvas(pixels.width, pixels.height);
  canvas
    .getContext('2d')
    .putImageData(new ImageData(new Uint8ClampedArray(pixels.data), pixels.width, pixels.height), 0, 0);
  return canvas;
}

/** A Skia canvas as the painter wants it. */
export function surfaceOf(canvas: Canvas): Surface {
  const { width, height } = canvas;
  return {
    context: canvas.getContext('2d') as unknown as Context,
    width,
    height,
    layer(_depth, width, height) {
      const image = createCanvas(width, height);
      return { context: image.getContext('2d') as unknown as Context, image };
    },
  };
}

/**
 * Paints a frame with all that reaches beyond it (outline, shadow, turn) on a transparent ground.
 * @param bytes the picture's data, or null for a plate in its place
 * @param scale device pixels per point
 */
export async function renderFrame(frame: Frame, size: Size, bytes: Uint8Array | null, scale: number): Promise<Canvas> {
  const b = paintedBounds(frame);
  const width = Math.max(1, Math.ceil(b.width * scale - 1e-6));
  const height = Math.max(1, Math.ceil(b.height * scale - 1e-6));
  if (width * height > LIMITS.megapixels * 1e6)
    throw new GableError(
      'too-many-pixels',
      `The result would have ${Math.round((width * height) / 1e6)} megapixels.`,
      `Gable makes up to ${LIMITS.megapixels}. Choose a lower resolution.`,
    );
  const canvas = createCanvas(width, height);
  const surface = surfaceOf(canvas);
  const target = { x: -b.x * scale, y: -b.y * scale, scale };
  if (!bytes) {
    paintFrame(surface, { ...frame, backing: { kind: 'solid', colour: '#c9c4b8', opacity: 1 } }, null, target);
    return canvas;
  }
  const view = deriveView(frame.placement, frame.box, size);
  const pixels = await decode(bytes, {
    width: size.width * view.scale.x * scale,
    height: size.height * view.scale.y * scale,
  });
  paintFrame(surface, frame, { image: toCanvas(toned(pixels, frame, size)), size }, target);
  return canvas;
}
