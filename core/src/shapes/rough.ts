import { pen } from '../geometry/pen';
import { flatten, polygon, type Path } from '../geometry/path';
import { fromPolygons, merged, mergedPath } from '../geometry/polygons';
import { smooth } from './round';
import { count, knob, shape, type Shape } from './shape';

/** Edges that look made by hand. The same seed always gives the same edge. */

/** Mulberry32, a small seeded generator of numbers 0..1 (T. Ettinger, public domain; from memory). */
function generator(seed: number): () => number {
  let a = Math.imul(seed, 2654435761) >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = a;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const seed = count('seed', 'Another edge', [1, 999], 7);
const depth = (initial: number, max = 0.2) =>
  knob('depth', 'Depth', [0.01, max], initial, (w, h, v) => [w / 2, Math.min(w, h) * v]);

/** Noise along a line: midpoints displaced again and again, less at each turn (fractal midpoint displacement). */
function ragged(random: () => number, levels: number, roughness: number): number[] {
  let line = [random(), random()];
  let amount = 0.5;
  for (let l = 0; l < levels; l++) {
    const next: number[] = [];
    for (let i = 0; i + 1 < line.length; i++)
      next.push(line[i]!, (line[i]! + line[i + 1]!) / 2 + (random() - 0.5) * amount);
    next.push(line[line.length - 1]!);
    line = next;
    amount *= roughness;
  }
  const lo = Math.min(...line);
  const hi = Math.max(...line);
  return line.map((v) => (v - lo) / (hi - lo || 1));
}

/** Points along the four sides of a box, each drawn in by up to `reach` points on the sides that are rough. */
function roughBox(
  w: number,
  h: number,
  reach: number,
  random: () => number,
  sides: readonly boolean[],
  levels: number,
): [number, number][] {
  const out: [number, number][] = [];
  const corners = [
    [0, 0, w, 0, 0, 1],
    [w, 0, w, h, -1, 0],
    [w, h, 0, h, 0, -1],
    [0, h, 0, 0, 1, 0],
  ] as const;
  corners.forEach(([x0, y0, x1, y1, nx, ny], side) => {
    const noise = sides[side] ? ragged(random, levels, 0.62) : [0, 0];
    const n = noise.length - 1;
    for (let i = 0; i < n; i++) {
      // At its ends a side gives way to its neighbours, so that corners do not cross.
      const ease = Math.min(1, i / 3, (n - i) / 3);
      const d = sides[side] ? noise[i]! * reach * (sides.every(Boolean) ? ease : 1) : 0;
      out.push([x0 + ((x1 - x0) * i) / n + nx * d, y0 + ((y1 - y0) * i) / n + ny * d]);
    }
  });
  return out;
}

const torn = shape('rough', 'torn', 'Torn below', [depth(0.09), seed], (w, h, d, s) =>
  polygon(roughBox(w, h, Math.min(w, h) * d!, generator(s!), [false, false, true, false], 7)),
);

const tornAll = shape('rough', 'torn-all', 'Torn all round', [depth(0.07), seed], (w, h, d, s) =>
  mergedPath(
    polygon(roughBox(w, h, Math.min(w, h) * d!, generator(s! + 1000), [true, true, true, true], 6)),
    'nonzero',
    0.01,
  ),
);

/** The soft wavy edge of handmade paper. */
const deckle = shape('rough', 'deckle', 'Deckle edge', [depth(0.05, 0.12), seed], (w, h, d, s) =>
  smooth(roughBox(w, h, Math.min(w, h) * d!, generator(s! + 2000), [true, true, true, true], 4)),
);

/** Broad strokes of a dry brush, one below the other, with uneven ends. */
const brush = shape(
  'rough',
  'brush',
  'Brush strokes',
  [count('strokes', 'Strokes', [3, 12], 6), depth(0.16, 0.4), seed],
  (w, h, strokes, d, s) => {
    const random = generator(s! + 3000);
    const n = strokes!;
    const parts: Path[] = [];
    const height = h / (n * 0.86 + 0.14);
    for (let i = 0; i < n; i++) {
      const y = i * height * 0.86;
      const left = i === 1 ? 0 : random() * w * d!;
      const right = i === 0 ? w : w - random() * w * d!;
      const bow = (random() - 0.5) * height * 0.2;
      const top = Math.max(0, y);
      const bottom = Math.min(h, y + height);
      const out = pen().m(left, top + height * 0.3);
      out.q(left + w * 0.01, top, left + w * 0.06, top).q(w / 2, Math.max(0, top + bow), right - w * 0.05, top);
      // Bristles at the end of the stroke.
      const bristles = 5;
      for (let b = 0; b <= bristles; b++) {
        const by = top + ((bottom - top) * b) / bristles;
        out.l(right - (b % 2 === 0 ? random() * w * 0.05 : 0), by);
      }
      out
        .l(left + w * 0.05, bottom)
        .q(left, bottom, left, bottom - height * 0.3)
        .z();
      parts.push(out.path);
    }
    return fromPolygons(merged(parts.flatMap((p) => flatten(p, Math.max(w, h) / 2000))));
  },
);

/** A blot with drops round it. */
const splatter = shape(
  'rough',
  'splatter',
  'Splatter',
  [count('drops', 'Drops', [0, 24], 12), seed],
  (w, h, drops, s) => {
    const random = generator(s! + 4000);
    const n = 36;
    const blot = Array.from({ length: n }, (_, i) => {
      const a = (2 * Math.PI * i) / n;
      const r = i % 3 === 0 ? 0.62 + random() * 0.38 : 0.5 + random() * 0.12;
      return [50 + 46 * r * Math.cos(a), 50 + 46 * r * Math.sin(a)] as const;
    });
    const parts = [...flatten(smooth(blot), 0.05)];
    for (let i = 0; i < drops!; i++) {
      const a = random() * 2 * Math.PI;
      const r = 1 + random() * 3;
      const far = 50 - r - random() * 8;
      const [x, y] = [50 + far * Math.cos(a), 50 + far * Math.sin(a)];
      parts.push(
        ...flatten(
          pen()
            .m(x - r, y)
            .a(r, r, x + r, y)
            .a(r, r, x - r, y)
            .z().path,
          0.02,
        ),
      );
    }
    const all = merged(parts);
    const xs = all.flat().map((p) => p.x);
    const ys = all.flat().map((p) => p.y);
    const [x0, y0] = [Math.min(...xs), Math.min(...ys)];
    const kx = w / (Math.max(...xs) - x0);
    const ky = h / (Math.max(...ys) - y0);
    return fromPolygons(all.map((p) => p.map((q) => ({ x: (q.x - x0) * kx, y: (q.y - y0) * ky }))));
  },
  { locked: 1 },
);

/** Cut with pinking shears: even teeth all round. */
const pinked = shape(
  'rough',
  'pinked',
  'Pinked',
  [knob('tooth', 'Size of the teeth', [0.02, 0.12], 0.05, (w, h, v) => [Math.min(w, h) * v, 0])],
  (w, h, tooth) => {
    const t = Math.min(w, h) * tooth!;
    const nx = Math.max(2, Math.round(w / (2 * t)));
    const ny = Math.max(2, Math.round(h / (2 * t)));
    const out: [number, number][] = [];
    const run = (n: number, at: (k: number, inward: number) => [number, number]): void => {
      for (let i = 0; i < n; i++) out.push(at((i + 0.5) / n, 0), at((i + 1) / n, i === n - 1 ? 0.5 : 1));
    };
    run(nx, (k, i) => [k * w - (k === 1 ? t * i : 0), t * i]);
    run(ny, (k, i) => [w - t * i, k * h - (k === 1 ? t * i : 0)]);
    run(nx, (k, i) => [w - k * w + (k === 1 ? t * i : 0), h - t * i]);
    run(ny, (k, i) => [t * i, h - k * h + (k === 1 ? t * i : 0)]);
    return polygon(out);
  },
);

export const ROUGH: readonly Shape[] = [torn, tornAll, deckle, pinked, brush, splatter];
