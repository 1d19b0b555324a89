import {
  bounds,
  closedLength,
  DASH_PATTERN,
  edgeBounds,
  evenDashes,
  flatten,
  framePath,
  outlineBands,
  outlineOpacity,
  outlineReach,
  outlineStrokes,
  overflow,
  parseOutline,
  parseShadow,
  parseTone,
  SHAPES,
  solidOutline,
  stopsInOrder,
  toneColour,
  withOutlineOpacity,
  type Outline,
} from '../src/index';
import { frameOf } from './frames';

const line = (weight: number, more: Partial<Outline> = {}): Outline => ({
  ...solidOutline(weight, '#000000'),
  ...more,
});

describe('the lines of an outline', () => {
  test.each([
    ['on the edge', line(6), [[-3, 3]]],
    ['inside', line(6, { side: 'inside' }), [[-6, 0]]],
    ['outside with a gap', line(6, { side: 'outside', gap: 2 }), [[2, 8]]],
    ['inside with a gap', line(6, { side: 'inside', gap: 2 }), [[-8, -2]]],
    ['a gap means nothing on the edge', line(6, { gap: 9 }), [[-3, 3]]],
    [
      'double',
      line(9, { side: 'outside', lines: 'double' }),
      [
        [6, 9],
        [0, 3],
      ],
    ],
    [
      'triple',
      line(12, { lines: 'triple' }),
      [
        [4, 6],
        [-2, 2],
        [-6, -4],
      ],
    ],
  ] as const)('%s', (_name, outline, expected) => {
    const bands = outlineBands(outline);
    expect(bands).toHaveLength(expected.length);
    bands.forEach((b, i) => {
      expect(b.from).toBeCloseTo(expected[i]![0], 9);
      expect(b.to).toBeCloseTo(expected[i]![1], 9);
    });
  });

  test('thick-thin has its thick line outside, thin-thick inside; both keep the weight', () => {
    for (const [lines, first] of [
      ['thick-thin', true],
      ['thin-thick', false],
    ] as const) {
      const [a, b] = outlineBands(line(10, { lines, side: 'outside' }));
      expect(a!.to - a!.from > b!.to - b!.from).toBe(first);
      expect(a!.to - b!.from).toBeCloseTo(10, 9);
    }
  });

  test('a gap makes a concentric ring: every point of it at the same distance from the circle’s middle', () => {
    const f = frameOf(100, 100, {
      shape: { name: 'circle', knobs: {} },
      outline: line(4, { side: 'outside', gap: 3 }),
    });
    const [ring] = outlineStrokes(f);
    expect(ring!.width).toBe(4);
    for (const p of flatten(ring!.parts[0]!.path).flat()) expect(Math.hypot(p.x - 50, p.y - 50)).toBeCloseTo(55, 1);
  });
});

describe('dashes', () => {
  const dashes = Object.keys(DASH_PATTERN).filter((d) => d !== 'solid') as Outline['dash'][];
  test.each(SHAPES.map((s) => s.name))(
    '%s: every pattern closes evenly round it, within 20 %% of its length',
    (name) => {
      const path = framePath(frameOf(120, 90, { shape: { name, knobs: {} } }));
      for (const dash of dashes)
        for (const { path: one, pattern } of evenDashes(path, dash, 1)) {
          if (pattern.length === 0) continue;
          const period = pattern.reduce((a, b) => a + b, 0);
          const repeats = flatten(one, 0.005).reduce((s, p) => s + closedLength(p), 0) / period;
          expect(Math.abs(repeats - Math.round(repeats))).toBeLessThan(1e-6);
          const stretch = period / DASH_PATTERN[dash].reduce((a, b) => a + b, 0);
          if (repeats > 2.5) expect(Math.abs(stretch - 1)).toBeLessThan(0.2);
        }
    },
  );
  test('a way too short for one repeat stays solid', () => {
    const [one] = evenDashes(framePath(frameOf(3, 3)), 'long-dash', 6);
    expect(one!.pattern).toEqual([]);
  });
});

