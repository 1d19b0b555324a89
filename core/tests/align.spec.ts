/** Items brought in line: edges and gaps as sums over the moved boxes, under random boxes; turned boxes by hand. */
import fc from 'fast-check';
import {
  ALIGNMENTS,
  aligned,
  boundsOfBoxes,
  gapAmong,
  liesAcross,
  uprightBounds,
  withGap,
  withinEvenly,
  type Box,
} from '../src/index';

const box = fc.record({
  x: fc.integer({ min: -200, max: 900 }),
  y: fc.integer({ min: -200, max: 900 }),
  width: fc.integer({ min: 1, max: 300 }),
  height: fc.integer({ min: 1, max: 300 }),
});
const boxes = fc.array(box, { minLength: 2, maxLength: 9 });
const moved = (all: readonly Box[], steps: readonly { x: number; y: number }[]): Box[] =>
  all.map((b, i) => ({ ...b, x: b.x + steps[i]!.x, y: b.y + steps[i]!.y }));
const named = (name: string) => ALIGNMENTS.find((a) => a.name === name)!;
const size = { x: 'width', y: 'height' } as const;

test.each(ALIGNMENTS.filter((a) => a.at !== null).map((a) => [a.name, a] as const))(
  '%s: on one line of what they are brought to, nothing moves the other way, and again nothing moves',
  (_, alignment) => {
    fc.assert(
      fc.property(boxes, box, (all, to) => {
        const { axis, at } = alignment;
        const line = (b: Box): number => b[axis] + at! * b[size[axis]];
        const next = moved(all, aligned(all, alignment, to));
        for (const [i, b] of next.entries()) {
          expect(line(b)).toBeCloseTo(line(to), 9);
          const other = axis === 'x' ? 'y' : 'x';
          expect(b[other]).toBe(all[i]![other]);
        }
        for (const step of aligned(next, alignment, to)) expect(Math.hypot(step.x, step.y)).toBeLessThan(1e-9);
      }),
    );
  },
);

test.each([
  ['gaps-across', 'x'],
  ['gaps-down', 'y'],
] as const)('%s: gaps alike, from edge to edge, in the order of their middles', (name, axis) => {
  fc.assert(
    fc.property(boxes, box, (all, to) => {
      const next = moved(all, aligned(all, named(name), to));
      const middle = (b: Box): number => b[axis] + b[size[axis]] / 2;
      // Boxes that begin with the same middle may go either way.
      fc.pre(new Set(all.map(middle)).size === all.length);
      const order = all.map((_, i) => i).sort((i, j) => middle(all[i]!) - middle(all[j]!));
      const run = order.map((i) => next[i]!);
      expect(run[0]![axis]).toBeCloseTo(to[axis], 9);
      const last = run.at(-1)!;
      expect(last[axis] + last[size[axis]]).toBeCloseTo(to[axis] + to[size[axis]], 9);
      const gaps = run.slice(1).map((b, i) => b[axis] - run[i]![axis] - run[i]![size[axis]]);
      for (const gap of gaps) expect(gap).toBeCloseTo(gaps[0]!, 9);
    }),
  );
});

test('on a page the gaps are as wide to its edges; where there is no room for any, from edge to edge', () => {
  const all = [10, 30].map((width, i) => ({ x: 5 * i, y: 0, width, height: 10 }));
  const page = { x: 0, y: 0, width: 100, height: 50 };
  // 60 are left for three gaps.
  expect(moved(all, aligned(all, named('gaps-across'), withinEvenly(all, 'x', page))).map((b) => b.x)).toEqual([
    20, 50,
  ]);
  expect(withinEvenly(all, 'x', { ...page, width: 30 })).toEqual({ ...page, width: 30 });
});

test('the outer ones stay where gaps are made alike among themselves', () => {
  const all = [
    { x: 0, y: 0, width: 10, height: 10 },
    { x: 70, y: 0, width: 30, height: 10 },
    { x: 12, y: 5, width: 20, height: 10 },
  ];
  // 100 wide, 60 of it taken: two gaps of 20.
  expect(moved(all, aligned(all, named('gaps-across'), boundsOfBoxes(all))).map((b) => b.x)).toEqual([0, 70, 30]);
});

test('a gap is typed: the first stays, each next one follows after it; told where all are alike', () => {
  fc.assert(
    fc.property(boxes, fc.constantFrom('x', 'y'), fc.integer({ min: 0, max: 50 }), (all, axis, gap) => {
      const next = moved(all, withGap(all, axis, gap));
      expect(Math.min(...next.map((b) => b[axis]))).toBeCloseTo(Math.min(...all.map((b) => b[axis])), 9);
      expect(gapAmong(next, axis).mean).toBeCloseTo(gap, 9);
      expect(gapAmong(next, axis).even).toBe(true);
    }),
  );
  const uneven = [0, 20, 60].map((x) => ({ x, y: 0, width: 10, height: 10 }));
  // Gaps of 10 and 30.
  expect(gapAmong(uneven, 'x')).toEqual({ mean: 20, even: false });
  expect(gapAmong([uneven[0]!], 'x')).toEqual({ mean: 0, even: true });
});

test('beside each other, or below each other', () => {
  const row = [0, 100, 200].map((x) => ({ x, y: x / 10, width: 10, height: 90 }));
  expect(liesAcross(row)).toBe(true);
  expect(liesAcross(row.map(({ x, y, width, height }) => ({ x: y, y: x, width, height })))).toBe(false);
});

test('a turned box counts as the upright one round it', () => {
  const flip = { horizontal: false, vertical: false };
  const turned = (turn: number) => uprightBounds({ box: { x: 0, y: 0, width: 40, height: 20 }, turn, flip });
  expect(turned(0)).toEqual({ x: 0, y: 0, width: 40, height: 20 });
  const upright = turned(90);
  expect([upright.x, upright.y, upright.width, upright.height].map((v) => Math.round(v * 1e9) / 1e9)).toEqual([
    10, -10, 20, 40,
  ]);
  // By hand: 40 cos 45° + 20 sin 45°.
  expect(turned(45).width).toBeCloseTo(60 * Math.SQRT1_2, 9);
});
