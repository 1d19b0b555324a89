/**
 * Paints surfaces, skies and landscapes for the stock into demo/files/pictures, pixel by pixel from noise.
 * `npm run surfaces -w @gable/demo [-- NAME …]`; without names, all of them.
 */
import { mkdir } from 'node:fs/promises';
import sharp from 'sharp';
import { clamp, fractal, mixVec, mul, noise, random, smooth, type Vec } from './marcher/maths';

const OUT = 'files/pictures';
const SIZE = { width: 1500, height: 1000 };

/** A colour of sRGB, 0..1, at a place: x from 0 to 1.5 across, y from 0 to 1 down. */
type Shade = (x: number, y: number) => Vec;

const rgb = (hex: string): Vec => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16) / 255) as unknown as Vec;
const blend = (colours: readonly string[], t: number): Vec => {
  const at = clamp(t) * (colours.length - 1);
  const i = Math.min(colours.length - 2, Math.floor(at));
  return mixVec(rgb(colours[i]!), rgb(colours[i + 1]!), at - i);
};
/** Ridges of noise: thin lines where it crosses its middle. */
const vein = (x: number, y: number, z: number, sharpness: number): number =>
  Math.pow(1 - Math.abs(2 * fractal(x, y, z) - 1), sharpness);

const marble =
  (paper: readonly string[], ink: string, gold: string | null): Shade =>
  (x, y) => {
    const [wx, wy] = [x * 2 + 1.6 * fractal(x * 2, y * 2, 3), y * 2 + 1.6 * fractal(x * 2, y * 2, 9)];
    const ground = blend(paper, fractal(wx, wy, 1));
    const dark = vein(wx * 0.9, wy * 1.3, 5, 22) * 0.7 + vein(wx * 2.2, wy * 2.2, 8, 30) * 0.35;
    const lined = mixVec(ground, rgb(ink), clamp(dark));
    return gold ? mixVec(lined, rgb(gold), smooth(0.55, 0.95, vein(wx * 0.7 + 4, wy * 0.9, 12, 40))) : lined;
  };

/** Threads over and under each other. */
const cloth =
  (light: string, dark: string, count: number): Shade =>
  (x, y) => {
    const thread = (along: number, across: number, z: number): number => {
      const wide =
        0.25 * noise(Math.floor(across * count) * 3.1, along * 6, z) + 0.04 * noise(along * 90, across * 9, z);
      return Math.abs(Math.sin(Math.PI * (across * count + wide)));
    };
    const [warp, weft] = [thread(y, x, 2), thread(x, y, 7)];
    const over = (Math.floor(x * count) + Math.floor(y * count)) % 2 === 0;
    const height = over ? warp * 0.75 + weft * 0.25 : weft * 0.75 + warp * 0.25;
    const slub = 0.16 * fractal(x * 60, y * 4, 4) + 0.16 * fractal(x * 4, y * 60, 6);
    return mixVec(rgb(dark), rgb(light), clamp(0.25 + 0.6 * height + slub - 0.16));
  };

const goldLeaf: Shade = (x, y) => {
  // Square leaves, each a little darker or lighter, with creases and gaps at their rims.
  const [sx, sy] = [x * 3 + 0.04 * fractal(x * 9, y * 9, 2), y * 3 + 0.04 * fractal(x * 9, y * 9, 5)];
  const leaf = noise(Math.floor(sx) * 7.3, Math.floor(sy) * 5.1, 2);
  const rim = Math.min(sx % 1, 1 - (sx % 1), sy % 1, 1 - (sy % 1));
  const crease = vein(x * 7 + leaf * 5, y * 7, 4, 10) * 0.35 + fractal(x * 30, y * 30, 3) * 0.25;
  const shine = clamp(0.3 + 0.35 * leaf + crease);
  const gold = blend(['#6d4a12', '#b07f22', '#d9ab45', '#f6e0a0'], shine);
  const worn = smooth(0.02, 0, rim + 0.03 * (fractal(x * 40, y * 40, 8) - 0.4));
  return mixVec(gold, rgb('#7a2f1d'), 0.8 * worn);
};

