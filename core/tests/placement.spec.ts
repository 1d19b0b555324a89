import fc from 'fast-check';
import smartcrop from 'smartcrop';
import {
  anchored,
  type ANCHORS,
  bandOf,
  CENTRED,
  contains,
  cropped,
  cutMarks,
  deriveView,
  findings,
  findShape,
  framePath,
  keepInView,
  keptOfMark,
  keptShare,
  leastZoom,
  ontoBox,
  pictureOffset,
  pictureRect,
  placementOfTiling,
  rankShapes,
  RATIOS,
  SHAPES,
  showWholly,
  shownPixels,
  slid,
  textInset,
  tilesOf,
  tilingOf,
  viewCrop,
  weigh,
  weighRegion,
  wholePicture,
  withCropSide,
  withPictureOffset,
  withPictureRect,
  withShape,
  type Crop,
  type Frame,
  type KeepFit,
  type KeepMark,
  type Pixels,
  type Weights,
} from '../src/index';
import { frameOf } from './frames';

const size = { width: 300, height: 200 };
const shaped = (name: string, w = 90, h = 90, more: Partial<Frame> = {}): Frame =>
  frameOf(w, h, { shape: { name, knobs: {} }, ...more });

describe('least and largest zoom', () => {
  test('a diamond turned by 45° with its picture needs only its own square, not the turned box (Pythagoras)', () => {
    const f = shaped('diamond', 100, 100, { placement: { ...CENTRED, turn: 45 } });
    // Seen along the picture’s axes it is a square of side 100/√2; the turned box is 100·√2 wide.
    expect(leastZoom(f, { width: 200, height: 200 }).zoom).toBeCloseTo(0.5, 6);
    expect(leastZoom(shaped('diamond', 100, 100), { width: 200, height: 200 }).zoom).toBeCloseTo(1, 9);
  });

  test('at the least zoom no corner of any shape is empty; a little less leaves one', () => {
    for (const s of SHAPES.filter((_, i) => i % 5 === 0))
      for (const turn of [0, 30]) {
        const base = withShape(frameOf(90, 70, { placement: { ...CENTRED, turn } }), { name: s.name, knobs: {} }, size);
        const placement = leastZoom(base, size);
        const all: Weights = { width: 60, height: 40, data: new Float32Array(2400).fill(1) };
        const share = (zoom: number): number => {
          const f = { ...base, placement: { ...placement, fit: 'contain' as const, zoom } };
          const { scale } = deriveView(f.placement, f.box, size);
          return keptShare(f, size, all) * size.width * scale.x * size.height * scale.y;
        };
        // The area of the shape that lies on the picture does not grow any more.
        expect(Math.abs(share(placement.zoom * 1.02) / share(placement.zoom * 1.5) - 1)).toBeLessThan(0.1);
      }
  });

  test('the whole of a 3 : 2 picture in a circle: its diagonal is the diameter (Pythagoras)', () => {
    const p = wholePicture(shaped('circle', 100, 100), size)!;
    const { scale } = deriveView(p, { width: 100, height: 100 }, size);
    expect(Math.hypot(300, 200) * scale.x).toBeCloseTo(100, 0);
    expect(p.aim.u).toBeCloseTo(0.5, 2);
  });

  test('the largest rectangle of ratio 1 in a right triangle of legs 100 has side 50 (handbook)', () => {
    const p = wholePicture(shaped('right-triangle', 100, 100), { width: 50, height: 50 })!;
    expect(deriveView(p, { width: 100, height: 100 }, { width: 50, height: 50 }).scale.x * 50).toBeCloseTo(50, 0);
  });
});

