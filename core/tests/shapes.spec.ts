import {
  area,
  anchorShares,
  bounds,
  boundsOfPoints,
  defaultKnobs,
  doubleArea,
  findShape,
  flatten,
  framePath,
  merged,
  seatRect,
  SHAPES,
  SYNONYMS,
  toSvgPath,
  windingNumber,
} from '../src/index';
import { frameOf } from './frames';

describe('shapes', () => {
  test('the circle comes first and names are unique', () => {
    expect(SHAPES[0]!.name).toBe('circle');
    expect(new Set(SHAPES.map((s) => s.name)).size).toBe(SHAPES.length);
  });

  test.each(SHAPES.map((s) => [s.name, s] as const))(
    '%s stays in its box at every size and knob end, without NaN',
    (_name, shape) => {
      for (const [w, h] of [
        [100, 100],
        [300, 20],
        [20, 300],
      ] as const)
        for (const pick of ['min', 'default', 'max'] as const) {
          const knobs = Object.fromEntries(shape.knobs.map((k) => [k.name, k[pick]]));
          const p = flatten(shape.path(w, h, knobs), 0.1).flat();
          expect(p.every((q) => Number.isFinite(q.x) && Number.isFinite(q.y))).toBe(true);
          const b = boundsOfPoints(p);
          if (p.length === 0) continue;
          const outside = Math.max(-b.x / w, -b.y / h, (b.x + b.width) / w - 1, (b.y + b.height) / h - 1);
          expect(outside).toBeLessThan(0.01);
        }
    },
  );

  test('the hexagon in its own ratio has six equal sides', () => {
    const hexagon = findShape('hexagon')!;
    const points = flatten(hexagon.path(100, 100 / hexagon.locked!, defaultKnobs(hexagon)))[0]!;
    const sides = points.map((p, i) => Math.hypot(p.x - points[(i + 1) % 6]!.x, p.y - points[(i + 1) % 6]!.y));
    expect(points).toHaveLength(6);
    for (const s of sides) expect(s).toBeCloseTo(50, 9);
  });

  test('the hexagon equals the preset of ISO/IEC 29500-1 Annex D, computed from its guides', () => {
    // Guides from the standard (from memory): maxAdj = 50000·w/ss; a = pin 0 adj maxAdj; shd2 = hd2·vf/100000;
    // x1 = ss·a/100000; dy1 = sin shd2 60°; y1 = vc − dy1.
    const [w, h, adj, vf] = [260, 140, 31_000, 115_470];
    const ss = Math.min(w, h);
    const x1 = (ss * Math.min(adj, (50_000 * w) / ss)) / 100_000;
    const y1 = h / 2 - ((h / 2) * vf * Math.sin(Math.PI / 3)) / 100_000;
    const hexagon = findShape('hexagon')!;
    const points = flatten(hexagon.path(w, h, hexagon.preset!.fromAdjust({ adj, vf }, w, h)))[0]!;
    expect(points[1]!.x).toBeCloseTo(x1, 6);
    expect(points[1]!.y).toBeCloseTo(y1, 2);
    expect(points[2]!.x).toBeCloseTo(w - x1, 6);
  });

  test('rounded corners have the preset’s default of 16,667 (Annex D, roundRect) and convert both ways', () => {
    const rounded = findShape('rounded')!;
    expect(rounded.preset!.toAdjust(defaultKnobs(rounded), 10, 10)).toEqual({ adj: 16_667 });
    expect(rounded.preset!.fromAdjust({}, 10, 10)).toEqual({ radius: 0.16667 });
    expect(rounded.preset!.fromAdjust(rounded.preset!.toAdjust({ radius: 0.31 }, 9, 5), 9, 5)).toEqual({
      radius: 0.31,
    });
    expect(rounded.preset!.fromAdjust({ adj: 90_000 }, 10, 10)).toEqual({ radius: 0.5 });
  });

  test('every knob handle lies on the box, and no handle stays while its knob runs from end to end', () => {
    for (const shape of SHAPES)
      for (const k of shape.knobs) {
        if (!k.handle) continue;
        const places = [0, 0.25, 0.5, 0.75, 1].map((t) => k.handle!(200, 100, k.min + (k.max - k.min) * t));
        for (const p of places) {
          expect([shape.name, p.x >= -4, p.x <= 204, p.y >= -4, p.y <= 104]).toEqual([
            shape.name,
            true,
            true,
            true,
            true,
          ]);
        }
      }
  });

  test('there are at least 100, each visibly another at its default knobs', () => {
    expect(SHAPES.length).toBeGreaterThanOrEqual(100);
    // Square and circle differ from rectangle and ellipse by their ratio only.
    const twins = new Set(['square', 'circle']);
    const drawn = SHAPES.filter((s) => !twins.has(s.name)).map((s) => {
      const [w, h] = s.locked === null ? [120, 80] : [80 * s.locked, 80];
      const p = flatten(s.path(w, h, defaultKnobs(s)), 0.1);
      return { name: s.name, polygons: p.map((q) => q.map(({ x, y }) => ({ x: x / w, y: y / h }))) };
    });
    // Coverage on a grid of 40 × 40 tells shapes apart: at least 1.2 % of it must differ.
    const cells = drawn.map(({ polygons }) =>
      Array.from({ length: 1600 }, (_, i) =>
        windingNumber(polygons, { x: ((i % 40) + 0.5) / 40, y: (Math.floor(i / 40) + 0.5) / 40 }) !== 0 ? 1 : 0,
      ),
    );
    const alike: string[] = [];
    for (let i = 0; i < drawn.length; i++)
      for (let j = i + 1; j < drawn.length; j++) {
        let differ = 0;
        for (let k = 0; k < 1600; k++) if (cells[i]![k] !== cells[j]![k]) differ++;
        if (differ < 19) alike.push(`${drawn[i]!.name} = ${drawn[j]!.name} (${differ})`);
      }
    expect(alike).toEqual([]);
  });

  test.each(SHAPES.map((s) => [s.name, s] as const))('%s fills the same by every fill rule', (_name, shape) => {
    const [w, h] = shape.locked === null ? [130, 90] : [90 * shape.locked, 90];
    const polygons = flatten(shape.path(w, h, defaultKnobs(shape)), 0.01);
    const covered = (rule: 'nonzero' | 'evenodd'): number =>
      Math.abs(merged(polygons, rule).reduce((sum, p) => sum + doubleArea(p), 0)) / 2;
    expect(Math.abs(covered('nonzero') / covered('evenodd') - 1)).toBeLessThan(2e-3);
    expect(covered('nonzero')).toBeGreaterThan(0.015 * w * h);
  });

  test('the same seed gives the same rough edge, another seed another', () => {
    for (const name of ['torn', 'deckle', 'brush', 'splatter']) {
      const s = findShape(name)!;
      const at = (seed: number): string => toSvgPath(s.path(100, 80, { ...defaultKnobs(s), seed }));
      expect(at(5)).toBe(at(5));
      expect(at(5)).not.toBe(at(6));
    }
  });

  test('regular polygons have equal sides and, with an even number, opposite ones parallel (Euclid)', () => {
    for (const [name, n] of [
      ['pentagon', 5],
      ['heptagon', 7],
      ['nonagon', 9],
      ['decagon', 10],
      ['hendecagon', 11],
      ['dodecagon', 12],
    ] as const) {
      const s = findShape(name)!;
      const p = flatten(s.path(100, 100 / s.locked!, {}))[0]!;
      const sides = p.map((a, i) => Math.hypot(a.x - p[(i + 1) % n]!.x, a.y - p[(i + 1) % n]!.y));
      expect(p).toHaveLength(n);
      for (const side of sides) expect(side).toBeCloseTo(sides[0]!, 9);
    }
  });

  test('an outline drawn elsewhere scales with the box', () => {
    const drawn = { path: 'M0 0L1 0L1 1Z', ratio: null, label: 'x' };
    const f = frameOf(80, 40, { shape: { name: 'custom', knobs: {}, drawn } });
    expect(toSvgPath(framePath(f))).toBe('M0 0L80 0L80 40Z');
  });
});

