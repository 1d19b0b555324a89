import { contrast, toLinear } from '../colour';
import { fromOklab, linearToOklab, toOklab, type Oklab } from '../colour-space';
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
  if (points.length === 0) return [];
  const centres = farApart(points, k);
  const owner = new Int32Array(points.length);
  for (let round = 0; round < 12; round++) {
    points.forEach((p, i) => {
      owner[i] = nearestOf(p, centres);
    });
    const sums = centres.map(() => ({ l: 0, a: 0, b: 0, n: 0 }));
    points.forEach((p, i) => {
      const s = sums[owner[i]!]!;
      s.l += p.l;
      s.a += p.a;
      s.b += p.b;
      s.n++;
    });
    let moved = 0;
    sums.forEach((s, i) => {
      if (s.n === 0) return;
      const next = { l: s.l / s.n, a: s.a / s.n, b: s.b / s.n };
      moved = Math.max(moved, distance(next, centres[i]!));
      centres[i] = next;
    });
    if (moved < 1e-4) break;
  }
  const counts = centres.map((_, c) => owner.reduce((n, o) => n + (o === c ? 1 : 0), 0));
  return centres
    .map((c, i) => ({ colour: fromOklab(c), share: counts[i]! / points.length }))
    .filter((s) => s.share > 0)
    .sort((a, b) => b.share - a.share);
}

function samples(pixels: Pixels): Oklab[] {
  const count = pixels.width * pixels.height;
  const step = Math.max(1, count / SAMPLES);
  const out: Oklab[] = [];
  for (let i = 0; i < count; i += step) {
    const at = Math.floor(i) * 4;
    if (pixels.data[at + 3]! < 128) continue;
    out.push(
      linearToOklab(
        toLinear(pixels.data[at]! / 255),
        toLinear(pixels.data[at + 1]! / 255),
        toLinear(pixels.data[at + 2]! / 255),
      ),
    );
  }
  return out;
}

const distance = (p: Oklab, q: Oklab): number => Math.hypot(p.l - q.l, p.a - q.a, p.b - q.b);

function nearestOf(p: Oklab, centres: readonly Oklab[]): number {
  let best = 0;
  for (let i = 1; i < centres.length; i++) if (distance(p, centres[i]!) < distance(p, centres[best]!)) best = i;
  return best;
}

/** The mean first, then always the point farthest from those chosen, while it is clearly another colour. */
function farApart(points: readonly Oklab[], k: number): Oklab[] {
  const n = points.length;
  const mean = points.reduce((s, p) => ({ l: s.l + p.l / n, a: s.a + p.a / n, b: s.b + p.b / n }), {
    l: 0,
    a: 0,
    b: 0,
  });
  const out: Oklab[] = [
    points[points.reduce((best, p, i) => (distance(p, mean) < distance(points[best]!, mean) ? i : best), 0)]!,
  ];
  const gaps = points.map((p) => distance(p, out[0]!));
  while (out.length < k) {
    let far = 0;
    for (let i = 1; i < n; i++) if (gaps[i]! > gaps[far]!) far = i;
    if (gaps[far]! < 0.03) break;
    out.push(points[far]!);
    points.forEach((p, i) => {
      gaps[i] = Math.min(gaps[i]!, distance(p, points[far]!));
    });
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
    r += toLinear(pixels.data[i]! / 255);
    g += toLinear(pixels.data[i + 1]! / 255);
    b += toLinear(pixels.data[i + 2]! / 255);
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
