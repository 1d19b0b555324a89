import { coarser, weighRegion, type Weights } from '../analysis/weights';
import type { Point } from '../geometry/path';
import type { Frame, KeepMark, Placement, Region, Size } from '../model/frame';
import type { Shape } from '../shapes/shape';
import { defaultKnobs } from '../shapes/index';
import {
  coveringScale,
  extentOnAxes,
  placedOnAxes,
  shapeOnAxes,
  shownOnAxes,
  shownRoundOnAxes,
  type Framed,
} from './axes';
import { keepInView } from './keep';
import { withShape } from './reframe';
import { deriveView } from './view';

/** How much of what matters a shape keeps, in words. */
export type Band = 'all' | 'nearly' | 'cuts';

/** From 99.5 % nothing is missed; from 90 % little is. */
export const bandOf = (share: number): Band => (share >= 0.995 ? 'all' : share >= 0.9 ? 'nearly' : 'cuts');

export interface Ranked {
  name: string;
  /** The share of the weights, or of the keep mark, inside the shape at best. */
  share: number;
  band: Band;
  /** The frame in this shape with the placement that keeps this share. */
  frame: Frame;
}

/** A weight map with running sums along its rows: what lies between two places of a row is one subtraction. */
interface Sums {
  width: number;
  height: number;
  /** (width + 1) numbers a row. */
  rows: Float64Array;
  total: number;
}

function sumsOf(weights: Weights): Sums {
  const { width, height, data } = weights;
  const rows = new Float64Array((width + 1) * height);
  let total = 0;
  for (let y = 0; y < height; y++) {
    let sum = 0;
    const at = y * (width + 1);
    for (let x = 0; x < width; x++) {
      sum += data[y * width + x]!;
      rows[at + x + 1] = sum;
    }
    total += sum;
  }
  return { width, height, rows, total };
}

/** Sums of all above and to the left, (width + 1) × (height + 1): what lies in a rectangle is three subtractions. */
function areasOf({ width, height, rows }: Sums): Float64Array {
  const areas = new Float64Array((width + 1) * (height + 1));
  for (let y = 0; y < height; y++)
    for (let x = 1; x <= width; x++)
      areas[(y + 1) * (width + 1) + x] = areas[y * (width + 1) + x]! + rows[y * (width + 1) + x]!;
  return areas;
}

/** Spans of a shape on the rows of a map: for each row, pairs of x where it is entered and left. Flat: row, from, to. */
type Spans = Float64Array;

/** Crossings a row can hold; more belong to no shape that a picture could be seen in. */
const CAPACITY = 128;

/** Crossings of the rows being worked on, kept between calls so that nothing is made anew: x, direction, how many. */
let crossingX = new Float64Array(0);
let crossingTurn = new Int8Array(0);
let crossings = new Int32Array(0);

