import {
  followColours,
  maskBounds,
  maskFollowing,
  overlap,
  SEED,
  seedsOf,
  tidied,
  withStrokes,
  type Mask,
  type Pixels,
} from '../src/index';

const mask = (rows: readonly string[]): Mask => ({
  width: rows[0]!.length,
  height: rows.length,
  data: Uint8Array.from([...rows.join('')].map((c) => (c === '#' ? 255 : 0))),
});
const pixels = (width: number, height: number, grey: (x: number, y: number) => number): Pixels => {
  const data = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) data.set([grey(x, y), grey(x, y), grey(x, y), 255], (y * width + x) * 4);
  return { width, height, data };
};

describe('masks', () => {
  test('specks and pinholes go, what was painted stays', () => {
    const rows = Array.from({ length: 40 }, (_, y) =>
      Array.from({ length: 40 }, (_, x) =>
        (x > 10 && x < 30 && y > 10 && y < 30 && !(x === 20 && y === 20)) || (x === 2 && y === 2) ? '#' : '.',
      ).join(''),
    );
    const at = ({ data }: Mask, x: number, y: number): number => data[y * 40 + x]!;
    const tidy = tidied(mask(rows));
    expect([at(tidy, 2, 2), at(tidy, 20, 20), at(tidy, 15, 15)]).toEqual([0, 255, 255]);
    const painted = tidied(mask(rows), (i) => i === 2 * 40 + 2 || i === 20 * 40 + 20);
    expect([at(painted, 2, 2), at(painted, 20, 20)]).toEqual([255, 0]);
  });

  test('bounds and overlap (intersection over union)', () => {
    const a = mask(['....', '.##.', '.##.', '....']);
    expect(maskBounds(a)).toEqual({ u: 0.25, v: 0.25, width: 0.5, height: 0.5 });
    expect(maskBounds(mask(['..', '..']))).toBeNull();
    expect(overlap(a, mask(['....', '..##', '..##', '....']))).toBeCloseTo(2 / 6, 9);
  });
});

describe('the guided filter', () => {
  test('on an even picture it is the mean of the mask, twice (He, Sun and Tang, 2013: a = 0, b the mean)', () => {
    const edge: Mask = { width: 40, height: 40, data: new Uint8Array(1600).map((_, i) => (i % 40 < 20 ? 0 : 255)) };
    const even = pixels(40, 40, () => 120);
    const out = maskFollowing(followColours(edge, even, 2, 1e-4), even);
    // A box of five columns over a step, twice: a ramp over ten columns, 1/25 at its foot.
    const row = Array.from(out.data.subarray(20 * 40 + 14, 20 * 40 + 26));
    expect(row[0]).toBe(0);
    expect(row.at(-1)).toBe(255);
    expect(row[2]).toBeCloseTo(255 / 25, -0.5);
    for (let i = 1; i < row.length; i++) expect(row[i]!).toBeGreaterThanOrEqual(row[i - 1]!);
  });

  test('where the picture has an edge, the edge of the mask is the picture’s, also at twice the size', () => {
    // The mask is three pixels off.
    const edge: Mask = { width: 60, height: 40, data: new Uint8Array(2400).map((_, i) => (i % 60 < 33 ? 0 : 255)) };
    const step =
      (at: number) =>
      (x: number): number =>
        x < at ? 40 : 210;
    const follow = followColours(edge, pixels(60, 40, step(30)), 8, 1e-4);
    const crossing = ({ width, data }: Mask): number =>
      data.subarray(10 * width, 11 * width).findIndex((v) => v >= 128);
    expect(crossing(maskFollowing(follow, pixels(60, 40, step(30))))).toBe(30);
    expect(crossing(maskFollowing(follow, pixels(120, 80, step(60))))).toBe(60);
  });
});

describe('where a search begins', () => {
  const scene = pixels(160, 120, () => 200);

  test('in a person below and round a face: the face is sure, what lies far from it is background', () => {
    const seeds = seedsOf(scene, { faces: [{ u: 0.4, v: 0.3, width: 0.15, height: 0.25, score: 0.9 }] });
    const at = (u: number, v: number): number => seeds.data[Math.floor(v * 120) * 160 + Math.floor(u * 160)]!;
    expect(at(0.475, 0.42)).toBe(SEED.subject);
    expect(at(0.475, 0.95)).toBe(SEED.maybeSubject);
    expect(at(0.475, 0.24)).toBe(SEED.maybeSubject);
    expect(at(0.02, 0.1)).toBe(SEED.background);
  });

  test('in a box that was given, and nowhere else', () => {
    const seeds = seedsOf(scene, { faces: [], region: { u: 0.25, v: 0.25, width: 0.5, height: 0.5 } });
    expect(seeds.data.filter((s) => s === SEED.maybeSubject)).toHaveLength(80 * 60);
    expect(seeds.data.filter((s) => s === SEED.background)).toHaveLength(160 * 120 - 80 * 60);
  });

  test('strokes are as wide as they are said to be (a capsule: π r² + 2 r l)', () => {
    const seeds = seedsOf(scene, { faces: [], region: { u: 0, v: 0, width: 1, height: 1 } });
    const stroke = {
      brush: 'background' as const,
      size: 0.1,
      points: [
        { u: 0.25, v: 0.5 },
        { u: 0.75, v: 0.5 },
      ],
    };
    const painted = withStrokes(seeds, [stroke]).data.filter((s) => s === SEED.background).length;
    expect(painted / (Math.PI * 64 + 16 * 80)).toBeCloseTo(1, 1);
  });
});
