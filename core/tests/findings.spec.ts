import {
  effectivePpi,
  findings,
  findSubject,
  mended,
  placementFromCrop,
  type Pixels,
  CENTRED,
  remedy,
  solidOutline,
  type Frame,
} from '../src/index';
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

  test('an outline that is another shape is told until there is a real one', () => {
    const facts = { pixels: photo, orientation: 1, faked: { weight: 5, colour: '#c9b48c' } };
    const frame = frameOf(300, 200, { alt: 'x' });
    const [f] = findings(frame, facts);
    expect(f).toEqual({ code: 'faked-outline', weight: 5, colour: '#c9b48c' });
    const real = remedy(f!, frame, facts)!;
    expect(real.outline).toEqual({ ...solidOutline(5, '#c9b48c'), side: 'outside' });
    expect(findings(real, facts).map((g) => g.code)).not.toContain('faked-outline');
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
    expect(codes(frameOf(300, 200, { alt: 'x', shape: { name: 'preset:swooshArrow', knobs: {} } }))).toEqual([
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
    await expect(findSubject(scene(4, 4, 0.5, 0.5, 1))).resolves.toEqual({ u: 0.5, v: 0.5, guessed: true });
  });

  const size = { width: 3000, height: 2000 };
  const facts = { pixels: size, orientation: 1 };
  const named = (name: string, more: Partial<Frame> = {}): Frame =>
    frameOf(100, 100, { alt: 'x', shape: { name, knobs: {} }, ...more });

  test('soft tells the largest size at 150 and at 300 ppi (common practice)', () => {
    const soft = findings(frameOf(360, 240, { alt: 'x' }), { pixels: { width: 600, height: 400 }, orientation: 1 });
    // 600 px at 150 to the inch are 4 in, at 300 two.
    expect(soft[0]).toMatchObject({
      code: 'soft',
      goodWidth: expect.closeTo(288, 6),
      bestWidth: expect.closeTo(144, 6),
    });
  });

  test('what the author placed here is not said to lie off-centre', () => {
    const off = named('circle', { placement: { ...CENTRED, zoom: 3, aim: { u: 0.2, v: 0.5 } } });
    const facts = { pixels: { width: 3000, height: 2000 }, orientation: 1, subject: { u: 0.5, v: 0.5 } };
    const codes = (placed: boolean): string[] => findings(off, { ...facts, placed }).map((f) => f.code);
    expect([codes(false), codes(true)]).toEqual([['off-centre'], []]);
  });

  const line = (colour: string, weight = 3) => ({ ...solidOutline(weight, colour), join: 'round' as const });
  test.each([
    ['empty-corner', named('circle', { placement: { ...CENTRED, fit: 'contain', zoom: 0.8 } }), {}],
    ['keep-cut', named('circle', { keep: [{ u: 0.1, v: 0.1, width: 0.3, height: 0.3 }] }), {}],
    [
      'off-centre',
      named('circle', { placement: { ...CENTRED, zoom: 3, aim: { u: 0.2, v: 0.5 } } }),
      { subject: { u: 0.5, v: 0.5 } },
    ],
    ['hairline', named('circle', { outline: line('#000000', 0.25) }), {}],
    ['faint-outline', named('circle', { outline: line('#e8e8e8') }), { rim: '#d8d8d8', page: '#ffffff' }],
    ['distorted', named('circle', { placement: { ...CENTRED, distortion: 1.1 } }), {}],
    ['egg', frameOf(100, 92, { alt: 'x', shape: { name: 'ellipse', knobs: {} } }), {}],
  ] as const)('%s is found, and its remedy leaves nothing of it', (code, frame, more) => {
    const all = { ...facts, ...more };
    const [found] = findings(frame, all).filter((f) => f.code === code);
    expect(found).toBeDefined();
    const better = remedy(found!, frame, all)!;
    expect(findings(better, all).map((f) => f.code)).not.toContain(code);
  });

  test('nothing is said of a good frame, of a strong outline, or of a backing that is wanted', () => {
    const good = named('circle', { outline: line('#22302f'), keep: [{ u: 0.45, v: 0.4, width: 0.1, height: 0.2 }] });
    expect(findings(good, { ...facts, rim: '#d8d8d8', page: '#ffffff', subject: { u: 0.5, v: 0.5 } })).toEqual([]);
    const backed = named('circle', {
      placement: { ...CENTRED, fit: 'contain', zoom: 0.8 },
      backing: { kind: 'solid', colour: '#ffffff', opacity: 1 },
    });
    expect(findings(backed, facts)).toEqual([]);
  });

  test('a subject at the rim of its picture cannot come to the middle, and is not complained of', () => {
    const f = named('circle', { placement: { ...CENTRED, aim: { u: 0, v: 0.5 } } });
    expect(findings(f, { ...facts, subject: { u: 0.02, v: 0.5 } }).map((x) => x.code)).not.toContain('off-centre');
  });

  test('what a person must decide has no remedy', () => {
    for (const code of ['soft', 'no-alt-text', 'unknown-shape'] as const)
      expect(remedy({ code }, named('circle'), facts)).toBeNull();
  });
});
