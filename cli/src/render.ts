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
import sharp, { type Sharp } from 'sharp';

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
  put(canvas, pixels, 0, 0);
  return canvas;
}

function put(canvas: Canvas, { data, width, height }: Pixels, x: number, y: number): void {
  canvas.getContext('2d').putImageData(new ImageData(new Uint8ClampedArray(data), width, height), x, y);
}

/** What a canvas shows, to be encoded: RGBA, not premultiplied. */
export function sharpOf(canvas: Canvas): Sharp {
  const { width, height } = canvas;
  const { data } = canvas.getContext('2d').getImageData(0, 0, width, height);
  return sharp(Buffer.from(data.buffer), { raw: { width, height, channels: 4 } });
}

/** How PNG is written: with its filters a low level makes smaller files of photographs than the highest without, far sooner. */
export const PNG = { compressionLevel: 2, adaptiveFiltering: true } as const;

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
  paintFrame(surface, frame, { image: await pictureFor(frame, size, bytes, scale), size }, target);
  return canvas;
}

/** The picture as a frame shows it, reduced to the device's pixels; what lies out of sight stays clear. */
async function pictureFor(frame: Frame, size: Size, bytes: Uint8Array, scale: number): Promise<Canvas> {
  const view = deriveView(frame.placement, frame.box, size);
  // Never enlarged: a canvas does that as well.
  const whole = {
    width: Math.max(1, Math.round(Math.min(size.width, size.width * view.scale.x * scale))),
    height: Math.max(1, Math.round(Math.min(size.height, size.height * view.scale.y * scale))),
  };
  const sigma = blurSigma(frame, size, whole);
  // What a blur takes in from beside it, and what smoothing does.
  const margin = Math.ceil(3 * Math.max(sigma.x, sigma.y)) + 4;
  const range = (of: 'x' | 'y', length: number): [number, number] => {
    const at = view.corners.map((c) => c[of] * length);
    return [Math.max(0, Math.floor(Math.min(...at)) - margin), Math.min(length, Math.ceil(Math.max(...at)) + margin)];
  };
  const [left, right] = range('x', whole.width);
  const [top, bottom] = range('y', whole.height);
  const part = { left, top, width: right - left, height: bottom - top };
  const worth = frame.placement.fit !== 'tile' && part.width * part.height < 0.9 * whole.width * whole.height;
  if (!worth || part.width < 1 || part.height < 1) return toCanvas(toned(await decode(bytes, whole), frame, size));
  const pixels = await decode(bytes, whole, 'fill', part);
  const canvas = createCanvas(whole.width, whole.height);
  put(canvas, changesPixels(frame.tone) ? tonePixels(pixels, frame.tone, sigma) : pixels, left, top);
  return canvas;
}
