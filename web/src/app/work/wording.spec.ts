import {
  cropped,
  deriveView,
  ontoBox,
  placementFromCrop,
  slid,
  solidOutline,
  type Frame,
  type Point,
} from '@gable/core';
import { frameOf, pictureOf } from '../../testing/works';
import { boardLayout, heldLayout, intoBox, intoFrame, ontoBoard } from '../bench/board-layout';
import { factsOf } from './facts';
import { describe as inWords, figures, givenWords, notes, pageMark, placeWords, whereShown } from './wording';

const size = { width: 3000, height: 2000 };

describe('words', () => {
  test('the board is told in a sentence', () => {
    const f = frameOf(1, {
      shape: { name: 'circle', knobs: {} },
      box: { x: 0, y: 0, width: 136.063, height: 136.063 },
      outline: solidOutline(6, '#ffffff'),
    });
    expect(inWords(f, size)).toBe('Circle, 48 mm, aim 50 % across 50 % down, zoom 1, outline 6 pt');
    expect(inWords(frameOf(1), size)).toContain('Rectangle, 105.8 mm by 70.6 mm');
    expect(figures(frameOf(1), size)).toBe('3000 × 2000 px · 720 ppi here');
    expect(
      inWords({ ...f, turn: 4, placement: { ...f.placement, fit: 'tile' }, tone: { softness: { blur: 2 } } }, size),
    ).toMatch(/tiled, frame turned 4°, outline 6 pt, toned$/);
  });

  test('places are marks on the ruler and words', () => {
    const where = pictureOf(4).where;
    expect([pageMark(where), placeWords(where)]).toEqual(['p4', 'about page 4']);
    // Once it is laid out the page is known.
    expect([pageMark(where, 5), placeWords(where, 5)]).toEqual(['p5', 'page 5']);
    expect([
      pageMark({ ...where, page: null, place: 'header' }),
      placeWords({ ...where, page: null, place: 'header', table: true }),
    ]).toEqual(['head', 'in the page header, in a table']);
  });

  test('findings carry their remedy', () => {
    const known = factsOf(pictureOf(1), frameOf(1));
    const squashed = frameOf(1, {
      box: { x: 0, y: 0, width: 90, height: 90 },
      placement: placementFromCrop({ left: 0, top: 0, right: 0, bottom: 0 }, { width: 90, height: 90 }, size),
    });
    const [note] = notes(squashed, known);
    expect(note!.text).toBe('The picture is squashed to 67 % of its true width.');
    expect(notes(note!.remedy!.frame, known)).toEqual([]);
    const egg = frameOf(1, { box: { x: 0, y: 0, width: 100, height: 106 }, shape: { name: 'ellipse', knobs: {} } });
    expect(notes(egg, known).map((n) => n.remedy?.frame.box.height)).toEqual([100]);
    const sideways = pictureOf(1, { media: { type: 'jpeg', pixels: size, orientation: 6, drawable: true } });
    expect(notes(frameOf(1), factsOf(sideways, frameOf(1)))[0]!.remedy!.frame.turn).toBe(90);
    expect(notes(frameOf(1, { turn: 90 }), factsOf(sideways, frameOf(1)))).toEqual([]);
  });
});

test('what a file itself does to the colours is told in words', () => {
  expect(givenWords({ lift: 0.35, contrast: -0.7 })).toBe('35 % lighter, with 70 % less contrast');
  expect(givenWords({ gamma: 0.8, inverted: true })).toBe('with its middle tones darker, turned to its negative');
  expect(givenWords({ swap: { from: '#ffffff', to: '#ffffff', opacity: 0 }, threshold: 0.5 })).toBe(
    'in black and white only, with one colour made clear',
  );
});

