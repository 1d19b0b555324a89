/**
 * How wide pictures are told to be (HTML §4.8.4.2.2, sizes; §4.8.4.3.9, parsing a sizes attribute): read by rules of the standard
 * written down here again, and compared with what is drawn in windows of every width.
 */
import fc from 'fast-check';
import { CENTRED, copyWidths, drawnIn, FULL_SEAT, sizesOf, type Frame } from '@gable/core';

const WINDOWS = [320, 360, 390, 480, 600, 768, 900, 1024, 1180, 1280, 1440, 1680, 1920, 2240, 2560];

/** A length of CSS in a window: px, vw, or a sum of both in `calc()`. */
function length(text: string, window: number): number {
  const terms = text.replace(/^calc\((.*)\)$/, '$1');
  let sum = 0;
  for (const [, sign, value, unit] of terms.matchAll(/(?:(^|[+-]) ?)?(-?[\d.]+)(px|vw)/g))
    sum += (sign === '-' ? -1 : 1) * Number(value) * (unit === 'vw' ? window / 100 : 1);
  return sum;
}
/** The first part whose condition holds; the last has none. */
function told(sizes: string, window: number): number {
  for (const part of sizes.split(', ')) {
    const [, most, value] = /^(?:\(max-width: (\d+)px\) )?(.*)$/.exec(part)!;
    if (most === undefined || window <= Number(most)) return length(value!, window);
  }
  throw new Error('no part holds');
}

test('of one width, of a share of the window, of a column with margins, and of two layouts', () => {
  const of = (width: (window: number) => number): string =>
    sizesOf(WINDOWS.map((window) => ({ window, width: width(window) })));
  expect(of(() => 300)).toBe('300px');
  expect(of((w) => w)).toBe('100vw');
  expect(of((w) => w - 32)).toBe('calc(100vw - 32px)');
  expect(of((w) => Math.min(720, w - 40))).toMatch(/^\(max-width: 768px\) calc\(\S+vw - \S+px\), 720px$/);
  expect(of((w) => (w <= 600 ? w : w / 3))).toBe('(max-width: 600px) 100vw, 33.33vw');
});

test('in every window that was measured, about what is drawn', () => {
  const layouts = fc.record({
    narrow: fc.double({ min: 0.2, max: 1, noNaN: true }),
    wide: fc.double({ min: 0.05, max: 1, noNaN: true }),
    most: fc.double({ min: 200, max: 1600, noNaN: true }),
    margin: fc.integer({ min: 0, max: 80 }),
    leap: fc.constantFrom(...WINDOWS),
  });
  fc.assert(
    fc.property(layouts, ({ narrow, wide, most, margin, leap }) => {
      const drawn = WINDOWS.map((window) => ({
        window,
        width: Math.min(most, (window <= leap ? narrow : wide) * window - margin * 0.2),
      }));
      const sizes = sizesOf(drawn);
      for (const { window, width } of drawn) {
        expect(told(sizes, window)).toBeGreaterThan(width * 0.97);
        expect(told(sizes, window)).toBeLessThan(width * 1.06 + 1);
      }
    }),
  );
});

test('copies: no wider than the picture or than any screen needs, and for every need one that wastes less than half', () => {
  const cases = fc.record({
    natural: fc.integer({ min: 50, max: 12_000 }),
    least: fc.integer({ min: 40, max: 900 }),
    more: fc.integer({ min: 0, max: 2500 }),
  });
  fc.assert(
    fc.property(cases, ({ natural, least, more }) => {
      const drawn = [
        { window: 320, width: least },
        { window: 2560, width: least + more },
      ];
      const { copies, self } = copyWidths(drawn, natural);
      const all = [...copies, ...(self ? [natural] : [])];
      expect(all.length).toBeGreaterThan(0);
      expect(Math.max(...all)).toBeLessThanOrEqual(natural);
      expect(copies).toEqual(copies.toSorted((a, b) => b - a));
      for (let need = least; need <= Math.min(natural, 2 * (least + more)); need += 37) {
        const enough = all.filter((w) => w >= need - 1);
        expect(enough.length).toBeGreaterThan(0);
        // Below the sixth copy there are none.
        if (copies.length < 6) expect(Math.min(...enough)).toBeLessThanOrEqual(need * 1.5 + 2);
      }
    }),
  );
});

test('drawn: a picture that covers its box is wider than that where its ratio is, closer by its zoom, and smaller where it is contained', () => {
  const frame: Frame = {
    ...{
      n: 1,
      flow: 'inline',
      box: { x: 0, y: 0, width: 300, height: 100 },
      turn: 0,
      flip: { horizontal: false, vertical: false },
    },
    ...{ seat: FULL_SEAT, shape: { name: 'rectangle', knobs: {} }, placement: CENTRED },
    ...{ backing: null, outline: null, shadow: null, alt: '' },
  };
  const picture = { width: 1500, height: 1000 };
  const width = (f: Frame, box: { width: number; height: number }): number =>
    drawnIn(f, picture, { window: 390, ...box }).width;
  expect(width(frame, { width: 300, height: 100 })).toBeCloseTo(300, 6);
  expect(width(frame, { width: 300, height: 400 })).toBeCloseTo(600, 6);
  const placed = (part: Partial<Frame['placement']>): Frame => ({ ...frame, placement: { ...CENTRED, ...part } });
  expect(width(placed({ zoom: 1.5 }), { width: 300, height: 400 })).toBeCloseTo(900, 6);
  expect(width(placed({ fit: 'contain' }), { width: 300, height: 400 })).toBeCloseTo(300, 6);
});