const glazeRuns: Shade = (x, y) => {
  const run = 0.35 + 0.3 * fractal(x * 14, 0.3, 2) + 0.12 * noise(x * 60, 1, 1);
  const drop = smooth(run + 0.05, run - 0.02, y);
  const streak = fractal(x * 50, y * 3, 4);
  const glaze = blend(['#0d3b45', '#136a74', '#4fa7a4', '#bfe0d2'], 0.15 + 0.75 * streak * (0.5 + y));
  const clay = blend(['#a8683f', '#c58a5b', '#b87748'], fractal(x * 20, y * 20, 9));
  const rim = smooth(0.035, 0, Math.abs(y - run)) * 0.35;
  return mixVec(mixVec(clay, glaze, drop), rgb('#08262d'), rim);
};

const nightSky: Shade = (x, y) => {
  const sky = blend(['#060a18', '#0d1a38', '#22345c', '#4a4f78'], y * 0.9 + 0.15 * fractal(x * 2, y * 2, 1));
  const band = smooth(0.28, 0, Math.abs(y - 0.75 + x * 0.42 + 0.1 * fractal(x * 3, y * 3, 7)));
  const milk = mixVec(sky, rgb('#8f8fb4'), 0.55 * band * fractal(x * 7, y * 7, 4));
  const cell = (size: number, z: number): number => {
    const [i, j] = [Math.floor(x * size), Math.floor(y * size)];
    const [dx, dy] = [x * size - i - noise(i * 9.7, j * 3.3, z), y * size - j - noise(i * 2.9, j * 8.1, z + 1)];
    const bright = Math.pow(noise(i * 5.3, j * 7.7, z + 2), 9);
    return bright * Math.exp((-(dx * dx + dy * dy) * 260) / (0.4 + bright));
  };
  const stars = cell(46, 1) * 2.2 + cell(90, 5) * 1.5 + cell(170, 9) * (0.7 + 1.6 * band);
  return mixVec(milk, [1, 0.97, 0.9], clamp(stars));
};

/** Ridges behind each other, paler the farther. */
const ridges =
  (sky: readonly string[], far: string, near: string, mist: number): Shade =>
  (x, y) => {
    let colour = blend(sky, clamp(y * 1.6));
    for (let i = 0; i < 7; i++) {
      const depth = i / 6;
      const top =
        0.36 +
        depth * 0.5 -
        (0.2 - 0.09 * depth) * fractal(x * (1.4 + i * 0.8) + i * 9, i * 3.7, 2) -
        0.02 * i * noise(x * 40, i, 3) * 0.2;
      if (y < top) continue;
      const own = mixVec(rgb(far), rgb(near), depth);
      const haze = mist * smooth(0.22, 0, y - top) * 0;
      const foot = mist * smooth(0, 0.2, y - top) * (1 - depth);
      colour = mixVec(
        mixVec(own, rgb(sky.at(-1)!), clamp(haze + foot)),
        mul(own, 0.9),
        0.15 * fractal(x * 60, y * 60, i),
      );
    }
    return colour;
  };

