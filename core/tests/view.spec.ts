import fc from 'fast-check';
import {
  alongPicture,
  CENTRED,
  containZoom,
  deriveView,
  IDENTITY,
  invert,
  multiply,
  ontoBox,
  ontoPicture,
  placementFromCrop,
  viewCrop,
  type Crop,
  type Placement,
} from '../src/index';

const side = fc.double({ min: 20, max: 800, noNaN: true });
const pixels = fc.integer({ min: 40, max: 6000 });
const box = fc.record({ width: side, height: side });
const picture = fc.record({ width: pixels, height: pixels });
const share = fc.double({ min: 0, max: 0.45, noNaN: true });
const crop = fc.record({ left: share, top: share, right: share, bottom: share });
const loose = fc.double({ min: -0.4, max: 0.45, noNaN: true });
const outset = fc.record({ left: loose, top: loose, right: loose, bottom: loose });
const placement = fc.record({
  aim: fc.record({ u: fc.double({ min: 0, max: 1, noNaN: true }), v: fc.double({ min: 0, max: 1, noNaN: true }) }),
  zoom: fc.double({ min: 0.3, max: 8, noNaN: true }),
  turn: fc.double({ min: -360, max: 360, noNaN: true }),
  mirror: fc.boolean(),
});
const near = (a: Crop, b: Crop, within: number): boolean =>
  (['left', 'top', 'right', 'bottom'] as const).every((k) => Math.abs(a[k] - b[k]) < within);

describe('what the box shows', () => {
  test('crop → placement → view is the same crop, negative ones included', () => {
    fc.assert(
      fc.property(crop, box, picture, (c, b, p) =>
        near(viewCrop(deriveView(placementFromCrop(c, b, p), b, p)), c, 1e-9),
      ),
    );
    fc.assert(
      fc.property(outset, box, picture, (c, b, p) =>
        near(viewCrop(deriveView(placementFromCrop(c, b, p), b, p)), c, 1e-9),
      ),
    );
  });

  test('placement → view → placement is the same where nothing is clamped', () => {
    fc.assert(
      fc.property(
        box,
        picture,
        fc.double({ min: 2.2, max: 9, noNaN: true }),
        fc.double({ min: 0.3, max: 0.7, noNaN: true }),
        fc.double({ min: 0.3, max: 0.7, noNaN: true }),
        (b, p, zoom, u, v) => {
          const asked: Placement = { ...CENTRED, zoom, aim: { u, v } };
          const back = placementFromCrop(viewCrop(deriveView(asked, b, p)), b, p);
          return (
            Math.abs(back.zoom / zoom - 1) < 1e-9 &&
            Math.abs(back.aim.u - u) < 1e-9 &&
            Math.abs(back.aim.v - v) < 1e-9 &&
            Math.abs(back.distortion - 1) < 1e-9
          );
        },
      ),
    );
  });

  test('cover never shows a gap, at any turn', () => {
    fc.assert(
      fc.property(placement, box, picture, (asked, b, p) =>
        deriveView({ ...CENTRED, ...asked }, b, p).corners.every(
          (c) => c.x > -1e-9 && c.x < 1 + 1e-9 && c.y > -1e-9 && c.y < 1 + 1e-9,
        ),
      ),
    );
  });

  test('nothing distorts: both scales are equal unless asked', () => {
    fc.assert(
      fc.property(placement, box, picture, (asked, b, p) => {
        const { scale } = deriveView({ ...CENTRED, ...asked }, b, p);
        return Math.abs(scale.x / scale.y - 1) < 1e-12;
      }),
    );
  });

  test('the middle of the box shows the aim', () => {
    fc.assert(
      fc.property(placement, box, picture, (asked, b, p) => {
        const view = deriveView({ ...CENTRED, ...asked, fit: 'contain' }, b, p);
        const mid = { x: (view.corners[0].x + view.corners[2].x) / 2, y: (view.corners[0].y + view.corners[2].y) / 2 };
        return Math.hypot(mid.x - asked.aim.u, mid.y - asked.aim.v) < 1e-6;
      }),
    );
  });

  test('cover at zoom 1 agrees with object-fit: cover and object-position (CSS Images 3: shares of the difference)', () => {
    const b = { width: 300, height: 200 };
    const p = { width: 1000, height: 1000 };
    // object-position 50 % 20 %: the picture is 300 × 300, the free space is −100, its top lies at −20.
    const view = deriveView({ ...CENTRED, aim: { u: 0.5, v: (20 + 100) / 300 } }, b, p);
    expect(viewCrop(view).top).toBeCloseTo(20 / 300, 12);
    expect(viewCrop(view).bottom).toBeCloseTo(80 / 300, 12);
  });

  test('a square cut of 540 × 540 from a wider picture is true (common practice)', () => {
    const view = deriveView(CENTRED, { width: 405, height: 405 }, { width: 960, height: 540 });
    const c = viewCrop(view);
    expect((1 - c.left - c.right) * 960).toBeCloseTo(540, 9);
    expect((1 - c.top - c.bottom) * 540).toBeCloseTo(540, 9);
  });

  test('contain at its own zoom shows all of the picture, touching two sides', () => {
    fc.assert(
      fc.property(box, picture, fc.constantFrom(0, 90, 180, 270), (b, p, turn) => {
        const asked = { ...CENTRED, fit: 'contain' as const, turn };
        const zoom = containZoom(asked, b, p);
        const c = viewCrop(deriveView({ ...asked, zoom }, b, p));
        const sides = [c.left, c.top, c.right, c.bottom];
        return sides.every((s) => s < 1e-9) && sides.some((s) => Math.abs(s) < 1e-9);
      }),
    );
  });

  test('stretch lays the whole picture into the box', () => {
    const view = deriveView(
      { ...CENTRED, fit: 'stretch', zoom: 3 },
      { width: 300, height: 100 },
      { width: 100, height: 100 },
    );
    expect(near(viewCrop(view), { left: 0, top: 0, right: 0, bottom: 0 }, 1e-12)).toBe(true);
    expect(view.placement.distortion).toBeCloseTo(3, 12);
  });

  test('a quarter turn swaps the sides exactly, and a mirror the corners', () => {
    const p = { width: 400, height: 200 };
    const turned = deriveView({ ...CENTRED, turn: 90 }, { width: 100, height: 200 }, p);
    expect(near(viewCrop(turned), { left: 0, top: 0, right: 0, bottom: 0 }, 1e-12)).toBe(true);
    // Turned clockwise, the box's top left shows the picture's bottom left.
    expect(turned.corners[0]).toEqual({ x: expect.closeTo(0, 9), y: expect.closeTo(1, 9) });
    const mirrored = deriveView({ ...CENTRED, mirror: true }, { width: 200, height: 100 }, p);
    expect(mirrored.corners[0]).toEqual({ x: expect.closeTo(1, 9), y: expect.closeTo(0, 9) });
  });

  test('a crop that distorts is read as it is', () => {
    // A 3:2 picture pressed into a square is 2/3 as wide as it should be.
    const squashed = placementFromCrop(
      { left: 0, top: 0, right: 0, bottom: 0 },
      { width: 90, height: 90 },
      { width: 3000, height: 2000 },
    );
    expect(squashed.distortion).toBeCloseTo(2 / 3, 12);
  });

  test('a crop that leaves nothing is refused', () => {
    expect(() =>
      placementFromCrop({ left: 0.6, top: 0, right: 0.4, bottom: 0 }, { width: 1, height: 1 }, { width: 9, height: 9 }),
    ).toThrow(RangeError);
  });
});

