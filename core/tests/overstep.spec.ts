/** A subject that reaches over the edge of its shape. What is expected follows from plane geometry; sums stand beside the checks. */
import fc from 'fast-check';
import {
  ALL_ROUND,
  area,
  bounds,
  casterPath,
  CENTRED,
  contains,
  cutMarks,
  deriveView,
  fileRoom,
  findings,
  flatten,
  frameOfItem,
  FrameSchema,
  isAllRound,
  itemOfFrame,
  keepInView,
  lineFor,
  ontoBox,
  ontoPart,
  outsideOf,
  oversteppingAt,
  overstepPath,
  paintedBounds,
  parseOverstep,
  parseSvgPath,
  reachesOver,
  shownPart,
  SIDES,
  silhouettePath,
  solidOutline,
  subjectOf,
  subjectPath,
  withFrame,
  withLine,
  withOverstep,
  type Frame,
  type Overstep,
  type Path,
} from '../src/index';
import { frameOf } from './frames';

const picture = { width: 400, height: 200 };
/** A pillar in the middle of the picture, a fifth of it wide, from a tenth to nine tenths down. */
const PILLAR = 'M0.4 0.1L0.6 0.1L0.6 0.9L0.4 0.9Z';
const over = (lines: Overstep['lines'], subject = PILLAR): Overstep => ({ subject, picture, lines });
/** A box of 100 × 100 that shows the picture at 1 pt to the pixel: from 150 to 250 across, from 50 to 150 down. */
const frameWith = (overstep: Overstep | null, more: Partial<Frame> = {}): Frame =>
  withOverstep(frameOf(100, 100, { placement: { ...CENTRED, zoom: 2 }, ...more }), overstep);
const circle = { shape: { name: 'circle', knobs: {} } };
const box = (path: Path | null) => {
  const { x, y, width, height } = bounds(path!);
  return [x, y, x + width, y + height].map((v) => Math.round(v * 100) / 100);
};

describe('where the subject lies', () => {
  test('in register with its picture, however that is moved, turned and mirrored', () => {
    // 0.4 · 400 − 150 = 10 to 90 across, 0.1 · 200 − 50 = −30 to 130 down.
    expect(box(subjectPath(frameWith(over(ALL_ROUND))))).toEqual([10, -30, 90, 130]);
    const turn = fc.integer({ min: 0, max: 359 });
    const share = fc.double({ min: 0.3, max: 0.7, noNaN: true });
    fc.assert(
      fc.property(turn, fc.boolean(), share, share, (angle, mirror, u, v) => {
        const placement = { ...CENTRED, zoom: 2.5, aim: { u, v }, turn: angle, mirror };
        const frame = frameWith(over(ALL_ROUND), { placement });
        const { matrix } = deriveView(placement, frame.box, picture);
        const corner = flatten(subjectPath(frame)!)[0]![0]!;
        const at = ontoBox(matrix, { u: 0.4, v: 0.1 }, picture);
        expect(Math.hypot(corner.x - at.x, corner.y - at.y)).toBeLessThan(1e-9);
      }),
      { numRuns: 60 },
    );
  });

  test('what lies beyond the lines, on each side and on several', () => {
    expect(box(overstepPath(frameWith(over({ top: 0.25 }))))).toEqual([10, -30, 90, 25]);
    expect(box(overstepPath(frameWith(over({ bottom: 0.8 }))))).toEqual([10, 80, 90, 130]);
    expect(box(overstepPath(frameWith(over({ left: 0.5 }))))).toEqual([10, -30, 50, 130]);
    expect(box(overstepPath(frameWith(over({ right: 0.6 }))))).toEqual([60, -30, 90, 130]);
    // Above 0 and below 1: 80 × 30 each.
    expect(area(overstepPath(frameWith(over({ top: 0, bottom: 1 })))!)).toBeCloseTo(2 * 80 * 30, 0);
    // Between crossing lines nothing is held back.
    expect(area(overstepPath(frameWith(over(ALL_ROUND)))!)).toBeCloseTo(80 * 160, 0);
    expect(isAllRound(over(ALL_ROUND), { width: 1, height: 1 })).toBe(true);
    expect(isAllRound(over({ top: 0.4, bottom: 0.6 }), { width: 1, height: 1 })).toBe(false);
  });

  test('nothing of tiles, nor beyond a line that it does not reach', () => {
    expect(overstepPath(frameWith(over({ top: -0.5 })))).toBeNull();
    expect(overstepPath(frameWith(over(ALL_ROUND), { placement: { ...CENTRED, fit: 'tile' } }))).toBeNull();
  });
});

