/** Pictures arranged on a page, by the rules that any arrangement keeps; sums worked out by hand. */
import fc from 'fast-check';
import { together, TOGETHER, type Box, type Size } from '../src/index';

const page = { width: 720, height: 540 };
const middle = { x: 360, y: 270 };
const meet = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width - 1e-9 &&
  b.x < a.x + a.width - 1e-9 &&
  a.y < b.y + b.height - 1e-9 &&
  b.y < a.y + a.height - 1e-9;
const size = fc.record({ width: fc.integer({ min: 20, max: 700 }), height: fc.integer({ min: 20, max: 520 }) });

test.each(TOGETHER)('%s: ratios stay, nothing overlaps, and all of it is on the page', (kind) => {
  fc.assert(
    fc.property(
      fc.array(size, { minLength: 1, maxLength: 12 }),
      fc.record({ x: fc.integer({ min: -50, max: 800 }), y: fc.integer({ min: -50, max: 600 }) }),
      (sizes: Size[], about) => {
        const boxes = together(kind, sizes, page, about);
        expect(boxes).toHaveLength(sizes.length);
        for (const [i, b] of boxes.entries()) {
          expect(b.width / b.height).toBeCloseTo(sizes[i]!.width / sizes[i]!.height, 6);
          expect(b.width).toBeLessThanOrEqual(sizes[i]!.width + 1e-9);
          expect(Math.min(b.x, b.y)).toBeGreaterThanOrEqual(-1e-9);
          expect(b.x + b.width).toBeLessThanOrEqual(page.width + 1e-6);
          expect(b.y + b.height).toBeLessThanOrEqual(page.height + 1e-6);
          for (const other of boxes.slice(0, i)) expect(meet(b, other)).toBe(false);
        }
      },
    ),
  );
});

test('a row is alike in height, a column in width, 12 pt apart, about the point', () => {
  const sizes = [
    { width: 120, height: 60 },
    { width: 90, height: 90 },
  ];
  // The lower one is 60 high: the square becomes 60 wide; 120 + 12 + 60 = 192.
  const exactly = (boxes: Box[]): Box[] =>
    boxes.map(
      (b) =>
        Object.fromEntries(Object.entries(b).map(([k, v]: [string, number]) => [k, Math.round(v * 1e6) / 1e6])) as Box,
    );
  expect(exactly(together('row', sizes, page, middle))).toEqual([
    { x: 264, y: 240, width: 120, height: 60 },
    { x: 396, y: 240, width: 60, height: 60 },
  ]);
  // The narrower one is 90 wide: the other becomes 45 high; 45 + 12 + 90 = 147.
  expect(exactly(together('column', sizes, page, middle))).toEqual([
    { x: 315, y: 196.5, width: 90, height: 45 },
    { x: 315, y: 253.5, width: 90, height: 90 },
  ]);
});
