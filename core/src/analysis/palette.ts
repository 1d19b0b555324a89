import { contrast, LINEAR_OF_BYTE } from '../colour';
import { fromOklab, linearToOklab, pixelToOklab, toOklab, type Oklab } from '../colour-space';
import type { Path } from '../geometry/path';
import { flatten } from '../geometry/path';
import type { Frame, Size } from '../model/frame';
import { deriveView, ontoPicture } from '../placement/view';
import { framePath } from '../shapes/index';
import type { Pixels } from '../model/pixels';

/** A colour of a picture and how much of it there is, 0..1. */
export interface Swatch {
  colour: string;
  share: number;
}

/** At most this many pixels are looked at, evenly spread. */
const SAMPLES = 4096;

/**
 * The colours already in a picture: k-means in OKLab, begun with the pixels farthest from each other, so that the same
 * picture always gives the same palette. Transparent pixels do not count.
 * @param k how many at most; fewer where the picture has fewer
 * @returns most frequent first
 */
export function paletteOf(pixels: Pixels, k = 6): Swatch[] {
  const points = samples(pixels);
  const count = points.length / 3;
  if (count === 0) return [];
  const centres = farApart(points, k);
  const owner = new Int32Array(count);
  for (let round = 0; round < 12; round++) {
    for (let i = 0; i < count; i++) owner[i] = nearestOf(points, i, centres);
    if (moveCentres(points, owner, centres) < 1e-4) break;
  }
  const counts = centres.map((_, c) => owner.reduce((n, o) => n + (o === c ? 1 : 0), 0));
  return centres
    .map((c, i) => ({ colour: fromOklab(c), share: counts[i]! / count }))
    .filter((s) => s.share > 0)
    .sort((a, b) => b.share - a.share);
}

/** Each centre into the mean of its pixels. @returns how far one moved at most */
function moveCentres(points: Float64Array, owner: Int32Array, centres: Oklab[]): number {
  const sums = centres.map(() => ({ l: 0, a: 0, b: 0, n: 0 }));
  for (let i = 0; i < owner.length; i++) {
    const s = sums[owner[i]!]!;
    s.l += points[3 * i]!;
    s.a += points[3 * i + 1]!;
    s.b += points[3 * i + 2]!;
    s.n++;
  }
  let moved = 0;
  sums.forEach((s, c) => {
    if (s.n === 0) return;
    const from = centres[c]!;
    const to = { l: s.l / s.n, a: s.a / s.n, b: s.b / s.n };
    moved = Math.max(moved, Math.hypot(to.l - from.l, to.a - from.a, to.b - from.b));
    centres[c] = to;
  });
  return moved;
}

/** @returns L, a and b of one pixel after the other */
function samples({ width, height, data }: Pixels): Float64Array {
  const count = width * height;
  const step = Math.max(1, count / SAMPLES);
  const out: number[] = [];
  for (let i = 0; i < count; i += step) {
    const at = Math.floor(i) * 4;
    if (data[at + 3]! < 128) continue;
    const { l, a, b } = pixelToOklab(data, at);
    out.push(l, a, b);
  }
  return Float64Array.from(out);
}

/** The square of the distance: enough to tell what is nearer, and many times as fast as the distance. */
const squared = (points: Float64Array, i: number, c: Oklab): number =>
  (points[3 * i]! - c.l) ** 2 + (points[3 * i + 1]! - c.a) ** 2 + (points[3 * i + 2]! - c.b) ** 2;

function nearestOf(points: Float64Array, i: number, centres: readonly Oklab[]): number {
  let [best, least] = [0, Infinity];
  for (let c = 0; c < centres.length; c++) {
    const d = squared(points, i, centres[c]!);
    if (d < least) [best, least] = [c, d];
  }
  return best;
}

/** From this distance in OKLab on two colours are clearly different. */
const CLEARLY_APART = 0.03;

