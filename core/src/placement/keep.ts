import { boundsOfPoints, windingNumber } from '../geometry/measure';
import type { Point, Rect } from '../geometry/path';
import type { KeepMark, Placement, Size } from '../model/frame';
import { ontoAxes, placedOnAxes, shapeOnAxes, type Framed } from './axes';
import { deriveView, ontoBox } from './view';

/** What fitting a keep mark found. */
export interface KeepFit {
  placement: Placement;
  /** Does the picture fill the shape at this placement? When it cannot, keeping all costs empty corners. */
  filled: boolean;
}

/** The largest zoom at which the whole picture lies inside the shape. @returns null when the shape has no inside */
export function wholePicture(frame: Framed, picture: Size): Placement | null {
  const search = keepSearch(frame, { u: 0, v: 0, width: 1, height: 1 }, picture, 'exact');
  const best = search && bestOf(search, false);
  return best && search.place(best.at, best.scale);
}

/**
 * The placement that keeps a region of the picture wholly inside the shape and differs as little as it can from the one
 * that is: the picture is moved no farther than it must, zoomed out only where moving does not suffice, and never zoomed in.
 * @param effort `quick` is good to half a percent and gives up where corners would stay empty: for ranking many shapes
 * @returns null when the shape has no inside
 */
export function keepInView(
  frame: Framed,
  keep: KeepMark,
  picture: Size,
  effort: 'exact' | 'quick' = 'exact',
): KeepFit | null {
  const inside = keepSearch(frame, keep, picture, effort);
  if (!inside) return null;
  const { matrix, scale } = deriveView(frame.placement, frame.box, picture);
  const from = inside.fromBox(ontoBox(matrix, { u: keep.u + keep.width / 2, v: keep.v + keep.height / 2 }, picture));
  // As it is, whatever the fit: nothing to be done.
  if (inside.room(from) >= scale.y * (1 - 1e-9)) return { placement: frame.placement, filled: true };
  // More room than the picture has now is no better: it would only be zoomed in.
  const search: KeepSearch = { ...inside, room: (p) => Math.min(inside.room(p), scale.y) };
  for (const fill of [true, false]) {
    const { area, slack } = search;
    const best = farthest(area, search.room, (p) => search.need(p, fill), slack, scale.y);
    if (!best) continue;
    const target = best.room * (1 - 1e-6);
    const fits = (c: Cell): boolean => c.room >= target && c.need <= best.room + slack;
    const at = nearest(search, from, fill, target, fits) ?? best.at;
    return { placement: inside.place(at, best.room), filled: fill };
  }
  return null;
}

/** A keep mark and a shape on axes stretched so that the mark is a square of 2 × 2 at a scale of 1. */
interface KeepSearch {
  area: Rect;
  /** The scale at a middle: how large the square round it may be. Negative outside. */
  room(p: Point): number;
  /** The scale that the picture needs to reach all four sides of the shape from a middle; nothing where it need not. */
  need(p: Point, fill: boolean): number;
  slack: number;
  fromBox(p: Point): Point;
  /** The placement with the middle of the mark at a point. @param scale points per pixel */
  place(at: Point, scale: number): Placement;
}

function keepSearch(frame: Framed, keep: KeepMark, picture: Size, effort: 'exact' | 'quick'): KeepSearch | null {
  const { box, placement } = frame;
  const { distortion } = placement;
  const polygons = shapeOnAxes(frame, Math.max(box.width, box.height) / (effort === 'exact' ? 2000 : 400));
  const a = Math.max(1e-6, keep.width * picture.width * distortion) / 2;
  const b = Math.max(1e-6, keep.height * picture.height) / 2;
  const stretched = polygons.map((p) => p.map((q) => ({ x: q.x / a, y: q.y / b })));
  const area = boundsOfPoints(stretched.flat());
  if (!(area.width > 0) || !(area.height > 0)) return null;
  const edges = edgesOf(stretched);
  const cu = keep.u + keep.width / 2;
  const cv = keep.v + keep.height / 2;
  const sides: [number, number, number, number] = [
    keep.width / (2 * cu || Infinity),
    keep.width / (2 * (1 - cu) || Infinity),
    keep.height / (2 * cv || Infinity),
    keep.height / (2 * (1 - cv) || Infinity),
  ];
  return {
    area,
    slack: (effort === 'exact' ? 1e-4 : 4e-3) * Math.max(area.width, area.height),
    room: (p) => chebyshev(p, edges) * (windingNumber(stretched, p) !== 0 ? 1 : -1),
    need: (p, fill) =>
      fill
        ? Math.max(
            (p.x - area.x) * sides[0],
            (area.x + area.width - p.x) * sides[1],
            (p.y - area.y) * sides[2],
            (area.y + area.height - p.y) * sides[3],
          )
        : 0,
    fromBox: (p) => {
      const q = ontoAxes(frame, p);
      return { x: q.x / a, y: q.y / b };
    },
    place: (at, scale) =>
      placedOnAxes(frame, picture, scale, {
        x: at.x * a - cu * picture.width * distortion * scale,
        y: at.y * b - cv * picture.height * scale,
      }),
  };
}