describe('the silhouette', () => {
  test('is shape and subject together, whichever way their outlines run', () => {
    // A circle of 50, and above its middle a pillar 80 wide and 80 high, of which it covers what lies within.
    const shape = Math.PI * 50 * 50;
    const r = 50;
    // ∫ from −40 to 40 of √(50² − x²): the part of the pillar in the upper half of the circle.
    const shared = 40 * Math.sqrt(r * r - 40 * 40) + r * r * Math.asin(40 / r);
    for (const subject of [PILLAR, 'M0.4 0.1L0.4 0.9L0.6 0.9L0.6 0.1Z']) {
      const frame = frameWith(over({ top: 0.5 }, subject), circle);
      expect(area(silhouettePath(frame))).toBeCloseTo(shape + 80 * 80 - shared, -1);
    }
  });

  test('casts the shadow, is painted, and is what of the picture must be there', () => {
    const frame = frameWith(over({ top: 0.5 }), { ...circle, outline: solidOutline(4, '#000000') });
    expect(box(casterPath(frame)).map(Math.round)).toEqual([-2, -30, 102, 102]);
    const b = paintedBounds(frame);
    expect([b.x, b.y, b.x + b.width, b.y + b.height].map(Math.round)).toEqual([-2, -30, 102, 102]);
    // From 30 pt above the box: 20 of 200 pixels.
    expect(shownPart(frame, picture).y).toBeCloseTo(0.1, 6);
    // In a file the text makes room for all of it; the box hangs in the lower part of that.
    const room = fileRoom({ ...frame, flow: 'floating' });
    expect([room.box.y, room.box.height].map(Math.round)).toEqual([-30, 132]);
    expect(room.middle.y).toBeCloseTo(80, 1);
  });

  test('hides the outline: what is left of a ring is open', () => {
    const frame = frameWith(over({ top: 0.5 }), circle);
    const ring = parseSvgPath('M100 50A50 50 0 1 1 0 50A50 50 0 1 1 100 50Z');
    const left = outsideOf(ring, flatten(overstepPath(frame)!), 0.01);
    expect(left.filter((s) => s.op === 'M')).toHaveLength(1);
    expect(left.some((s) => s.op === 'Z')).toBe(false);
    // The pillar leaves out what lies above ±40: 2 · asin(40 / 50) of the full turn.
    const length = left.reduce((sum, s, i) => {
      const before = left[i - 1];
      return s.op === 'L' && before && before.op !== 'Z' ? sum + Math.hypot(s.x - before.x, s.y - before.y) : sum;
    }, 0);
    expect(length).toBeCloseTo(50 * (2 * Math.PI - 2 * Math.asin(0.8)), 0);
    // A ring that the subject does not touch stays closed.
    expect(
      outsideOf(
        ring,
        [
          [
            { x: 45, y: 45 },
            { x: 55, y: 45 },
            { x: 50, y: 55 },
          ],
        ],
        0.01,
      ).at(-1)!.op,
    ).toBe('Z');
  });
});

describe('what fits', () => {
  test('a line as near to the middle as the subject is no wider than the shape', () => {
    // A pillar 80 wide fits into a circle of 100 where that is 80 wide: 30 above and below its middle; the middle will do.
    expect(lineFor(frameWith(over({ top: 0.5 }), circle), 'top')).toBe(0.5);
    // Shoulders wider than the box from 10 above the middle on, a narrow neck above them: the line is drawn through that.
    const bust = 'M0.45 0.1L0.55 0.1L0.55 0.45L0.7 0.45L0.7 0.9L0.3 0.9L0.3 0.45L0.45 0.45Z';
    const at = lineFor(frameWith(over({ top: 0.5 }, bust), circle), 'top');
    expect(at).toBeLessThanOrEqual(0.4);
    expect(at).toBeGreaterThan(0.35);
  });

  test('a subject within the shape is brought over the edge, and the box stays full', () => {
    const low = 'M0.45 0.35L0.55 0.35L0.55 0.9L0.45 0.9Z';
    const plain = frameOf(100, 100, { ...circle, placement: { ...CENTRED, zoom: 2, aim: { u: 0.5, v: 0.45 } } });
    expect(reachesOver(withOverstep(plain, over({ top: 0.5 }, low)), ['top'])).toBe(false);
    const next = oversteppingAt(plain, low, ['top'], picture);
    expect(reachesOver(next, ['top'])).toBe(true);
    const { corners } = deriveView(next.placement, next.box, picture);
    for (const { x, y } of corners) {
      expect(x).toBeGreaterThan(-1e-9);
      expect(y).toBeLessThan(1 + 1e-9);
    }
    // One that reaches over as it is stays where the author has it.
    const out = frameWith(null, circle);
    expect(oversteppingAt(out, PILLAR, ['top'], picture).placement).toEqual(out.placement);
    expect(oversteppingAt(out, PILLAR, SIDES, picture).overstep!.lines).toEqual(ALL_ROUND);
  });

  test('an outline is told in shares of the picture', () => {
    const shape = { name: 'silhouette', knobs: {}, drawn: { path: 'M0 0L1 0L1 1Z', ratio: 1, label: 'x' } };
    expect(box(parseSvgPath(subjectOf(shape, { u: 0.2, v: 0.4, width: 0.5, height: 0.1 })))).toEqual([
      0.2, 0.4, 0.7, 0.5,
    ]);
  });
});

