/** Maps of frames and groups against the definition of SVG 2 §8.5: what stands first in a list of transforms is done last. */
import { applyTo, axesMatrix, boxMatrix, frameMatrix, invert, placedIn, type Matrix, type Space } from '@gable/core';
import fc from 'fast-check';

const radians = (degrees: number): number => (degrees * Math.PI) / 180;
/** `translate`, `rotate` and `scale` of SVG 2 §8.4, by hand. */
type Step = (x: number, y: number) => [number, number];
const translate =
  (dx: number, dy: number): Step =>
  (x, y) => [x + dx, y + dy];
const scale =
  (kx: number, ky: number): Step =>
  (x, y) => [x * kx, y * ky];
const rotate = (degrees: number): Step => {
  const [c, s] = [Math.cos(radians(degrees)), Math.sin(radians(degrees))];
  return (x, y) => [x * c - y * s, x * s + y * c];
};
const list =
  (...steps: Step[]): Step =>
  (x, y) =>
    steps.reduceRight<[number, number]>(([a, b], step) => step(a, b), [x, y]);

const boxes = fc.record({
  x: fc.integer({ min: -500, max: 500 }),
  y: fc.integer({ min: -500, max: 500 }),
  width: fc.integer({ min: 1, max: 400 }),
  height: fc.integer({ min: 1, max: 400 }),
});
const turned = fc.record({
  box: boxes,
  turn: fc.integer({ min: -360, max: 720 }),
  flip: fc.record({ horizontal: fc.boolean(), vertical: fc.boolean() }),
});
const groups: fc.Arbitrary<Space> = fc.record({
  box: boxes,
  space: boxes,
  turn: fc.integer({ min: 0, max: 359 }),
  flip: fc.record({ horizontal: fc.boolean(), vertical: fc.boolean() }),
});
const points = fc.record({ x: fc.integer({ min: -300, max: 300 }), y: fc.integer({ min: -300, max: 300 }) });

const aboutMiddle = ({ box, turn, flip }: Omit<Space, 'space'>): Step =>
  list(
    translate(box.width / 2, box.height / 2),
    rotate(turn),
    scale(flip.horizontal ? -1 : 1, flip.vertical ? -1 : 1),
    translate(-box.width / 2, -box.height / 2),
  );
const onPage = (of: Omit<Space, 'space'>): Step => list(translate(of.box.x, of.box.y), aboutMiddle(of));
const inGroup = (g: Space): Step =>
  list(onPage(g), scale(g.box.width / g.space.width, g.box.height / g.space.height), translate(-g.space.x, -g.space.y));

const near = (matrix: Matrix, step: Step, p: { x: number; y: number }): void => {
  const [x, y] = step(p.x, p.y);
  const size = Math.max(1, Math.abs(x), Math.abs(y));
  const is = applyTo(matrix, p);
  expect(Math.hypot(is.x - x, is.y - y) / size).toBeLessThan(1e-9);
};

test('a box is flipped, then turned, about its middle', () => {
  fc.assert(fc.property(turned, points, (frame, p) => near(boxMatrix(frame), aboutMiddle(frame), p)));
});

test('steps know no place: two points are as far apart as their steps', () => {
  fc.assert(
    fc.property(turned, points, points, (frame, p, q) => {
      const [a, b] = [applyTo(boxMatrix(frame), p), applyTo(boxMatrix(frame), q)];
      const step = applyTo(axesMatrix(frame), { x: q.x - p.x, y: q.y - p.y });
      expect([b.x - a.x, b.y - a.y]).toEqual([expect.closeTo(step.x, 6), expect.closeTo(step.y, 6)]);
    }),
  );
});

test('in groups of groups the outer ones come last', () => {
  fc.assert(
    fc.property(turned, fc.array(groups, { maxLength: 3 }), points, (frame, ancestors, p) => {
      const all = ancestors.reduce<Step>((inner, g) => list(inGroup(g), inner), onPage(frame));
      near(frameMatrix(frame, ancestors), all, p);
    }),
  );
});

test('quarter turns are exact, and the way back leads back', () => {
  const frame = {
    box: { x: 10, y: 20, width: 30, height: 50 },
    turn: 90,
    flip: { horizontal: false, vertical: false },
  };
  // The corner at the top left comes to lie at the top right of the turned box.
  expect(applyTo(boxMatrix(frame), { x: 0, y: 0 })).toEqual({ x: 40, y: 10 });
  fc.assert(
    fc.property(turned, points, (any, p) => {
      const back = applyTo(invert(frameMatrix(any)), applyTo(frameMatrix(any), p));
      expect([back.x, back.y]).toEqual([expect.closeTo(p.x, 6), expect.closeTo(p.y, 6)]);
    }),
  );
});

test('a frame in groups that keep their ratios is a frame on the page with the same corners and the same middle', () => {
  const even = fc
    .tuple(groups, fc.integer({ min: 1, max: 30 }))
    .map(([g, k]): Space => ({ ...g, space: { ...g.space, width: g.box.width / k, height: g.box.height / k } }));
  fc.assert(
    fc.property(turned, fc.array(even, { maxLength: 3 }), (frame, round) => {
      const [is, was] = [frameMatrix(placedIn(frame, round)), frameMatrix(frame, round)];
      const { width, height } = placedIn(frame, round).box;
      for (const [u, v] of [
        [0, 0],
        [1, 0],
        [0, 1],
        [0.5, 0.5],
      ] as const) {
        const a = applyTo(is, { x: u * width, y: v * height });
        const b = applyTo(was, { x: u * frame.box.width, y: v * frame.box.height });
        expect(Math.hypot(a.x - b.x, a.y - b.y) / Math.max(1, Math.abs(b.x), Math.abs(b.y))).toBeLessThan(1e-6);
      }
    }),
  );
});
