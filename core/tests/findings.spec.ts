import { effectivePpi, findings, findSubject, mended, placementFromCrop, type Pixels } from '../src/index';
import { frameOf } from './frames';

const photo = { width: 3000, height: 2000 };
const codes = (
  frame = frameOf(300, 200, { alt: 'x' }),
  pixels: typeof photo | null = photo,
  orientation = 1,
): string[] => findings(frame, { pixels, orientation }).map((f) => f.code);

describe('findings', () => {
  test('a good frame has none', () => {
    expect(codes()).toEqual([]);
  });

  test('distortion is told from 0.5 %, with how much', () => {
    const squashed = (by: number): ReturnType<typeof frameOf> =>
      frameOf(300, 200, {
        alt: 'x',
        placement: {
          ...placementFromCrop({ left: 0, top: 0, right: 0, bottom: 0 }, { width: 300, height: 200 }, photo),
          distortion: by,
        },
      });
    expect(codes(squashed(1.004))).toEqual([]);
    const [f] = findings(squashed(0.8), { pixels: photo, orientation: 1 });
    expect(f).toMatchObject({ code: 'distorted', distortion: 0.8 });
    expect(f!['percent']).toBeCloseTo(25, 9);
    expect(codes(mended(squashed(0.8), photo))).toEqual([]);
  });

  test('300 px on one inch are 300 ppi; below 150 a picture is soft (common practice)', () => {
    expect(effectivePpi(frameOf(72, 72), { width: 300, height: 300 })).toBeCloseTo(300, 9);
    expect(codes(frameOf(72, 72, { alt: 'x' }), { width: 151, height: 151 })).toEqual([]);
    const [f] = findings(frameOf(144, 144, { alt: 'x' }), { pixels: { width: 150, height: 150 }, orientation: 1 });
    expect(f).toMatchObject({ code: 'soft', goodWidth: 72, goodHeight: 72 });
  });

  test('an ellipse within 12 % of round is an egg; a circle and a clear oval are not', () => {
    const ellipse = (w: number, h: number): string[] =>
      codes(frameOf(w, h, { alt: 'x', shape: { name: 'ellipse', knobs: {} } }));
    expect(ellipse(100, 108)).toEqual(['egg']);
    expect(ellipse(100, 130)).toEqual([]);
    expect(codes(frameOf(100, 100, { alt: 'x', shape: { name: 'circle', knobs: {} } }))).toEqual([]);
  });

  test('turned storage, missing texts and unknown shapes', () => {
    expect(codes(undefined, photo, 6)).toEqual(['sideways']);
    expect(codes(frameOf(300, 200, { alt: ' ' }))).toEqual(['no-alt-text']);
    expect(codes(frameOf(300, 200, { alt: 'x', shape: { name: 'preset:star5', knobs: {} } }))).toEqual([
      'unknown-shape',
    ]);
  });

  test('where the pixels are unknown nothing is made up about them', () => {
    expect(codes(frameOf(3000, 2000, { alt: '' }), null)).toEqual(['no-alt-text']);
  });
});

describe('the subject', () => {
  /** Grey, with a disc the colour of skin. */
  function scene(width: number, height: number, x: number, y: number, r: number): Pixels {
    const data = new Uint8ClampedArray(width * height * 4);
    for (let j = 0; j < height; j++)
      for (let i = 0; i < width; i++) {
        const inside = Math.hypot(i - x * width, j - y * height) < r;
        data.set(inside ? [224, 160, 122, 255] : [150, 152, 155, 255], (j * width + i) * 4);
      }
    return { width, height, data };
  }

  test.each([
    [0.25, 0.5],
    [0.75, 0.5],
    [0.3, 0.35],
  ])('is found where a face is (%d across, %d down)', async (u, v) => {
    const found = await findSubject(scene(360, 240, u, v, 34));
    expect(Math.abs(found.u - u)).toBeLessThan(0.15);
    expect(Math.abs(found.v - v)).toBeLessThan(0.2);
  });

  test('a picture too small to look at gives its middle', async () => {
    await expect(findSubject(scene(4, 4, 0.5, 0.5, 1))).resolves.toEqual({ u: 0.5, v: 0.5 });
  });
});