describe('text inside', () => {
  test('a square in a circle has its diagonal as the diameter; a rectangle is filled (Euclid)', () => {
    const r = textInset(shaped('circle', 100, 100))!;
    expect(r.width).toBeCloseTo(100 / Math.SQRT2, 0);
    expect(r.x + r.width / 2).toBeCloseTo(50, 1);
    expect(textInset(shaped('rectangle', 90, 60))!.width).toBeCloseTo(90, 0);
  });

  test('lies inside every shape', () => {
    for (const s of SHAPES.filter((_, i) => i % 4 === 1)) {
      const f = withShape(frameOf(120, 80), { name: s.name, knobs: {} }, size);
      const r = textInset(f)!;
      const path = framePath(f);
      const e = 0.3;
      for (const [x, y] of [
        [r.x + e, r.y + e],
        [r.x + r.width - e, r.y + e],
        [r.x + r.width - e, r.y + r.height - e],
        [r.x + e, r.y + r.height - e],
      ])
        expect([s.name, contains(path, { x: x!, y: y! })]).toEqual([s.name, true]);
    }
  });
});

/** From much too close by: out to the largest zoom that keeps a mark. */
const fromCloseBy = (frame: Frame, ...keep: KeepMark[]): KeepFit | null =>
  keepInView({ ...frame, placement: { ...frame.placement, zoom: 40 } }, keep, size);

