import fc from 'fast-check';
import {
  CENTRED,
  deriveView,
  frameMatrix,
  applyTo,
  ontoBox,
  subjectAlone,
  type Frame,
  type ShapeChoice,
} from '../src/index';
import { frameOf } from './frames';

const size = { width: 300, height: 200 };
const region = { u: 0.3, v: 0.2, width: 0.4, height: 0.7 };
const outline: ShapeChoice = {
  name: 'silhouette',
  knobs: {},
  drawn: { path: 'M0 0L1 0.5L0 1Z', ratio: (0.4 * 300) / (0.7 * 200), label: 'Subject' },
};

/** Where a point of the picture is on the page. */
const onPage = (frame: Frame, at: { u: number; v: number }) =>
  applyTo(frameMatrix(frame), ontoBox(deriveView(frame.placement, frame.box, size).matrix, at, size));

describe('the subject alone', () => {
  test('its box is that of the outline, and the picture in it shows that region to the edge', () => {
    const alone = subjectAlone(frameOf(90, 90, { shape: { name: 'circle', knobs: {} } }), outline, region, size);
    const { matrix } = deriveView(alone.placement, alone.box, size);
    const [a, b] = [ontoBox(matrix, region, size), ontoBox(matrix, { u: 0.7, v: 0.9 }, size)];
    expect([a.x, a.y]).toEqual([expect.closeTo(0, 6), expect.closeTo(0, 6)]);
    expect([b.x, b.y]).toEqual([expect.closeTo(alone.box.width, 6), expect.closeTo(alone.box.height, 6)]);
    expect(alone.shape).toBe(outline);
  });

  test('every point of the subject stays where it was seen on the page, however frame and picture are turned', () => {
    const turn = fc.integer({ min: 0, max: 359 });
    fc.assert(
      fc.property(turn, turn, fc.boolean(), fc.boolean(), fc.boolean(), (frameTurn, pictureTurn, h, v, mirror) => {
        const from = frameOf(90, 70, {
          flow: 'floating',
          turn: frameTurn,
          flip: { horizontal: h, vertical: v },
          placement: { ...CENTRED, zoom: 1.4, aim: { u: 0.45, v: 0.55 }, turn: pictureTurn, mirror },
        });
        const alone = subjectAlone(from, outline, region, size);
        for (const at of [
          { u: 0.3, v: 0.2 },
          { u: 0.7, v: 0.9 },
          { u: 0.4, v: 0.8 },
        ]) {
          const [was, is] = [onPage(from, at), onPage(alone, at)];
          expect(Math.hypot(was.x - is.x, was.y - is.y)).toBeLessThan(1e-6);
        }
      }),
      { numRuns: 60 },
    );
  });

  test('a mirrored picture has a mirrored outline; a squashed one is made true first', () => {
    const mirrored = subjectAlone(frameOf(90, 90, { placement: { ...CENTRED, mirror: true } }), outline, region, size);
    expect(mirrored.shape.drawn!.path).toMatch(/^M1[ ,]0L0[ ,]0?\.5L1[ ,]1Z$/i);
    const squashed = subjectAlone(
      frameOf(90, 90, { placement: { ...CENTRED, fit: 'stretch' } }),
      outline,
      region,
      size,
    );
    expect(squashed.placement.distortion).toBe(1);
    expect(squashed.box.width / squashed.box.height).toBeCloseTo(outline.drawn!.ratio!, 9);
  });
});