const harbour: Shade = (x, y) => {
  const horizon = 0.56;
  const sky = blend(['#23355e', '#5a5c86', '#c2796b', '#f0b070'], clamp(y / horizon));
  const roofs = (at: number): number => {
    const house = Math.floor(at * 22);
    const high = 0.04 + 0.1 * noise(house * 3.7, 1, 1);
    const gable = 0.035 * (1 - Math.abs(((at * 22) % 1) * 2 - 1));
    return high + (noise(house * 2.1, 4, 2) > 0.4 ? gable : 0.01);
  };
  const land = (at: number, yy: number): Vec | null => {
    const top = horizon - roofs(at);
    if (yy < top || yy > horizon) return null;
    const [i, j] = [Math.floor(at * 110), Math.floor(yy * 90)];
    const lit = noise(i * 3.3, j * 5.9, 6) > 0.74 && (at * 110) % 1 > 0.3 && (yy * 90) % 1 > 0.35 && yy > top + 0.015;
    return lit ? [1, 0.8, 0.42] : mixVec(rgb('#1b2238'), rgb('#2c3350'), noise(Math.floor(at * 22) * 5.5, 2, 3));
  };
  if (y <= horizon) return land(x, y) ?? sky;
  // What stands on the quay is seen again in the water, in pieces.
  const depth = (y - horizon) / (1 - horizon);
  const sway = (noise(x * 6, y * 120, 1) - 0.5) * 0.02 * (0.4 + 2 * depth);
  const seen = horizon - (y - horizon) * 0.85 + (noise(x * 18, y * 160, 4) - 0.5) * 0.03;
  const mirrored = land(x + sway, seen) ?? blend(['#23355e', '#5a5c86', '#c2796b', '#f0b070'], clamp(seen / horizon));
  return mixVec(mul(mirrored, 0.78), rgb('#14223c'), 0.25 + 0.45 * depth * noise(x * 8, y * 90, 9));
};

const sea: Shade = (x, y) => {
  const horizon = 0.3;
  if (y < horizon)
    return blend(['#8fb8cf', '#c7dbe0', '#efe8d8'], y / horizon + 0.25 * (fractal(x * 3, y * 7, 2) - 0.5));
  const depth = (y - horizon) / (1 - horizon);
  const scale = 3 / (0.06 + depth);
  const wave = fractal(x * scale * 0.6 + 40 * depth, scale * 2.4, 3);
  const water = blend(['#0e3a4d', '#1a5b70', '#3f8a96', '#8fc3c0'], 0.25 + 0.6 * wave - 0.25 * depth);
  const foam = smooth(0.72, 0.9, wave) * (0.3 + depth);
  return mixVec(water, [0.95, 0.97, 0.96], clamp(foam));
};

const sand: Shade = (x, y) => {
  const ripple = Math.sin((y * 38 + 5 * fractal(x * 2.2, y * 2.2, 1)) * Math.PI);
  const light =
    0.5 + 0.28 * ripple + 0.2 * (fractal(x * 3, y * 3, 5) - 0.5) + 0.12 * (noise(x * 400, y * 400, 2) - 0.5);
  return blend(['#8a6845', '#c39c6c', '#e2c496', '#f3e2c0'], light);
};

const leaves: Shade = (x, y) => {
  let colour = blend(['#0d1f14', '#142b1a'], fractal(x * 4, y * 4, 1));
  for (let layer = 0; layer < 4; layer++) {
    const size = 3.2 + layer * 0.7;
    for (let i = Math.floor(x * size) - 1; i <= Math.floor(x * size) + 1; i++)
      for (let j = Math.floor(y * size) - 1; j <= Math.floor(y * size) + 1; j++) {
        const rnd = (k: number): number => noise(i * 3.17 + layer * 11, j * 5.71 + k * 2.3, layer * 7 + k);
        const [cx, cy] = [(i + 0.2 + 0.6 * rnd(1)) / size, (j + 0.2 + 0.6 * rnd(2)) / size];
        const angle = rnd(3) * Math.PI * 3;
        const [dx, dy] = [x - cx, y - cy];
        const along = (dx * Math.cos(angle) + dy * Math.sin(angle)) * size * 1.25;
        const across = (-dx * Math.sin(angle) + dy * Math.cos(angle)) * size * 1.25;
        if (Math.abs(along) > 0.75) continue;
        const half = 0.3 * Math.cos((along / 0.75) * (Math.PI / 2)) * (1 - 0.25 * along);
        if (Math.abs(across) > half) continue;
        const rib = smooth(0.02, 0.004, Math.abs(across));
        const ribs = smooth(0.75, 0.95, Math.abs(Math.sin((along * 9 - Math.abs(across) * 7) * Math.PI))) * 0.25;
        const own = blend(
          ['#1f4a2a', '#2f6b3a', '#5a9450', '#9cbf6a'],
          0.15 + 0.55 * rnd(5) + 0.25 * (across / (half + 1e-6)) * 0.5,
        );
        colour = mixVec(mul(own, 0.65 + 0.12 * layer), rgb('#cfe0a4'), 0.35 * rib + 0.3 * ribs);
      }
  }
  return colour;
};