describe('keep marks', () => {
  const keep = { u: 0.42, v: 0.33, width: 0.16, height: 0.24 };
  test.each(['circle', 'diamond', 'heart', 'star-5', 'gable', 'cloud', 'arrow-right', 'leaf'])(
    '%s keeps all of it, at a zoom that cannot be larger',
    (name) => {
      const f = shaped(name);
      const fit = fromCloseBy(f, keep)!;
      expect(fit.lost).toEqual([]);
      expect(keptOfMark({ ...f, placement: fit.placement }, size, keep)).toBeGreaterThan(0.995);
      // Larger by 3 % cuts it, wherever it is put.
      let best = 0;
      for (let u = -6; u <= 6; u += 3)
        for (let v = -6; v <= 6; v += 3) {
          const aim = { u: fit.placement.aim.u + u / 200, v: fit.placement.aim.v + v / 200 };
          best = Math.max(
            best,
            keptOfMark({ ...f, placement: { ...fit.placement, zoom: fit.placement.zoom * 1.03, aim } }, size, keep),
          );
        }
      expect(best).toBeLessThan(0.9999);
    },
  );

  test('a mark in the middle of a circle is a square inscribed in it (Euclid)', () => {
    const f = shaped('circle', 100, 100);
    const fit = fromCloseBy(f, { u: 0.4, v: 0.35, width: 0.2, height: 0.3 })!;
    // 60 × 60 pixels; a square of side 100/√2 is inscribed.
    expect(60 * deriveView(fit.placement, f.box, size).scale.x).toBeCloseTo(100 / Math.SQRT2, 0);
    expect(fit.placement.aim.u).toBeCloseTo(0.5, 2);
  });

  test('a mark that is in already moves nothing, and never zooms in', () => {
    const f = shaped('rounded');
    expect(keepInView(f, [{ u: 0.45, v: 0.45, width: 0.1, height: 0.1 }], size)!.placement).toBe(f.placement);
  });

  test.each(['circle', 'diamond', 'heart', 'star-5', 'cloud', 'leaf'])(
    '%s: a mark that is cut comes in by the shortest way, zoomed out only as far as it must',
    (name) => {
      const base = shaped(name);
      const f = { ...base, placement: { ...base.placement, zoom: 2, aim: { u: 0.6, v: 0.5 } } };
      const off = { u: 0.3, v: 0.35, width: 0.12, height: 0.2 };
      const most = fromCloseBy(f, off)!.placement.zoom;
      const { placement, lost } = keepInView(f, [off], size)!;
      expect(lost).toEqual([]);
      expect(keptOfMark({ ...f, placement }, size, off)).toBeGreaterThan(0.99);
      expect(placement.zoom).toBeLessThanOrEqual(2 + 1e-9);
      expect(placement.zoom).toBeCloseTo(Math.min(2, most), 2);
      // Nine tenths of the way are not enough, where the zoom stays.
      if (most > 2) {
        const aim = (t: number): { u: number; v: number } => ({
          u: 0.6 + (placement.aim.u - 0.6) * t,
          v: 0.5 + (placement.aim.v - 0.5) * t,
        });
        expect(keptOfMark({ ...f, placement: { ...placement, aim: aim(0.9) } }, size, off)).toBeLessThan(0.999);
      }
    },
  );

  test('wherever the picture is, the mark comes in, the shape stays full, and nothing is zoomed in', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.constantFrom('circle', 'heart', 'rounded', 'diamond'),
        fc.record({ u: share, v: share }),
        fc.double({ min: 1, max: 3, noNaN: true }),
        fc.record({ u: share, v: share, width: share, height: share }),
        (name, aim, zoom, k) => {
          const f = shaped(name, 90, 90, { placement: { ...CENTRED, aim, zoom } });
          // The share is counted on a map of coarse grains.
          const mark = {
            u: k.u * 0.8,
            v: k.v * 0.7,
            width: 0.04 + k.width * 0.16,
            height: 0.04 + k.height * 0.26,
          };
          const fit = keepInView(f, [mark], size);
          if (fit?.lost.length !== 0) return;
          expect(keptOfMark({ ...f, placement: fit.placement }, size, mark)).toBeGreaterThan(0.97);
          expect(fit.placement.zoom).toBeLessThanOrEqual(deriveView(f.placement, f.box, size).placement.zoom + 1e-6);
        },
      ),
      { numRuns: 8 },
    );
  });

  describe('several', () => {
    const left = { u: 0.12, v: 0.3, width: 0.1, height: 0.15 };
    const right = { u: 0.6, v: 0.5, width: 0.12, height: 0.2 };
    const close = shaped('circle', 90, 90, { placement: { ...CENTRED, zoom: 2.6, aim: { u: 0.3, v: 0.4 } } });

    test('all come in: the circle round them is as large as the shape (smallest enclosing circle)', () => {
      const fit = keepInView(close, [left, right], size)!;
      expect(fit.lost).toEqual([]);
      const { matrix, scale } = deriveView(fit.placement, close.box, size);
      const corners = [left, right].flatMap((m) =>
        [0, 1].flatMap((i) => [0, 1].map((k) => ({ u: m.u + i * m.width, v: m.v + k * m.height }))),
      );
      // The farthest two are a diameter: what else there is lies within it.
      const far = Math.max(
        ...corners.flatMap((a) =>
          corners.map((b) => Math.hypot((a.u - b.u) * size.width, (a.v - b.v) * size.height) * scale.x),
        ),
      );
      expect(far).toBeGreaterThan(90 * 0.99);
      expect(far).toBeLessThan(90.01);
      for (const at of corners) {
        const p = ontoBox(matrix, at, size);
        expect(Math.hypot(p.x - 45, p.y - 45)).toBeLessThan(45.05);
      }
    });

    test('what is in already is not moved, and two that fit at this zoom are only moved', () => {
      const near = { ...left, u: 0.3 };
      const wide = { ...close, placement: { ...close.placement, zoom: 1.2 } };
      const moved = keepInView(wide, [left, near], size)!.placement;
      expect(moved.zoom).toBeCloseTo(1.2, 9);
      const again = { ...wide, placement: moved };
      expect(keepInView(again, [left, near], size)!.placement).toBe(moved);
    });

    test('where not all can stay the first do, and the others are named', () => {
      const ends = [
        { u: 0.05, v: 0.4, width: 0.15, height: 0.2 },
        { u: 0.85, v: 0.4, width: 0.15, height: 0.2 },
        { u: 0.25, v: 0.45, width: 0.1, height: 0.1 },
      ];
      const wide = shaped('rectangle', 60, 90);
      const fit = keepInView(wide, ends, size)!;
      expect(fit.lost).toEqual([1]);
      const framed = { ...wide, placement: fit.placement };
      expect(cutMarks(framed, size, ends).map((c) => c.index)).toEqual([1]);
      const [first, second, third] = ends as [KeepMark, KeepMark, KeepMark];
      expect(keepInView(wide, [second, first, third], size)!.lost).toEqual([1, 2]);
      // All of them show only where corners may stay empty.
      const all = showWholly(wide, ends, size)!;
      expect(cutMarks({ ...wide, placement: all }, size, ends)).toEqual([]);
    });

    test('a corner that is empty already keeps no mark out; none is made', () => {
      const roomy = shaped('circle', 90, 90, { placement: { ...CENTRED, fit: 'contain', zoom: 0.7 } });
      const mark = { u: 0, v: 0, width: 0.1, height: 0.1 };
      expect(keepInView(roomy, [mark], size)!.lost).toEqual([]);
      const full = keepInView(shaped('circle'), [mark], size)!;
      expect(full).toEqual({ placement: shaped('circle').placement, lost: [0] });
    });

    test('wherever two marks are: both whole, or one is said to be lost; never zoomed in, never a new empty corner', () => {
      const share = fc.double({ min: 0, max: 1, noNaN: true });
      const mark = fc.record({ u: share, v: share, width: share, height: share }).map((m) => ({
        u: m.u * 0.85,
        v: m.v * 0.8,
        width: 0.04 + m.width * 0.1,
        height: 0.04 + m.height * 0.15,
      }));
      fc.assert(
        fc.property(
          fc.constantFrom('circle', 'heart', 'diamond', 'leaf', 'rounded'),
          fc.double({ min: 1, max: 3, noNaN: true }),
          mark,
          mark,
          (name, zoom, a, b) => {
            const f = shaped(name, 90, 90, { placement: { ...CENTRED, zoom } });
            const { placement, lost } = keepInView(f, [a, b], size)!;
            const framed = { ...f, placement };
            for (const [i, m] of [a, b].entries())
              if (!lost.includes(i)) expect(keptOfMark(framed, size, m)).toBeGreaterThan(0.96);
            expect(placement.zoom).toBeLessThanOrEqual(zoom + 1e-6);
            const empty = (x: Frame): number =>
              findings(x, { pixels: size, orientation: 1 }).some((n) => n.code === 'empty-corner') ? 1 : 0;
            expect(empty(framed)).toBeLessThanOrEqual(empty(f));
          },
        ),
        { numRuns: 25 },
      );
    });
  });

  test('what no shape with a hole can keep without empty corners says so', () => {
    const fit = fromCloseBy(shaped('ring'), { u: 0, v: 0, width: 1, height: 1 })!;
    expect(fit.lost).toEqual([0]);
  });

  test('the share of an even map that a circle keeps is π/4 of the square cut from it (Euclid)', () => {
    const even: Weights = { width: 300, height: 200, data: new Float32Array(60_000).fill(1) };
    expect(keptShare(shaped('circle'), size, even)).toBeCloseTo((Math.PI / 4) * (200 / 300), 3);
    expect(keptShare(shaped('rectangle', 90, 60), size, even)).toBeCloseTo(1, 6);
    expect(keptShare(shaped('circle'), size, { width: 2, height: 2, data: new Float32Array(4) })).toBe(1);
  });
});

