import { converter, differenceEuclidean, formatHex } from 'culori';
import fc from 'fast-check';
import {
  bounds,
  changesPixels,
  colourDistance,
  contrast,
  findShape,
  fromOklab,
  ownTone,
  paletteOf,
  readableColour,
  rimColour,
  toneColour,
  tonePixels,
  toneSteps,
  toOklab,
  type Given,
  type Pixels,
  type Tone,
} from '../src/index';

const light = (more: object): Tone => ({ light: { brightness: 0, contrast: 0, bright: 0, dark: 0, ...more } });
const colour = (more: object): Tone => ({ colour: { amount: 1, warmth: 0, tint: 0, only: null, ...more } });
const hex = fc.integer({ min: 0, max: 0xffffff }).map((v) => `#${v.toString(16).padStart(6, '0')}`);
const one = (h: string): Pixels => ({
  width: 1,
  height: 1,
  data: Uint8ClampedArray.from([1, 3, 5].map((i) => parseInt(h.slice(i, i + 2), 16)).concat(255)),
});

describe('tone', () => {
  test('brightness and contrast are the transfer functions of Filter Effects 1 §13', () => {
    expect(toneColour(light({ brightness: 0.5 }), '#404040')).toBe('#606060');
    expect(toneColour(light({ brightness: -1 }), '#a0b0c0')).toBe('#000000');
    // slope 1.5, intercept −0.25: 0x40/255 → 0.1265 → 0x20
    expect(toneColour(light({ contrast: 0.5 }), '#404040')).toBe('#202020');
    expect(toneColour(light({ contrast: -1 }), '#123456')).toBe('#808080');
  });

  test('bright and dark parts move their own end most, and neither black nor white', () => {
    const at = (more: object, h: string): number => parseInt(toneColour(light(more), h).slice(1, 3), 16);
    expect([at({ bright: 1 }, '#000000'), at({ bright: 1 }, '#ffffff')]).toEqual([0, 255]);
    expect(at({ bright: 1 }, '#aaaaaa') - 0xaa).toBeGreaterThan(30);
    expect(at({ bright: 1 }, '#333333') - 0x33).toBeLessThan(12);
    expect(at({ dark: 1 }, '#555555') - 0x55).toBeGreaterThan(30);
    expect(at({ dark: -1 }, '#cccccc') - 0xcc).toBeGreaterThan(-12);
  });

  test('tone curves never turn back: lighter stays lighter', () => {
    const signed = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(signed, signed, signed, (bright, dark, brightness) => {
        const tone = light({ bright, dark, brightness });
        let last = -1;
        for (let v = 0; v < 256; v += 5) {
          const now = parseInt(toneColour(tone, `#${v.toString(16).padStart(2, '0').repeat(3)}`).slice(1, 3), 16);
          if (now < last) return false;
          last = now;
        }
        return true;
      }),
      { numRuns: 40 },
    );
  });

  test('no colour left is the luma of feColorMatrix saturate (Filter Effects 1 §9.6)', () => {
    expect(toneColour(colour({ amount: 0 }), '#ff0000')).toBe('#363636');
    expect(toneColour(colour({ amount: 0 }), '#00ff00')).toBe('#b6b6b6');
    expect(toneColour(colour({ amount: 1 }), '#123456')).toBe('#123456');
  });

  test('warmth and tint leave the luma of a grey', () => {
    for (const more of [{ warmth: 1 }, { warmth: -1 }, { tint: 1 }, { tint: -0.5, warmth: 0.4 }]) {
      const c = toneColour(colour(more), '#808080');
      expect(toneColour(colour({ amount: 0 }), c)).toBe('#808080');
      expect(c).not.toBe('#808080');
    }
  });

  test('two colours only: black becomes the dark one, white the light one', () => {
    const t = colour({ only: ['#22302f', '#f4f0e7'] });
    expect([toneColour(t, '#000000'), toneColour(t, '#ffffff')]).toEqual(['#22302f', '#f4f0e7']);
    expect(toneColour(colour({ only: ['#b5482a'] }), '#808080').slice(1, 3) > 'a0').toBe(true);
  });

  test('pixels are toned as colours are, within a level, whatever the tone', () => {
    const s = fc.double({ min: -1, max: 1, noNaN: true });
    const tones = fc.record({
      light: fc.record({ brightness: s, contrast: s, bright: s, dark: s }),
      colour: fc.record({
        amount: fc.double({ min: 0, max: 2, noNaN: true }),
        warmth: s,
        tint: s,
        only: fc.constantFrom(null, ['#22302f', '#f4f0e7'] as string[]),
      }),
    });
    let sum = 0;
    let n = 0;
    fc.assert(
      fc.property(tones, hex, (tone, h) => {
        const { data } = tonePixels(one(h), tone, { x: 0, y: 0 });
        const want = one(toneColour(tone, h)).data;
        const off = Math.max(...[0, 1, 2].map((i) => Math.abs(data[i]! - want[i]!)));
        sum += off;
        n++;
        return off <= 1;
      }),
      { numRuns: 25 },
    );
    expect(sum / n).toBeLessThan(1);
  });

  describe('what a file gave (no standard has the sums: common practice)', () => {
    const given = (more: Given): Tone => ({ given: more });
    test.each<[string, Given, string, string]>([
      ['added light', { lift: 0.2 }, '#405060', '#738393'],
      ['held to white', { lift: 0.5 }, '#c0c0c0', '#ffffff'],
      ['contrast 0: all grey', { contrast: -1 }, '#123456', '#808080'],
      // 2 · (96 − 127.5) + 127.5 = 64.5
      ['contrast of a half doubles the way from the middle', { contrast: 0.5 }, '#605040', '#412101'],
      // 0.3 · (0 − ½) + ½ + 0.36 = 0.71: black behind text, where white stays white.
      ['a watermark', { contrast: -0.7, lift: 0.36 }, '#000000', '#b5b5b5'],
      ['a watermark’s white', { contrast: -0.7, lift: 0.35 }, '#ffffff', '#ffffff'],
      ['more red, less blue', { channels: [0.2, 0, -0.2] }, '#808080', '#b3804d'],
      // ½ to the power of 1/2
      ['gamma 2', { gamma: 2 }, '#808080', '#b5b5b5'],
      ['a negative', { inverted: true }, '#102030', '#efdfcf'],
      ['below the threshold', { threshold: 0.5 }, '#7f7f7f', '#000000'],
      ['from the threshold on', { threshold: 0.5 }, '#818181', '#ffffff'],
      // Luma of pure green is 0.715 (Filter Effects 1 §9.6).
      ['green is lighter than red', { threshold: 0.6 }, '#00ff00', '#ffffff'],
      ['red is darker than green', { threshold: 0.6 }, '#ff0000', '#000000'],
    ])('%s', (_, more, from, to) => {
      expect(toneColour(given(more), from)).toBe(to);
      expect([...tonePixels(one(from), given(more), { x: 0, y: 0 }).data]).toEqual([...one(to).data]);
    });

    test('one colour becomes another one or clear, its rim in part, and all others stay', () => {
      const swap = { from: '#ffffff', to: '#ff0000', opacity: 1 };
      const done = (h: string, more: object = {}): number[] => [
        ...tonePixels(one(h), given({ swap: { ...swap, ...more } }), { x: 0, y: 0 }).data,
      ];
      expect(done('#ffffff')).toEqual([255, 0, 0, 255]);
      expect(done('#fcfcfc')).toEqual([255, 0, 0, 255]);
      expect(done('#e0e0e0')).toEqual([0xe0, 0xe0, 0xe0, 255]);
      expect(done('#ffffff', { opacity: 0 })).toEqual([255, 255, 255, 0]);
      const [r, , , alpha] = done('#f1f1f1', { opacity: 0 });
      expect(r).toBe(0xf1);
      expect(alpha).toBeGreaterThan(60);
      expect(alpha).toBeLessThan(190);
      expect(changesPixels(given({ swap }))).toBe(true);
    });

    test('a tone is its own without it', () => {
      expect(ownTone(given({ lift: 0.2 }))).toBeUndefined();
      expect(ownTone({ ...given({ lift: 0.2 }), ...light({ bright: 1 }) })).toEqual(light({ bright: 1 }));
      expect(ownTone(undefined)).toBeUndefined();
    });
  });

  test('a tone at rest has no steps', () => expect(toneSteps({ ...light({}), ...colour({}) })).toEqual([]));

  test('blur is a Gaussian: an edge softens by its error function, and the sum stays (Filter Effects 1 §9.14)', () => {
    const width = 200;
    const data = new Uint8ClampedArray(width * 4 * 4);
    for (let y = 0; y < 4; y++)
      for (let x = 0; x < width; x++) data.set(x < 100 ? [0, 0, 0, 255] : [255, 255, 255, 255], (y * width + x) * 4);
    for (const sigma of [1, 5, 12]) {
      const out = tonePixels({ width, height: 4, data }, { softness: { blur: 1 } }, { x: sigma, y: 0 });
      const at = (x: number): number => out.data[x * 4]! / 255;
      // Φ(1) = 0.8413 a standard deviation from the edge (handbook). Three boxes come within 0.03.
      // The middle of pixel x lies at x + ½.
      expect(Math.abs((at(99 + sigma) + at(100 + sigma)) / 2 - 0.8413)).toBeLessThan(0.03);
      expect(at(0)).toBe(0);
      expect(at(199)).toBe(1);
    }
  });
});

