import {
  aimAt,
  faceSubject,
  findSubject,
  foremost,
  withShape,
  withSharpness,
  type Face,
  type Pixels,
  type Size,
} from '../src/index';
import { frameOf } from './frames';

const face = (u: number, v: number, width: number, height = width): Face => ({ u, v, width, height, score: 0.9 });

/** A picture of plain ground with what is drawn on it. */
function picture(width: number, height: number, draw: (x: number, y: number) => [number, number, number]): Pixels {
  const data = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) data.set([...draw(x, y), 255], (y * width + x) * 4);
  return { width, height, data };
}

/** Numbers that look random, always the same. */
const grain = (x: number, y: number): number => ((Math.sin(x * 12.9898 + y * 78.233) * 43758.5453) % 1) * 20;

describe('what a picture is about', () => {
  test('one thing on a plain ground: its centre of gravity, wherever it is', async () => {
    for (const [cx, cy] of [
      [60, 50],
      [120, 70],
    ] as const) {
      const disc = picture(192, 128, (x, y) =>
        Math.hypot(x - cx, y - cy) < 30 ? [180, 60, 40] : [200 + grain(x, y), 200, 190],
      );
      const subject = await findSubject(disc);
      expect(subject.guessed).toBeUndefined();
      expect(Math.abs(subject.u - cx / 192)).toBeLessThan(0.02);
      expect(Math.abs(subject.v - cy / 128)).toBeLessThan(0.02);
    }
  });

  test('a sky, a chequered cloth and a field of dots have none: the point is a guess', async () => {
    const sky = picture(192, 128, (x, y) => [90 + y, 140 + y / 2, 220 + grain(x, y) / 4]);
    const cloth = picture(192, 128, (x, y) => (((x >> 3) + (y >> 3)) % 2 === 0 ? [200, 60, 50] : [240, 235, 220]));
    const dots = picture(192, 128, (x, y) => (x % 24 < 6 && y % 24 < 6 ? [220, 190, 40] : [60, 120, 50 + grain(x, y)]));
    for (const pixels of [sky, cloth, dots]) expect((await findSubject(pixels)).guessed).toBe(true);
  });

  test('faces come before all that stands out', async () => {
    const disc = picture(192, 128, (x, y) => (Math.hypot(x - 150, y - 60) < 30 ? [180, 60, 40] : [200, 200, 190]));
    const subject = await findSubject(disc, [face(0.1, 0.2, 0.2, 0.3)]);
    expect([subject.u, subject.v]).toEqual([0.2, 0.35]);
  });

  test('of two alike the one in focus comes first; one far out of focus does not count', () => {
    // Stripes as fine as the features of a face, and the same smoothed over a tenth of it.
    const two = picture(256, 128, (x) => {
      const l = x < 128 ? ((x >> 2) % 2) * 200 : 100 + 60 * Math.sin(x / 14);
      return [l, l, l];
    });
    const [sharp, soft] = withSharpness([face(0.1, 0.2, 0.3, 0.6), face(0.6, 0.2, 0.3, 0.6)], two) as [Face, Face];
    expect(sharp.sharpness!).toBeGreaterThan(4 * soft.sharpness!);
    expect(foremost([soft, sharp])).toEqual([sharp]);
    // Without any measure both count.
    expect(foremost([face(0.1, 0.2, 0.3), face(0.6, 0.2, 0.3)])).toHaveLength(2);
  });

  test('small faces far behind do not count', () => {
    const [big, small] = [face(0.4, 0.2, 0.3, 0.45), face(0.02, 0.1, 0.05, 0.07)];
    expect(foremost([small, big])).toEqual([big]);
    expect(faceSubject([])).toBeNull();
  });
});

describe('several faces', () => {
  const size: Size = { width: 1800, height: 600 };
  const three = [face(0.05, 0.3, 0.1, 0.3), face(0.2, 0.3, 0.1, 0.3), face(0.85, 0.3, 0.1, 0.3)];

  test('all of them are in the middle where the frame can hold them', () => {
    const wide = frameOf(300, 100);
    expect(aimAt(faceSubject(three)!, wide, size).u).toBeCloseTo((0.05 + 0.95) / 2, 6);
  });

  test('else the largest group beside each other that it can', () => {
    const round = withShape(frameOf(300, 100), { name: 'circle', knobs: {} }, size);
    // A third of the width is seen: the first two faces, from 0.05 to 0.3.
    const aim = aimAt(faceSubject(three)!, round, size);
    expect(aim.u).toBeCloseTo(0.175, 6);
    const tall = { ...round, placement: { ...round.placement, zoom: 3 } };
    // Closer still there is room for one.
    const one = aimAt(faceSubject(three)!, tall, size).u;
    expect(three.some((f) => Math.abs(f.u + f.width / 2 - one) < 1e-6)).toBe(true);
  });
});