/** Three blobs of weight, so that where a shape lies matters. */
const blobs: Weights = (() => {
  const [width, height] = [90, 60];
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (const [cx, cy, r, k] of [
        [20, 18, 9, 1],
        [62, 40, 14, 0.7],
        [40, 30, 30, 0.1],
      ] as const)
        data[y * width + x]! += k * Math.exp(-((x - cx) ** 2 + (y - cy) ** 2) / (r * r));
  return { width, height, data };
})();

describe('ranking', () => {
  const f = frameOf(90, 70);
  test.each(['circle', 'diamond', 'heart', 'star-5', 'ring', 'arrow-bent', 'half', 'bolt', 'gable'])(
    '%s: never worse than brute force on a grid by more than 1 %%',
    (name) => {
      const [found] = rankShapes(f, size, blobs, [findShape(name)!]);
      const least = leastZoom(found!.frame, size).zoom;
      let best = 0;
      for (let k = 0; k < 4; k++)
        for (let u = 0; u <= 12; u++)
          for (let v = 0; v <= 12; v++) {
            const zoom = least * (1 + k * k * 0.08);
            const placement = {
              ...found!.frame.placement,
              fit: 'cover' as const,
              zoom: Math.max(1, zoom),
              aim: { u: u / 12, v: v / 12 },
            };
            best = Math.max(best, keptShare({ ...found!.frame, placement }, size, blobs));
          }
      expect(found!.share).toBeGreaterThan(best * 0.99);
      expect(keptShare(found!.frame, size, blobs)).toBeCloseTo(found!.share, 2);
    },
  );

  test('a mirrored picture gives every symmetric shape the same share', () => {
    const flipped: Weights = {
      ...blobs,
      data: blobs.data.map((_, i) => blobs.data[Math.floor(i / 90) * 90 + 89 - (i % 90)]!),
    };
    const symmetric = ['circle', 'diamond', 'heart', 'gable', 'hexagon', 'star-6', 'pill'].map((n) => findShape(n)!);
    const [a, b] = [rankShapes(f, size, blobs, symmetric), rankShapes(f, size, flipped, symmetric)];
    a.forEach((r, i) => expect(Math.abs(r.share - b[i]!.share)).toBeLessThan(0.01));
  });

  test('the order stays, bands are named, and a keep mark that fits is kept whole', () => {
    const r = rankShapes(f, size, [{ u: 0.3, v: 0.3, width: 0.3, height: 0.3 }], SHAPES.slice(0, 12));
    expect(r.map((x) => x.name)).toEqual(SHAPES.slice(0, 12).map((s) => s.name));
    expect(r[0]).toMatchObject({ name: 'circle', share: 1, band: 'all' });
    expect([bandOf(1), bandOf(0.95), bandOf(0.5)]).toEqual(['all', 'nearly', 'cuts']);
  });

  test('a square lands near the crop that smartcrop finds, on one bright thing', async () => {
    const pixels: Pixels = { width: 120, height: 80, data: new Uint8ClampedArray(120 * 80 * 4).fill(60) };
    for (let y = 0; y < 80; y++)
      for (let x = 0; x < 120; x++)
        pixels.data.set(
          Math.hypot(x - 88, y - 40) < 16 ? [((x ^ y) & 4) * 40 + 90, 150, 110, 255] : [60, 60, 64, 255],
          (y * 120 + x) * 4,
        );
    const crop = await (
      smartcrop.crop as unknown as (i: unknown, o: object) => Promise<{ topCrop: { x: number; width: number } }>
    )(pixels, {
      width: 80,
      height: 80,
      minScale: 1,
      ruleOfThirds: false,
      prescale: false,
      imageOperations: {
        open: (i: unknown) => Promise.resolve(i),
        resample: (i: unknown) => Promise.resolve(i),
        getData: (i: unknown) => Promise.resolve(i),
      },
    });
    const [square] = rankShapes(frameOf(90, 60), { width: 120, height: 80 }, weigh(pixels), [findShape('square')!]);
    const shown = shownPixels(square!.frame, { width: 120, height: 80 });
    const theirs = { from: crop.topCrop.x, to: crop.topCrop.x + crop.topCrop.width };
    // Both must hold the thing; where it lies in them is a matter of taste.
    expect(shown.x).toBeLessThanOrEqual(72);
    expect(shown.x + shown.width).toBeGreaterThanOrEqual(104);
    expect([theirs.from <= 72, theirs.to >= 104]).toEqual([true, true]);
  });
});

