import type { Point } from './path';

export interface Circle extends Point {
  r: number;
}

/** Larger by this share a point still counts as inside. */
const SLACK = 1 + 1e-9;

const holds = (c: Circle, p: Point): boolean => Math.hypot(p.x - c.x, p.y - c.y) <= c.r * SLACK + 1e-12;

const over = (a: Point, b: Point): Circle => ({
  x: (a.x + b.x) / 2,
  y: (a.y + b.y) / 2,
  r: Math.hypot(a.x - b.x, a.y - b.y) / 2,
});

/** The circle through three points; over the two that are furthest apart where they lie on one line. */
function through(a: Point, b: Point, c: Point): Circle {
  const d = 2 * (a.x * (b.y - c.y) + b.x * (c.y - a.y) + c.x * (a.y - b.y));
  if (Math.abs(d) < 1e-12)
    return [over(a, b), over(b, c), over(a, c)].reduce((most, next) => (next.r > most.r ? next : most));
  const [aa, bb, cc] = [a, b, c].map((p) => p.x * p.x + p.y * p.y) as [number, number, number];
  const x = (aa * (b.y - c.y) + bb * (c.y - a.y) + cc * (a.y - b.y)) / d;
  const y = (aa * (c.x - b.x) + bb * (a.x - c.x) + cc * (b.x - a.x)) / d;
  return { x, y, r: Math.hypot(a.x - x, a.y - y) };
}

/**
 * The smallest circle round points (Welzl 1991, in its iterative form; points are taken in a fixed mixed order, so that it needs
 * linear time on average and always gives the same).
 */
export function enclosingCircle(points: readonly Point[]): Circle {
  const mixed = points.map((p, i) => ({ p, key: (Math.imul(i + 1, 2654435761) >>> 0) ^ 0x5bd1e995 }));
  const all = mixed.sort((a, b) => a.key - b.key).map(({ p }) => p);
  const [first] = all;
  if (!first) return { x: 0, y: 0, r: 0 };
  let circle: Circle = { ...first, r: 0 };
  for (const [i, a] of all.entries()) {
    if (holds(circle, a)) continue;
    circle = { x: a.x, y: a.y, r: 0 };
    for (let j = 0; j < i; j++) {
      const b = all[j]!;
      if (holds(circle, b)) continue;
      circle = over(a, b);
      for (let k = 0; k < j; k++) if (!holds(circle, all[k]!)) circle = through(a, b, all[k]!);
    }
  }
  return circle;
}
