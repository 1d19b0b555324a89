import { pixelToOklab, toOklab, type Oklab } from '../colour-space';
import { paletteOf } from './palette';
import type { Region } from '../model/frame';
import type { Pixels } from '../model/pixels';

/** A rim of this share of the shorter side is taken for surroundings: photographers leave room (the “boundary prior”). */
const RIM = 0.06;
/** Colours of the surroundings at most. */
const COLOURS = 6;
/** Farther from all colours of the rim than those of the rim themselves, by so many standard deviations. */
const APART = 3;
/** What stands out is a thing when it is so large, so compact, and so far above its surroundings. Found on photographs. */
const LEAST_AREA = 0.04;
const MOST_AREA = 0.62;
const COMPACT = 1.5;
const STRENGTH = 1.5;

/** Pixels on the longer side, and pixels of the rim, that are enough. */
const SIDE = 128;
const RIM_SAMPLES = 600;

/** What stands out in a picture, on a coarse grid: the distance in colour where it is a thing, 0 elsewhere. */
export interface SalientMap {
  map: { width: number; height: number; data: Float32Array };
  /** The middle of it, and its box, in shares of the picture. */
  u: number;
  v: number;
  bounds: Region;
}

/**
 * The one thing that a picture shows, where it shows one: what is far in colour (OKLab) from all that lies along the rim,
 * if it lies together. Skies, meadows, textures and patterns have none: what stands out in them is scattered.
 * @param pixels of any size: about `SIDE` on the longer side are looked at
 */
export function salientMap(pixels: Pixels): SalientMap | null {
  const small = thinned(pixels);
  const { width, height, data } = small;
  const count = width * height;
  const edge = Math.max(2, Math.round(RIM * Math.min(width, height)));
  const onRim = (i: number): boolean => {
    const x = i % width;
    const y = (i - x) / width;
    return x < edge || y < edge || x >= width - edge || y >= height - edge;
  };
  const rim: number[] = [];
  for (let i = 0; i < count; i++) if (onRim(i) && data[i * 4 + 3]! >= 128) rim.push(i);
  const around = coloursOf(small, rim);
  const far = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    if (data[i * 4 + 3]! < 128) continue;
    const at = pixelToOklab(data, i * 4);
    let least = around.length === 0 ? 1 : Infinity;
    for (const c of around) least = Math.min(least, (at.l - c.l) ** 2 + 4 * ((at.a - c.a) ** 2 + (at.b - c.b) ** 2));
    far[i] = Math.sqrt(least);
  }
  const threshold = thresholdOf(far, rim);
  let [n, sum, sx, sy] = [0, 0, 0, 0];
  for (let i = 0; i < count; i++) {
    if (far[i]! <= threshold) continue;
    const x = i % width;
    const y = (i - x) / width;
    n++;
    sum += far[i]!;
    sx += x + 0.5;
    sy += y + 0.5;
  }
  const area = n / count;
  if (area < LEAST_AREA || area > MOST_AREA || sum / n < STRENGTH * threshold) return null;
  const [u, v] = [sx / n / width, sy / n / height];
  let spread = 0;
  for (let i = 0; i < count; i++) {
    if (far[i]! <= threshold) continue;
    const x = i % width;
    spread += ((x + 0.5) / width - u) ** 2 + (((i - x) / width + 0.5) / height - v) ** 2;
  }
  // A rectangle of that area, in shares of the picture, has this spread: the mean of x² + y² over it is a sixth of its area.
  if (Math.sqrt(spread / n) > COMPACT * Math.sqrt(area / 6)) return null;
  const above = far.map((d) => (d > threshold ? d : 0));
  return { map: { width, height, data: above }, u, v, bounds: boundsAbove(above, width, height, n) };
}

/** Where it is, without the point. */
export function salientThing(pixels: Pixels): { u: number; v: number } | null {
  const thing = salientMap(pixels);
  return thing && { u: thing.u, v: thing.v };
}

/** Of what stands out, so much may lie beyond its box on each side: single pixels far away do not make it large. */
const STRAY = 0.01;

function boundsAbove(above: Float32Array, width: number, height: number, n: number): Region {
  const [columns, rows] = [new Float32Array(width), new Float32Array(height)];
  above.forEach((d, i) => {
    if (d === 0) return;
    columns[i % width]!++;
    rows[Math.floor(i / width)]!++;
  });
  const ends = (counts: Float32Array): [number, number] => {
    let [from, to] = [0, counts.length - 1];
    for (let sum = counts[from]!; from < to && sum < STRAY * n; sum += counts[++from]!);
    for (let sum = counts[to]!; to > from && sum < STRAY * n; sum += counts[--to]!);
    return [from, to + 1];
  };
  const [left, right] = ends(columns);
  const [top, bottom] = ends(rows);
  return { u: left / width, v: top / height, width: (right - left) / width, height: (bottom - top) / height };
}

/** Every so many pixels. */
function thinned(pixels: Pixels): Pixels {
  const step = Math.floor(Math.max(pixels.width, pixels.height) / SIDE);
  if (step < 2) return pixels;
  const [width, height] = [Math.floor(pixels.width / step), Math.floor(pixels.height / step)];
  const data = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = (y * step * pixels.width + x * step) * 4;
      data.set(pixels.data.subarray(at, at + 4), (y * width + x) * 4);
    }
  return { width, height, data };
}

function coloursOf({ data }: Pixels, at: readonly number[]): Oklab[] {
  const every = Math.max(1, Math.floor(at.length / RIM_SAMPLES));
  const some = at.filter((_, k) => k % every === 0);
  const row = new Uint8ClampedArray(some.length * 4);
  some.forEach((i, k) => row.set(data.subarray(i * 4, i * 4 + 4), k * 4));
  return paletteOf({ width: some.length, height: 1, data: row }, COLOURS).map((s) => toOklab(s.colour));
}

function thresholdOf(far: Float32Array, rim: readonly number[]): number {
  if (rim.length === 0) return 0.1;
  const mean = rim.reduce((sum, i) => sum + far[i]!, 0) / rim.length;
  const deviation = Math.sqrt(rim.reduce((sum, i) => sum + (far[i]! - mean) ** 2, 0) / rim.length);
  return Math.max(0.02, mean + APART * deviation);
}
