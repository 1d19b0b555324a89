/** Where texts run and what is beside them stands: against brute force, and by hand (ISO/IEC 29500-1 §20.4.3.4, §20.4.3.5). */
import fc from 'fast-check';
import { type BESIDE_TEXT, floatBox, LEAST_ROOM, ON_PAGE, stretchesOf, type Kept, type PageRoom } from '../src/index';

const WIDTH = 400;
const place = fc.record({
  x: fc.integer({ min: -100, max: 450 }),
  y: fc.integer({ min: -50, max: 300 }),
  width: fc.integer({ min: 1, max: 300 }),
  height: fc.integer({ min: 1, max: 200 }),
  sides: fc.constantFrom('both' as const, 'left' as const, 'right' as const, 'none' as const),
});

/** The widest run of places in a line that are free of everything, point by point. */
function widest(kept: readonly Kept[], y: number): { from: number; to: number } | null {
  const here = kept.filter((k) => k.y < y && k.y + k.height > y && k.x < WIDTH && k.x + k.width > 0);
  if (here.some((k) => k.sides === 'none')) return null;
  const isFree = (x: number): boolean =>
    here.every(
      (k) =>
        (x < k.x || x > k.x + k.width) &&
        !(x < k.x && k.sides === 'right') &&
        !(x > k.x + k.width && k.sides === 'left'),
    );
  let best: { from: number; to: number } | null = null;
  for (let x = 0; x < WIDTH; x++) {
    if (!isFree(x + 0.5)) continue;
    const from = x;
    while (x < WIDTH && isFree(x + 0.5)) x++;
    if (!best || x - from > best.to - best.from) best = { from, to: x };
  }
  return best;
}

test('in every line the text has the widest room that is free, or none where that is too narrow', () => {
  fc.assert(
    fc.property(fc.array(place, { maxLength: 4 }), fc.integer({ min: 0, max: 500 }), (kept, at) => {
      const y = at + 0.5;
      const stretches = stretchesOf(WIDTH, kept);
      const here = stretches.find((s) => s.y < y && s.y + s.height > y) ?? { left: 0, right: 0 };
      const room = WIDTH - here.left - here.right;
      const best = widest(kept, y);
      const free = best ? best.to - best.from : 0;
      if (free < LEAST_ROOM) expect(room).toBe(0);
      else {
        expect(room).toBeCloseTo(free, 6);
        // It is free itself: as wide as the widest, though another may be as wide.
        for (const k of kept.filter((o) => o.y < y && o.y + o.height > y))
          expect(here.left >= k.x + k.width || WIDTH - here.right <= k.x).toBe(true);
      }
    }),
    { numRuns: 400 },
  );
});

test('stretches follow each other from the top, and say where text would run on both sides', () => {
  const stretches = stretchesOf(WIDTH, [{ x: 150, y: 20, width: 100, height: 30, sides: 'both' }]);
  expect(stretches).toEqual([
    { y: 0, height: 20, left: 0, right: 0 },
    { y: 20, height: 30, left: 0, right: 250, oneSided: true },
  ]);
  expect(stretchesOf(WIDTH, [])).toEqual([]);
  expect(stretchesOf(WIDTH, [{ x: 500, y: 0, width: 50, height: 50, sides: 'both' }])).toEqual([]);
  // On its larger side alone.
  expect(stretchesOf(WIDTH, [{ x: 100, y: 0, width: 100, height: 10, sides: 'larger' }])).toEqual([
    { y: 0, height: 10, left: 200, right: 0 },
  ]);
});

test('places count from the page, its margins, the column and the words; facing pages turn inside and outside round', () => {
  const room: PageRoom = {
    ...{ width: 600, height: 800, margins: { top: 50, right: 60, bottom: 70, left: 80 } },
    ...{ column: { x: 340, width: 200 }, paragraph: 300, line: { x: 360, y: 320 }, number: 1 },
  };
  const box = { x: 5, y: 7, width: 100, height: 40 };
  const at = (from: Partial<typeof BESIDE_TEXT.from>, more: object = {}, number = 1): number[] => {
    const anchor = { ...ON_PAGE, from: { ...ON_PAGE.from, ...from }, ...more };
    const { x, y } = floatBox({ ...box, anchor }, { ...room, number });
    return [x, y];
  };
  expect(at({})).toEqual([5, 7]);
  expect(at({ x: 'margin', y: 'margin' })).toEqual([85, 57]);
  expect(at({ x: 'column', y: 'paragraph' })).toEqual([345, 307]);
  expect(at({ x: 'character', y: 'line' })).toEqual([365, 327]);
  expect(at({ x: 'right-margin', y: 'bottom-margin' })).toEqual([545, 737]);
  expect([at({ x: 'inside-margin' })[0], at({ x: 'inside-margin' }, {}, 2)[0]]).toEqual([5, 545]);
  const align = { align: { x: 'outside', y: 'bottom' } };
  expect([at({ x: 'margin' }, align, 1), at({ x: 'margin' }, align, 2)]).toEqual([
    [440, 760],
    [80, 760],
  ]);
  expect(at({ x: 'margin', y: 'margin' }, { align: { x: 'centre', y: 'centre' } })).toEqual([
    80 + (460 - 100) / 2,
    50 + (680 - 40) / 2,
  ]);
});