/** The inside of polygons (non-zero) along lines through the middles of rows `0 … rows − 1`, moved by `dx` and `dy`. */
function spansOf(polygons: readonly Float64Array[], dx: number, dy: number, rows: number): Spans {
  if (crossings.length < rows) {
    crossingX = new Float64Array(rows * CAPACITY);
    crossingTurn = new Int8Array(rows * CAPACITY);
    crossings = new Int32Array(rows);
  }
  crossings.fill(0, 0, rows);
  let low = rows;
  let high = -1;
  for (const p of polygons)
    for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) {
      const ay = p[j + 1]!;
      const by = p[i + 1]!;
      if (ay === by) continue;
      const down = by > ay;
      const top = down ? j : i;
      const bottom = down ? i : j;
      // Lines at row + ½; an end on a line counts for the edge below it.
      const first = Math.max(0, Math.ceil(p[top + 1]! + dy - 0.5));
      const last = Math.min(rows, Math.ceil(p[bottom + 1]! + dy - 0.5)) - 1;
      if (last < first) continue;
      if (first < low) low = first;
      if (last > high) high = last;
      const slope = (p[bottom]! - p[top]!) / (p[bottom + 1]! - p[top + 1]!);
      let x = p[top]! + (first + 0.5 - dy - p[top + 1]!) * slope + dx;
      for (let row = first; row <= last; row++, x += slope) {
        const start = row * CAPACITY;
        const held = crossings[row]!;
        if (held === CAPACITY) continue;
        // Few crossings a row: each is put in its place as it comes.
        let at = start + held;
        while (at > start && crossingX[at - 1]! > x) {
          crossingX[at] = crossingX[at - 1]!;
          crossingTurn[at] = crossingTurn[at - 1]!;
          at--;
        }
        crossingX[at] = x;
        crossingTurn[at] = down ? 1 : -1;
        crossings[row] = held + 1;
      }
    }
  let count = 0;
  for (let row = low; row <= high; row++) count += crossings[row]!;
  const out = new Float64Array(3 * (count >> 1));
  let n = 0;
  for (let row = low; row <= high; row++) {
    const start = row * CAPACITY;
    let winding = 0;
    let from = 0;
    for (let k = start; k < start + crossings[row]!; k++) {
      const x = crossingX[k]!;
      if (winding === 0) from = x;
      winding += crossingTurn[k]!;
      if (winding === 0 && x > from) {
        out[n] = row;
        out[n + 1] = from;
        out[n + 2] = x;
        n += 3;
      }
    }
  }
  return out.subarray(0, n);
}

/** Polygons as flat numbers, stretched. */
const flat = (polygons: readonly (readonly Point[])[], kx: number, ky: number): Float64Array[] =>
  polygons.map((p) => {
    const out = new Float64Array(p.length * 2);
    for (let i = 0; i < p.length; i++) {
      out[2 * i] = p[i]!.x * kx;
      out[2 * i + 1] = p[i]!.y * ky;
    }
    return out;
  });

/** Sum of the weights inside spans moved by whole rows and any part of a column. */
function inside(sums: Sums, spans: Spans, dx: number, dy: number): number {
  const { width, height, rows } = sums;
  const stride = width + 1;
  let sum = 0;
  for (let i = 0; i < spans.length; i += 3) {
    const row = spans[i]! + dy;
    if (row < 0 || row >= height) continue;
    const at = row * stride;
    const to = spans[i + 2]! + dx;
    const from = spans[i + 1]! + dx;
    sum += running(rows, at, width, to) - running(rows, at, width, from);
  }
  return sum;
}

/** The weight in a rectangle, whole pixels outwards: no shape in it can keep more. */
function within(sums: Sums, areas: Float64Array, x0: number, y0: number, x1: number, y1: number): number {
  const stride = sums.width + 1;
  const left = Math.max(0, Math.floor(x0));
  const right = Math.min(sums.width, Math.ceil(x1));
  const top = Math.max(0, Math.floor(y0)) * stride;
  const bottom = Math.min(sums.height, Math.ceil(y1)) * stride;
  return areas[bottom + right]! - areas[bottom + left]! - areas[top + right]! + areas[top + left]!;
}

function running(rows: Float64Array, at: number, width: number, x: number): number {
  if (x <= 0) return 0;
  if (x >= width) return rows[at + width]!;
  const i = x | 0;
  const a = rows[at + i]!;
  return a + (x - i) * (rows[at + i + 1]! - a);
}

/** Sums of the maps in use: one map is asked about every shape there is. */
const sumsKnown = new WeakMap<Weights, Sums>();

/**
 * How much of a weight map a frame keeps: what lies inside its shape and on the picture.
 * @returns share of the sum of all weights, 0..1; 1 for a map without weight
 */