describe('how far paint reaches', () => {
  test('a ring outside reaches as far as it is wide; a shadow adds its blur, spread and distance', () => {
    const f = frameOf(100, 100, {
      shape: { name: 'circle', knobs: {} },
      outline: line(5, { side: 'outside', gap: 1 }),
    });
    expect(outlineReach(f.outline)).toBe(6);
    expect(overflow(f).left).toBeCloseTo(6, 1);
    const s = overflow({
      ...f,
      shadow: { kind: 'outer', dx: 4, dy: 0, blur: 10, spread: 3, colour: '#000000', opacity: 0.5 },
    });
    expect(s.right).toBeCloseTo(6 + 3 + 14.5 + 4, 0);
    expect(s.left).toBeCloseTo(6 + 3 + 14.5 - 4, 0);
  });
  test('mitred corners reach farther than the weight', () => {
    const f = frameOf(100, 100, {
      shape: { name: 'diamond', knobs: {} },
      outline: line(5, { side: 'outside', join: 'mitre' }),
    });
    expect(-edgeBounds(f).y).toBeCloseTo(5 * Math.SQRT2, 1);
  });
  test('what stays inside reaches nowhere', () => {
    const f = frameOf(90, 60, { shape: { name: 'heart', knobs: {} }, outline: line(8, { side: 'inside' }) });
    expect(overflow(f).left).toBeLessThan(0.5);
    expect(bounds(framePath(f)).width).toBeLessThan(91);
  });
});

describe('what people type', () => {
  test('outlines', () => {
    expect(parseOutline('6pt #ffffff outside gap 2pt double dash round')).toMatchObject({
      weight: 6,
      side: 'outside',
      gap: 2,
      lines: 'double',
      dash: 'dash',
      join: 'round',
    });
    expect(parseOutline('4px #c28a2c>#6d3b52@45')!.paint).toMatchObject({ kind: 'linear', angle: 45 });
    expect(parseOutline('4px white>black@centre 50%')!.paint).toMatchObject({
      kind: 'radial',
      stops: [{ opacity: 0.5 }, { opacity: 0.5 }],
    });
    expect(parseOutline('4px white>black@sides')!.paint).toMatchObject({ kind: 'rectangular' });
    expect(() => parseOutline('6pt white wavy')).toThrow(/not an outline/);
  });
  test('shadows and tones', () => {
    expect(parseShadow('none')).toBeNull();
    expect(parseShadow('soft')).toMatchObject({ kind: 'outer', dy: 3 });
    expect(parseShadow('1mm 2mm 8pt #000000 35% spread 2pt inner')).toMatchObject({
      kind: 'inner',
      spread: 2,
      opacity: 0.35,
    });
    expect(() => parseShadow('dark')).toThrow(/not a shadow/);
    expect(parseTone('brightness=0.2,blur=2pt,multiply')).toEqual({
      light: { brightness: 0.2, contrast: 0, bright: 0, dark: 0 },
      softness: { blur: 2 },
      fading: { opacity: 1, multiply: true },
    });
    expect(parseTone('only=#22302f/white')!.colour!.only).toEqual(['#22302f', '#ffffff']);
    // One colour: a black mark becomes exactly that.
    expect(toneColour(parseTone('only=#bfbfbf'), '#000000')).toBe('#bfbfbf');
    expect(() => parseTone('brightness=3')).toThrow(/out of range/);
    expect(() => parseTone('sparkle=1')).toThrow(/not a part of a tone/);
  });
});

describe('the opacity of an outline', () => {
  const stop = (at: number, opacity: number): { at: number; colour: string; opacity: number } => ({
    at,
    colour: '#b5482a',
    opacity,
  });
  test('is read whoever says it, and set in one place; stops keep their relation', () => {
    const line = { ...solidOutline(4, '#ffffff', 0.6), opacity: 0.5 };
    expect(outlineOpacity(line)).toBeCloseTo(0.3, 9);
    expect(withOutlineOpacity(line, 0.8)).toMatchObject({ opacity: 0.8, paint: { opacity: 1 } });
    const faded = {
      ...solidOutline(4, '#ffffff'),
      paint: { kind: 'linear' as const, angle: 0, stops: [stop(0, 0.6), stop(1, 0.3)] },
    };
    expect(outlineOpacity(faded)).toBe(0.6);
    const full = withOutlineOpacity(faded, 1);
    expect(full.paint.kind !== 'solid' && full.paint.stops.map((s) => s.opacity)).toEqual([1, 0.5]);
  });
  test('stops are written in the order of their places (SVG 2 §14.2.4)', () => {
    const paint = { kind: 'radial' as const, stops: [stop(0, 1), stop(1, 1), stop(0.5, 1)] };
    expect(stopsInOrder(paint).map((s) => s.at)).toEqual([0, 0.5, 1]);
  });
});
