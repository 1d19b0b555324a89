import fc from 'fast-check';
import {
  CENTRED,
  deriveView,
  freed,
  insideRatio,
  movedToSubject,
  isDistorted,
  mended,
  nudged,
  placementFromCrop,
  viewCrop,
  withRatio,
  withShape,
  withSize,
  zoomed,
  type Frame,
} from '../src/index';
import { frameOf } from './frames';

const photo = { width: 3000, height: 2000 };
const circle = { name: 'circle', knobs: {} };
const scaleOf = (f: Frame, p = photo): { x: number; y: number } => deriveView(f.placement, f.box, p).scale;

describe('choosing a shape', () => {
  test('a circle makes the box square by its shorter side, and the picture keeps its scale', () => {
    const before = frameOf(300, 200);
    const after = withShape(before, circle, photo);
    expect(after.box).toMatchObject({ width: 200, height: 200 });
    expect(scaleOf(after).x).toBeCloseTo(scaleOf(before).x, 12);
    expect(scaleOf(after).x).toBeCloseTo(scaleOf(after).y, 12);
  });

  test('the subject decides what is cut where nothing was cut so far', () => {
    const after = withShape(frameOf(300, 200), circle, photo, { u: 0.6, v: 0.9 });
    const { aim } = deriveView(after.placement, after.box, photo).placement;
    expect(aim.u).toBeCloseTo(0.6, 9);
    expect(aim.v).toBe(0.5);
  });

  test('an aim that was there before stays', () => {
    const crop = { left: 0.3, top: 0, right: 0.1, bottom: 0 };
    const before = frameOf(180, 200, { placement: placementFromCrop(crop, { width: 180, height: 200 }, photo) });
    const after = withShape(before, circle, photo, { u: 0.2, v: 0.5 });
    expect(deriveView(after.placement, after.box, photo).placement.aim.u).toBeCloseTo(0.6, 9);
  });

  test('a free shape after a locked one has the former box and view back, as large as it was made since', () => {
    const before = frameOf(300, 200, { placement: { ...CENTRED, aim: { u: 0.4, v: 0.5 }, zoom: 1.5 } });
    const heart = { name: 'heart', knobs: {} };
    const round = withShape(before, circle, photo);
    const back = withShape(withShape(round, { name: 'hexagon', knobs: {} }, photo), heart, photo);
    expect(back.box).toMatchObject({ width: 300, height: 200 });
    expect(back.seat).toEqual(before.seat);
    expect(back.placement.zoom).toBeCloseTo(1.5, 9);
    expect(back.placement.aim).toEqual(before.placement.aim);
    const small = withShape(withSize(round, { width: 100, height: 100 }, photo, 'zoom'), heart, photo);
    expect(small.box.width).toBeCloseTo(150, 9);
    expect(small.box.height).toBeCloseTo(100, 9);
    // Locked shapes one after the other do not make the box smaller and smaller.
    const again = withShape(withShape(round, { name: 'hexagon', knobs: {} }, photo), circle, photo);
    expect(again.box.width).toBeCloseTo(200, 9);
  });

  test('an ellipse keeps any box', () => {
    expect(withShape(frameOf(300, 200), { name: 'ellipse', knobs: {} }, photo).box).toMatchObject({
      width: 300,
      height: 200,
    });
  });

  test('a floating frame keeps its centre, one in the text its place', () => {
    const floating = withShape(
      frameOf(300, 200, { flow: 'floating', box: { x: 10, y: 20, width: 300, height: 200 } }),
      circle,
      photo,
    );
    expect(floating.box).toEqual({ x: 60, y: 20, width: 200, height: 200 });
    expect(withShape(frameOf(300, 200), circle, photo).box).toMatchObject({ x: 0, y: 0 });
  });

  test('a squashed picture becomes a true circle', () => {
    const squashed = frameOf(90, 90, {
      placement: placementFromCrop({ left: 0, top: 0, right: 0, bottom: 0 }, { width: 90, height: 90 }, photo),
    });
    const after = withShape(squashed, circle, photo, { u: 0.62, v: 0.5 });
    const s = scaleOf(after);
    expect(s.x).toBeCloseTo(s.y, 12);
    expect(deriveView(after.placement, after.box, photo).placement.aim.u).toBeCloseTo(0.62, 9);
  });

  test('a free shape in the same box leaves a squashed picture as it came, for the finding to tell', () => {
    const squashed = frameOf(90, 90, {
      placement: placementFromCrop({ left: 0, top: 0, right: 0, bottom: 0 }, { width: 90, height: 90 }, photo),
    });
    expect(withShape(squashed, { name: 'heart', knobs: {} }, photo).placement).toEqual(squashed.placement);
  });

  test('whatever the picture and the box, a circle is true and has no gap', () => {
    const side = fc.double({ min: 10, max: 900, noNaN: true });
    const share = fc.double({ min: -0.2, max: 0.4, noNaN: true });
    fc.assert(
      fc.property(
        side,
        side,
        fc.integer({ min: 20, max: 9000 }),
        fc.integer({ min: 20, max: 9000 }),
        share,
        share,
        (w, h, pw, ph, left, top) => {
          const p = { width: pw, height: ph };
          const placement = placementFromCrop({ left, top, right: 0.1, bottom: 0.05 }, { width: w, height: h }, p);
          const after = withShape(frameOf(w, h, { placement }), circle, p);
          const view = deriveView(after.placement, after.box, p);
          const gap = Object.values(viewCrop(view)).some((v) => v < -1e-9);
          return (
            after.box.width === after.box.height &&
            Math.abs(view.scale.x / view.scale.y - 1) < 1e-9 &&
            (!gap || after.placement.fit === 'contain')
          );
        },
      ),
    );
  });

  test('a box that stops being square frees the shape', () => {
    const named = (name: string, height: number, fit: 'fill' | 'keep' = 'fill'): string =>
      freed(frameOf(10, height, { shape: { name, knobs: {} }, seat: { fit, anchor: 'centre', repeat: false } })).shape
        .name;
    expect(named('circle', 12)).toBe('ellipse');
    expect(named('square', 12)).toBe('rectangle');
    expect(named('circle', 10)).toBe('circle');
    // One that keeps its ratio in its box is a circle in any box.
    expect(named('circle', 12, 'keep')).toBe('circle');
  });
});

