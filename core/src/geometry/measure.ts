import { EPSILON } from './numeric';
import { arcCentre, cubicAt, flatten, onArc, type Path, type Point, type Rect, type Segment } from './path';

/** Twice the signed area of a polygon: shoelace formula. Positive is clockwise on a y-down page. */
export function doubleArea(polygon: readonly Point[]): number {
  let sum = 0;
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++)
    sum += polygon[j]!.x * polygon[i]!.y - polygon[i]!.x * polygon[j]!.y;
  return sum;
}

/** Area enclosed, in square points; positive whatever the direction. Holes run the other way and count as holes. */
export function area(path: Path, tolerance = 0.001): number {
  return Math.abs(flatten(path, tolerance).reduce((sum, p) => sum + doubleArea(p), 0)) / 2;
}

/** Centre of gravity of the area; that of the bounds for a path without area. */
export function centroid(path: Path, tolerance = 0.001): Point {
  let a = 0;
  let x = 0;
  let y = 0;
  for (const poly of flatten(path, tolerance))
    for (let i = 0, j = poly.length - 1; i < poly.length; j = i++) {
      const p = poly[j]!;
      const q = poly[i]!;
      const cross = p.x * q.y - q.x * p.y;
      a += cross;
      x += (p.x + q.x) * cross;
      y += (p.y + q.y) * cross;
    }
  if (Math.abs(a) > EPSILON * EPSILON) return { x: x / (3 * a), y: y / (3 * a) };
  const b = bounds(path);
  return { x: b.x + b.width / 2, y: b.y + b.height / 2 };
}

/** Length of the outline in points, subpaths closed. */
export function pathLength(path: Path, tolerance = 0.001): number {
  return flatten(path, tolerance).reduce((sum, p) => sum + closedLength(p), 0);
}

/** Length round a closed polygon. */
export function closedLength(polygon: readonly Point[]): number {
  let sum = 0;
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++)
    sum += Math.hypot(polygon[i]!.x - polygon[j]!.x, polygon[i]!.y - polygon[j]!.y);
  return sum;
}

/** The smallest upright rectangle round the outline: exact, by the turning points of curves and arcs. */
export function bounds(path: Path): Rect {
  const points: Point[] = [];
  let pen: Point = { x: 0, y: 0 };
  let first: Point = pen;
  for (const s of path) {
    if (s.op === 'Z') {
      pen = first;
      continue;
    }
    if (s.op === 'M') first = s;
    if (s.op === 'C') points.push(...cubicTurns(pen, s));
    if (s.op === 'A') points.push(...arcTurns(pen, s));
    points.push(s);
    pen = s;
  }
  return boundsOfPoints(points);
}

export function boundsOfPoints(points: readonly Point[]): Rect {
  let x0 = Infinity;
  let y0 = Infinity;
  let x1 = -Infinity;
  let y1 = -Infinity;
  for (const p of points) {
    x0 = Math.min(x0, p.x);
    y0 = Math.min(y0, p.y);
    x1 = Math.max(x1, p.x);
    y1 = Math.max(y1, p.y);
  }
  return x0 > x1 ? { x: 0, y: 0, width: 0, height: 0 } : { x: x0, y: y0, width: x1 - x0, height: y1 - y0 };
}

/** The upright box round all of these. */
export const boundsOfBoxes = (boxes: readonly Rect[]): Rect =>
  boundsOfPoints(
    boxes.flatMap(({ x, y, width, height }) => [
      { x, y },
      { x: x + width, y: y + height },
    ]),
  );

/** Do two upright boxes lie over one another, by more than an edge? */
export const meets = (a: Rect, b: Rect): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/** Where a cubic turns back in x or y: zeros of its derivative. */
function cubicTurns(p: Point, s: Extract<Segment, { op: 'C' }>): Point[] {
  const zeros = (p0: number, p1: number, p2: number, p3: number): number[] => {
    const a = -p0 + 3 * p1 - 3 * p2 + p3;
    const b = 2 * (p0 - 2 * p1 + p2);
    const c = p1 - p0;
    if (Math.abs(a) < 1e-12) return Math.abs(b) < 1e-12 ? [] : [-c / b];
    const d = b * b - 4 * a * c;
    return d < 0 ? [] : [(-b + Math.sqrt(d)) / (2 * a), (-b - Math.sqrt(d)) / (2 * a)];
  };
  return [...zeros(p.x, s.x1, s.x2, s.x), ...zeros(p.y, s.y1, s.y2, s.y)]
    .filter((t) => t > 0 && t < 1)
    .map((t) => cubicAt(p, s, t));
}

/** The points of an arc farthest left, right, up and down, where it passes them. */
function arcTurns(p: Point, s: Extract<Segment, { op: 'A' }>): Point[] {
  const c = arcCentre(p, s);
  if (!c) return [];
  const across = Math.atan2(-c.ry * Math.sin(c.turn), c.rx * Math.cos(c.turn));
  const down = Math.atan2(c.ry * Math.cos(c.turn), c.rx * Math.sin(c.turn));
  const tau = 2 * Math.PI;
  return [across, across + Math.PI, down, down + Math.PI]
    .filter((angle) => {
      const from = c.delta > 0 ? angle - c.start : c.start - angle;
      return ((from % tau) + tau) % tau <= Math.abs(c.delta);
    })
    .map((angle) => onArc(c, angle));
}

/** How often polygons wind round a point; clockwise on a y-down page counts up. */
export function windingNumber(polygons: readonly (readonly Point[])[], point: Point): number {
  let winding = 0;
  for (const poly of polygons)
    for (let i = 0, j = poly.length - 1; i < poly.length; j = i++) {
      const a = poly[j]!;
      const b = poly[i]!;
      if (a.y <= point.y === b.y <= point.y) continue;
      const side = (b.x - a.x) * (point.y - a.y) - (point.x - a.x) * (b.y - a.y);
      if (b.y > a.y ? side > 0 : side < 0) winding += b.y > a.y ? 1 : -1;
    }
  return winding;
}

/** Is the point inside (non-zero rule)? */
export function contains(path: Path, point: Point, tolerance = 0.01): boolean {
  return windingNumber(flatten(path, tolerance), point) !== 0;
}