export function keptShare(frame: Framed, picture: Size, weights: Weights): number {
  let sums = sumsKnown.get(weights);
  if (!sums) sumsKnown.set(weights, (sums = sumsOf(weights)));
  if (sums.total <= 0) return 1;
  const view = deriveView(frame.placement, frame.box, picture);
  const p = view.placement;
  const kx = weights.width / (view.scale.x * picture.width);
  const ky = weights.height / (view.scale.y * picture.height);
  const polygons = flat(shownOnAxes(frame, Math.max(frame.box.width, frame.box.height) / 2500), kx, ky);
  const spans = spansOf(polygons, p.aim.u * weights.width, p.aim.v * weights.height, weights.height);
  return Math.min(1, inside(sums, spans, 0, 0) / sums.total);
}

/** Lines of a region on which it is measured what of it lies in a shape. */
const LINES = 256;

/** Of each region, such as a keep mark, the share of its area that stays visible. */
function keptOfEach(frame: Framed, picture: Size, regions: readonly Region[]): number[] {
  if (regions.length === 0) return [];
  const { scale, placement } = deriveView(frame.placement, frame.box, picture);
  const size = { width: picture.width * scale.x, height: picture.height * scale.y };
  const outline = shownAround(frame);
  return regions.map((region) => keptWithin(outline, region, placement.aim, size));
}

/** What shows of a frame's picture, seen along that's own axes, for what is marked by boxes: as polygons, in points. */
export const shownAround = (frame: Framed): Point[][] =>
  shownRoundOnAxes(frame, Math.max(frame.box.width, frame.box.height) / 2500);

/**
 * The share of a region's area that such an outline shows.
 * @param aim the place in the picture that lies in the middle of the box
 * @param size of the whole picture as it lies there, in points
 */
export function keptWithin(
  outline: readonly (readonly Point[])[],
  region: Region,
  aim: Placement['aim'],
  size: Size,
): number {
  const [width, height] = [region.width * size.width, region.height * size.height];
  if (!(width > 0) || !(height > 0)) return 1;
  const across = (aim.u - region.u) / region.width;
  const down = ((aim.v - region.v) / region.height) * LINES;
  const spans = spansOf(flat(outline, 1 / width, LINES / height), across, down, LINES);
  let sum = 0;
  for (let i = 0; i < spans.length; i += 3) sum += Math.max(0, Math.min(1, spans[i + 2]!) - Math.max(0, spans[i + 1]!));
  return Math.min(1, sum / LINES);
}

/** The same for one. @returns share of its area that stays visible */
export const keptOfMark = (frame: Framed, picture: Size, mark: Region): number =>
  keptOfEach(frame, picture, [mark])[0]!;

/** A cut that nobody sees. */
const SEEN = 0.005;

/** Which keep marks a frame cuts, by their place in the list, and how much of each. */
export const cutMarks = (frame: Framed, picture: Size, marks: readonly KeepMark[]): { index: number; cut: number }[] =>
  keptOfEach(frame, picture, marks)
    .map((kept, index) => ({ index, cut: 1 - kept }))
    .filter(({ cut }) => cut > SEEN);

/** The share of all keep marks that stays visible, each as much as any other. */
export const keptOfMarks = (frame: Framed, picture: Size, marks: readonly KeepMark[]): number =>
  keptOfEach(frame, picture, marks).reduce((sum, kept) => sum + kept / marks.length, 0);

/** Keep marks as one map: each weighs as much as any other. */
function weighMarks(marks: readonly KeepMark[], picture: Size): Weights {
  const [width, height] = mapSize(picture);
  const data = new Float32Array(width * height);
  for (const mark of marks) {
    const one = weighRegion(mark, width, height).data;
    const total = one.reduce((sum, w) => sum + w, 0);
    for (let i = 0; i < one.length; i++) data[i]! += total > 0 ? one[i]! / total : 0;
  }
  return { width, height, data };
}

/** Zooms tried, relative to the least that fills the shape. */
const ZOOMS = [1, 1.12, 1.27, 1.45, 1.75, 2.2, 3];
/** Longer side of the map on which the search begins. */
const COARSE = 30;

