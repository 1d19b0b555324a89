import { anchorShares, defaultKnobs, findShape, flatten, framePath, seatRect, SHAPES, bounds } from '../src/index';
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
          for (const p of flatten(shape.path(w, h, knobs), 0.1).flat()) {
            expect(p.x).toBeGreaterThan(-w * 0.01);
            expect(p.x).toBeLessThan(w * 1.01);
            expect(p.y).toBeGreaterThan(-h * 0.01);
            expect(p.y).toBeLessThan(h * 1.01);
          }
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

  test('every knob handle moves with its knob and lies on the box', () => {
    for (const shape of SHAPES)
      for (const k of shape.knobs) {
        const a = k.handle(200, 100, k.min);
        const b = k.handle(200, 100, k.max);
        expect(a).not.toEqual(b);
        for (const p of [a, b]) {
          expect(p.x).toBeGreaterThanOrEqual(0);
          expect(p.x).toBeLessThanOrEqual(200);
          expect(p.y).toBeGreaterThanOrEqual(0);
          expect(p.y).toBeLessThanOrEqual(100);
        }
      }
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
  });

  test('a shape that only the file knows is drawn as its box', () => {
    expect(bounds(framePath(frameOf(80, 40, { shape: { name: 'preset:star5', knobs: {} } })))).toEqual({
      x: 0,
      y: 0,
      width: 80,
      height: 40,
    });
  });
});
