import {
  followColours,
  INSIDE,
  maskFollowing,
  onPicture,
  SEED,
  seedsOf,
  tidied,
  withStrokes,
  type Mask,
  type Pixels,
  type Region,
  type Seeds,
  type ShapeChoice,
  type Size,
  type BrushStroke,
  type SubjectHints,
} from '@gable/core';
import { silhouetteFromPixels } from '@gable/core/silhouette';
import { createRequire } from 'node:module';
import sharp from 'sharp';
import type * as OpenCv from '@techstark/opencv-js';
import { decode } from './decode';

/** Longer side in pixels of a first look, and of the finer one that follows it. */
export const FIRST_SIDE = 512;
export const FINE_SIDE = 1024;

/** Rounds of learning the colours of both sides and cutting between them: more change little. */
const ROUNDS = { anew: 5, stroke: 1, finer: 1 } as const;

/** Edges are as soft as the picture makes them within this share of its longer side, above this difference of colour. */
const SOFT = 0.006;
const EPSILON = 0.02 ** 2;

/** How wide the band is, in pixels of the first look, in which the finer one decides anew. */
const BAND = 4;

type Cv = typeof OpenCv;
let library: Promise<{ cv: Cv }> | null = null;

/** OpenCV as WebAssembly, which starts when it is first asked for. */
function loaded(): Promise<{ cv: Cv }> {
  const made = createRequire(import.meta.url)('@techstark/opencv-js') as Cv;
  return new Promise((resolve) => {
    // The library itself has a method `then`: a promise of it would wait for itself.
    const ready = (): void => resolve({ cv: made });
    if ('Mat' in made && typeof made.Mat === 'function') ready();
    else made.onRuntimeInitialized = ready;
  });
}

/** A mask, and what was learnt on the way of the colours on both sides: a later look begins with that. */
export interface Look extends Mask {
  models?: Models;
}

/** Colours of the background and of the subject, as GrabCut has them: 13 numbers to each of five components. */
export interface Models {
  background: readonly number[];
  subject: readonly number[];
}

/** What is to be cut out, and what has been painted. */
export interface CutWish extends SubjectHints {
  strokes: readonly BrushStroke[];
  /** The first look, where a finer one, or one after another stroke, begins. */
  before?: Look | undefined;
}

/**
 * The subject of a picture without its background: GrabCut (Rother, Kolmogorov and Blake, 2004) from what is known of the
 * subject and from strokes of the author, without specks, with edges as soft as the picture's own.
 * @param side longer side of the mask, in pixels
 * @throws GableError `broken-picture`
 */
export async function cutOut(bytes: Uint8Array, size: Size, wish: CutWish, side = FIRST_SIDE): Promise<Look> {
  const k = Math.min(1, side / Math.max(size.width, size.height));
  const pixels = await decode(bytes, { width: size.width * k, height: size.height * k });
  const { strokes, before } = wish;
  const seeds = before ? seedsFrom(before, pixels) : seedsOf(pixels, wish);
  const rounds = !before ? ROUNDS.anew : side > FIRST_SIDE ? ROUNDS.finer : ROUNDS.stroke;
  const { models, ...labelled } = await grabCut(pixels, withStrokes(seeds, strokes), rounds, before?.models);
  const painted = withStrokes({ ...seeds, data: new Uint8Array(seeds.data.length).fill(255) }, strokes);
  const hard = tidied(labelled, (i) => painted.data[i] !== 255);
  return { ...soft(hard, pixels), ...(models && { models }) };
}

/** A first look and the finer one that follows it. @throws GableError `broken-picture` */
export async function cutOutFinely(bytes: Uint8Array, size: Size, hints: SubjectHints): Promise<Mask> {
  const before = await cutOut(bytes, size, { ...hints, strokes: [] });
  return cutOut(bytes, size, { ...hints, strokes: [], before }, FINE_SIDE);
}

/** The edge of a mask at the size of any copy of its picture. @throws GableError `broken-picture` */
export async function maskAt(bytes: Uint8Array, mask: Mask, fit: Size): Promise<Mask> {
  const [small, large] = await Promise.all([decode(bytes, mask), decode(bytes, fit)]);
  return maskFollowing(followColours(mask, small, softRadius(mask), EPSILON), large);
}

const softRadius = ({ width, height }: Size): number => Math.max(2, Math.round(SOFT * Math.max(width, height)));

const soft = (mask: Mask, pixels: Pixels): Mask =>
  maskFollowing(followColours(mask, pixels, softRadius(pixels), EPSILON), pixels);

/** A mask as seeds at another size: along its edge it is decided anew. */
function seedsFrom(mask: Mask, { width, height }: Size): Seeds {
  const data = new Uint8Array(width * height);
  const [kx, ky] = [mask.width / width, mask.height / height];
  const at = (x: number, y: number): boolean => mask.data[y * mask.width + x]! >= INSIDE;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [mx, my] = [Math.min(mask.width - 1, Math.floor(x * kx)), Math.min(mask.height - 1, Math.floor(y * ky))];
      data[y * width + x] = at(mx, my) ? SEED.maybeSubject : SEED.maybeBackground;
    }
  if (mask.width >= width) return { width, height, data };
  // Far from the edge all is sure: only a band is cut anew.
  const near = edgeBand(mask, BAND);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const m =
        Math.min(mask.height - 1, Math.floor(y * ky)) * mask.width + Math.min(mask.width - 1, Math.floor(x * kx));
      if (near[m] === 0) data[y * width + x] = mask.data[m]! >= INSIDE ? SEED.subject : SEED.background;
    }
  return { width, height, data };
}