interface Prepared {
  fine: Sums;
  middle: Sums;
  coarse: Sums;
  areas: Float64Array;
}

function prepare(weights: Weights): Prepared {
  const coarse = sumsOf(coarser(weights, COARSE));
  return { fine: sumsOf(weights), middle: sumsOf(coarser(weights, 72)), coarse, areas: areasOf(coarse) };
}

interface Found {
  share: number;
  zoom: number;
  /** Where the middle of the shape's bounds lies, in shares of the picture. */
  at: Point;
}

/**
 * The placement at which the shape keeps most, no corner of it empty: first on a coarse map over zooms and places, then
 * finer and finer round the best. A smaller zoom wins where the shares are as good as equal.
 */
function search(map: Prepared, unit: readonly (readonly Point[])[], extent: Size): Found {
  const { coarse } = map;
  let most = -1;
  const best: Found[] = [];
  for (const zoom of ZOOMS) {
    // Nothing is left to gain.
    if (most > 0.999) break;
    const w = (extent.width / zoom) * coarse.width;
    const h = (extent.height / zoom) * coarse.height;
    const polygons = flat(unit, coarse.width / zoom, coarse.height / zoom);
    const freeX = coarse.width - w;
    const freeY = coarse.height - h;
    // Outwards from the middle, so that of equal places the middle one is kept.
    const columns = fromMiddle(Math.max(1, Math.ceil(freeX) + 1));
    // Places down: whole rows from the top, and from the bottom, so that both ends are met and a mirrored map gives the
    // mirrored answer; the spans are worked out once for each.
    const rows = fromMiddle(Math.max(1, Math.floor(freeY) + 1));
    const ends = freeY < 1e-6 ? [h / 2] : [h / 2, coarse.height - h / 2];
    const found: Found = { share: -1, zoom, at: { x: 0.5, y: 0.5 } };
    for (const y of ends) {
      const spans = spansOf(polygons, 0, y, coarse.height);
      for (const iy of rows) {
        const move = y === ends[0] ? iy : -iy;
        const top = y + move - h / 2;
        for (const ix of columns) {
          const x = columns.length === 1 ? coarse.width / 2 : w / 2 + (freeX * ix) / (columns.length - 1);
          const bar = Math.max(found.share, most - 0.01);
          if (within(coarse, map.areas, x - w / 2, top, x + w / 2, top + h) <= bar * coarse.total) continue;
          const share = inside(coarse, spans, x, move) / coarse.total;
          if (share <= found.share + 1e-6) continue;
          found.share = share;
          found.at = { x: x / coarse.width, y: (y + move) / coarse.height };
        }
      }
    }
    most = Math.max(most, found.share);
    if (found.share >= most - 0.01) best.push(found);
  }
  // The two most hopeful are looked at more closely; a smaller zoom wins where the shares are as good as equal.
  const close = best
    .filter((f) => f.share >= most - 0.006)
    .sort((p, q) => q.share - p.share)
    .slice(0, 2)
    .map((f) => refine(map.fine, unit, extent, refine(map.middle, unit, extent, f, 5), 0))
    .sort((p, q) => p.zoom - q.zoom);
  return close.reduce((a, b) => (b.share > a.share + 5e-4 ? b : a));
}

/** Numbers 0..n − 1, those nearest to the middle first. */
function fromMiddle(n: number): number[] {
  const middle = (n - 1) / 2;
  return Array.from({ length: n }, (_, i) => i).sort((a, b) => Math.abs(a - middle) - Math.abs(b - middle));
}

