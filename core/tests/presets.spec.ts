// The reader is the part of the package that turns a preset into path data; its types are not published.
// @ts-expect-error -- no types
import { getShapePath } from 'pptxtojson/src/shapePath.js';
import {
  difference,
  doubleArea,
  drawGeometry,
  evaluate,
  flatten,
  FULL_SEAT,
  GableError,
  merged,
  parseSvgPath,
  predefined,
  presetGeometry,
  PRESET_NAMES,
  readCompact,
  SHAPES,
  defaultKnobs,
  silhouetteOf,
  textBoxOf,
  type Point,
} from '../src/index';

const areaOf = (polygons: readonly (readonly Point[])[]): number =>
  Math.abs(polygons.reduce((sum, p) => sum + doubleArea(p), 0)) / 2;
const preset = (name: string, w: number, h: number, adjust: Record<string, number> = {}): Point[][] =>
  merged(flatten(silhouetteOf(drawGeometry(presetGeometry(name)!, w, h, adjust)), 0.02));

/** How far a point is from a way of straight pieces. */
const nearestTo = (p: Point, way: readonly Point[]): number =>
  Math.min(
    ...way.slice(1).map((b, i) => {
      const a = way[i]!;
      const [dx, dy] = [b.x - a.x, b.y - a.y];
      const t = Math.max(0, Math.min(1, ((p.x - a.x) * dx + (p.y - a.y) * dy) / (dx * dx + dy * dy || 1)));
      return Math.hypot(p.x - a.x - t * dx, p.y - a.y - t * dy);
    }),
  );

/**
 * Where the independent reader departs from the standard, and why we hold to the guides of Annex D (as remembered) there:
 * it approximates (corners by another radius, regular polygons inscribed in the box, arcs by their chords), takes other
 * default adjust values, draws strokes as fills, or gives up and draws the box.
 */
const DEPARTS = new Set(
  (
    'flowChartMagneticDrum flowChartMagneticDisk flowChartMagneticTape flowChartOffpageConnector flowChartPunchedCard flowChartInputOutput flowChartPreparation flowChartDisplay flowChartOfflineStorage flowChartAlternateProcess ' +
    'roundRect round1Rect round2SameRect round2DiagRect snipRoundRect snip1Rect snip2SameRect snip2DiagRect dodecagon decagon heptagon pentagon octagon sun moon cloud cloudCallout leftBracket rightBracket bracketPair bracePair ' +
    'callout2 borderCallout2 accentCallout2 accentBorderCallout2 callout3 borderCallout3 accentCallout3 accentBorderCallout3 trapezoid nonIsoscelesTrapezoid parallelogram plus halfFrame chord ' +
    'rightArrow leftArrow leftRightArrow upDownArrow upDownArrowCallout star4 donut noSmoking arc pieWedge wedgeEllipseCallout squareTabs plaqueTabs cornerTabs'
  ).split(' '),
);

