/** Solids of the still lifes: turned pots, bent tubes, rings and slabs, each with a signed distance and a glaze. */
import { clamp, fractal, mix, mixVec, noise, smooth, type Vec } from './maths';

export interface Surface {
  albedo: Vec;
  /** 0 is matt, 1 is a wet glaze. */
  gloss: number;
  /** Light given off by itself, as in a kiln. */
  glow?: Vec;
}

export interface Solid {
  centre: Vec;
  /** Radius of a sphere round `centre` that holds the whole solid. */
  reach: number;
  distance(x: number, y: number, z: number): number;
  surface(x: number, y: number, z: number): Surface;
}

export interface Glaze {
  clay: Vec;
  coat: Vec;
  second?: Vec;
  /** Height where the glaze ends, as a share of the height; below it the clay is bare. */
  dip?: number;
  gloss?: number;
  speckle?: number;
  /** How strongly the glaze thins to clay on the rim. */
  breaking?: number;
  seed?: number;
}

/** A smooth curve through points (Catmull-Rom), as a polyline. */
function through(points: readonly (readonly [number, number])[], steps = 10): [number, number][] {
  const out: [number, number][] = [];
  for (let i = 0; i < points.length - 1; i++) {
    const p0 = points[Math.max(0, i - 1)]!;
    const p1 = points[i]!;
    const p2 = points[i + 1]!;
    const p3 = points[Math.min(points.length - 1, i + 2)]!;
    for (let s = 0; s < steps; s++) {
      const t = s / steps;
      const at = (k: 0 | 1): number =>
        0.5 *
        (2 * p1[k] +
          (p2[k] - p0[k]) * t +
          (2 * p0[k] - 5 * p1[k] + 4 * p2[k] - p3[k]) * t * t +
          (3 * p1[k] - p0[k] - 3 * p2[k] + p3[k]) * t * t * t);
      out.push([at(0), at(1)]);
    }
  }
  out.push([...points[points.length - 1]!]);
  return out;
}