describe('ratios', () => {
  test('those in use are there, √2 is kept by halving (ISO 216)', () => {
    expect(RATIOS.map((r) => r.name)).toEqual(
      expect.arrayContaining(['1:1', '2:3', '3:2', '5:7', '6:4', '16:9', '9:16', '21:9']),
    );
    const a = RATIOS.find((r) => r.name === 'A-landscape')!.ratio;
    expect(2 / a).toBeCloseTo(a, 12);
  });
});

describe('moving', () => {
  test('nine anchors put the picture’s edge on the box’s (SVG 2 §8.10, CSS object-position 0 % 50 % 100 %)', () => {
    const f = frameOf(50, 50);
    const at = (a: (typeof ANCHORS)[number]) => viewCrop(deriveView(anchored(f, a, size).placement, f.box, size));
    expect(at('left').left).toBeCloseTo(0, 9);
    expect(at('right').right).toBeCloseTo(0, 9);
    expect(at('centre').left).toBeCloseTo(at('centre').right, 9);
    const contained = { ...f, placement: { ...CENTRED, fit: 'contain' as const, zoom: 0.5 } };
    const top = viewCrop(deriveView(anchored(contained, 'top-left', size).placement, f.box, size));
    expect([top.left, top.top]).toEqual([expect.closeTo(0, 9), expect.closeTo(0, 9)]);
  });

  test('the picture under the shape: what is read is what was set', () => {
    const f = frameOf(60, 60, { placement: { ...CENTRED, zoom: 2, turn: 25, mirror: true } });
    const moved = withPictureOffset(f, { x: 4, y: -3 }, size);
    expect(pictureOffset(moved, size)).toEqual({ x: expect.closeTo(4, 6), y: expect.closeTo(-3, 6) });
  });

  test('the shape over the picture: the picture keeps its place on the page', () => {
    const f = frameOf(40, 40, { flow: 'floating', placement: { ...CENTRED, zoom: 2 } });
    const next = slid(f, 7, -5, size);
    expect([next.box.x, next.box.y]).toEqual([7, -5]);
    const place = (g: Frame): number[] => {
      const m = deriveView(g.placement, g.box, size).matrix;
      return [m[4] + g.box.x, m[5] + g.box.y, m[0]];
    };
    place(next).forEach((v, i) => expect(v).toBeCloseTo(place(f)[i]!, 6));
    // It stops where the picture does.
    const far = slid(f, 1000, 0, size);
    expect(viewCrop(deriveView(far.placement, far.box, size)).right).toBeCloseTo(0, 6);
  });

  test('dragging the crop keeps the picture where it is, at its scale, and the opposite side in place', () => {
    const num = fc.double({ min: -25, max: 25, noNaN: true });
    const side = fc.constantFrom(-1, 0, 1) as fc.Arbitrary<-1 | 0 | 1>;
    fc.assert(
      fc.property(side, side, num, num, fc.constantFrom(null, 1, 1.5), (x, y, dx, dy, ratio) => {
        if (x === 0 && y === 0) return true;
        const f = frameOf(60, 40, {
          flow: 'floating',
          placement: { ...CENTRED, zoom: 1.6, aim: { u: 0.45, v: 0.55 } },
        });
        const g = cropped(f, { x, y }, dx, dy, size, ratio);
        const [a, b] = [deriveView(f.placement, f.box, size), deriveView(g.placement, g.box, size)];
        const still =
          Math.abs(a.matrix[4] + f.box.x - b.matrix[4] - g.box.x) < 1e-6 &&
          Math.abs(a.matrix[5] + f.box.y - b.matrix[5] - g.box.y) < 1e-6 &&
          Math.abs(a.scale.y - b.scale.y) < 1e-9;
        const opposite =
          (x >= 0 || Math.abs(g.box.x + g.box.width - f.box.x - f.box.width) < 1e-6) &&
          (x <= 0 || Math.abs(g.box.x - f.box.x) < 1e-6) &&
          (y <= 0 || Math.abs(g.box.y - f.box.y) < 1e-6);
        const held = ratio === null || Math.abs(g.box.width / g.box.height / ratio - 1) < 1e-6;
        const true_ = Math.abs(b.placement.distortion - 1) < 1e-9;
        return still && opposite && held && true_;
      }),
    );
  });
});

