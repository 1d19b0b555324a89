/** The still lifes of Fennick Clayworks, a made-up community pottery. Lengths in decimetres, y up, the camera looks to +z. */
import { fractal, mixVec, noise, random, smooth, type Vec } from './marcher/maths';
import type { Scene } from './marcher/render';
import { plaster, pot, slab, tube, wood, type Glaze, type PotShape, type Solid, type Surface } from './marcher/solids';

const CLAY = {
  red: [0.42, 0.19, 0.1] as Vec,
  buff: [0.6, 0.46, 0.32] as Vec,
  dark: [0.16, 0.11, 0.085] as Vec,
  white: [0.76, 0.72, 0.65] as Vec,
};
const celadon: Glaze = {
  clay: CLAY.buff,
  coat: [0.36, 0.5, 0.42],
  second: [0.5, 0.62, 0.53],
  dip: 0.16,
  speckle: 0.35,
};
const lagoon: Glaze = { clay: CLAY.buff, coat: [0.05, 0.28, 0.34], second: [0.14, 0.46, 0.5], dip: 0.24, speckle: 0.3 };
const tenmoku: Glaze = {
  clay: CLAY.red,
  coat: [0.035, 0.022, 0.018],
  second: [0.2, 0.075, 0.025],
  dip: 0.14,
  gloss: 1,
  breaking: 0.9,
  speckle: 0,
};
const chalk: Glaze = {
  clay: CLAY.buff,
  coat: [0.74, 0.71, 0.64],
  second: [0.66, 0.61, 0.52],
  dip: 0.12,
  gloss: 0.45,
  speckle: 1,
};
const ochre: Glaze = { clay: CLAY.dark, coat: [0.62, 0.36, 0.09], second: [0.5, 0.22, 0.06], dip: 0.2, gloss: 0.7 };
const bare: Glaze = { clay: CLAY.red, coat: CLAY.red, dip: 1.4, gloss: 0.1, speckle: 0 };
const ash: Glaze = { clay: CLAY.dark, coat: [0.33, 0.36, 0.3], second: [0.16, 0.2, 0.16], dip: 0.3, gloss: 0.6 };
const rose: Glaze = {
  clay: CLAY.white,
  coat: [0.6, 0.3, 0.27],
  second: [0.7, 0.47, 0.4],
  dip: 0.18,
  gloss: 0.7,
  speckle: 0.6,
};