const boards: Shade = (x, y) => {
  const board = Math.floor(x * 5.3);
  const off = noise(board * 7.1, 3, 1);
  const grain = fractal(x * 26 + 2 * fractal(x * 3, y * 2, board), y * 1.6 + off * 9, board * 3);
  const ring = 0.5 + 0.5 * Math.sin(grain * 26);
  const wood = blend(
    ['#6b4423', '#93653a', '#b98b57', '#cda673'],
    0.2 + 0.35 * ring + 0.35 * off + 0.15 * noise(x * 300, y * 8, 2),
  );
  const joint = smooth(0.02, 0.004, Math.min((x * 5.3) % 1, 1 - ((x * 5.3) % 1)));
  return mixVec(wood, rgb('#2b1a0e'), joint);
};

const slate: Shade = (x, y) => {
  const layers = fractal(x * 3 + 0.6 * y, y * 9, 2);
  const edge = vein(x * 2.2, y * 5.5, 6, 18);
  return mixVec(
    blend(['#252b30', '#353d43', '#4a545a', '#5f6b70'], layers + 0.25 * (noise(x * 120, y * 120, 1) - 0.5)),
    rgb('#8b979a'),
    0.4 * edge,
  );
};

const paper: Shade = (x, y) => {
  const fibre = vein(x * 22, y * 22, 3, 24) * 0.28 + vein(x * 9 + 7, y * 14, 6, 30) * 0.22;
  return mixVec(blend(['#efe6d3', '#f6efe1', '#fbf7ee'], fractal(x * 5, y * 5, 1)), rgb('#c9b48d'), fibre);
};

const copper: Shade = (x, y) => {
  const age = fractal(x * 2.4 + fractal(x * 5, y * 5, 1), y * 2.4, 4);
  const metal = blend(['#3a1f14', '#7d4426', '#b5713f', '#d99a63'], 0.3 + 0.5 * fractal(x * 9, y * 2, 7));
  const green = blend(['#1f5b54', '#3f8f80', '#86bfa8', '#b9d8c2'], fractal(x * 8, y * 8, 9));
  return mixVec(metal, green, smooth(0.42, 0.62, age + 0.12 * (fractal(x * 24, y * 24, 2) - 0.5)));
};

const clouds: Shade = (x, y) => {
  const sky = blend(['#3d77b0', '#77a9d3', '#c4dcec'], y);
  const cloud = fractal(x * 2.2 + 0.4 * fractal(x * 5, y * 5, 3), y * 3.4, 6) + 0.25 * (y - 0.4);
  const lit = fractal(x * 2.2 - 0.05, y * 3.4 - 0.09, 6);
  return mixVec(sky, blend(['#9fb2c4', '#e4e9ee', '#ffffff'], 0.4 + 1.6 * (lit - 0.4)), smooth(0.44, 0.62, cloud));
};

const bricks: Shade = (x, y) => {
  const row = Math.floor(y * 15);
  const shift = row % 2 === 0 ? 0 : 0.5;
  const [bx, by] = [x * 6 + shift, y * 15];
  const [fx, fy] = [Math.min(bx % 1, 1 - (bx % 1)) * 2.5, Math.min(by % 1, 1 - (by % 1))];
  const worn = 0.05 * (fractal(x * 40, y * 40, 3) - 0.4);
  const brick = blend(
    ['#6d2f20', '#94442b', '#b0603e', '#c47f58'],
    0.15 + 0.6 * noise(Math.floor(bx) * 5.7, row * 3.1, 1) + 0.4 * (fractal(x * 22, y * 22, 5) - 0.5),
  );
  const mortar = blend(['#8f877b', '#b5ada0'], fractal(x * 60, y * 60, 8));
  return mixVec(mortar, brick, smooth(0.04, 0.1, Math.min(fx, fy) + worn));
};