describe('with all else', () => {
  test('it is kept with the item, goes with it, and bad figures are refused', () => {
    const frame = frameWith(over({ top: 0.4 }));
    const item = itemOfFrame('p1', frame, picture, 'line');
    expect(frameOfItem(item, 1)).toEqual(frame);
    expect(frameOfItem(withFrame(item, withOverstep(frame, null), picture), 1).overstep).toBeUndefined();
    expect(FrameSchema.safeParse(frame).success).toBe(true);
    for (const bad of [{ lines: {} }, { lines: { top: 9 } }, { subject: 'M1e99 0' }, { subject: '' }])
      expect(FrameSchema.safeParse({ ...frame, overstep: { ...frame.overstep, ...bad } }).success).toBe(false);
    expect(withLine(frame, 'left', 0.1).overstep!.lines).toEqual({ top: 0.4, left: 0.1 });
  });

  test('a part of the picture shows the same', () => {
    const frame = frameWith(over({ top: 0.5 }));
    const part = { x: 100, y: 10, width: 240, height: 180 };
    const now = { width: 120, height: 90 };
    const cropped = ontoPart(frame, picture, part, now);
    expect(cropped.overstep!.picture).toEqual(now);
    expect(box(overstepPath(cropped))).toEqual(box(overstepPath(frame)));
  });

  test('a mark on the head is not cut where the head reaches over, and needs no move', () => {
    const keep = [{ u: 0.45, v: 0.12, width: 0.1, height: 0.2 }];
    const frame = frameWith(over({ top: 0.5 }), { ...circle, keep });
    expect(cutMarks(frame, picture, keep)).toEqual([]);
    expect(keepInView(frame, keep, picture)!.placement).toBe(frame.placement);
    const without = withOverstep(frame, null);
    expect(cutMarks(without, picture, keep)[0]!.cut).toBeGreaterThan(0.5);
    expect(keepInView(without, keep, picture)!.placement).not.toEqual(frame.placement);
    // Nor is a subject that was put there said to be off the middle.
    const subject = { u: 0.5, v: 0.1 };
    const codes = (f: Frame) =>
      findings(f, { pixels: picture, orientation: 1, subject, placed: false }).map((x) => x.code);
    expect(codes(without)).toContain('off-centre');
    expect(codes(frame)).not.toContain('off-centre');
  });

  test('what runs to and fro over the picture is no outline, and takes no time', () => {
    const way = Array.from({ length: 3000 }, (_, i) => `L${(i * 0.618) % 1} ${(i * 0.414) % 1}`).join('');
    const frame = frameWith(over(ALL_ROUND, `M0 0${way.replace(/\.(\d{4})\d*/g, '.$1')}Z`), circle);
    expect([overstepPath(frame), subjectPath(frame)]).toEqual([null, null]);
    expect(area(silhouettePath(frame))).toBeCloseTo(Math.PI * 50 * 50, -1);
    expect(overstepPath(frameWith(over(ALL_ROUND, 'no path'), circle))).toBeNull();
    expect(oversteppingAt(frame, 'no path', ['top'], picture).placement).toEqual(frame.placement);
  });

  test('what is typed', () => {
    expect(parseOverstep('top')).toEqual([{ side: 'top', line: null }]);
    expect(parseOverstep('Left + bottom@60%')).toEqual([
      { side: 'left', line: null },
      { side: 'bottom', line: 0.6 },
    ]);
    expect(parseOverstep('all')).toHaveLength(4);
    expect(parseOverstep('none')).toEqual([]);
    for (const bad of ['', 'up', 'top@', 'top@140%', 'top+top', 'top@40%@3'])
      expect(() => parseOverstep(bad)).toThrow('sides');
  });

  test('the point above a circle is in the silhouette, the one beside it is not', () => {
    const frame = frameWith(over({ top: 0.5 }), circle);
    expect(contains(silhouettePath(frame), { x: 50, y: -20 })).toBe(true);
    expect(contains(silhouettePath(frame), { x: 5, y: -20 })).toBe(false);
  });
});