const wide: PotShape = {
  wall: [
    [0.42, 0],
    [0.46, 0.07],
    [0.8, 0.26],
    [1.12, 0.55],
    [1.26, 0.82],
    [1.3, 0.88],
  ],
  thickness: 0.07,
  rings: 0.006,
};
const deep: PotShape = {
  wall: [
    [0.4, 0],
    [0.42, 0.06],
    [0.66, 0.22],
    [0.84, 0.56],
    [0.88, 0.9],
    [0.9, 0.96],
  ],
  thickness: 0.06,
  rings: 0.005,
};
const cup: PotShape = {
  wall: [
    [0.3, 0],
    [0.34, 0.05],
    [0.4, 0.2],
    [0.42, 0.5],
    [0.45, 0.68],
    [0.46, 0.72],
  ],
  thickness: 0.045,
  rings: 0.006,
};
const mug: PotShape = {
  wall: [
    [0.34, 0],
    [0.4, 0.06],
    [0.43, 0.3],
    [0.41, 0.7],
    [0.42, 0.9],
    [0.43, 0.94],
  ],
  thickness: 0.045,
  rings: 0.006,
};
const belly: PotShape = {
  wall: [
    [0.45, 0],
    [0.52, 0.1],
    [0.92, 0.62],
    [0.98, 1.1],
    [0.6, 1.62],
    [0.34, 1.84],
    [0.33, 2.02],
    [0.52, 2.24],
  ],
  thickness: 0.06,
  rings: 0.006,
};
const bottle: PotShape = {
  wall: [
    [0.36, 0],
    [0.42, 0.1],
    [0.6, 0.6],
    [0.58, 1.15],
    [0.26, 1.62],
    [0.17, 2.1],
    [0.17, 2.7],
    [0.27, 2.86],
  ],
  thickness: 0.05,
  rings: 0.006,
};
const moon: PotShape = {
  wall: [
    [0.4, 0],
    [0.5, 0.06],
    [0.98, 0.5],
    [1.12, 1],
    [0.94, 1.52],
    [0.5, 1.86],
    [0.46, 1.98],
  ],
  thickness: 0.06,
  rings: 0.004,
};
const jar: PotShape = {
  wall: [
    [0.5, 0],
    [0.56, 0.08],
    [0.7, 0.5],
    [0.72, 0.95],
    [0.56, 1.3],
    [0.52, 1.38],
  ],
  thickness: 0.06,
  rings: 0.005,
};
const plate: PotShape = {
  wall: [
    [0.7, 0],
    [0.74, 0.04],
    [1.05, 0.1],
    [1.22, 0.2],
  ],
  thickness: 0.06,
};
const body: PotShape = {
  wall: [
    [0.5, 0],
    [0.56, 0.06],
    [0.9, 0.42],
    [0.92, 0.78],
    [0.62, 1.12],
    [0.42, 1.2],
  ],
  thickness: 0.06,
  rings: 0.006,
};
const lid: PotShape = {
  wall: [
    [0.46, 0],
    [0.44, 0.05],
    [0.26, 0.16],
    [0.09, 0.2],
    [0.08, 0.26],
    [0.13, 0.33],
    [0.09, 0.4],
    [0.02, 0.41],
  ],
  thickness: 0.05,
  closed: true,
};

const seeded = (g: Glaze, seed: number): Glaze => ({ ...g, seed });
const window = { at: [-5, 6.2, -3.4] as Vec, size: 1.9, colour: [2.5, 2.3, 2.02] as Vec };
const day = { top: [0.52, 0.58, 0.66] as Vec, side: [0.36, 0.35, 0.34] as Vec };
const oak: Vec = [0.5, 0.33, 0.19];
const pale: Vec = [0.66, 0.52, 0.36];
const base = {
  table: { y: 0, paint: wood(oak) },
  wall: { z: 4.6, paint: plaster([0.56, 0.53, 0.48]) },
  light: window,
  sky: day,
  exposure: 0.5,
};

/** The curve of a handle: from `a` out to `swing` and back to `b`. */
function handle(a: Vec, swing: Vec, b: Vec, thick: number, glaze: Glaze): Solid {
  const steps = 14;
  const points: Vec[] = [];
  const radii: number[] = [];
  for (let i = 0; i <= steps; i++) {
    const t = i / steps;
    points.push(mixVec(mixVec(a, swing, t), mixVec(swing, b, t), t));
    radii.push(thick * (1.15 - 0.35 * Math.sin(Math.PI * t)));
  }
  return tube(points, radii, glaze);
}

function teapot(at: Vec, glaze: Glaze): Solid[] {
  const [x, y, z] = at;
  const spout: Vec[] = [];
  const radii: number[] = [];
  for (let i = 0; i <= 12; i++) {
    const t = i / 12;
    const a: Vec = [x - 0.75, y + 0.42, z];
    const b: Vec = [x - 1.5, y + 0.4, z - 0.05];
    const c: Vec = [x - 1.48, y + 1.24, z - 0.05];
    spout.push(mixVec(mixVec(a, b, t), mixVec(b, c, t), t));
    radii.push(0.24 - 0.15 * t);
  }
  return [
    pot(at, body, glaze),
    pot([x, y + 1.17, z], lid, glaze),
    tube(spout, radii, { ...glaze, second: glaze.coat }),
    handle([x + 0.8, y + 0.95, z], [x + 2.25, y + 0.95, z], [x + 0.84, y + 0.36, z], 0.1, glaze),
  ];
}