const water: Shade = (x, y) => {
  const fern =
    vein(x * 6 + 2 * fractal(x * 3, y * 3, 1), y * 6, 4, 8) * 0.6 +
    vein(x * 16, y * 16 + 3 * fractal(x * 4, y * 4, 7), 9, 10) * 0.5;
  return mixVec(
    blend(['#274a63', '#4a7590', '#8db0c2'], y * 0.7 + 0.3 * fractal(x * 2, y * 2, 2)),
    [0.95, 0.98, 1],
    clamp(fern),
  );
};

const lights: Shade = (x, y) => {
  let colour = blend(['#150f1e', '#241a2c', '#33212b'], y + 0.2 * fractal(x * 2, y * 2, 1));
  const tints = ['#f2b25c', '#e8795a', '#f7dca0', '#7fb4c8', '#c98fb0'];
  for (let i = 0; i < 70; i++) {
    const rnd = (k: number): number => noise(i * 7.31, k * 3.7, 5);
    const [cx, cy, r] = [rnd(1) * 2 - 0.25, rnd(2) * 1.6 - 0.3, 0.02 + 0.075 * rnd(3)];
    const d = Math.hypot(x - cx, y - cy) / r;
    if (d > 1.1) continue;
    const disc = smooth(1.06, 0.98, d) * (0.25 + 0.25 * rnd(4)) * (0.75 + 0.35 * d);
    colour = mixVec(colour, rgb(tints[Math.floor(rnd(6) * 4.99)]!), disc);
  }
  return colour;
};

const SURFACES: Readonly<Record<string, Shade>> = {
  'white-marble': marble(['#e6e3dd', '#f4f2ee', '#fbfaf7'], '#8d8f94', null),
  'green-marble': marble(['#0f2f27', '#1d4a3d', '#2f6653'], '#b9d3c2', '#c79a45'),
  linen: cloth('#e8dfcc', '#a89877', 120),
  'indigo-cloth': cloth('#4a5f8f', '#18233f', 95),
  'gold-leaf': goldLeaf,
  'glaze-runs': glazeRuns,
  'night-sky': nightSky,
  'hills-at-dawn': ridges(['#f3c8a0', '#f6ddc0', '#e9e6df'], '#a9b7bd', '#2b4a44', 0.8),
  'blue-mountains': ridges(['#9fc0dc', '#cfe0ea', '#eef1ef'], '#9db4c6', '#1d3550', 0.6),
  'harbour-at-dusk': harbour,
  'open-sea': sea,
  'rippled-sand': sand,
  leaves,
  'oak-boards': boards,
  slate,
  'handmade-paper': paper,
  'old-copper': copper,
  clouds,
  'brick-wall': bricks,
  'clear-water': water,
  'evening-lights': lights,
};

async function paint(name: string, shade: Shade, seed: number): Promise<void> {
  const { width, height } = SIZE;
  const data = Buffer.alloc(width * height * 3);
  const rnd = random(seed);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const colour = shade((x + 0.5) / height, (y + 0.5) / height);
      const grain = (rnd() + rnd() - 1) * 5;
      for (let c = 0; c < 3; c++)
        data[(y * width + x) * 3 + c] = Math.round(clamp(255 * colour[c as 0 | 1 | 2] + grain, 0, 255));
    }
  await sharp(data, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 76, mozjpeg: true })
    .withExif({
      IFD0: {
        ...{ Make: 'Fennick Clayworks', Artist: 'Fennick Clayworks (made up)' },
        ImageDescription: name.replaceAll('-', ' '),
      },
    })
    .withMetadata({ density: 200 })
    .toFile(`${OUT}/${name}.jpg`);
}

const asked = process.argv.slice(2);
await mkdir(OUT, { recursive: true });
for (const [i, [name, shade]] of Object.entries(SURFACES).entries()) {
  if (asked.length > 0 && !asked.includes(name)) continue;
  await paint(name, shade, 100 + i);
  console.log(name);
}
