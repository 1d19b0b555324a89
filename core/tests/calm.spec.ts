/**
 * A calm place for words: on grounds made by hand, and against the place that is found by trying every one. Contrast by WCAG 2.2
 * (relative luminance; #767676 on white 4.54 : 1, from its understanding documents).
 */
import fc from 'fast-check';
import {
  calmestPlace,
  contrastOn,
  FACE_COVERED,
  faceCovered,
  findings,
  luminances,
  regionOnPage,
  type Pixels,
} from '../src/index';
import { frameOf } from './frames';
import './seed';

/** Pixels of a grey, 0 to 255, or clear where it is null. */
function grounds(width: number, height: number, of: (x: number, y: number) => number | null): Pixels {
  const data = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const v = of(x, y);
      data.set([v ?? 0, v ?? 0, v ?? 0, v === null ? 0 : 255], (y * width + x) * 4);
    }
  return { width, height, data };
}
const chequered = (x: number, y: number): number => ((x + y) % 2 === 0 ? 0 : 255);
const WHITE = { ink: '#ffffff', least: 4.5, behind: '#ffffff' };

test('words go to the dark stretch of a busy picture, wholly into it', () => {
  const picture = grounds(120, 80, (x, y) => (x >= 70 && y >= 40 ? 20 : chequered(x, y)));
  const place = calmestPlace(picture, { width: 36, height: 20 }, WHITE)!;
  expect(place.x).toBeGreaterThanOrEqual(70);
  expect(place.y).toBeGreaterThanOrEqual(40);
  expect(place.x + 36).toBeLessThanOrEqual(120);
  expect(place.y + 20).toBeLessThanOrEqual(80);
});

test('a calm place that is too pale for the ink is passed over, just at 4.5 : 1', () => {
  // Left #767676, on which white has 4.54 : 1, right #777777, on which it has 4.48 : 1.
  const on = (grey: number): ReturnType<typeof calmestPlace> =>
    calmestPlace(
      grounds(60, 40, () => grey),
      { width: 20, height: 10 },
      WHITE,
    );
  expect(on(0x76)).not.toBeNull();
  expect(on(0x77)).toBeNull();
});

test('nothing lies over a face, nor where the picture is clear', () => {
  const picture = grounds(100, 60, (x, y) => (x < 50 ? 10 : y < 30 ? 10 : chequered(x, y)));
  const words = { width: 30, height: 14 };
  const left = calmestPlace(picture, words, { ...WHITE, avoid: [{ x: 50, y: 0, width: 50, height: 60 }] })!;
  expect(left.x + 30).toBeLessThanOrEqual(50);
  const right = calmestPlace(picture, words, { ...WHITE, avoid: [{ x: 0, y: 0, width: 50, height: 60 }] })!;
  expect(right.x).toBeGreaterThanOrEqual(50);
  expect(right.y + 14).toBeLessThanOrEqual(30);
  const round = grounds(100, 100, (x, y) => (Math.hypot(x - 49.5, y - 49.5) < 50 ? 10 : null));
  const inside = calmestPlace(round, { width: 60, height: 20 }, WHITE)!;
  for (const [x, y] of [
    [inside.x, inside.y],
    [inside.x + 59, inside.y + 19],
  ] as const)
    expect(Math.hypot(x - 49.5, y - 49.5)).toBeLessThan(50);
});

test('words that do not fit have no place', () => {
  expect(
    calmestPlace(
      grounds(40, 40, () => 0),
      { width: 41, height: 10 },
      WHITE,
    ),
  ).toBeNull();
});