function kiln(): Scene {
  const ember = (x: number, y: number, z: number): Surface => {
    const course = Math.floor(y / 0.52);
    const along = x / 1.15 + (course % 2) * 0.5;
    const joint = Math.abs(along - Math.round(along)) < 0.018 || Math.abs(y / 0.52 - Math.round(y / 0.52)) < 0.035;
    const k = (joint ? 0.55 : 0.85) + 0.35 * fractal(x * 2, y * 2, z);
    const heat = smooth(3.6, 0.2, Math.hypot(x * 0.55, y - 1.1)) * k;
    return {
      albedo: [0.5, 0.25, 0.13],
      gloss: 0.02,
      glow: [2.3 * heat + 0.14, 0.62 * heat * heat + 0.02, 0.09 * heat * heat],
    };
  };
  const shelf = (): Surface => ({ albedo: [0.36, 0.24, 0.16], gloss: 0.05, glow: [0.16, 0.03, 0.004] });
  const hot = (g: Glaze, seed: number): Glaze => seeded({ ...g, gloss: 1 }, seed);
  return {
    name: 'kiln-glow',
    width: 2560,
    height: 1440,
    solids: [
      slab([0, -0.12, 1.6], [6, 0.12, 1.7], 0.03, shelf),
      slab([0, 2.62, 1.7], [6, 0.1, 1.6], 0.03, shelf),
      slab([-3.1, 1.25, 2.2], [0.16, 1.25, 0.16], 0.03, shelf),
      slab([3.1, 1.25, 2.2], [0.16, 1.25, 0.16], 0.03, shelf),
      pot([-1.75, 0, 1.5], moon, hot(tenmoku, 2)),
      pot([0.2, 0, 1], deep, hot(celadon, 4)),
      pot([1.75, 0, 1.75], belly, hot(ash, 5)),
      pot([-0.5, 0, 2.4], jar, hot(ochre, 7)),
      pot([3.9, 0, 1.5], jar, hot(lagoon, 8)),
      pot([-3.95, 0, 1.7], bottle, hot(rose, 9)),
      pot([-1.9, 2.72, 1.9], wide, hot(chalk, 3)),
      pot([1.2, 2.72, 1.7], wide, hot(lagoon, 6)),
    ],
    table: { y: -0.5, paint: shelf },
    wall: { z: 3.6, paint: ember },
    camera: { from: [0.4, 1.35, -5.2], to: [0, 1.25, 1.5], fov: 36, aperture: 0.06, focus: [0, 1, 1.1] },
    light: { at: [-2, 2.5, -5], size: 2.4, colour: [0.34, 0.2, 0.12] },
    sky: { top: [0.2, 0.055, 0.015], side: [0.26, 0.08, 0.02] },
    exposure: 0.8,
    seed: 31,
  };
}

function glazeTests(): Scene {
  const rnd = random(77);
  const solids: Solid[] = [];
  const colours: Vec[] = [
    [0.05, 0.28, 0.34],
    [0.62, 0.36, 0.09],
    [0.36, 0.5, 0.42],
    [0.6, 0.3, 0.27],
    [0.04, 0.025, 0.02],
    [0.74, 0.71, 0.64],
    [0.14, 0.2, 0.4],
    [0.42, 0.1, 0.06],
    [0.3, 0.33, 0.16],
    [0.5, 0.44, 0.5],
  ];
  for (let row = 0; row < 5; row++)
    for (let col = 0; col < 8; col++) {
      const cx = (col - 3.5) * 0.98 + (rnd() - 0.5) * 0.09;
      const cz = (row - 2) * 1.06 + (rnd() - 0.5) * 0.09;
      const a = colours[Math.floor(rnd() * colours.length)]!;
      const b = mixVec(a, colours[Math.floor(rnd() * colours.length)]!, 0.45);
      const s = rnd() * 90;
      solids.push(
        slab([cx, 0.09, cz], [0.42, 0.09, 0.46], 0.05, (x, _y, z) => {
          const edge = smooth(-0.3, -0.24, z - cz - 0.05 * fractal(x * 3, s, z));
          const run = fractal(x * 2.4 + s, s, z * 1.5);
          const speck = noise(x * 60, s, z * 60);
          const coat = mixVec(
            mixVec(a, b, smooth(0.35, 0.65, run)),
            [0.06, 0.04, 0.03],
            smooth(0.88, 0.94, speck) * 0.7,
          );
          return { albedo: mixVec(CLAY.buff, coat, edge), gloss: 0.1 + 0.85 * edge };
        }),
      );
    }
  return {
    ...base,
    name: 'glaze-tests',
    width: 2400,
    height: 1600,
    solids,
    table: { y: 0, paint: wood([0.34, 0.23, 0.15], 'z') },
    camera: { from: [-1.2, 6.2, -5.2], to: [0.1, 0, -0.1], fov: 36, aperture: 0.16, focus: [0.2, 0.15, -0.5] },
    light: { at: [-5, 5, 3.2], size: 1.6, colour: [2.5, 2.35, 2.1] },
    exposure: 0.52,
    seed: 12,
  };
}