describe('where findings show', () => {
  test('a soft picture is good up to a size, and made that size by one action', () => {
    const wide = frameOf(1, { box: { x: 0, y: 0, width: 2880, height: 1920 } });
    const soft = notes(wide, { pixels: size, orientation: 1 }).find((n) => n.code === 'soft')!;
    expect(soft.text).toContain('Only 75 ppi');
    // 3000 px at 150 ppi are 20 in, 1440 pt.
    expect(soft.remedy!.frame.box.width).toBeCloseTo(1440, 6);
  });

  test('keep marks that are cut are named, and so are those that the shape cannot show', () => {
    const marks = [
      { u: 0.02, v: 0.4, width: 0.2, height: 0.2, name: 'Face 1' },
      { u: 0.78, v: 0.4, width: 0.2, height: 0.2, name: 'Face 2' },
    ];
    const square = frameOf(1, { box: { x: 0, y: 0, width: 200, height: 200 }, keep: marks });
    const facts = { pixels: size, orientation: 1 };
    const cut = notes(square, facts).find((n) => n.code === 'keep-cut')!;
    expect(cut.text).toBe('The shape cuts Face 1 and Face 2. This shape cannot cover and keep Face 2.');
    expect(cut.remedy!.label).toBe('Keep what fits');
    const left = notes(cut.remedy!.frame, facts).find((n) => n.code === 'keep-cut')!;
    expect(left.text).toBe('The shape cuts Face 2. This shape cannot cover and keep all of it.');
    expect(left.remedy!.label).toBe('Show all of it');
  });

  test('on the subject, in the keep mark, or on the edge', () => {
    const f = frameOf(1, { keep: [{ u: 0.5, v: 0.5, width: 0.2, height: 0.2 }] });
    expect(whereShown('off-centre', f, size, { u: 0.25, v: 0.5 })).toEqual({ x: 75, y: 100 });
    expect(whereShown('keep-cut', f, size, undefined)).toEqual({
      x: expect.closeTo(180, 6),
      y: expect.closeTo(120, 6),
    });
    const edge = whereShown('faint-outline', { ...f, shape: { name: 'ellipse', knobs: {} } }, size, undefined);
    expect(((edge.x - 150) / 150) ** 2 + ((edge.y - 100) / 100) ** 2).toBeCloseTo(1, 2);
  });
});

describe('the board’s measures', () => {
  test('a try keeps scale and centre of what is taken', () => {
    const taken = frameOf(1);
    const tried = frameOf(1, { box: { x: 0, y: 0, width: 200, height: 200 } });
    const [a, b] = [boardLayout(1200, 500, taken, taken), boardLayout(1200, 500, taken, tried)];
    expect(b.scale).toBe(a.scale);
    expect(b.x + 100 * b.scale).toBeCloseTo(a.x + 150 * a.scale, 9);
  });

  test('a hand’s movement is turned into the frame’s own space', () => {
    const f = frameOf(1, { turn: 90, flip: { horizontal: true, vertical: false } });
    const step = intoFrame(f, 0, 10);
    expect([step.x, step.y]).toEqual([expect.closeTo(-10, 9), expect.closeTo(0, 9)]);
    const l = boardLayout(1200, 500, frameOf(1), frameOf(1));
    expect(intoBox(frameOf(1), l, l.x, l.y)).toEqual({ x: expect.closeTo(0, 9), y: expect.closeTo(0, 9) });
    const there = ontoBoard(f, l, { x: 20, y: 30 });
    const back = intoBox(f, l, there.x, there.y);
    expect([back.x, back.y]).toEqual([expect.closeTo(20, 9), expect.closeTo(30, 9)]);
  });

  test('while the shape or the crop is dragged the picture stays where it is on the board', () => {
    for (const turn of [0, 30]) {
      const f = frameOf(1, { turn, box: { x: 0, y: 0, width: 200, height: 200 } });
      const l = boardLayout(1200, 500, f, f);
      const where = (g: Frame, at: typeof l): Point => {
        const { matrix } = deriveView(g.placement, g.box, size);
        return ontoBoard(g, at, ontoBox(matrix, { u: 0.3, v: 0.6 }, size));
      };
      const start = where(f, l);
      for (const moved of [slid(f, 11, 4, size), cropped(f, { x: 1, y: 1 }, -40, -25, size, null)]) {
        const now = where(moved, heldLayout(l, f, moved, size));
        expect([now.x, now.y]).toEqual([expect.closeTo(start.x, 6), expect.closeTo(start.y, 6)]);
      }
    }
  });
});