describe('preset geometries of ISO/IEC 29500-1 Annex D', () => {
  test('at least 120 are known', () => expect(PRESET_NAMES.length).toBeGreaterThanOrEqual(120));

  // What encloses nothing is compared by its way.
  const lines = PRESET_NAMES.filter((n) => /^line|Connector\d$/.test(n));
  test.each(['line', 'straightConnector1', 'bentConnector3'])('%s goes as pptxtojson says', (name) => {
    const theirs = flatten(parseSvgPath(getShapePath(name, 200, 120, {}) as string), 0.02).flat();
    const ours = flatten(silhouetteOf(drawGeometry(presetGeometry(name)!, 200, 120)), 0.02).flat();
    const apart = Math.max(...ours.map((p) => nearestTo(p, theirs)), ...theirs.map((p) => nearestTo(p, ours)));
    expect(apart).toBeLessThan(1);
  });

  // Of others it has only an approximation. By hand in 200 × 120: where they pass, with their adjust values at rest.
  test.each<[string, [number, number][]]>([
    [
      'lineInv',
      [
        [0, 120],
        [100, 60],
        [200, 0],
      ],
    ],
    [
      'bentConnector2',
      [
        [0, 0],
        [200, 0],
        [200, 120],
      ],
    ],
    [
      'bentConnector4',
      [
        [0, 0],
        [100, 0],
        [100, 60],
        [200, 60],
        [200, 120],
      ],
    ],
    [
      'bentConnector5',
      [
        [0, 0],
        [100, 60],
        [200, 120],
      ],
    ],
    // The middle of a cubic curve is (a + 3b + 3c + d) / 8.
    [
      'curvedConnector2',
      [
        [0, 0],
        [(3 * 100 + 3 * 200 + 200) / 8, (3 * 60 + 120) / 8],
        [200, 120],
      ],
    ],
    [
      'curvedConnector3',
      [
        [0, 0],
        [100, 60],
        [200, 120],
      ],
    ],
    [
      'curvedConnector4',
      [
        [0, 0],
        [100, 30],
        [150, 60],
        [200, 120],
      ],
    ],
    [
      'curvedConnector5',
      [
        [0, 0],
        [100, 60],
        [200, 120],
      ],
    ],
  ])('%s passes %j', (name, points) => {
    const way = silhouetteOf(drawGeometry(presetGeometry(name)!, 200, 120));
    const line = flatten(way, 0.01).flat();
    for (const [x, y] of points) expect(nearestTo({ x, y }, line)).toBeLessThan(0.5);
  });
  test('every line and connector is one of these', () => expect(lines).toHaveLength(11));

  const both = PRESET_NAMES.filter((n) => !DEPARTS.has(n) && !lines.includes(n));
  test('most of what both know is compared', () => expect(both.length).toBeGreaterThanOrEqual(80));

  test.each(both)('%s covers what pptxtojson says, in two boxes', (name) => {
    for (const [w, h] of [
      [200, 120],
      [150, 150],
    ] as const) {
      const theirs = merged(flatten(parseSvgPath(getShapePath(name, w, h, {}) as string), 0.02));
      const ours = preset(name, w, h);
      const apart = areaOf(difference(ours, theirs)) + areaOf(difference(theirs, ours));
      expect(apart / areaOf(ours)).toBeLessThan(2e-3);
    }
  });

  // Where the other reader departs, figures worked out from the guides by hand.
  test.each([
    ['roundRect', 200, 120, 24_000 - (4 - Math.PI) * 20.0004 ** 2, 'corners of 16,667/100,000 of the shorter side'],
    ['octagon', 100, 100, 1e4 - 2 * 29.289 ** 2, 'corners cut by 29,289/100,000'],
    ['plus', 100, 100, 1e4 - 4 * 625, 'arms begin at 25,000/100,000'],
    ['donut', 100, 100, Math.PI * (50 ** 2 - 25 ** 2), 'a ring of 25,000/100,000'],
    ['parallelogram', 200, 100, 200 * 100 - 25 * 100, 'a slant of 25,000/100,000 of the shorter side'],
    ['trapezoid', 200, 100, 200 * 100 - 25 * 100, 'both slants of 25,000/100,000'],
    ['rightArrow', 200, 100, 150 * 50 + (50 * 100) / 2, 'a head as long as half the shorter side'],
    ['leftRightArrow', 200, 100, 100 * 50 + 50 * 100, 'two such heads'],
    ['star4', 100, 100, (8 * (50 * 12.5 * Math.SQRT1_2)) / 2, 'eight triangles between radii of 50 and 12.5'],
    ['chord', 100, 100, (2500 * ((225 * Math.PI) / 180 - Math.sin((225 * Math.PI) / 180))) / 2, 'a segment of 225°'],
    ['pieWedge', 100, 100, (Math.PI * 1e4) / 4, 'a quarter of a circle'],
    [
      'flowChartDisplay',
      60,
      60,
      (6 * 6 - 2 * 1.5 - 2 * (3 - (Math.PI * 3) / 4)) * 100,
      'a point of 1/6 and half an ellipse of 1 × 3',
    ],
    ['cornerTabs', 100, 100, (4 * (Math.hypot(100, 100) / 20) ** 2) / 2, 'triangles of 1/20 of the diagonal'],
  ])('%s in %d × %d covers %d: guides by hand (%s)', (name, w, h, expected) => {
    expect(Math.abs(areaOf(preset(name, w, h)) / expected - 1)).toBeLessThan(2e-3);
  });

  // Of the guides by hand: an oval as far as half of a right angle, a corner by what its arc leaves there.
  const CUT = 1 - Math.SQRT1_2;
  test.each<[string, number, number, [number, number, number, number]]>([
    ['rect', 200, 100, [0, 0, 200, 100]],
    ['ellipse', 200, 100, [100 * CUT, 50 * CUT, 200 * Math.SQRT1_2, 100 * Math.SQRT1_2]],
    ['roundRect', 200, 100, [16.667 * CUT, 16.667 * CUT, 200 - 2 * 16.667 * CUT, 100 - 2 * 16.667 * CUT]],
    ['triangle', 200, 100, [50, 50, 100, 50]],
    ['diamond', 200, 100, [50, 25, 100, 50]],
    ['rightArrow', 200, 100, [0, 25, 175, 50]],
    ['downArrow', 100, 200, [25, 0, 50, 175]],
    ['homePlate', 200, 100, [0, 0, 175, 100]],
    ['chevron', 200, 100, [50, 0, 100, 100]],
    ['octagon', 100, 100, [14.6445, 14.6445, 70.711, 70.711]],
    ['wedgeEllipseCallout', 100, 100, [50 * CUT, 50 * CUT, 100 * Math.SQRT1_2, 100 * Math.SQRT1_2]],
  ])('the words of %s in %d × %d stand in %j', (name, width, height, expected) => {
    const shape = { name: `preset:${name}`, knobs: {} };
    const { x, y, width: w, height: h } = textBoxOf({ width, height }, { shape, seat: FULL_SEAT });
    for (const [i, v] of [x, y, w, h].entries()) expect(v).toBeCloseTo(expected[i]!, 2);
  });

  test('cloud: eleven arcs come back to where they began, within the rounding of the standard’s whole numbers', () => {
    const [cloud] = drawGeometry(presetGeometry('cloud')!, 43_200, 43_200);
    const first = cloud!.path[0] as { x: number; y: number };
    const last = cloud!.path[cloud!.path.length - 2] as { x: number; y: number };
    expect(Math.hypot(first.x - last.x, first.y - last.y)).toBeLessThan(43_200 * 0.004);
  });

  test('a path with a size of its own is stretched with its arcs', () => {
    const a = areaOf(preset('cloud', 100, 100)) / 1e4;
    expect(areaOf(preset('cloud', 300, 50)) / 15_000).toBeCloseTo(a, 3);
  });

  test('fill and stroke modes: a can is a body and a lid, and an outline that is not filled', () => {
    expect(drawGeometry(presetGeometry('can')!, 10, 10).map((p) => [p.fill, p.stroke])).toEqual([
      ['norm', false],
      ['lighten', false],
      ['none', true],
    ]);
  });

  test.each(SHAPES.filter((s) => s.preset).map((s) => [s.name, s] as const))(
    '%s is the preset it is written as, at its knobs',
    (_name, shape) => {
      const [w, h] = shape.locked === null ? [150, 90] : [90 * shape.locked, 90];
      const knobs = defaultKnobs(shape);
      const written = preset(shape.preset!.name, w, h, shape.preset!.toAdjust(knobs, w, h));
      const ours = merged(flatten(shape.path(w, h, knobs), 0.02));
      const apart = areaOf(difference(ours, written)) + areaOf(difference(written, ours));
      expect(apart / areaOf(ours)).toBeLessThan(3e-3);
      const back = shape.preset!.fromAdjust(shape.preset!.toAdjust(knobs, w, h), w, h);
      for (const [name, value] of Object.entries(back)) expect(value).toBeCloseTo(knobs[name]!, 4);
    },
  );
});