describe('between box and picture', () => {
  const size = { width: 3000, height: 2000 };
  const turned = { ...CENTRED, aim: { u: 0.4, v: 0.6 }, zoom: 2, turn: 30, mirror: true };
  const box = { width: 120, height: 90 };
  const { matrix } = deriveView(turned, box, size);

  test('the aim lies in the middle of the box', () => {
    const at = ontoBox(matrix, turned.aim, size);
    expect([at.x, at.y]).toEqual([expect.closeTo(60, 9), expect.closeTo(45, 9)]);
  });

  test('there and back again', () => {
    for (const p of [
      { x: 0, y: 0 },
      { x: 119, y: 3 },
      { x: -40, y: 200 },
    ]) {
      const back = ontoBox(matrix, ontoPicture(matrix, p, size), size);
      expect([back.x, back.y]).toEqual([expect.closeTo(p.x, 8), expect.closeTo(p.y, 8)]);
    }
    // A distance is the difference of two places.
    const [a, b] = [ontoPicture(matrix, { x: 10, y: 20 }, size), ontoPicture(matrix, { x: 17, y: 15 }, size)];
    const step = alongPicture(matrix, { x: 7, y: -5 }, size);
    expect([step.u, step.v]).toEqual([expect.closeTo(b.u - a.u, 9), expect.closeTo(b.v - a.v, 9)]);
  });

  test('a map after its inverse changes nothing', () => {
    multiply(matrix, invert(matrix)).forEach((v, i) => expect(v).toBeCloseTo(IDENTITY[i]!, 9));
  });
});
