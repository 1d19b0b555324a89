import { contours } from 'd3-contour';
import fitCurve from 'fit-curve';
import type { Pixels } from '../model/pixels';
import { GableError } from '../errors';
import { area, bounds, doubleArea } from '../geometry/measure';
import { pen, type Pen } from '../geometry/pen';
import type { Path, Point } from '../geometry/path';
import { choiceOf, refuseSpecks, type Silhouette } from './silhouette';

/** Largest distance in pixels between the true edge and the curves laid through it, where no other is asked for. */
const TOLERANCE = 0.3;
/** Blots of less than this share of the picture, or than nine pixels, are dust. */
const DUST = 2e-4;

/**
 * Traces a picture into an outline: its alpha, or where it has none, its darkness. The edge is found between pixels
 * (marching squares), cut at its corners and laid in cubic curves (P. J. Schneider, Graphics Gems, 1990). Holes are kept.
 * @param tolerance how far from the true edge its curves may be, in pixels
 * @throws GableError `empty-silhouette` when nothing is there, or only specks
 */
export function silhouetteFromPixels(pixels: Pixels, label = 'Silhouette', tolerance = TOLERANCE): Silhouette {
  const { width, height } = pixels;
  const mask = coverage(pixels);
  // A clear frame round the picture, so that a form which runs off it is closed.
  const w = width + 2;
  const values = new Array<number>(w * (height + 2)).fill(0);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) values[(y + 1) * w + x + 1] = mask[y * width + x]! / 255;
  const [shape] = contours()
    .size([w, height + 2])
    .smooth(true)
    .thresholds([0.5])(values);
  const out = pen();
  const least = Math.max(9, DUST * width * height);
  for (const polygon of shape?.coordinates ?? [])
    for (const ring of polygon) {
      // d3-contour puts the middle of pixel i at i + ½; the frame moves everything by one.
      const points = ring.slice(0, -1).map(([x, y]) => ({ x: x! - 1, y: y! - 1 }));
      if (Math.abs(doubleArea(points)) / 2 >= least) layCurves(out, points, tolerance);
    }
  const path: Path = out.path;
  refuseSpecks(path.length === 0 ? 0 : area(path), width * height, 'picture');
  return {
    choice: choiceOf(path, 'silhouette', label),
    box: bounds(path),
    mask: { width, height, data: mask },
    textLeftOut: false,
  };
}

/** Coverage 0..255: alpha where the picture has any, else darkness. */
function coverage({ width, height, data }: Pixels): Uint8Array {
  const out = new Uint8Array(width * height);
  let clear = false;
  for (let i = 3; i < data.length && !clear; i += 4) clear = data[i]! < 250;
  for (let i = 0; i < out.length; i++) {
    const at = i * 4;
    out[i] = clear
      ? data[at + 3]!
      : 255 - Math.round(0.2126 * data[at]! + 0.7152 * data[at + 1]! + 0.0722 * data[at + 2]!);
  }
  if (width * height === 0) throw new GableError('empty-silhouette', 'The picture has no pixels.', 'Choose another.');
  return out;
}

function layCurves(out: Pen, ring: readonly Point[], tolerance: number): void {
  const corners = cornersOf(ring);
  const n = ring.length;
  const starts = corners.length > 0 ? corners : [0];
  const sharp = corners.map((c) => sharpened(ring, c));
  const at = (i: number): [number, number] => [ring[i % n]!.x, ring[i % n]!.y];
  const startOf = (k: number): [number, number] => sharp[k % starts.length] ?? at(starts[k % starts.length]!);
  out.m(...startOf(0));
  starts.forEach((from, i) => {
    const to = i + 1 < starts.length ? starts[i + 1]! : starts[0]! + n;
    const [a, b] = [startOf(i), startOf(i + 1)];
    const far = (p: [number, number], q: [number, number]): boolean => Math.hypot(p[0] - q[0], p[1] - q[1]) > 1.2;
    const piece: [number, number][] = [a];
    for (let k = from + 1; k < to; k++) {
      const p = at(k);
      // Pixels round a corner off: next to it only the corner itself counts.
      if (corners.length === 0 || (far(p, a) && far(p, b))) piece.push(p);
    }
    piece.push(b);
    // A closed ring without corners is cut once more, so that both halves have ends.
    const parts = starts.length === 1 && piece.length > 8 ? halves(piece) : [piece];
    for (const p of parts)
      if (p.length === 2) out.l(...p[1]!);
      else
        for (const [, c1, c2, end] of fitCurve(p, tolerance * tolerance))
          out.c(c1![0]!, c1![1]!, c2![0]!, c2![1]!, end![0]!, end![1]!);
  });
  out.z();
}

function halves(piece: [number, number][]): [number, number][][] {
  const middle = piece.length >> 1;
  return [piece.slice(0, middle + 1), piece.slice(middle)];
}

/** A corner where the straight ways on both sides of it meet; null where they do not, or too far away. */
function sharpened(ring: readonly Point[], corner: number): [number, number] | null {
  const way = (dir: 1 | -1): [Point, Point] => [walk(ring, corner, dir, 1.5), walk(ring, corner, dir, 5)];
  const [a, b] = way(-1);
  const [c, d] = way(1);
  const u = { x: a.x - b.x, y: a.y - b.y };
  const v = { x: c.x - d.x, y: c.y - d.y };
  const cross = u.x * v.y - u.y * v.x;
  if (Math.abs(cross) < 1e-6) return null;
  const t = ((c.x - a.x) * v.y - (c.y - a.y) * v.x) / cross;
  const x = a.x + t * u.x;
  const y = a.y + t * u.y;
  const p = ring[corner]!;
  return Math.hypot(x - p.x, y - p.y) < 1.5 ? [x, y] : null;
}

/** The point of a ring at least this far along it. */
function walk(ring: readonly Point[], from: number, dir: 1 | -1, reach: number): Point {
  const n = ring.length;
  let length = 0;
  let k = from;
  while (length < reach) {
    const next = (k + dir + n) % n;
    length += Math.hypot(ring[next]!.x - ring[k]!.x, ring[next]!.y - ring[k]!.y);
    k = next;
    if (k === from) break;
  }
  return ring[k]!;
}

/** Places where the edge turns sharply: more than 50° between the ways to and from points three pixels away. */
function cornersOf(ring: readonly Point[]): number[] {
  const n = ring.length;
  if (n < 8) return ring.map((_, i) => i);
  const away = (i: number, dir: 1 | -1): Point => walk(ring, i, dir, 3);
  const turns = ring.map((p, i) => {
    const a = away(i, -1);
    const b = away(i, 1);
    const u = { x: p.x - a.x, y: p.y - a.y };
    const v = { x: b.x - p.x, y: b.y - p.y };
    return Math.abs(Math.atan2(u.x * v.y - u.y * v.x, u.x * v.x + u.y * v.y));
  });
  const limit = (50 / 180) * Math.PI;
  const out: number[] = [];
  for (let i = 0; i < n; i++) {
    if (turns[i]! < limit) continue;
    // Only the sharpest of its neighbourhood.
    let sharpest = true;
    for (let k = 1; k <= 3; k++)
      if (turns[(i + k) % n]! > turns[i]! || turns[(i - k + n) % n]! >= turns[i]!) sharpest = false;
    if (sharpest) out.push(i);
  }
  return out;
}