describe('size and ratio', () => {
  test('resizing keeps the zoom, cutting keeps the scale', () => {
    const f = frameOf(300, 200, { placement: { ...CENTRED, zoom: 2 } });
    expect(withSize(f, { width: 150, height: 100 }, photo, 'zoom').placement.zoom).toBe(2);
    const cut = withSize(f, { width: 100, height: 100 }, photo, 'scale');
    expect(scaleOf(cut).x).toBeCloseTo(scaleOf(f).x, 12);
  });

  test('another ratio keeps the area, shows as much as covering allows, and never distorts', () => {
    const f = withRatio(frameOf(300, 200), 1, photo);
    expect(f.box.width * f.box.height).toBeCloseTo(300 * 200, 6);
    expect(f.box.width).toBeCloseTo(f.box.height, 9);
    // A wide banner upright: no sliver, and no more than covering hides (design: a ratio keeps the area of the box).
    const banner = frameOf(540, 180);
    const upright = withRatio(banner, 2 / 3, { width: 3000, height: 1000 });
    expect(upright.box.width).toBeCloseTo(Math.sqrt((540 * 180 * 2) / 3), 6);
    expect(deriveView(upright.placement, upright.box, { width: 3000, height: 1000 }).placement.zoom).toBe(1);
    // What the author had zoomed stays so; a column that is narrower holds it.
    const zoomed2 = withRatio(frameOf(300, 200, { placement: { ...CENTRED, zoom: 2 } }), 1, photo);
    expect(zoomed2.placement.zoom).toBe(2);
    expect(withRatio(banner, 6, photo, undefined, { width: 400, height: 700 }).box.width).toBe(400);
    expect(insideRatio({ width: 300, height: 200 }, 16 / 9)).toEqual({ width: 300, height: 168.75 });
    expect(() => withRatio(frameOf(1, 1), 0, photo)).toThrow(/ratio/);
  });

  test('rounding in the file is not carried into a new crop', () => {
    const f = frameOf(300, 200, { placement: { ...CENTRED, distortion: 1.0004 } });
    expect(withRatio(f, 1, photo).placement.distortion).toBe(1);
  });
});