function shelves(): Scene {
  const rnd = random(5);
  const glazes = [celadon, lagoon, tenmoku, chalk, ochre, rose, ash, bare];
  const shapes = [mug, cup, jar, deep, bottle, moon, belly];
  const solids: Solid[] = [];
  for (let row = 0; row < 3; row++) {
    const y = row * 2.35 - 0.1;
    solids.push(slab([0, y - 0.1, 2.6], [9, 0.1, 0.95], 0.02, wood(pale)));
    let x = -5.6 + rnd() * 0.4;
    while (x < 5.8) {
      const shape = row === 2 ? shapes[Math.floor(rnd() * 4)]! : shapes[Math.floor(rnd() * shapes.length)]!;
      const tall = Math.max(...shape.wall.map((p) => p[1]));
      const k = Math.min(1, 1.95 / tall) * (0.82 + rnd() * 0.18);
      const scaled: PotShape = {
        ...shape,
        wall: shape.wall.map(([r, h]): [number, number] => [r * k, h * k]),
        thickness: 0.055,
      };
      const r = Math.max(...scaled.wall.map((p) => p[0]));
      x += r;
      solids.push(
        pot(
          [x, y, 2.45 + (rnd() - 0.5) * 0.35],
          scaled,
          seeded(glazes[Math.floor(rnd() * glazes.length)]!, Math.floor(rnd() * 900)),
        ),
      );
      x += r + 0.07 + rnd() * 0.22;
    }
  }
  return {
    ...base,
    name: 'drying-shelves',
    width: 2560,
    height: 1440,
    solids,
    table: { y: -3, paint: wood(oak) },
    wall: { z: 3.7, paint: plaster([0.5, 0.46, 0.4]) },
    camera: { from: [-3.4, 2.7, -6.2], to: [0.3, 2.35, 2.5], fov: 37, aperture: 0.16, focus: [-0.6, 2.4, 2.2] },
    light: { at: [-6, 5.4, -4.5], size: 2.4, colour: [2.4, 2.2, 1.92] },
    exposure: 0.55,
    seed: 44,
  };
}