/** The pixel nearest to the mean first, then always the one farthest from those chosen, while it is clearly another colour. */
function farApart(points: Float64Array, k: number): Oklab[] {
  const count = points.length / 3;
  const at = (i: number): Oklab => ({ l: points[3 * i]!, a: points[3 * i + 1]!, b: points[3 * i + 2]! });
  const mean: Oklab[] = [{ l: 0, a: 0, b: 0 }];
  moveCentres(points, new Int32Array(count), mean);
  const gaps = Float64Array.from({ length: count }, (_, i) => squared(points, i, mean[0]!));
  let next = gaps.indexOf(gaps.reduce((least, d) => Math.min(least, d), Infinity));
  const out = [at(next)];
  for (let i = 0; i < count; i++) gaps[i] = squared(points, i, out[0]!);
  while (out.length < k) {
    next = 0;
    for (let i = 1; i < count; i++) if (gaps[i]! > gaps[next]!) next = i;
    if (gaps[next]! < CLEARLY_APART ** 2) break;
    const chosen = at(next);
    out.push(chosen);
    for (let i = 0; i < count; i++) gaps[i] = Math.min(gaps[i]!, squared(points, i, chosen));
  }
  return out;
}

/** The picture just inside a frame's edge as one colour. @param pixels a copy of the picture, of any size @param size its stored pixels */
export function rimOfFrame(pixels: Pixels, frame: Frame, size: Size): string | null {
  const { matrix } = deriveView(frame.placement, frame.box, size);
  return rimColour(pixels, framePath(frame), (x, y) => {
    const { u, v } = ontoPicture(matrix, { x, y }, size);
    return { x: u * pixels.width, y: v * pixels.height };
  });
}

/** The mean colour along a path. */
export function rimColour(
  pixels: Pixels,
  path: Path,
  toPixel: (x: number, y: number) => { x: number; y: number },
): string | null {
  let n = 0;
  let r = 0;
  let g = 0;
  let b = 0;
  for (const p of flatten(path, 1).flat()) {
    const at = toPixel(p.x, p.y);
    const x = Math.floor(at.x);
    const y = Math.floor(at.y);
    if (x < 0 || y < 0 || x >= pixels.width || y >= pixels.height) continue;
    const i = (y * pixels.width + x) * 4;
    if (pixels.data[i + 3]! < 128) continue;
    r += LINEAR_OF_BYTE[pixels.data[i]!]!;
    g += LINEAR_OF_BYTE[pixels.data[i + 1]!]!;
    b += LINEAR_OF_BYTE[pixels.data[i + 2]!]!;
    n++;
  }
  return n === 0 ? null : fromOklab(linearToOklab(r / n, g / n, b / n));
}

/** WCAG 2.2 SC 1.4.11: graphics are told apart from 3 : 1. */
export const READABLE = 3;

/**
 * The colour nearest to the one wished for whose contrast reaches `least` against every neighbour: same hue, only as much
 * lighter or darker as is needed.
 * @returns null when no lightness does it (neighbours both light and dark)
 */
export function readableColour(wish: string, neighbours: readonly string[], least = READABLE): string | null {
  const reads = (c: string): boolean => neighbours.every((n) => contrast(c, n) >= least);
  if (reads(wish)) return wish;
  const { l, a, b } = toOklab(wish);
  for (let step = 1; step <= 100; step++)
    for (const next of [l + step / 100, l - step / 100]) {
      if (next < 0 || next > 1) continue;
      // Near black and white there is less room for colour.
      const room = Math.min(1, 4 * Math.min(next, 1 - next) + 0.02);
      const c = fromOklab({ l: next, a: a * room, b: b * room });
      if (reads(c)) return c;
    }
  return null;
}

/** Share of the pixels from which on clear ones are meant: below it they are the rim of a scan. Our own choice. */
const CLEAR = 0.02;

/** Has a picture clear parts, as marks and cut-outs have? */
export function hasClearParts({ data }: Pixels): boolean {
  let clear = 0;
  for (let i = 3; i < data.length; i += 4) if (data[i]! < 128) clear++;
  return clear > (data.length / 4) * CLEAR;
}