describe('tiles', () => {
  test('scale and origin are read as they were set', () => {
    const p = placementOfTiling({ scale: 0.25, origin: { x: 7, y: 3 } }, { width: 100, height: 80 }, size);
    const t = tilingOf(p, { width: 100, height: 80 }, size);
    expect(t.scale).toBeCloseTo(0.25, 9);
    expect([t.origin.x, t.origin.y]).toEqual([expect.closeTo(7, 9), expect.closeTo(3, 9)]);
    // 300 px at 96 to the inch and a quarter of it: 56.25 pt (CSS Values 4 §6.2).
    expect(deriveView(p, { width: 100, height: 80 }, size).scale.x * 300).toBeCloseTo(56.25, 6);
    expect(() => placementOfTiling({ scale: 0, origin: { x: 0, y: 0 } }, { width: 1, height: 1 }, size)).toThrow(
      RangeError,
    );
  });
  test('tiles cover the box; every other one is mirrored when asked', () => {
    const box = { width: 100, height: 80 };
    const p = { ...placementOfTiling({ scale: 0.25, origin: { x: 0, y: 0 } }, box, size), mirrored: 'across' as const };
    const tiles = tilesOf(p, deriveView(p, box, size));
    expect(tiles).toHaveLength(2 * 3);
    expect(tiles.map((t) => t.across)).toEqual([false, true, false, true, false, true]);
  });
});