/** Signed distance from a point to a closed polygon in the (radius, height) plane. */
function polygonDistance(poly: readonly [number, number][], r: number, y: number): number {
  let d = Infinity;
  let inside = false;
  for (let i = 0, j = poly.length - 1; i < poly.length; j = i++) {
    const [ax, ay] = poly[i]!;
    const [bx, by] = poly[j]!;
    const ex = bx - ax;
    const ey = by - ay;
    const wx = r - ax;
    const wy = y - ay;
    const t = clamp((wx * ex + wy * ey) / (ex * ex + ey * ey || 1));
    d = Math.min(d, (wx - ex * t) ** 2 + (wy - ey * t) ** 2);
    if (ay > y !== by > y && r < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return (inside ? -1 : 1) * Math.sqrt(d);
}

export interface PotShape {
  /** Outer wall from the foot to the rim: [radius, height]. */
  wall: readonly (readonly [number, number])[];
  thickness: number;
  closed?: boolean;
  /** Depth of the rings left by the fingers on the wheel. */
  rings?: number;
}

/** A pot thrown on the wheel: its wall turned round the upright axis, looked up in a table of distances. */
export function pot(at: Vec, shape: PotShape, glaze: Glaze): Solid {
  const outer = through(shape.wall);
  const height = outer[outer.length - 1]![1];
  const ringed = outer.map(([r, y]): [number, number] => [
    r + (shape.rings ?? 0) * Math.sin(y * 42 + (glaze.seed ?? 0)) * smooth(0.1 * height, 0.3 * height, y),
    y,
  ]);
  const poly: [number, number][] = [[0, 0], ...ringed];
  if (shape.closed) poly.push([0, height]);
  else {
    for (let i = outer.length - 1; i >= 0; i--) {
      const [r, y] = outer[i]!;
      if (y > shape.thickness * 1.4) poly.push([Math.max(0, r - shape.thickness), y]);
    }
    poly.push([0, shape.thickness * 1.4]);
  }
  const rMax = Math.max(...poly.map((p) => p[0]));
  const margin = 0.12;
  const nx = 150;
  const ny = 220;
  const sx = (rMax + margin) / (nx - 1);
  const sy = (height + 2 * margin) / (ny - 1);
  const table = new Float32Array(nx * ny);
  for (let j = 0; j < ny; j++)
    for (let i = 0; i < nx; i++) table[j * nx + i] = polygonDistance(poly, i * sx, j * sy - margin);
  const seed = (glaze.seed ?? 1) * 17.3;
  const [cx, cy, cz] = at;
  return {
    centre: [cx, cy + height / 2, cz],
    reach: Math.hypot(rMax, height / 2) + 0.02,
    distance(x, y, z) {
      const px = x - cx;
      const pz = z - cz;
      const r = Math.sqrt(px * px + pz * pz);
      const py = y - cy;
      const outR = Math.max(0, r - rMax - margin * 0.9);
      const outY = Math.max(0, -margin * 0.9 - py, py - height - margin * 0.9);
      if (outR > 0 || outY > 0) return Math.sqrt(outR * outR + outY * outY) + margin * 0.5;
      const fx = Math.min(nx - 1.001, r / sx);
      const fy = clamp((py + margin) / sy, 0, ny - 1.001);
      const i = fx | 0;
      const j = fy | 0;
      const k = j * nx + i;
      const u = fx - i;
      const v = fy - j;
      return (
        (table[k]! * (1 - u) + table[k + 1]! * u) * (1 - v) + (table[k + nx]! * (1 - u) + table[k + nx + 1]! * u) * v
      );
    },
    surface(x, y, z) {
      const px = x - cx;
      const py = y - cy;
      const pz = z - cz;
      const r = Math.hypot(px, pz);
      const h = py / height;
      const angle = Math.atan2(pz, px);
      const wobble = fractal(Math.cos(angle) * 2 + seed, Math.sin(angle) * 2, seed) - 0.5;
      const dip = (glaze.dip ?? 0) + wobble * 0.16;
      const glazed = smooth(dip - 0.008, dip + 0.012, h);
      const cloud = fractal(px * 2.2 + seed, py * 2.6, pz * 2.2);
      const second = glaze.second ?? glaze.coat;
      let coat = mixVec(glaze.coat, second, smooth(0.35, 0.68, cloud + (1 - h) * 0.22 - 0.1));
      const rim = smooth(0.94, 1, h) + 0.35 * smooth(0.55, 0.9, noise(px * 9 + seed, py * 60, pz * 9)) * 0.4;
      coat = mixVec(coat, glaze.clay, clamp(rim * (glaze.breaking ?? 0.6)));
      const speck = noise(px * 55 + seed, py * 55, pz * 55);
      coat = mixVec(coat, [0.09, 0.06, 0.04], smooth(0.86, 0.93, speck) * (glaze.speckle ?? 0.5));
      const grain = 0.88 + 0.24 * noise(px * 40, py * 90, pz * 40 + seed);
      const clay: Vec = [glaze.clay[0] * grain, glaze.clay[1] * grain, glaze.clay[2] * grain];
      const inner = r < rMax * 0.97 && h > 0.1 ? 1 : 0.96;
      const albedo = mixVec(clay, coat, glazed);
      return {
        albedo: [albedo[0] * inner, albedo[1] * inner, albedo[2] * inner],
        gloss: mix(0.05, glaze.gloss ?? 0.8, glazed),
      };
    },
  };
}

/** A tube through points whose thickness changes along it: spouts and handles. */
export function tube(points: readonly Vec[], radii: readonly number[], glaze: Glaze): Solid {
  const centre = mixVec(points[0]!, points[points.length - 1]!, 0.5);
  const reach = Math.max(
    ...points.map((p, i) => Math.hypot(p[0] - centre[0], p[1] - centre[1], p[2] - centre[2]) + radii[i]!),
  );
  return {
    centre,
    reach: reach + 0.02,
    distance(x, y, z) {
      let d = Infinity;
      for (let i = 0; i + 1 < points.length; i++) {
        const a = points[i]!;
        const b = points[i + 1]!;
        const ex = b[0] - a[0];
        const ey = b[1] - a[1];
        const ez = b[2] - a[2];
        const wx = x - a[0];
        const wy = y - a[1];
        const wz = z - a[2];
        const t = clamp((wx * ex + wy * ey + wz * ez) / (ex * ex + ey * ey + ez * ez));
        const q = Math.hypot(wx - ex * t, wy - ey * t, wz - ez * t) - mix(radii[i]!, radii[i + 1]!, t);
        // A smooth union, so that the joints do not show.
        const h = Math.max(0.012 - Math.abs(d - q), 0) / 0.012;
        d = Math.min(d, q) - h * h * 0.003;
      }
      return d * 0.9;
    },
    surface(x, y, z) {
      const cloud = fractal(x * 2.2, y * 2.6, z * 2.2);
      return {
        albedo: mixVec(glaze.coat, glaze.second ?? glaze.coat, smooth(0.35, 0.7, cloud)),
        gloss: glaze.gloss ?? 0.8,
      };
    },
  };
}

/** A slab with rounded edges: tiles, boards, bricks. `half` are half extents. */
export function slab(
  centre: Vec,
  half: Vec,
  round: number,
  paint: (x: number, y: number, z: number) => Surface,
): Solid {
  return {
    centre,
    reach: Math.hypot(...half) + 0.01,
    distance(x, y, z) {
      const qx = Math.abs(x - centre[0]) - half[0] + round;
      const qy = Math.abs(y - centre[1]) - half[1] + round;
      const qz = Math.abs(z - centre[2]) - half[2] + round;
      const out = Math.hypot(Math.max(qx, 0), Math.max(qy, 0), Math.max(qz, 0));
      return out + Math.min(Math.max(qx, qy, qz), 0) - round;
    },
    surface: paint,
  };
}

/** Planks: long grain with rings, a little darker in the joints. */
export function wood(tint: Vec, along: 'x' | 'z' = 'x', plank = 1.6): (x: number, y: number, z: number) => Surface {
  return (x, y, z) => {
    const a = along === 'x' ? x : z;
    const b = along === 'x' ? z : x;
    const board = Math.floor(b / plank);
    const seam = Math.abs(b / plank - board - 0.5);
    const wave = fractal(a * 0.35 + board * 9.1, b * 1.2, board * 3.7);
    const rings = noise(a * 0.5 + board * 4, (b + wave * 1.5) * 7, board);
    const fibre = noise(a * 3, b * 70, y * 9 + board);
    const k =
      (0.72 + 0.3 * rings + 0.14 * fibre) * (0.9 + 0.18 * noise(board * 7.7, 0.5, 0.5)) * (seam > 0.492 ? 0.45 : 1);
    return { albedo: [tint[0] * k, tint[1] * k * 0.98, tint[2] * k * 0.95], gloss: 0.16 };
  };
}

/** Limewashed plaster or linen: nearly plain, with soft clouds. */
export function plaster(tint: Vec): (x: number, y: number, z: number) => Surface {
  return (x, y, z) => {
    const k = 0.9 + 0.16 * fractal(x * 0.7, y * 0.7, z * 0.7) + 0.05 * noise(x * 26, y * 26, z * 26);
    return { albedo: [tint[0] * k, tint[1] * k, tint[2] * k], gloss: 0.02 };
  };
}