test('no other place that can be read has less detail', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 255 }), { minLength: 48, maxLength: 48 }), (greys) => {
      // Blocks of six pixels, so that detail is where they meet.
      const picture = grounds(48, 36, (x, y) => greys[Math.floor(y / 6) * 8 + Math.floor(x / 6)]!);
      const words = { width: 14, height: 9 };
      const found = calmestPlace(picture, words, WHITE);
      const lightness = (x: number, y: number): number => {
        const c = picture.data[(y * 48 + x) * 4]! / 255;
        return Math.cbrt(c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);
      };
      const at = (x: number, y: number): { reads: boolean; detail: number } => {
        const own: number[] = [];
        let detail = 0;
        for (let j = y; j < y + 9; j++)
          for (let i = x; i < x + 14; i++) {
            own.push(...picture.data.subarray((j * 48 + i) * 4, (j * 48 + i) * 4 + 4));
            if (i > 0) detail += Math.abs(lightness(i, j) - lightness(i - 1, j));
            if (j > 0) detail += Math.abs(lightness(i, j) - lightness(i, j - 1));
          }
        const sorted = luminances({ data: Uint8ClampedArray.from(own), behind: '#ffffff' });
        return { reads: contrastOn('#ffffff', sorted) >= 4.5, detail };
      };
      // Two pixels off each edge; all places are tried, since there are no more than 32 across and down.
      let least = Infinity;
      for (let y = 2; y <= 36 - 2 - 9; y++)
        for (let x = 2; x <= 48 - 2 - 14; x++) {
          const here = at(x, y);
          if (here.reads) least = Math.min(least, here.detail);
        }
      if (!found) return expect(least).toBe(Infinity);
      const own = at(found.x, found.y);
      expect(own.reads).toBe(true);
      expect(own.detail).toBeCloseTo(least, 4);
    }),
    { numRuns: 15 },
  );
});

test('a face lies on its page as its picture does: cropped, mirrored, turned', () => {
  // A picture of 400 × 200 covers a square of 100 at (10, 20): its middle half is seen, two pixels a point.
  const frame = frameOf(100, 100, { box: { x: 10, y: 20, width: 100, height: 100 } });
  const face = { u: 0.5, v: 0.25, width: 0.125, height: 0.25 };
  const size = { width: 400, height: 200 };
  const on = regionOnPage(frame, face, size);
  expect([on.x, on.y, on.width, on.height].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([60, 45, 25, 25]);
  const mirrored = regionOnPage({ ...frame, placement: { ...frame.placement, mirror: true } }, face, size);
  expect(mirrored.x).toBeCloseTo(35);
  const turned = regionOnPage({ ...frame, turn: 180 }, face, size);
  expect([turned.x, turned.y]).toEqual([expect.closeTo(35), expect.closeTo(70)]);
});

test('words that cover a face, and words that cannot be read, are told: of each the worst', () => {
  const face = { x: 0, y: 0, width: 40, height: 40 };
  expect(faceCovered({ x: 20, y: 20, width: 100, height: 10 }, [face])).toBeCloseTo((20 * 10) / 1600);
  expect(faceCovered({ x: 50, y: 0, width: 10, height: 10 }, [face])).toBe(0);
  const facts = { pixels: null, orientation: 1 };
  const words = (contrast: number, least: number, share: number, text: string): object => ({
    ...{ words: text, contrast, least, face: share },
  });
  const all = findings(frameOf(300, 200), {
    ...facts,
    words: [
      words(4.4, 4.5, 0, 'nearly'),
      words(2, 3, 0.1, 'worst'),
      words(9, 4.5, FACE_COVERED, 'beside'),
      words(9, 4.5, 0.5, 'over it'),
    ] as NonNullable<Parameters<typeof findings>[1]['words']>,
  });
  expect(all.filter((f) => f.code === 'hard-to-read')).toEqual([
    { code: 'hard-to-read', words: 'worst', contrast: 2, least: 3 },
  ]);
  expect(all.filter((f) => f.code === 'over-face')).toEqual([{ code: 'over-face', words: 'over it', percent: 50 }]);
  expect(findings(frameOf(300, 200), facts).map((f) => f.code)).not.toContain('hard-to-read');
});