/** Pixels within a distance of an edge, by rows and columns. */
function edgeBand({ width, height, data }: Mask, reach: number): Uint8Array {
  const near = new Uint8Array(data.length);
  const mark = (x: number, y: number): void => {
    for (let yy = Math.max(0, y - reach); yy <= Math.min(height - 1, y + reach); yy++)
      near.fill(1, yy * width + Math.max(0, x - reach), yy * width + Math.min(width - 1, x + reach) + 1);
  };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const inside = data[i]! >= INSIDE;
      if (x + 1 < width && data[i + 1]! >= INSIDE !== inside) mark(x, y);
      else if (y + 1 < height && data[i + width]! >= INSIDE !== inside) mark(x, y);
    }
  return near;
}

async function grabCut({ width, height, data }: Pixels, seeds: Seeds, rounds: number, known?: Models): Promise<Look> {
  library ??= loaded();
  const { cv } = await library;
  const colours = new Uint8Array(width * height * 3);
  for (let i = 0, from = 0, to = 0; i < width * height; i++, from += 4) {
    colours[to++] = data[from]!;
    colours[to++] = data[from + 1]!;
    colours[to++] = data[from + 2]!;
  }
  const sides = [0, 0];
  for (const seed of seeds.data) sides[seed & 1]!++;
  // With all of it on one side there is nothing to learn from.
  if (sides[0] === 0 || sides[1] === 0)
    return { width, height, data: seeds.data.map((s) => ((s & 1) === 1 ? 255 : 0)) };
  const image = cv.matFromArray(height, width, cv.CV_8UC3, colours as unknown as number[]);
  const mask = cv.matFromArray(height, width, cv.CV_8UC1, seeds.data as unknown as number[]);
  const matOf = (model?: readonly number[]): OpenCv.Mat =>
    model ? cv.matFromArray(1, model.length, cv.CV_64FC1, [...model]) : new cv.Mat();
  const [background, subject] = [matOf(known?.background), matOf(known?.subject)];
  try {
    const way = known ? cv.GC_EVAL : cv.GC_INIT_WITH_MASK;
    cv.grabCut(image, mask, new cv.Rect(0, 0, 1, 1), background, subject, rounds, way);
    const models = { background: [...background.data64F], subject: [...subject.data64F] };
    return { width, height, data: Uint8Array.from(mask.data as Uint8Array, (s) => ((s & 1) === 1 ? 255 : 0)), models };
  } finally {
    for (const mat of [image, mask, background, subject]) mat.delete();
  }
}

/** A mask as a PNG of one channel. */
export const maskToPng = ({ width, height, data }: Mask): Promise<Buffer> =>
  sharp(data, { raw: { width, height, channels: 1 } })
    .toColourspace('b-w')
    .png()
    .toBuffer();

/** @throws GableError `broken-picture` */
export async function maskFromPng(bytes: Uint8Array): Promise<Mask> {
  const { width, height, data } = await decode(bytes);
  return { width, height, data: Uint8Array.from({ length: width * height }, (_, i) => data[i * 4]!) };
}

/** The picture with all but its subject clear, as a PNG of its own size. @throws GableError `broken-picture` */
export async function clearAround(bytes: Uint8Array, size: Size, mask: Mask): Promise<Buffer> {
  const [{ width, height, data }, alpha] = await Promise.all([decode(bytes, size), maskAt(bytes, mask, size)]);
  const out = Buffer.from(data);
  for (let i = 0; i < width * height; i++) out[i * 4 + 3] = Math.round((out[i * 4 + 3]! * alpha.data[i]!) / 255);
  return sharp(out, { raw: { width, height, channels: 4 } })
    .png()
    .toBuffer();
}

/** An outline to be seen as a line is smooth over about so many pixels of the mask, and so near to its edge. */
const SMOOTH = 1.6;
const NEAR = 0.75;

/** The outline of what a mask holds, as a shape, and its box in shares of the picture; null where it holds nothing. */
export async function outlineOfMask(
  { width, height, data }: Mask,
  label: string,
): Promise<{ shape: ShapeChoice; region: Region } | null> {
  // All of the picture is no outline of a subject: without clear pixels its darkness would be traced.
  if (!data.some((v) => v >= INSIDE) || data.every((v) => v >= 250)) return null;
  const smooth = await sharp(data, { raw: { width, height, channels: 1 } })
    .blur(SMOOTH)
    .extractChannel(0)
    .raw()
    .toBuffer();
  const pixels = new Uint8ClampedArray(width * height * 4);
  for (let i = 0; i < smooth.length; i++) pixels[i * 4 + 3] = smooth[i]!;
  const { choice, box } = silhouetteFromPixels({ width, height, data: pixels }, label, NEAR);
  const region = { u: box.x / width, v: box.y / height, width: box.width / width, height: box.height / height };
  return { shape: choice, region: onPicture(region) };
}
