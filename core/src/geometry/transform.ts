import { radians } from './numeric';
import { arcCentre, onArc, type Path, type Point, type Segment } from './path';

/** [a b c d e f]: x' = a·x + c·y + e, y' = b·x + d·y + f (SVG 2 §8.4). */
export type Matrix = readonly [number, number, number, number, number, number];

export const IDENTITY: Matrix = [1, 0, 0, 1, 0, 0];

/** First `n`, then `m`. */
export function multiply(m: Matrix, n: Matrix): Matrix {
  return [
    m[0] * n[0] + m[2] * n[1],
    m[1] * n[0] + m[3] * n[1],
    m[0] * n[2] + m[2] * n[3],
    m[1] * n[2] + m[3] * n[3],
    m[0] * n[4] + m[2] * n[5] + m[4],
    m[1] * n[4] + m[3] * n[5] + m[5],
  ];
}

export const applyTo = (m: Matrix, p: Point): Point => ({
  x: m[0] * p.x + m[2] * p.y + m[4],
  y: m[1] * p.x + m[3] * p.y + m[5],
});

/** The map back. Of a map that flattens everything there is none: every number is then infinite or not a number. */
export function invert([a, b, c, d, e, f]: Matrix): Matrix {
  const det = a * d - b * c;
  return [d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det];
}

/** The map itself, or none where its numbers are beyond all sums or it flattens everything. */
export const soundMatrix = (m: Matrix): Matrix =>
  m.every((v) => Math.abs(v) < 1e12) && Math.abs(m[0] * m[3] - m[1] * m[2]) > 1e-18 ? m : IDENTITY;

/** A turn in degrees clockwise about a point. */
export function rotation(degrees: number, about: Point = { x: 0, y: 0 }): Matrix {
  const c = Math.cos(radians(degrees));
  const s = Math.sin(radians(degrees));
  return [c, s, -s, c, about.x - c * about.x + s * about.y, about.y - s * about.x - c * about.y];
}

/** Applies an affine map to an outline; arcs stay arcs, of the ellipse that the map makes of theirs. */
export function transform(path: Path, m: Matrix): Path {
  return path.map((s): Segment => {
    if (s.op === 'Z') return s;
    const to = applyTo(m, s);
    if (s.op === 'C') {
      const c1 = applyTo(m, { x: s.x1, y: s.y1 });
      const c2 = applyTo(m, { x: s.x2, y: s.y2 });
      return { op: 'C', x1: c1.x, y1: c1.y, x2: c2.x, y2: c2.y, ...to };
    }
    if (s.op !== 'A') return { op: s.op, ...to };
    // The axes of the mapped ellipse: singular values of the map times the old axes.
    const cos = Math.cos(radians(s.turn));
    const sin = Math.sin(radians(s.turn));
    const a = (m[0] * cos + m[2] * sin) * s.rx;
    const b = (m[1] * cos + m[3] * sin) * s.rx;
    const c = (m[2] * cos - m[0] * sin) * s.ry;
    const d = (m[3] * cos - m[1] * sin) * s.ry;
    const e = (a * a + b * b + c * c + d * d) / 2;
    const f = (a * a + c * c - b * b - d * d) / 2;
    const g = a * b + c * d;
    const h = Math.hypot(f, g);
    const turn = h < 1e-12 * e ? 0 : (Math.atan2(g, f) / 2 / Math.PI) * 180;
    const flipped = m[0] * m[3] - m[1] * m[2] < 0;
    return {
      op: 'A',
      rx: Math.sqrt(e + h),
      ry: Math.sqrt(Math.max(0, e - h)),
      turn,
      large: s.large,
      sweep: s.sweep !== flipped,
      ...to,
    };
  });
}

/** Moves an outline. */
export function shift(path: Path, dx: number, dy: number): Path {
  return dx === 0 && dy === 0 ? path : transform(path, [1, 0, 0, 1, dx, dy]);
}

/** The same outline, run through the other way; subpaths keep their order. */
export function reverse(path: Path): Path {
  const out: Segment[] = [];
  let part: Exclude<Segment, { op: 'Z' }>[] = [];
  const end = (closed: boolean): void => {
    const last = part[part.length - 1];
    if (last) {
      out.push({ op: 'M', x: last.x, y: last.y });
      for (let i = part.length - 1; i > 0; i--) {
        const s = part[i]!;
        const { x, y } = part[i - 1]!;
        if (s.op === 'C') out.push({ op: 'C', x1: s.x2, y1: s.y2, x2: s.x1, y2: s.y1, x, y });
        else if (s.op === 'A') out.push({ ...s, sweep: !s.sweep, x, y });
        else out.push({ op: 'L', x, y });
      }
      if (closed) out.push({ op: 'Z' });
    }
    part = [];
  };
  for (const s of path) {
    if (s.op === 'Z') end(true);
    else {
      if (s.op === 'M') end(false);
      part.push(s);
    }
  }
  end(false);
  return out;
}

/**
 * The outline with each arc as cubic curves of at most a quarter turn (k = 4/3 · tan(δ/4); radial error 2.7 × 10⁻⁴ at a
 * quarter turn), for formats that know no turned arcs.
 */
export function withoutArcs(path: Path): Path {
  const out: Segment[] = [];
  let pen: Point = { x: 0, y: 0 };
  let first = pen;
  for (const s of path) {
    if (s.op === 'Z') {
      out.push(s);
      pen = first;
      continue;
    }
    if (s.op === 'M') first = s;
    if (s.op !== 'A') out.push(s);
    else {
      const c = arcCentre(pen, s);
      if (!c) out.push({ op: 'L', x: s.x, y: s.y });
      else {
        const n = Math.max(1, Math.ceil(Math.abs(c.delta) / (Math.PI / 2) - 1e-9));
        const step = c.delta / n;
        const k = (4 / 3) * Math.tan(step / 4);
        const tangent = (angle: number): Point => {
          const p = onArc({ ...c, cx: 0, cy: 0 }, angle + Math.PI / 2);
          return { x: p.x * k, y: p.y * k };
        };
        for (let i = 0; i < n; i++) {
          const from = c.start + i * step;
          const p = onArc(c, from);
          const q = i === n - 1 ? s : onArc(c, from + step);
          const t1 = tangent(from);
          const t2 = tangent(from + step);
          out.push({ op: 'C', x1: p.x + t1.x, y1: p.y + t1.y, x2: q.x - t2.x, y2: q.y - t2.y, x: q.x, y: q.y });
        }
      }
    }
    pen = s;
  }
  return out;
}