/** Every still life; the order is the order of the files. */
export const scenes: Scene[] = [
  {
    ...base,
    name: 'three-bowls',
    width: 3000,
    height: 2000,
    solids: [
      pot([-1.15, 0, 0.35], wide, seeded(lagoon, 3)),
      pot([1.35, 0, 1.35], belly, seeded(bare, 6)),
      pot([0.85, 0, -0.55], cup, seeded(chalk, 9)),
    ],
    table: { y: 0, paint: wood(pale) },
    camera: { from: [0.3, 2.5, -6.6], to: [0.1, 0.86, 0.4], fov: 32, aperture: 0.13, focus: [-0.5, 0.6, -0.4] },
    seed: 3,
  },
  {
    ...base,
    name: 'celadon-vase',
    width: 1600,
    height: 2400,
    solids: [pot([0.35, 0, 0.3], belly, seeded(celadon, 5)), pot([-0.95, 0, -0.35], cup, seeded(tenmoku, 8))],
    wall: { z: 3.4, paint: plaster([0.43, 0.4, 0.37]) },
    camera: { from: [-0.7, 2.15, -6.4], to: [0, 1.2, 0.2], fov: 30, aperture: 0.12, focus: [0.2, 1.2, -0.5] },
    seed: 8,
  },
  {
    ...base,
    name: 'teapot',
    width: 2400,
    height: 1800,
    solids: [
      ...teapot([0.5, 0, 0.4], seeded(tenmoku, 4)),
      pot([-1.75, 0, -0.55], cup, seeded(chalk, 2)),
      pot([-2.35, 0, 0.95], cup, seeded(chalk, 7)),
    ],
    table: { y: 0, paint: wood([0.42, 0.27, 0.16]) },
    wall: { z: 4.2, paint: plaster([0.6, 0.55, 0.46]) },
    camera: { from: [-0.5, 2.3, -6.2], to: [-0.35, 0.72, 0.3], fov: 33, aperture: 0.13, focus: [0.2, 0.7, -0.4] },
    seed: 15,
  },
  kiln(),
  glazeTests(),
  shelves(),
  {
    ...base,
    name: 'tall-bottles',
    width: 1600,
    height: 2844,
    solids: [
      pot([0.28, 0, 0.2], bottle, seeded(ochre, 11)),
      pot(
        [-0.66, 0, 0.95],
        { ...bottle, wall: bottle.wall.map(([r, h]): [number, number] => [r * 0.86, h * 0.8]) },
        seeded(chalk, 12),
      ),
    ],
    table: { y: 0, paint: wood([0.3, 0.2, 0.13]) },
    wall: { z: 3.2, paint: plaster([0.32, 0.38, 0.37]) },
    camera: { from: [0.5, 2.1, -6.9], to: [-0.05, 1.5, 0.3], fov: 27, aperture: 0.13, focus: [0.2, 1.4, -0.3] },
    seed: 19,
  },
  {
    ...base,
    name: 'breakfast-jug',
    width: 1800,
    height: 2400,
    solids: [
      pot([0.1, 0, 0.4], belly, seeded(chalk, 23)),
      handle([0.45, 1.95, 0.35], [1.75, 2.05, 0.2], [0.98, 0.95, 0.35], 0.1, chalk),
      pot([-1.05, 0, -0.6], cup, seeded(lagoon, 27)),
    ],
    table: { y: 0, paint: wood(pale) },
    wall: { z: 3.8, paint: plaster([0.36, 0.43, 0.46]) },
    camera: { from: [0.1, 2.5, -6.3], to: [0.1, 1.08, 0.2], fov: 31, aperture: 0.12, focus: [0.1, 1.1, -0.5] },
    seed: 23,
  },
  {
    ...base,
    name: 'stacked-plates',
    width: 2400,
    height: 1600,
    solids: [0, 1, 2, 3, 4]
      .map((i) =>
        pot([0.9 + (i % 2) * 0.02, i * 0.16, 0.5], plate, seeded([rose, chalk, rose, celadon, chalk][i]!, i + 3)),
      )
      .concat([
        pot([-1.35, 0, -0.1], mug, seeded(rose, 31)),
        handle([-1.72, 0.78, -0.12], [-2.4, 0.6, -0.2], [-1.74, 0.2, -0.12], 0.07, rose),
        pot([-0.35, 0, 1.5], deep, seeded(celadon, 33)),
      ]),
    camera: { from: [-0.2, 2.2, -6], to: [-0.1, 0.55, 0.4], fov: 32, aperture: 0.14, focus: [-0.6, 0.5, -0.2] },
    wall: { z: 4.2, paint: plaster([0.62, 0.58, 0.52]) },
    seed: 29,
  },
];
