import ClipperLib from 'clipper-lib';
import fc from 'fast-check';
import { svgPathProperties } from 'svg-path-properties';
import {
  area,
  bounds,
  centroid,
  contains,
  defaultKnobs,
  flatten,
  findShape,
  fromPolygons,
  GableError,
  MITRE_LIMIT,
  offsetPath,
  parseSvgPath,
  pathLength,
  reverse,
  rotation,
  SHAPES,
  toCssPolygon,
  toSvgPath,
  transform,
  withoutArcs,
  type Path,
} from '../src/index';

const shape = (name: string, w = 100, h = 100): Path => findShape(name)!.path(w, h, defaultKnobs(findShape(name)!));

describe('offsets', () => {
  test('a circle of radius r offset by d is a circle of r + d (Steiner)', () => {
    for (const d of [-30, -5, 0.5, 12])
      expect(area(offsetPath(shape('circle'), d))).toBeCloseTo(Math.PI * (50 + d) ** 2, -1);
  });

  test.each(['rectangle', 'ellipse', 'hexagon', 'pill', 'egg'])(
    '%s: length of a convex offset curve is L + 2πd, its area A + Ld + πd² (Steiner)',
    (name) => {
      const p = shape(name, 120, 80);
      for (const d of [3, 10]) {
        const o = offsetPath(p, d, 'round');
        expect(Math.abs(pathLength(o) / (pathLength(p) + 2 * Math.PI * d) - 1)).toBeLessThan(1e-3);
        expect(Math.abs(area(o) / (area(p) + pathLength(p) * d + Math.PI * d * d) - 1)).toBeLessThan(1e-3);
      }
    },
  );

  /** The older clipper, whole numbers in 1/1000 pt. */
  const theirs = (path: Path, d: number, join: number): number => {
    const co = new ClipperLib.ClipperOffset(MITRE_LIMIT / 2, 5);
    const k = 1000;
    co.AddPaths(
      flatten(path, 0.005).map((p) => p.map((q) => ({ X: Math.round(q.x * k), Y: Math.round(q.y * k) }))),
      join,
      ClipperLib.EndType.etClosedPolygon,
    );
    const out = new ClipperLib.Paths();
    co.Execute(out, d * k);
    return Math.abs(out.reduce((s: number, p: unknown) => s + ClipperLib.Clipper.Area(p), 0)) / k / k;
  };
  // clipper-lib winds the other way round for holes only; shapes with one ring are compared.
  const rings = SHAPES.filter((s) => flatten(s.path(100, 100, defaultKnobs(s))).length === 1);
  test.each(rings.map((s) => s.name))('%s, round, inside and outside: the area clipper-lib finds', (name) => {
    for (const d of [-2, 4]) {
      const a = area(offsetPath(shape(name), d, 'round'));
      expect(Math.abs(a - theirs(shape(name), d, ClipperLib.JoinType.jtRound))).toBeLessThan(
        0.004 * area(shape(name)) + 1,
      );
    }
  });

  test('every point of an offset lies at its distance from the outline, for any shape', () => {
    for (const name of ['heart', 'star-7', 'ring', 'cloud', 'arrow-bent', 'torn']) {
      const p = shape(name);
      const edges = flatten(p, 0.005).flatMap((poly) => poly.map((a, i) => [a, poly[(i + 1) % poly.length]!] as const));
      for (const d of [-3, 5])
        for (const q of flatten(offsetPath(p, d, 'round'))
          .flat()
          .filter((_, i) => i % 7 === 0)) {
          let least = Infinity;
          for (const [a, b] of edges) {
            const [dx, dy] = [b.x - a.x, b.y - a.y];
            const t = Math.min(1, Math.max(0, ((q.x - a.x) * dx + (q.y - a.y) * dy) / (dx * dx + dy * dy || 1)));
            least = Math.min(least, Math.hypot(a.x + t * dx - q.x, a.y + t * dy - q.y));
          }
          expect(Math.abs(least - Math.abs(d))).toBeLessThan(0.06);
        }
    }
  });

  test('offsetting is monotone: farther out covers more', () => {
    const named = fc.constantFrom(...SHAPES.map((s) => s.name));
    fc.assert(
      fc.property(
        named,
        fc.double({ min: -8, max: 8, noNaN: true }),
        fc.double({ min: 0.2, max: 4, noNaN: true }),
        (name, d, more) => {
          const p = shape(name, 90, 70);
          return area(offsetPath(p, d + more)) >= area(offsetPath(p, d)) - 1e-6;
        },
      ),
      { numRuns: 60 },
    );
  });

  test('a mitre is cut where it would grow a thorn; others meet in a point (SVG 2 §13.5.4)', () => {
    const corner = (angle: number): Path => {
      const half = (angle * Math.PI) / 360;
      const p = [
        { x: 0, y: 0 },
        { x: 100 * Math.sin(half), y: 100 * Math.cos(half) },
        { x: -100 * Math.sin(half), y: 100 * Math.cos(half) },
      ];
      return fromPolygons([p]);
    };
    const tip = (angle: number): number => -bounds(offsetPath(corner(angle), 5, 'mitre')).y;
    expect(tip(60)).toBeCloseTo(5 / Math.sin(Math.PI / 6), 1);
    expect(tip(30)).toBeCloseTo(5 / Math.sin(Math.PI / 12), 1);
    // 1 / sin(12°) is 4.8, more than 4: cut across.
    expect(tip(24)).toBeLessThan(5);
  });

  test('what is thinner than twice the distance is gone', () => {
    expect(area(offsetPath(shape('minus'), -20))).toBe(0);
    expect(offsetPath(shape('circle'), -51)).toEqual([]);
  });
});

