import { channels, toLinear } from '../colour';
import type { Rect } from '../geometry/path';
import { meets } from '../geometry/measure';
import type { Pixels } from '../model/pixels';
import type { Size } from '../model/frame';
import { contrastOn } from './contrast';

/** So many places are tried across and down at most, and so many pixels are looked at in each. */
const TRIES = 32;
const SAMPLES = 400;
/** Words keep so far off the edge of the picture, as a share of its shorter side. Our own choice. */
const OFF = 0.03;

/** What words need. */
interface Wanted {
  ink: string;
  /** The contrast that is to be reached. */
  least: number;
  /** `#rrggbb` behind what is half clear. */
  behind: string;
  /** What they must not lie over, in pixels. */
  avoid?: readonly Rect[];
}

/**
 * Where in a picture words can be read best: of all places whose pixels give them enough contrast (all but the worst twentieth of
 * these), the one with the least detail, which is the mean step in lightness from pixel to pixel.
 * @param picture as it is painted; what is clear is no part of it
 * @param words how large they are, in pixels
 * @returns their upper left corner, in pixels; null where there is no such place
 */
export function calmestPlace(
  picture: Pixels,
  words: Size,
  { ink, least, behind, avoid = [] }: Wanted,
): { x: number; y: number } | null {
  const { width, height } = picture;
  const [w, h] = [Math.max(1, Math.round(words.width)), Math.max(1, Math.round(words.height))];
  const off = Math.ceil(OFF * Math.min(width, height));
  const [across, down] = [width - 2 * off - w, height - 2 * off - h];
  if (across < 0 || down < 0) return null;
  const light = luminanceOf(picture, behind);
  const detail = summed(width, height, (x, y) => stepAt(light, width, x, y));
  const clear = summed(width, height, (x, y) => (picture.data[(y * width + x) * 4 + 3]! < 128 ? 1 : 0));
  const [stepX, stepY] = [across, down].map((room) => Math.max(1, Math.ceil(room / TRIES))) as [number, number];
  let best: { x: number; y: number; detail: number } | null = null;
  for (let y = off; y <= off + down; y += stepY)
    for (let x = off; x <= off + across; x += stepX) {
      const box = { x, y, width: w, height: h };
      if (clear(box) > 0 || avoid.some((a) => meets(a, box))) continue;
      const own = detail(box);
      if (best && own >= best.detail) continue;
      if (contrastOn(ink, samplesOf(light, width, box)) < least) continue;
      best = { x, y, detail: own };
    }
  return best && { x: best.x, y: best.y };
}

/** Relative luminances (WCAG 2.2). */
function luminanceOf({ width, height, data }: Pixels, behind: string): Float32Array {
  const back = channels(behind);
  return Float32Array.from({ length: width * height }, (_, i) => {
    const opacity = data[4 * i + 3]! / 255;
    const of = (c: 0 | 1 | 2): number => toLinear((data[4 * i + c]! * opacity + back[c] * (1 - opacity)) / 255);
    return 0.2126 * of(0) + 0.7152 * of(1) + 0.0722 * of(2);
  });
}

/** The step in lightness (CIE 1976 L*, but for its linear toe) to the next pixels. */
function stepAt(light: Float32Array, width: number, x: number, y: number): number {
  const at = y * width + x;
  const own = Math.cbrt(light[at]!);
  const left = x > 0 ? Math.abs(own - Math.cbrt(light[at - 1]!)) : 0;
  return left + (y > 0 ? Math.abs(own - Math.cbrt(light[at - width]!)) : 0);
}

/** Sums over boxes, by a table of those from the corner. */
function summed(width: number, height: number, of: (x: number, y: number) => number): (box: Rect) => number {
  const table = new Float64Array((width + 1) * (height + 1));
  const row = width + 1;
  for (let y = 0; y < height; y++) {
    let line = 0;
    for (let x = 0; x < width; x++) {
      line += of(x, y);
      table[(y + 1) * row + x + 1] = table[y * row + x + 1]! + line;
    }
  }
  return ({ x, y, width: w, height: h }) =>
    table[(y + h) * row + x + w]! - table[y * row + x + w]! - table[(y + h) * row + x]! + table[y * row + x]!;
}

function samplesOf(light: Float32Array, width: number, box: Rect): Float64Array {
  const step = Math.max(1, Math.floor(Math.sqrt((box.width * box.height) / SAMPLES)));
  const out: number[] = [];
  for (let y = box.y; y < box.y + box.height; y += step)
    for (let x = box.x; x < box.x + box.width; x += step) out.push(light[y * width + x]!);
  return Float64Array.from(out).sort();
}