test('weights of a region are its area', () => {
  const w = weighRegion({ u: 0.1, v: 0.25, width: 0.35, height: 0.5 }, 64, 48);
  expect(w.data.reduce((a, b) => a + b, 0)).toBeCloseTo(0.35 * 64 * 0.5 * 48, 3);
});

describe('by number', () => {
  const photo = { width: 3000, height: 2000 };
  const f = frameOf(200, 200, { placement: { ...CENTRED, zoom: 1.5, aim: { u: 0.5, v: 0.5 } } });
  test('the picture’s left, top, width and height are read, and set one by one', () => {
    // 300 points high at a zoom of 1.5 on a box of 200; 3:2.
    const told = (g: Frame): number[] => {
      const { x, y, width, height } = pictureRect(g, photo);
      return [x, y, width, height].map((v) => Math.round(v * 1e6) / 1e6);
    };
    expect(told(f)).toEqual([-125, -50, 450, 300]);
    const wider = withPictureRect(f, { width: 600 }, photo);
    expect(told(wider)).toEqual([-125, -50, 600, 400]);
    expect(pictureRect(withPictureRect(f, { x: -10 }, photo), photo).x).toBeCloseTo(-10, 9);
    // Cover has no gaps.
    expect(pictureRect(withPictureRect(f, { x: 30 }, photo), photo).x).toBeCloseTo(0, 9);
  });
  test('a typed crop leaves the other three sides, and the scale, as they were', () => {
    const crop = (g: Frame): Crop => viewCrop(deriveView(g.placement, g.box, photo));
    const before = crop(f);
    const after = withCropSide(f, 'left', 0.4, photo);
    expect(crop(after).left).toBeCloseTo(0.4, 9);
    for (const side of ['top', 'right', 'bottom'] as const) expect(crop(after)[side]).toBeCloseTo(before[side], 9);
    expect(deriveView(after.placement, after.box, photo).scale.x).toBeCloseTo(0.15, 9);
    const mirrored = { ...f, placement: { ...f.placement, mirror: true } };
    expect(crop(withCropSide(mirrored, 'left', 0.4, photo)).left).toBeCloseTo(0.4, 9);
  });
});
