import fc from 'fast-check';
import pathBounds from 'svg-path-bounds';
import { svgPathProperties } from 'svg-path-properties';
import {
  arcCentre,
  area,
  bounds,
  contains,
  findShape,
  flatten,
  pathLength,
  SHAPES,
  toSvgPath,
  type Path,
} from '../src/index';

const pathOf = (name: string, w: number, h: number): Path =>
  findShape(name)!.path(w, h, Object.fromEntries(findShape(name)!.knobs.map((k) => [k.name, k.default])));
const length = (path: Path): number => pathLength(path, 1e-4);

describe('paths', () => {
  test('a circle covers π/4 of its box (Euclid)', () => {
    expect(area(pathOf('circle', 100, 100)) / 1e4).toBeCloseTo(Math.PI / 4, 4);
  });

  test('a regular hexagon of width w covers 3√3/8 · w² (handbook)', () => {
    const w = 120;
    expect(area(pathOf('hexagon', w, (w * Math.sqrt(3)) / 2))).toBeCloseTo(((3 * Math.sqrt(3)) / 8) * w * w, 6);
  });

  test('a diamond covers half its box', () => {
    expect(area(pathOf('diamond', 70, 30))).toBeCloseTo(1050, 9);
  });

  const straight = (path: Path): boolean => path.every((s) => s.op !== 'C' && s.op !== 'A');

  test.each(SHAPES.filter((s) => straight(pathOf(s.name, 130, 90))).map((s) => s.name))(
    '%s has the bounds that svg-path-bounds finds',
    (name) => {
      const path = pathOf(name, 130, 90);
      const b = bounds(path);
      const theirs = pathBounds(toSvgPath(path, 8));
      [b.x, b.y, b.x + b.width, b.y + b.height].forEach((v, i) => expect(v).toBeCloseTo(theirs[i]!, 4));
    },
  );

  // svg-path-bounds takes control points for the curve; curved shapes are held against points along them.
  test.each(SHAPES.filter((s) => !straight(pathOf(s.name, 130, 90))).map((s) => s.name))(
    '%s has the bounds of the points svg-path-properties puts on it',
    (name) => {
      const path = pathOf(name, 130, 90);
      const b = bounds(path);
      const measured = new svgPathProperties(toSvgPath(path, 8));
      const total = measured.getTotalLength();
      const points = Array.from({ length: 601 }, (_, i) => measured.getPointAtLength((total * i) / 600));
      const xs = points.map((p) => p.x);
      const ys = points.map((p) => p.y);
      // At a sharp corner the points pass by at up to half their distance.
      const step = total / 600 + 0.02;
      for (const [ours, theirs, outwards] of [
        [b.x, Math.min(...xs), -1],
        [b.y, Math.min(...ys), -1],
        [b.x + b.width, Math.max(...xs), 1],
        [b.y + b.height, Math.max(...ys), 1],
      ] as const) {
        expect((ours - theirs) * outwards).toBeGreaterThan(-0.02);
        expect((ours - theirs) * outwards).toBeLessThan(step);
      }
    },
  );

  test.each(SHAPES.map((s) => s.name))('%s is as long as svg-path-properties measures', (name) => {
    const path = pathOf(name, 130, 90);
    const theirs = new svgPathProperties(toSvgPath(path, 8)).getTotalLength();
    expect(Math.abs(length(path) / theirs - 1)).toBeLessThan(1e-3);
  });

  test('an arc with radii too small is scaled up until it reaches (SVG 2 §9.5.1)', () => {
    const c = arcCentre({ x: 0, y: 0 }, { op: 'A', rx: 1, ry: 1, turn: 0, large: false, sweep: true, x: 10, y: 0 })!;
    expect(c.rx).toBeCloseTo(5, 9);
    expect([c.cx, c.cy]).toEqual([expect.closeTo(5, 9), expect.closeTo(0, 9)]);
  });

  test('an arc without radii or without length is a line', () => {
    expect(
      arcCentre({ x: 0, y: 0 }, { op: 'A', rx: 0, ry: 5, turn: 0, large: false, sweep: true, x: 10, y: 0 }),
    ).toBeNull();
    expect(
      arcCentre({ x: 3, y: 3 }, { op: 'A', rx: 5, ry: 5, turn: 0, large: false, sweep: true, x: 3, y: 3 }),
    ).toBeNull();
  });

  test('the end of an arc lies where its centre form puts it', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 50, noNaN: true }),
        fc.double({ min: 1, max: 50, noNaN: true }),
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.boolean(),
        fc.boolean(),
        fc.double({ min: -60, max: 60, noNaN: true }),
        (rx, ry, turn, large, sweep, y) => {
          const c = arcCentre({ x: 0, y: 0 }, { op: 'A', rx, ry, turn, large, sweep, x: 20, y })!;
          const a = c.start + c.delta;
          const px = c.cx + c.rx * Math.cos(a) * Math.cos(c.turn) - c.ry * Math.sin(a) * Math.sin(c.turn);
          const py = c.cy + c.rx * Math.cos(a) * Math.sin(c.turn) + c.ry * Math.sin(a) * Math.cos(c.turn);
          return Math.hypot(px - 20, py - y) < 1e-6 && (c.delta > 0 === sweep || c.delta === 0);
        },
      ),
    );
  });

  test('flattening stays within its tolerance of a circle', () => {
    for (const tolerance of [1, 0.1, 0.01]) {
      const points = flatten(pathOf('circle', 200, 200), tolerance)[0]!;
      for (let i = 1; i < points.length; i++) {
        const mid = { x: (points[i]!.x + points[i - 1]!.x) / 2, y: (points[i]!.y + points[i - 1]!.y) / 2 };
        expect(100 - Math.hypot(mid.x - 100, mid.y - 100)).toBeLessThanOrEqual(tolerance * 1.0001);
      }
    }
  });

  test('knows inside from outside', () => {
    const heart = pathOf('heart', 100, 100);
    expect(contains(heart, { x: 50, y: 60 })).toBe(true);
    expect(contains(heart, { x: 50, y: 10 })).toBe(false);
    expect(contains(heart, { x: 5, y: 95 })).toBe(false);
  });
});
