import { placementFromCrop, solidOutline } from '@gable/core';
import { frameOf, pictureOf } from '../../testing/works';
import { boardLayout, intoBox, intoFrame } from './board-layout';
import { outlineTries, positionTries, shapeTries, shownShare } from './tries';
import { describe as inWords, figures, notes, pageMark, placeWords } from './wording';

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
    expect(figures(pictureOf(1), frameOf(1))).toBe('3000 × 2000 px · 720 ppi here · zoom 1');
  });

  test('places are marks on the ruler and words', () => {
    const where = pictureOf(4).where;
    expect([pageMark(where), placeWords(where)]).toEqual(['p4', 'about page 4']);
    expect([
      pageMark({ ...where, page: null, place: 'header' }),
      placeWords({ ...where, page: null, place: 'header', table: true }),
    ]).toEqual(['head', 'in the page header, in a table']);
  });

  test('findings carry their remedy', () => {
    const squashed = frameOf(1, {
      box: { x: 0, y: 0, width: 90, height: 90 },
      placement: placementFromCrop({ left: 0, top: 0, right: 0, bottom: 0 }, { width: 90, height: 90 }, size),
    });
    const [note] = notes(pictureOf(1), squashed);
    expect(note!.text).toBe('The picture is squashed to 67 % of its true width.');
    expect(notes(pictureOf(1), note!.remedy!.frame)).toEqual([]);
    const egg = frameOf(1, { box: { x: 0, y: 0, width: 100, height: 106 }, shape: { name: 'ellipse', knobs: {} } });
    expect(notes(pictureOf(1), egg).map((n) => n.remedy?.frame.box.height)).toEqual([100]);
    const sideways = pictureOf(1, { media: { type: 'jpeg', pixels: size, orientation: 6, drawable: true } });
    expect(notes(sideways, frameOf(1))[0]!.remedy!.frame.turn).toBe(90);
    expect(notes(sideways, frameOf(1, { turn: 90 }))).toEqual([]);
  });
});

describe('tries', () => {
  const context = { frame: frameOf(1), original: frameOf(1), size, subject: { u: 0.7, v: 0.4 } };

  test('shapes come in a stable order, the circle first, with what they show', () => {
    const tries = shapeTries(context);
    expect(tries[0]).toMatchObject({ id: 'circle', note: '52 % of it shown', current: false });
    expect(tries.find((t) => t.current)?.id).toBe('rectangle');
    // A circle as high as a 3:2 picture shows π/4 of a square, which is two thirds of the picture.
    expect(shownShare(tries[0]!.frame, size)).toBeCloseTo((Math.PI / 4) * (2 / 3), 3);
  });

  test('positions put the subject in the middle, or what fits', () => {
    const tries = positionTries({ ...context, frame: { ...shapeTries(context)[0]!.frame } });
    expect(tries.map((t) => t.id)).toEqual(['subject', 'closer', 'middle', 'most', 'came']);
    expect(tries[0]!.frame.placement.aim).toEqual({ u: 0.7, v: 0.4 });
    expect(tries[0]!.current).toBe(true);
  });

  test('outlines offer none, and the file’s own where it has one', () => {
    expect(outlineTries(context)[0]).toMatchObject({ id: 'none', current: true });
    const own = solidOutline(1.5, '#123456');
    expect(outlineTries({ ...context, original: frameOf(1, { outline: own }) }).at(-1)!.frame.outline).toEqual(own);
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
  });
});