describe('the seat of a shape in its box', () => {
  test('keeps the ratio at nine places (SVG 2 §8.10: meet × nine alignments)', () => {
    const box = { width: 300, height: 100 };
    expect(seatRect(box, { fit: 'keep', anchor: 'left', repeat: false }, 1)).toEqual({
      x: 0,
      y: 0,
      width: 100,
      height: 100,
    });
    expect(seatRect(box, { fit: 'keep', anchor: 'centre', repeat: false }, 1)).toEqual({
      x: 100,
      y: 0,
      width: 100,
      height: 100,
    });
    expect(seatRect(box, { fit: 'keep', anchor: 'bottom-right', repeat: false }, 1)).toEqual({
      x: 200,
      y: 0,
      width: 100,
      height: 100,
    });
    expect(seatRect({ width: 100, height: 300 }, { fit: 'keep', anchor: 'bottom', repeat: false }, 1).y).toBe(200);
    expect(anchorShares('top')).toEqual([0.5, 0]);
    expect(anchorShares('bottom-left')).toEqual([0, 1]);
  });

  test('fills the box, or repeats along it', () => {
    const fill = frameOf(300, 100, { shape: { name: 'circle', knobs: {} } });
    expect(bounds(framePath(fill)).width).toBeCloseTo(300, 3);
    const repeated = framePath({ ...fill, seat: { fit: 'keep', anchor: 'left', repeat: true } });
    expect(flatten(repeated)).toHaveLength(3);
    // As a repeated mask: a copy that runs over the edge is cut there (CSS Masking 1 §6.5, mask-repeat: repeat).
    const cut = framePath(
      frameOf(250, 100, {
        ...fill,
        box: { ...fill.box, width: 250 },
        seat: { fit: 'keep', anchor: 'left', repeat: true },
      }),
    );
    expect(flatten(cut)).toHaveLength(3);
    expect(bounds(cut).width).toBeCloseTo(250, 2);
    expect(area(cut, 0.05)).toBeCloseTo(2.5 * Math.PI * 2500, -2);
    const middle = framePath(
      frameOf(250, 100, {
        ...fill,
        box: { ...fill.box, width: 250 },
        seat: { fit: 'keep', anchor: 'centre', repeat: true },
      }),
    );
    expect(flatten(middle)).toHaveLength(3);
  });

  test('a shape of which only the name is known is drawn as its box', () => {
    expect(bounds(framePath(frameOf(80, 40, { shape: { name: 'preset:swooshArrow', knobs: {} } })))).toEqual({
      x: 0,
      y: 0,
      width: 80,
      height: 40,
    });
  });
});

test('every shape is found by other words that people type for it', () => {
  expect(SHAPES.filter((s) => !SYNONYMS[s.name]).map((s) => s.name)).toEqual([]);
  expect(Object.keys(SYNONYMS).filter((name) => !findShape(name))).toEqual([]);
  const found = (word: string): string[] => Object.keys(SYNONYMS).filter((n) => SYNONYMS[n]!.includes(word));
  expect(found('oval')).toContain('ellipse');
  expect(found('explosion')).toEqual(expect.arrayContaining(['burst', 'burst-wild']));
  expect(found('bubble')).toContain('speech-round');
  for (const word of ['arch', 'blob', 'check', 'callout', 'donut'])
    expect([word, found(word).length > 0]).toEqual([word, true]);
});
