/** The ray marcher: thin lens, area light with soft shadows, one bounce of light, glossy glazes, then grain and a tone curve. */
import { add, clamp, cross, dot, mix, mul, norm, random, sub, type Vec } from './maths';
import type { Solid, Surface } from './solids';

export interface Scene {
  name: string;
  width: number;
  height: number;
  solids: Solid[];
  /** The upper side of the table: height and paint. */
  table: { y: number; paint: (x: number, y: number, z: number) => Surface };
  /** A wall behind, at this depth. */
  wall: { z: number; paint: (x: number, y: number, z: number) => Surface };
  camera: { from: Vec; to: Vec; fov: number; aperture: number; focus?: Vec };
  light: { at: Vec; size: number; colour: Vec };
  sky: { top: Vec; side: Vec };
  exposure: number;
  seed: number;
}

interface Hit {
  t: number;
  p: Vec;
  n: Vec;
  s: Surface;
}

const FAR = 60;

function marcher(
  scene: Scene,
): (o: Vec, d: Vec, far: number, needHit: boolean) => number | { t: number; solid: Solid } {
  const near: { solid: Solid; t0: number; t1: number }[] = [];
  return (o, d, far, needHit) => {
    near.length = 0;
    let start = Infinity;
    let end = 0;
    for (const solid of scene.solids) {
      const w = sub(solid.centre, o);
      const b = dot(w, d);
      const disc = solid.reach * solid.reach - dot(w, w) + b * b;
      if (disc <= 0) continue;
      const root = Math.sqrt(disc);
      if (b + root <= 0.002 || b - root >= far) continue;
      const t0 = Math.max(0.002, b - root);
      near.push({ solid, t0, t1: b + root });
      start = Math.min(start, t0);
      end = Math.max(end, b + root);
    }
    if (near.length === 0) return FAR;
    let t = start;
    const limit = Math.min(end, far);
    for (let i = 0; i < 110 && t < limit; i++) {
      const x = o[0] + d[0] * t;
      const y = o[1] + d[1] * t;
      const z = o[2] + d[2] * t;
      let best = Infinity;
      let who = near[0]!.solid;
      for (const c of near) {
        if (t > c.t1) continue;
        if (t < c.t0) {
          if (c.t0 - t + 0.004 < best) best = c.t0 - t + 0.004;
          continue;
        }
        const q = c.solid.distance(x, y, z);
        if (q < best) {
          best = q;
          who = c.solid;
        }
      }
      if (best < 0.0009) return needHit ? { t, solid: who } : t;
      if (best === Infinity) return FAR;
      t += best;
    }
    return FAR;
  };
}