/**
 * The largest scale is the largest square inside the shape: the point farthest from its edge in the Chebyshev metric. Found
 * by halving cells, best first (as `polylabel` does for circles).
 */
function bestOf(search: KeepSearch, fill: boolean): { at: Point; scale: number } | null {
  const { area, room, slack } = search;
  const need: Measure = (p) => search.need(p, fill);
  const best = farthest(area, room, need, slack);
  if (!best) return null;
  const middle = { x: area.x + area.width / 2, y: area.y + area.height / 2 };
  const target = best.room * (1 - 1e-3);
  const fits = (c: Cell): boolean => c.room >= target && c.need <= c.room + slack;
  const at = nearest(search, middle, fill, target, fits) ?? best.at;
  return { at, scale: Math.max(Math.min(room(at), best.room), need(at)) };
}

interface Cell {
  x: number;
  y: number;
  half: number;
  room: number;
  need: number;
}

type Measure = (p: Point) => number;

function cells(area: { x: number; y: number; width: number; height: number }, room: Measure, need: Measure): Cell[] {
  const size = Math.min(area.width, area.height) / 4;
  const out: Cell[] = [];
  for (let y = area.y; y < area.y + area.height; y += size)
    for (let x = area.x; x < area.x + area.width; x += size)
      out.push(cell(x + size / 2, y + size / 2, size / 2, room, need));
  // The middle itself, so that a symmetric shape is met exactly.
  out.push(cell(area.x + area.width / 2, area.y + area.height / 2, 0, room, need));
  return out;
}

const cell = (x: number, y: number, half: number, room: Measure, need: Measure): Cell => ({
  x,
  y,
  half,
  room: room({ x, y }),
  need: need({ x, y }),
});

const quarters = (c: Cell, room: Measure, need: Measure): Cell[] => {
  const h = c.half / 2;
  return [
    cell(c.x - h, c.y - h, h, room, need),
    cell(c.x + h, c.y - h, h, room, need),
    cell(c.x - h, c.y + h, h, room, need),
    cell(c.x + h, c.y + h, h, room, need),
  ];
};

/** The point with the most room among those that need no more than they have. @param most as much as any can have */
function farthest(
  area: { x: number; y: number; width: number; height: number },
  room: Measure,
  need: Measure,
  slack: number,
  most = Infinity,
): { at: Point; room: number } | null {
  let open = cells(area, room, need);
  let best: { at: Point; room: number } | null = null;
  // Breadth first by halving: the cells that can still hold something better stay few.
  for (let depth = 0; depth < 24 && open.length > 0; depth++) {
    for (const c of open)
      if (c.room > 0 && c.need <= c.room + slack && (!best || c.room > best.room)) best = { at: c, room: c.room };
    const next: Cell[] = [];
    for (const c of open) {
      const can = Math.min(most, c.room + c.half);
      if (c.half < slack / 2 || can <= 0 || c.need - c.half > can + slack) continue;
      if (best && can <= best.room + slack) continue;
      next.push(...quarters(c, room, need));
    }
    open = next.length > 800 ? next.sort((p, q) => q.room - p.room).slice(0, 800) : next;
  }
  return best && { at: { x: best.at.x, y: best.at.y }, room: best.room };
}