describe('measures and maps', () => {
  test('centroid: half a disc of radius r lies 4r/3π from its base, a triangle a third up (handbook)', () => {
    expect(centroid(shape('half', 200, 100)).y).toBeCloseTo(100 - (4 * 100) / 3 / Math.PI, 1);
    expect(centroid(shape('triangle')).y).toBeCloseTo(200 / 3, 6);
    expect(centroid(shape('ring')).x).toBeCloseTo(50, 6);
  });

  test('holes are outside', () => {
    expect(contains(shape('ring'), { x: 50, y: 50 })).toBe(false);
    expect(contains(shape('ring'), { x: 10, y: 50 })).toBe(true);
    expect(area(shape('ring'))).toBeCloseTo(Math.PI * (2500 - 625), 0);
  });

  test.each(SHAPES.map((s) => s.name))(
    '%s: an affine map scales the area by its determinant, reversing changes nothing',
    (name) => {
      const p = shape(name, 80, 60);
      const m = [1.2, 0.4, -0.7, 0.9, 10, -5] as const;
      expect(Math.abs(area(transform(p, m)) / area(p) / (m[0] * m[3] - m[1] * m[2]) - 1)).toBeLessThan(1e-3);
      expect(Math.abs(area(transform(p, [-1, 0, 0, 1, 0, 0])) / area(p) - 1)).toBeLessThan(1e-4);
      expect(area(reverse(p))).toBeCloseTo(area(p), 3);
      expect(toSvgPath(reverse(reverse(p)), 6).length).toBeGreaterThan(0);
      const b = bounds(reverse(p));
      expect(b.width).toBeCloseTo(bounds(p).width, 4);
      expect(Math.abs(area(withoutArcs(p)) / area(p) - 1)).toBeLessThan(6e-4);
    },
  );

  test('a circle in four cubic curves keeps to 2.7 × 10⁻⁴ of its radius (handbook, k = 0.5522847498)', () => {
    const p = withoutArcs(shape('circle', 200, 200));
    const off = flatten(p, 0.001)
      .flat()
      .map((q) => Math.abs(Math.hypot(q.x - 100, q.y - 100) - 100) / 100);
    expect(Math.max(...off)).toBeLessThan(2.8e-4);
    expect(Math.max(...off)).toBeGreaterThan(2.5e-4);
    const first = p.find((s) => s.op === 'C') as { x1: number; y1: number };
    expect(Math.abs(first.y1 - 100)).toBeCloseTo(100 * 0.5522847498, 6);
  });

  test('a turn moves points clockwise on the page', () => {
    const [s] = transform([{ op: 'M', x: 1, y: 0 }], rotation(90));
    expect(s).toEqual({ op: 'M', x: expect.closeTo(0, 9), y: expect.closeTo(1, 9) });
  });
});

describe('path text', () => {
  // Relative, smooth and quadratic commands, arcs with flags run together (SVG 2 §9.3.9).
  test.each([
    'M10 10h30v20H10z',
    'm5,5 10-3 4 8c2 2 4-4 8 0s3 8 6-2z',
    'M0 0Q10 20 20 0T40 0L40 30z',
    'M10 80a30 30 0 01 60 0A30 20 15 1 0 10 80Z',
    'M.5.5.5 20-3 4e1z',
  ])('%s is as long as svg-path-properties measures', (text) => {
    const theirs = new svgPathProperties(
      text.replace('.5.5.5', '.5 .5 .5').replace('0 01 60', '0 0 1 60'),
    ).getTotalLength();
    expect(pathLength(parseSvgPath(text), 1e-4)).toBeCloseTo(theirs, 1);
  });

  test('is read back as written', () => {
    for (const s of SHAPES) {
      const p = shape(s.name, 70, 50);
      expect(toSvgPath(parseSvgPath(toSvgPath(p)))).toBe(toSvgPath(p));
    }
  });

  test.each(['', '   '])('“%s” is an empty path', (t) => expect(parseSvgPath(t)).toEqual([]));
  test.each(['10 10', 'L1 1', 'M1', 'M1 1X2', 'M1 1L2 nan', 'M0 0A1 1 0 2 0 5 5'])(
    '“%s” is refused with its place',
    (t) => expect(() => parseSvgPath(t)).toThrow(GableError),
  );

  test('as a CSS polygon it covers the same share of its box (CSS Shapes 1)', () => {
    const read = (css: string): number => {
      const pairs = [...css.matchAll(/([-\d.]+)% ([-\d.]+)%/g)].map((m) => ({ x: Number(m[1]), y: Number(m[2]) }));
      return area(fromPolygons([pairs])) / 1e4;
    };
    for (const name of ['star-5', 'heart', 'gable'])
      expect(read(toCssPolygon(shape(name, 90, 60), { width: 90, height: 60 }))).toBeCloseTo(
        area(shape(name, 90, 60)) / 5400,
        2,
      );
    expect(toCssPolygon(shape('ring'), { width: 100, height: 100 })).toMatch(/^polygon\(evenodd, /);
  });
});