describe('colours', () => {
  const oklab = converter('oklab');
  test('OKLab is culori’s', () => {
    fc.assert(
      fc.property(hex, (h) => {
        const a = toOklab(h);
        const b = oklab(h)!;
        return Math.max(Math.abs(a.l - b.l), Math.abs(a.a - b.a), Math.abs(a.b - b.b)) < 1e-4 && fromOklab(a) === h;
      }),
    );
    expect(formatHex({ mode: 'oklab', ...toOklab('#b5482a') })).toBe('#b5482a');
    expect(colourDistance('#b5482a', '#2b6a73')).toBeCloseTo(differenceEuclidean('oklab')('#b5482a', '#2b6a73'), 3);
  });

  const board = (colours: string[]): Pixels => {
    const data = new Uint8ClampedArray(64 * 64 * 4);
    for (let i = 0; i < 4096; i++) data.set(one(colours[Math.floor((i % 64) / (64 / colours.length))]!).data, i * 4);
    return { width: 64, height: 64, data };
  };

  test('a palette finds the colours that are there, most frequent first', () => {
    const p = paletteOf(board(['#b5482a', '#b5482a', '#2b6a73', '#f4f0e7']), 6);
    expect(p.map((s) => s.colour)).toEqual(['#b5482a', expect.any(String), expect.any(String)]);
    expect(new Set(p.map((s) => s.colour))).toEqual(new Set(['#b5482a', '#2b6a73', '#f4f0e7']));
    expect(p[0]!.share).toBeCloseTo(0.5, 2);
    expect(paletteOf({ width: 2, height: 1, data: new Uint8ClampedArray(8) })).toEqual([]);
  });

  test('the nearest colour that reads reaches 3 : 1 (WCAG 2.2 SC 1.4.11) and keeps its hue', () => {
    for (const [wish, ground] of [
      ['#d0d0d0', '#ffffff'],
      ['#b5482a', '#8a3a20'],
      ['#445566', '#22302f'],
    ] as const) {
      const c = readableColour(wish, [ground])!;
      expect(contrast(c, ground)).toBeGreaterThanOrEqual(3);
      const [p, q] = [toOklab(wish), toOklab(c)];
      if (Math.hypot(p.a, p.b) > 0.03 && Math.hypot(q.a, q.b) > 0.02)
        expect(Math.abs(Math.atan2(p.b, p.a) - Math.atan2(q.b, q.a))).toBeLessThan(0.25);
    }
    expect(readableColour('#000000', ['#ffffff'])).toBe('#000000');
    // Against black, white and the grey between no colour reaches 7 : 1.
    expect(readableColour('#808080', ['#000000', '#ffffff', '#808080'], 7)).toBeNull();
  });

  test('the rim of a circle is seen where it runs', () => {
    const pixels = board(['#ff0000', '#ff0000', '#0000ff', '#0000ff']);
    const path = findShape('circle')!.path(20, 20, {});
    expect(rimColour(pixels, path, (x, y) => ({ x: x + 2, y }))).toBe('#ff0000');
    expect(rimColour(pixels, path, (x, y) => ({ x: x + 500, y }))).toBeNull();
    expect(bounds(path).width).toBe(20);
  });
});