describe('the guide language, ISO/IEC 29500-1 §20.1.9.11', () => {
  const v = predefined(400, 200);
  test.each([
    ['*/ 6 7 3', 14],
    ['+- 6 7 3', 10],
    ['+/ 6 8 2', 7],
    ['?: 1 2 3', 2],
    ['?: 0 2 3', 3],
    ['abs -4', 4],
    ['at2 1 1', 2_700_000],
    ['cat2 10 3 4', 6],
    ['sat2 10 3 4', 8],
    ['cos 10 3600000', 5],
    ['sin 10 1800000', 5],
    ['tan 10 2700000', 10],
    ['max 3 9', 9],
    ['min 3 9', 3],
    ['mod 2 3 6', 7],
    ['pin 1 9 5', 5],
    ['pin 1 -9 5', 1],
    ['sqrt 49', 7],
    ['val 12', 12],
    ['*/ ss wd2 hd4', (200 * 200) / 50],
    ['val 3cd4', 16_200_000],
  ])('%s is %d', (formula, expected) => expect(evaluate(formula, v)).toBeCloseTo(expected, 6));

  test('what the standard does not know is refused by name', () => {
    expect(() => evaluate('pow 2 3', v)).toThrow(GableError);
    expect(() => evaluate('val nowhere', v)).toThrow(/nowhere/);
    expect(() => evaluate('*/ 1 2', v)).toThrow(GableError);
    expect(() => readCompact('||X 1 2')).toThrow(RangeError);
    expect(presetGeometry('toString')).toBeUndefined();
  });
});