function refine(sums: Sums, unit: readonly (readonly Point[])[], extent: Size, start: Found, rounds: number): Found {
  const hold = (v: number, half: number): number => (half >= 0.5 ? 0.5 : Math.min(1 - half, Math.max(half, v)));
  const measure = (zoom: number, at: Point): Found => {
    const x = hold(at.x, extent.width / zoom / 2);
    const y = hold(at.y, extent.height / zoom / 2);
    const polygons = flat(unit, sums.width / zoom, sums.height / zoom);
    const spans = spansOf(polygons, x * sums.width, y * sums.height, sums.height);
    return { share: inside(sums, spans, 0, 0) / sums.total, zoom, at: { x, y } };
  };
  let best = measure(start.zoom, start.at);
  let step = 0.6 / COARSE;
  let ratio = 1.08;
  for (let round = 0; round < rounds; round++) {
    const { zoom, at } = best;
    for (const [dx, dy, k] of [
      [-1, 0, 1],
      [1, 0, 1],
      [0, -1, 1],
      [0, 1, 1],
      [0, 0, 1 / ratio],
      [0, 0, ratio],
    ] as const) {
      const next = measure(Math.max(1, zoom * k), { x: at.x + dx * step, y: at.y + dy * step });
      if (next.share > best.share + (next.zoom > best.zoom * 1.001 ? 1e-4 : 1e-6)) best = next;
    }
    if (best.zoom === zoom && best.at.x === at.x && best.at.y === at.y) {
      step /= 2;
      ratio = Math.sqrt(ratio);
    }
  }
  return best;
}

/** The best placement of one frame, its shape and box as they are. */
function bestOf(frame: Frame, picture: Size, map: Prepared): { share: number; placement: Placement } {
  const { distortion } = frame.placement;
  const polygons = shapeOnAxes(frame, Math.max(frame.box.width, frame.box.height) / 400);
  const b = extentOnAxes(frame);
  const scale = coveringScale(b, picture, distortion);
  const width = picture.width * distortion * scale;
  const height = picture.height * scale;
  const cx = b.x + b.width / 2;
  const cy = b.y + b.height / 2;
  // In shares of the picture at the least zoom, about the middle of the shape's bounds.
  const unit = polygons.map((p) => p.map((q) => ({ x: (q.x - cx) / width, y: (q.y - cy) / height })));
  const found = search(map, unit, { width: b.width / width, height: b.height / height });
  return {
    share: Math.min(1, found.share),
    placement: placedOnAxes(frame, picture, scale * found.zoom, {
      x: cx - found.at.x * width * found.zoom,
      y: cy - found.at.y * height * found.zoom,
    }),
  };
}

/**
 * For every shape the share of what matters that it can keep at best, and the placement that does it, under the condition
 * that no corner of the shape is empty (else every shape keeps all by shrinking). The order of the shapes stays.
 * @param frame as it is now: a shape with a locked ratio takes its box from it, every other keeps the box
 * @param want a weight map (best at most 256 on its longer side), or regions that must stay visible
 */
export function rankShapes(
  frame: Frame,
  picture: Size,
  want: Weights | readonly KeepMark[],
  shapes: readonly Shape[],
): Ranked[] {
  const marks = 'data' in want ? null : want;
  const weights = 'data' in want ? want : weighMarks(want, picture);
  const map = prepare(weights);
  const blank = map.fine.total <= 0;
  return shapes.map((shape) => {
    const knobs = frame.shape.name === shape.name ? frame.shape.knobs : defaultKnobs(shape);
    const shaped = withShape(frame, { name: shape.name, knobs }, picture);
    if (blank) return { name: shape.name, share: 1, band: 'all', frame: shaped };
    let { share, placement } = bestOf(shaped, picture, map);
    if (marks && share > 0.97) {
      const fit = keepInView(shaped, marks, picture, 'quick');
      if (fit?.lost.length === 0) {
        share = 1;
        placement = fit.placement;
      }
    }
    return { name: shape.name, share, band: bandOf(share), frame: { ...shaped, placement } };
  });
}

/** A map of at most 256 on its longer side in the picture's ratio. */
function mapSize(picture: Size): [number, number] {
  const k = 256 / Math.max(picture.width, picture.height);
  return [Math.max(1, Math.round(picture.width * k)), Math.max(1, Math.round(picture.height * k))];
}