describe('mending', () => {
  test('makes the scales equal and keeps box and centre', () => {
    const squashed = frameOf(90, 90, {
      placement: placementFromCrop({ left: 0.1, top: 0, right: 0.2, bottom: 0 }, { width: 90, height: 90 }, photo),
    });
    const after = mended(squashed, photo);
    expect(isDistorted(after.placement)).toBe(false);
    expect(after.box).toEqual(squashed.box);
    expect(after.placement.aim).toEqual(squashed.placement.aim);
    expect(mended(after, photo)).toBe(after);
  });
});

describe('by hand', () => {
  test('moving the picture by a distance moves it by that distance', () => {
    const f = frameOf(200, 200, { placement: { ...CENTRED, zoom: 2 } });
    const moved = nudged(f, 12, -7, photo);
    const a = deriveView(f.placement, f.box, photo).matrix;
    const b = deriveView(moved.placement, moved.box, photo).matrix;
    expect(b[4] - a[4]).toBeCloseTo(12, 9);
    expect(b[5] - a[5]).toBeCloseTo(-7, 9);
    const back = nudged(moved, -12, 7, photo);
    expect(back.placement.aim.u).toBeCloseTo(0.5, 12);
  });

  test('moving stops at the edge, so that the way back starts there', () => {
    const far = nudged(frameOf(200, 200), 5000, 0, photo);
    const back = nudged(far, -10, 0, photo);
    expect(viewCrop(deriveView(far.placement, far.box, photo)).left).toBeCloseTo(0, 12);
    expect(viewCrop(deriveView(back.placement, back.box, photo)).left).toBeCloseTo(10 / 300, 9);
  });

  test('zooming keeps the point under the pointer', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 40, max: 160, noNaN: true }),
        fc.double({ min: 40, max: 160, noNaN: true }),
        fc.double({ min: 2, max: 6, noNaN: true }),
        (x, y, zoom) => {
          const f = frameOf(200, 200, { placement: { ...CENTRED, zoom: 2 } });
          const at = (g: Frame): { u: number; v: number } => {
            const [a, , , d, e, k] = deriveView(g.placement, g.box, photo).matrix;
            return { u: (x - e) / a, v: (y - k) / d };
          };
          const before = at(f);
          const after = at(zoomed(f, zoom, { x, y }, photo));
          return Math.abs(before.u - after.u) < 1e-6 && Math.abs(before.v - after.v) < 1e-6;
        },
      ),
    );
  });
});

describe('a first shape keeps the subject', () => {
  const round = frameOf(200, 200, { shape: circle, placement: { ...CENTRED, zoom: 1.2 } });
  test('a subject at the edge comes in, as far as the picture goes, at the same scale', () => {
    const moved = movedToSubject(round, photo, { u: 0.8, v: 0.5 })!;
    expect(scaleOf(moved)).toEqual(scaleOf(round));
    expect(moved.placement.aim.u).toBeGreaterThan(0.7);
    expect(viewCrop(deriveView(moved.placement, moved.box, photo)).right).toBeGreaterThanOrEqual(-1e-9);
  });
  test('one that is in already, or that the picture cannot bring in, leaves the crop alone', () => {
    expect(movedToSubject(round, photo, { u: 0.55, v: 0.5 })).toBeNull();
    const all = frameOf(300, 200, { shape: circle });
    expect(movedToSubject(all, photo, { u: 0.99, v: 0.5 })).toBeNull();
  });
});