/** The point nearest to another that fits: one with the room that is aimed at. */
function nearest(
  { area, room, need: needs, slack }: Pick<KeepSearch, 'area' | 'room' | 'need' | 'slack'>,
  middle: Point,
  fill: boolean,
  target: number,
  fits: (c: Cell) => boolean,
): Point | null {
  const need: Measure = (p) => needs(p, fill);
  let best: Point | null = null;
  let distance = Infinity;
  let open = cells(area, room, need);
  for (let depth = 0; depth < 9 && open.length > 0; depth++) {
    for (const c of open) {
      const d = Math.hypot(c.x - middle.x, c.y - middle.y);
      if (fits(c) && d < distance) {
        best = { x: c.x, y: c.y };
        distance = d;
      }
    }
    open = open
      .filter(
        (c) =>
          c.half > slack * 4 &&
          c.room + c.half >= target &&
          Math.hypot(c.x - middle.x, c.y - middle.y) - c.half * Math.SQRT2 < distance - slack,
      )
      .flatMap((c) => quarters(c, room, need));
    if (open.length > 1000) open = open.slice(0, 1000);
  }
  return best;
}

/** Edges as flat numbers: x, y, dx, dy. */
function edgesOf(polygons: readonly (readonly Point[])[]): Float64Array {
  const out: number[] = [];
  for (const p of polygons)
    for (let i = 0; i < p.length; i++) {
      const q = p[(i + 1) % p.length]!;
      out.push(p[i]!.x, p[i]!.y, q.x - p[i]!.x, q.y - p[i]!.y);
    }
  return Float64Array.from(out);
}

/** Least of max(|x|, |y|) between a point and any edge: at an end, or where x = 0, y = 0, x = y or x = −y. */
function chebyshev(p: Point, edges: Float64Array): number {
  let least = Infinity;
  for (let i = 0; i < edges.length; i += 4) {
    const x = edges[i]! - p.x;
    const y = edges[i + 1]! - p.y;
    const dx = edges[i + 2]!;
    const dy = edges[i + 3]!;
    // Too far to matter.
    const lowX = Math.min(Math.abs(x), Math.abs(x + dx));
    if (x * (x + dx) > 0 && lowX >= least) continue;
    const lowY = Math.min(Math.abs(y), Math.abs(y + dy));
    if (y * (y + dy) > 0 && lowY >= least) continue;
    least = Math.min(
      least,
      reach(x, y, dx, dy, 0),
      reach(x, y, dx, dy, 1),
      reach(x, y, dx, dy, -x / dx),
      reach(x, y, dx, dy, -y / dy),
      reach(x, y, dx, dy, (y - x) / (dx - dy)),
      reach(x, y, dx, dy, -(x + y) / (dx + dy)),
    );
  }
  return least;
}

/** max(|x|, |y|) at a place of an edge; beyond its ends nothing. */
function reach(x: number, y: number, dx: number, dy: number, t: number): number {
  return t >= 0 && t <= 1 ? Math.max(Math.abs(x + t * dx), Math.abs(y + t * dy)) : Infinity;
}

/**
 * The largest upright rectangle of a ratio inside polygons, in the middle as far as that allows.
 * @param ratio width over height
 * @returns null when there is no inside
 */
export function largestRectangle(polygons: readonly (readonly Point[])[], ratio: number): Rect | null {
  // On axes stretched so that the rectangle is a square.
  const stretched = polygons.map((p) => p.map((q) => ({ x: q.x / ratio, y: q.y })));
  const area = boundsOfPoints(stretched.flat());
  if (!(area.width > 0) || !(area.height > 0)) return null;
  const edges = edgesOf(stretched);
  const room: Measure = (p) => chebyshev(p, edges) * (windingNumber(stretched, p) !== 0 ? 1 : -1);
  const none: Measure = () => 0;
  const slack = 1e-3 * Math.max(area.width, area.height);
  const best = farthest(area, room, none, slack);
  if (!best) return null;
  const middle = { x: area.x + area.width / 2, y: area.y + area.height / 2 };
  const target = best.room * (1 - 2e-3);
  const at = nearest({ area, room, need: none, slack }, middle, false, target, (c) => c.room >= target) ?? best.at;
  const half = Math.min(room(at), best.room);
  return { x: (at.x - half) * ratio, y: at.y - half, width: 2 * half * ratio, height: 2 * half };
}
