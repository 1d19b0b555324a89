import smartcrop from 'smartcrop';
import type { Pixels } from '../model/pixels';
import type { Subject } from '../model/subject';
import { faceSubject, type Face } from './faces';
import { salientThing } from './salient';

/** Longest side in pixels at which the subject is looked for. */
export const SUBJECT_SIDE = 256;

/** `smartcrop` takes any image type when it is given the operations on it; its own types know only the browser's. */
type Finder = (
  image: Raster,
  options: Record<string, unknown>,
) => Promise<{ topCrop: { x: number; y: number; width: number; height: number } }>;

interface Raster {
  width: number;
  height: number;
  data: Uint8ClampedArray | Uint8Array;
}

/** Averages areas of pixels: what the finder asks of an image library. */
function resample(image: Raster, width: number, height: number): Raster {
  const w = Math.max(1, Math.round(width));
  const h = Math.max(1, Math.round(height));
  const data = new Uint8ClampedArray(w * h * 4);
  for (let y = 0; y < h; y++) {
    const y0 = Math.floor((y * image.height) / h);
    const y1 = Math.max(y0 + 1, Math.floor(((y + 1) * image.height) / h));
    for (let x = 0; x < w; x++) {
      const x0 = Math.floor((x * image.width) / w);
      const x1 = Math.max(x0 + 1, Math.floor(((x + 1) * image.width) / w));
      for (let k = 0; k < 4; k++) {
        let sum = 0;
        for (let yy = y0; yy < y1; yy++)
          for (let xx = x0; xx < x1; xx++) sum += image.data[(yy * image.width + xx) * 4 + k]!;
        data[(y * w + x) * 4 + k] = sum / ((x1 - x0) * (y1 - y0));
      }
    }
  }
  return { width: w, height: h, data };
}

/**
 * What a picture is about: its faces, else the one thing that stands out from its surroundings. Where there is neither, the
 * subject is a guess, and is marked as one: nobody is told that it lies off-centre.
 * @param pixels best at most `SUBJECT_SIDE` on its longer side; larger ones are reduced first
 * @param faces that are known to be in it
 */
export async function findSubject(pixels: Pixels, faces: readonly Face[] = []): Promise<Subject> {
  const thing = faceSubject(faces) ?? salientThing(pixels);
  return thing ?? { ...(await guess(pixels)), guessed: true };
}

/**
 * The middle of the best square crop that `smartcrop` finds by skin, saturation and detail. A picture with nothing in it
 * gives its middle.
 */
async function guess(pixels: Pixels): Promise<Subject> {
  const k = Math.min(1, SUBJECT_SIDE / Math.max(pixels.width, pixels.height));
  const image = k < 1 ? resample(pixels, pixels.width * k, pixels.height * k) : pixels;
  if (Math.min(image.width, image.height) < 8) return { u: 0.5, v: 0.5 };
  const result = await (smartcrop.crop as unknown as Finder)(image, {
    width: 16,
    height: 16,
    minScale: 0.5,
    scaleStep: 0.1,
    prescale: false,
    ruleOfThirds: false,
    imageOperations: {
      open: (i: Raster) => Promise.resolve(i),
      resample: (i: Raster, w: number, h: number) => Promise.resolve(resample(i, w, h)),
      getData: (i: Raster) => Promise.resolve(i),
    },
  });
  const { x, y, width, height } = result.topCrop;
  return { u: (x + width / 2) / image.width, v: (y + height / 2) / image.height };
}