/** Renders rows `from` to `to` of a scene as linear RGB, three floats a pixel. */
export function renderRows(
  scene: Scene,
  width: number,
  height: number,
  from: number,
  to: number,
  samples: number,
): Float32Array {
  const out = new Float32Array((to - from) * width * 3);
  const march = marcher(scene);
  const rnd = random(scene.seed * 7919 + from);
  const cam = scene.camera;
  const forward = norm(sub(cam.to, cam.from));
  const right = norm(cross(forward, [0, 1, 0]));
  const up = cross(right, forward);
  const focusAt = dot(sub(cam.focus ?? cam.to, cam.from), forward);
  const half = Math.tan((cam.fov * Math.PI) / 360);
  const unit = half / Math.min(width, height);

  const normal = (solid: Solid, p: Vec): Vec => {
    const e = 0.0015;
    const f = (x: number, y: number, z: number): number => solid.distance(p[0] + x, p[1] + y, p[2] + z);
    return norm([f(e, 0, 0) - f(-e, 0, 0), f(0, e, 0) - f(0, -e, 0), f(0, 0, e) - f(0, 0, -e)]);
  };
  const trace = (o: Vec, d: Vec): Hit | null => {
    let far = FAR;
    let plane: 'table' | 'wall' | null = null;
    if (d[1] < -1e-6) {
      const t = (scene.table.y - o[1]) / d[1];
      if (t > 0.002 && t < far) {
        far = t;
        plane = 'table';
      }
    }
    if (d[2] > 1e-6) {
      const t = (scene.wall.z - o[2]) / d[2];
      if (t > 0.002 && t < far) {
        far = t;
        plane = 'wall';
      }
    }
    const found = march(o, d, far, true);
    if (typeof found === 'object') {
      const p = add(o, mul(d, found.t));
      return { t: found.t, p, n: normal(found.solid, p), s: found.solid.surface(p[0], p[1], p[2]) };
    }
    if (!plane) return null;
    const p = add(o, mul(d, far));
    return plane === 'table'
      ? { t: far, p, n: [0, 1, 0], s: scene.table.paint(p[0], p[1], p[2]) }
      : { t: far, p, n: [0, 0, -1], s: scene.wall.paint(p[0], p[1], p[2]) };
  };
  const sky = (d: Vec): Vec => {
    const k = clamp(d[1] * 0.5 + 0.5);
    return [
      mix(scene.sky.side[0], scene.sky.top[0], k),
      mix(scene.sky.side[1], scene.sky.top[1], k),
      mix(scene.sky.side[2], scene.sky.top[2], k),
    ];
  };
  const toLight = norm(scene.light.at);
  const lightRight = norm(cross(toLight, [0, 1, 0]));
  const lightUp = cross(lightRight, toLight);
  const direct = (h: Hit, shadowed: boolean): Vec => {
    const spread = scene.light.size / Math.hypot(...scene.light.at);
    const l = norm(
      add(toLight, add(mul(lightRight, (rnd() * 2 - 1) * spread), mul(lightUp, (rnd() * 2 - 1) * spread))),
    );
    const c = dot(h.n, l);
    if (c <= 0) return [0, 0, 0];
    if (shadowed && (march(add(h.p, mul(h.n, 0.006)), l, FAR, false) as number) < FAR) return [0, 0, 0];
    return mul(scene.light.colour, c);
  };
  // The window as the glaze sees it: a bright rectangle with a cross bar.
  const window = (d: Vec): number => {
    const c = dot(d, toLight);
    if (c < 0.2) return 0;
    const a = dot(d, lightRight) / c / 0.34;
    const b = dot(d, lightUp) / c / 0.46;
    if (Math.abs(a) > 1 || Math.abs(b) > 1) return 0;
    return Math.abs(a) < 0.05 || Math.abs(b - 0.1) < 0.04 ? 0.15 : 1;
  };
  const glow = (s: Surface): Vec => s.glow ?? [0, 0, 0];
  const shade = (o: Vec, d: Vec): Vec => {
    const h = trace(o, d);
    if (!h) return sky(d);
    const light = direct(h, true);
    // One bounce, cosine-weighted about the normal.
    const a = rnd() * 2 * Math.PI;
    const z = rnd() * 2 - 1;
    const r = Math.sqrt(1 - z * z);
    const bounce = norm(add(h.n, mul([r * Math.cos(a), r * Math.sin(a), z], 0.999)));
    const start = add(h.p, mul(h.n, 0.006));
    const far = trace(start, bounce);
    let ambient: Vec;
    if (far) {
      const again = direct(far, false);
      const around = sky(far.n);
      const g = glow(far.s);
      ambient = [0, 1, 2].map(
        (k) => far.s.albedo[k]! * (again[k]! * 0.55 + around[k]! * 0.6) + g[k]!,
      ) as unknown as Vec;
    } else ambient = sky(bounce);
    let c = [0, 1, 2].map((k) => h.s.albedo[k]! * (light[k]! + ambient[k]!) + glow(h.s)[k]!) as unknown as Vec;
    if (h.s.gloss > 0.03) {
      const cos = -dot(d, h.n);
      const fresnel = (0.035 + 0.965 * Math.pow(1 - clamp(cos), 5)) * h.s.gloss;
      const rough = 0.05 * (1 - h.s.gloss) + 0.012;
      const refl = norm(
        add(sub(d, mul(h.n, 2 * dot(d, h.n))), [
          (rnd() - 0.5) * rough * 2,
          (rnd() - 0.5) * rough * 2,
          (rnd() - 0.5) * rough * 2,
        ]),
      );
      const seen = trace(start, refl);
      let mirror: Vec;
      if (seen) {
        const around = sky(seen.n);
        const lit = direct(seen, false);
        mirror = [0, 1, 2].map(
          (k) => seen.s.albedo[k]! * (around[k]! + lit[k]! * 0.6) + glow(seen.s)[k]!,
        ) as unknown as Vec;
      } else {
        mirror = add(sky(refl), mul(scene.light.colour, window(refl) * 9));
      }
      c = add(c, mul(mirror, fresnel));
    }
    return c;
  };
  for (let y = from; y < to; y++)
    for (let x = 0; x < width; x++) {
      let r = 0;
      let g = 0;
      let b = 0;
      for (let s = 0; s < samples; s++) {
        const px = (2 * (x + rnd()) - width) * unit;
        const py = (height - 2 * (y + rnd())) * unit;
        const aim = add(cam.from, mul(add(forward, add(mul(right, px), mul(up, py))), focusAt));
        const a = rnd() * 2 * Math.PI;
        const lens = Math.sqrt(rnd()) * cam.aperture;
        const o = add(cam.from, add(mul(right, Math.cos(a) * lens), mul(up, Math.sin(a) * lens)));
        const c = shade(o, norm(sub(aim, o)));
        // Fireflies are held down before they are averaged.
        r += Math.min(c[0], 6);
        g += Math.min(c[1], 6);
        b += Math.min(c[2], 6);
      }
      const k = ((y - from) * width + x) * 3;
      out[k] = r / samples;
      out[k + 1] = g / samples;
      out[k + 2] = b / samples;
    }
  return out;
}

/** A 3 × 3 median per channel: takes out single bright grains, keeps edges. */
export function median(src: Float32Array, width: number, height: number): Float32Array {
  const out = new Float32Array(src.length);
  const nine = new Float32Array(9);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let k = 0; k < 3; k++) {
        let n = 0;
        for (let dy = -1; dy <= 1; dy++)
          for (let dx = -1; dx <= 1; dx++) {
            const yy = clamp(y + dy, 0, height - 1);
            const xx = clamp(x + dx, 0, width - 1);
            nine[n++] = src[(yy * width + xx) * 3 + k]!;
          }
        nine.sort();
        // Half median, half original: calmer, yet not waxy.
        out[(y * width + x) * 3 + k] = 0.65 * nine[4]! + 0.35 * Math.min(src[(y * width + x) * 3 + k]!, nine[7]!);
      }
  return out;
}

/** Linear light to 8-bit sRGB with a filmic shoulder (the rational fit published by K. Narkowicz, 2015; constants from memory). */
export function develop(src: Float32Array, exposure: number): Uint8Array {
  const out = new Uint8Array(src.length);
  for (let i = 0; i < src.length; i++) {
    const x = src[i]! * exposure;
    const toned = clamp((x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14));
    const s = toned <= 0.0031308 ? 12.92 * toned : 1.055 * Math.pow(toned, 1 / 2.4) - 0.055;
    out[i] = Math.round(s * 255);
  }
  return out;
}
