import { EPSILON, TAU } from './numeric';

export interface Point {
  x: number;
  y: number;
}

/** Width and height. */
export interface Extent {
  width: number;
  height: number;
}

export interface Rect {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** One step of an outline. Arcs are endpoint arcs as in SVG 2 §9.3.8; y points down. */
export type Segment =
  | { op: 'M'; x: number; y: number }
  | { op: 'L'; x: number; y: number }
  | { op: 'C'; x1: number; y1: number; x2: number; y2: number; x: number; y: number }
  | { op: 'A'; rx: number; ry: number; turn: number; large: boolean; sweep: boolean; x: number; y: number }
  | { op: 'Z' };

export type Path = readonly Segment[];

/** An arc by its centre. Angles in radians; `delta` is signed, clockwise positive on a y-down page. */
export interface CentreArc {
  cx: number;
  cy: number;
  rx: number;
  ry: number;
  turn: number;
  start: number;
  delta: number;
}

/**
 * Endpoint to centre parameterisation, SVG 1.1 appendix F.6.5 (SVG 2 §B.2.4), with radii that are too small
 * scaled up as F.6.6 asks. @returns null for a degenerate arc, which is a straight line (F.6.2).
 */
export function arcCentre(from: Point, arc: Extract<Segment, { op: 'A' }>): CentreArc | null {
  let rx = Math.abs(arc.rx);
  let ry = Math.abs(arc.ry);
  if (rx < EPSILON || ry < EPSILON || (from.x === arc.x && from.y === arc.y)) return null;
  const phi = (arc.turn * Math.PI) / 180;
  const cos = Math.cos(phi);
  const sin = Math.sin(phi);
  const dx = (from.x - arc.x) / 2;
  const dy = (from.y - arc.y) / 2;
  const x1 = cos * dx + sin * dy;
  const y1 = -sin * dx + cos * dy;
  const excess = (x1 * x1) / (rx * rx) + (y1 * y1) / (ry * ry);
  if (excess > 1) {
    rx *= Math.sqrt(excess);
    ry *= Math.sqrt(excess);
  }
  const over = rx * rx * y1 * y1 + ry * ry * x1 * x1;
  const k = (arc.large === arc.sweep ? -1 : 1) * Math.sqrt(Math.max(0, (rx * rx * ry * ry - over) / over));
  const cx1 = (k * rx * y1) / ry;
  const cy1 = (-k * ry * x1) / rx;
  const start = Math.atan2((y1 - cy1) / ry, (x1 - cx1) / rx);
  let delta = Math.atan2((-y1 - cy1) / ry, (-x1 - cx1) / rx) - start;
  if (arc.sweep && delta < 0) delta += TAU;
  if (!arc.sweep && delta > 0) delta -= TAU;
  return {
    cx: cos * cx1 - sin * cy1 + (from.x + arc.x) / 2,
    cy: sin * cx1 + cos * cy1 + (from.y + arc.y) / 2,
    rx,
    ry,
    turn: phi,
    start,
    delta,
  };
}

/** The part of a 2-D drawing context that outlines need. */
export interface PathSink {
  moveTo(x: number, y: number): void;
  lineTo(x: number, y: number): void;
  bezierCurveTo(x1: number, y1: number, x2: number, y2: number, x: number, y: number): void;
  ellipse(x: number, y: number, rx: number, ry: number, turn: number, start: number, end: number, ccw?: boolean): void;
  closePath(): void;
}

/** Sends an outline to a drawing context; true arcs stay true arcs. */
export function drawPath(path: Path, sink: PathSink): void {
  let pen: Point = { x: 0, y: 0 };
  let first: Point = pen;
  for (const s of path) {
    switch (s.op) {
      case 'M':
        sink.moveTo(s.x, s.y);
        first = s;
        break;
      case 'L':
        sink.lineTo(s.x, s.y);
        break;
      case 'C':
        sink.bezierCurveTo(s.x1, s.y1, s.x2, s.y2, s.x, s.y);
        break;
      case 'A': {
        const c = arcCentre(pen, s);
        if (c) sink.ellipse(c.cx, c.cy, c.rx, c.ry, c.turn, c.start, c.start + c.delta, c.delta < 0);
        else sink.lineTo(s.x, s.y);
        break;
      }
      case 'Z':
        sink.closePath();
        pen = first;
        continue;
    }
    pen = s;
  }
}

/** Straight pieces that a curve is cut into at the most: beyond, tolerances of a thousandth of a millimetre on a house wall. */
const MAX_PIECES = 4096;
const pieces = (asked: number, least: number): number =>
  Number.isFinite(asked) ? Math.min(MAX_PIECES, Math.max(least, Math.ceil(asked))) : least;

/**
 * The outline as polygons, one per subpath, open ends closed.
 * @param tolerance the largest distance in points between the polygon and the true curve
 */
export function flatten(path: Path, tolerance = 0.05): Point[][] {
  const polygons: Point[][] = [];
  let current: Point[] = [];
  let pen: Point = { x: 0, y: 0 };
  const end = (): void => {
    if (current.length > 1) polygons.push(current);
    current = [];
  };
  for (const s of path) {
    if (s.op === 'Z') {
      if (current[0]) pen = current[0];
      end();
      continue;
    }
    if (s.op === 'M') {
      end();
      current = [{ x: s.x, y: s.y }];
    } else if (current.length === 0) current = [{ x: pen.x, y: pen.y }];
    if (s.op === 'L') current.push({ x: s.x, y: s.y });
    if (s.op === 'C') {
      // The chord error of n equal steps is at most h²/8 · max|second derivative|.
      const bend = Math.max(
        Math.hypot(pen.x - 2 * s.x1 + s.x2, pen.y - 2 * s.y1 + s.y2),
        Math.hypot(s.x1 - 2 * s.x2 + s.x, s.y1 - 2 * s.y2 + s.y),
      );
      const n = pieces(Math.sqrt((6 * bend) / (8 * tolerance)), 1);
      for (let i = 1; i <= n; i++) current.push(cubicAt(pen, s, i / n));
    }
    if (s.op === 'A') {
      const c = arcCentre(pen, s);
      if (!c) current.push({ x: s.x, y: s.y });
      else {
        const step = 2 * Math.acos(1 - Math.min(1, tolerance / Math.max(c.rx, c.ry, tolerance)));
        const n = pieces(Math.abs(c.delta) / step, 2);
        for (let i = 1; i < n; i++) current.push(onArc(c, c.start + (c.delta * i) / n));
        current.push({ x: s.x, y: s.y });
      }
    }
    pen = { x: s.x, y: s.y };
  }
  end();
  return polygons;
}

/** The point of a cubic curve at `t`, 0..1. */
export function cubicAt(p: Point, s: Extract<Segment, { op: 'C' }>, t: number): Point {
  const u = 1 - t;
  const at = (a: number, b: number, c: number, d: number): number =>
    u * u * u * a + 3 * u * u * t * b + 3 * u * t * t * c + t * t * t * d;
  return { x: at(p.x, s.x1, s.x2, s.x), y: at(p.y, s.y1, s.y2, s.y) };
}

/** The point of an arc at an angle (radians, in the arc's own axes). */
export function onArc(c: CentreArc, angle: number): Point {
  const x = c.rx * Math.cos(angle);
  const y = c.ry * Math.sin(angle);
  return {
    x: c.cx + x * Math.cos(c.turn) - y * Math.sin(c.turn),
    y: c.cy + x * Math.sin(c.turn) + y * Math.cos(c.turn),
  };
}

/** A closed polygon. */
export function polygon(points: readonly (readonly [number, number])[]): Path {
  return [...points.map(([x, y], i): Segment => ({ op: i === 0 ? 'M' : 'L', x, y })), { op: 'Z' }];
}
