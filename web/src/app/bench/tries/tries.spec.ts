import { bandOf, deriveView, isDistorted, keptOfMark, leastZoom, SHAPES, solidOutline } from '@gable/core';
import { frameOf } from '../../../testing/works';
import { STEPS } from '../steps';
import { ALL_SHAPES, shapeTries, shownShare, withOneCurrent, type Try, type TryContext } from './index';

// Jest cannot load a module worker.
jest.mock('../../paint/worker-of', () => ({ paintWorker: () => null }));

const size = { width: 3000, height: 2000 };
const context: TryContext = {
  frame: frameOf(1),
  original: frameOf(1),
  size,
  subject: { u: 0.7, v: 0.4 },
  palette: ['#c9b8a8', '#2b6a73'],
  suggested: [],
  outline: null,
  ranking: null,
  own: [],
  freeable: true,
  placed: false,
  room: null,
  around: null,
};
const of = (step: string, more: Partial<TryContext> = {}): readonly Try[] =>
  withOneCurrent(STEPS.find((s) => s.name === step)!.tries({ ...context, ...more }, ALL_SHAPES));
const named = (tries: readonly Try[], id: string): Try => tries.find((t) => t.id === id)!;

describe('tries of every step', () => {
  test('have names of their own, and at most one is what the frame has', () => {
    for (const { name, applies } of STEPS) {
      // Round a picture without a page there is nothing to be put.
      if (name === 'around') continue;
      if (applies) {
        // A picture that is no video has nothing to be tried of one.
        expect([name, of(name)]).toEqual([name, []]);
        continue;
      }
      const tries = of(name);
      expect(new Set(tries.map((t) => t.id)).size).toBe(tries.length);
      expect(tries.filter((t) => t.current).length).toBeLessThanOrEqual(1);
      // Every step offers the way things are now, or came.
      expect(tries.length).toBeGreaterThan(5);
    }
  });

  test('a video plays on a click, by itself or on and on; what begins by itself is muted', () => {
    const play = { automatic: false, loop: false, muted: false, controls: true };
    const video = { source: { from: 'file' as const, key: 'wheel.mp4', type: 'video/mp4' }, play };
    const tries = of('video', { frame: { ...frameOf(1), video } });
    expect(tries.map((t) => [t.id, t.current])).toEqual([
      ['video-click', true],
      ['video-silent', false],
      ['video-loop', false],
    ]);
    // Browsers hold back what would be heard unasked.
    for (const { frame } of tries) expect(frame.video!.play.automatic && !frame.video!.play.muted).toBe(false);
  });

  test('none but the one that says so leaves the picture distorted', () => {
    for (const { name } of STEPS)
      for (const t of of(name)) expect([t.id, isDistorted(t.frame.placement)]).toEqual([t.id, t.id === 'stretch']);
  });
});

describe('shapes', () => {
  test('come in a stable order, the circle first, with what they show', () => {
    const tries = of('shape');
    expect(tries[0]).toMatchObject({ id: 'circle', note: 'cuts 48 %', current: false });
    expect(tries.map((t) => t.id)).toEqual(SHAPES.map((s) => s.name));
    expect(tries.find((t) => t.current)?.id).toBe('rectangle');
    // A circle as high as a 3:2 picture shows π/4 of a square, which is two thirds of the picture.
    expect(shownShare(tries[0]!.frame, size)).toBeCloseTo((Math.PI / 4) * (2 / 3), 2);
  });

  test('are found by family, by words, by ratio, and among those taken recent', () => {
    const found = (filter: Partial<typeof ALL_SHAPES>): string[] =>
      shapeTries(context, { ...ALL_SHAPES, ...filter }).map((t) => t.id);
    expect(found({ family: 'round' })[0]).toBe('circle');
    expect(found({ words: 'star 5' })).toEqual(['star-5']);
    expect(found({ ratio: 'locked' })).not.toContain('ellipse');
    expect(found({ ratio: 'free' })).not.toContain('circle');
    expect(found({ words: 'oval' })).toContain('ellipse');
    expect(found({ family: 'recent', recent: ['heart', 'no-such', 'circle'] })).toEqual(['heart', 'circle']);
    expect(found({ family: 'own' })).toEqual([]);
  });

  test('the author’s own follow, by their names', () => {
    const shape = { name: 'tile', knobs: {}, drawn: { path: 'M0 0H1V1Z', ratio: 1, label: 'tile' } };
    const own = [{ id: '7', name: 'Our tile', shape }];
    const tries = of('shape', { own });
    expect(tries.at(-1)).toMatchObject({ id: 'own-7', label: 'Our tile', frame: { shape: { drawn: shape.drawn } } });
    expect(shapeTries({ ...context, own }, { ...ALL_SHAPES, words: 'our til' }).map((t) => t.id)).toEqual(['own-7']);
  });

  test('with a keep mark each takes the placement that keeps most of it', () => {
    const best = frameOf(1, { shape: { name: 'heart', knobs: {} }, alt: 'ranked' });
    expect(named(of('shape', { ranking: new Map([['heart', best]]) }), 'heart').frame).toBe(best);
  });
});

describe('ratios', () => {
  test('keep the area, stay within the page, and say how much they cut', () => {
    const square = named(of('ratio'), 'ratio-1-1');
    expect(square).toMatchObject({ note: 'cuts 33 %', entry: 'ratio 1:1' });
    expect(square.frame.box.width).toBeCloseTo(square.frame.box.height, 9);
    const { width, height } = context.frame.box;
    expect(square.frame.box.width ** 2).toBeCloseTo(width * height, 6);
    const room = { width: width / 2, height };
    expect(named(of('ratio', { room }), 'ratio-21-9').frame.box.width).toBeCloseTo(width / 2, 9);
    expect(named(of('ratio'), 'ratio-own').note).toBe('cuts nothing');
    // ISO 216: the sides of a sheet are as 1 to √2.
    const sheet = named(of('ratio'), 'ratio-A-landscape').frame.box;
    expect(sheet.width / sheet.height).toBeCloseTo(Math.SQRT2, 9);
  });

  test('a circle that is no longer as wide as high is an ellipse', () => {
    const circle = of('shape')[0]!.frame;
    expect(named(of('ratio', { frame: circle }), 'ratio-2-3').frame.shape.name).toBe('ellipse');
  });
});

describe('positions', () => {
  const circle = of('shape')[0]!.frame;
  const tries = of('position', { frame: circle });

  test('put the subject in the middle, or what fits', () => {
    expect(tries[0]).toMatchObject({ id: 'subject', current: true, frame: { placement: { aim: { u: 0.7, v: 0.4 } } } });
  });

  test('the nine anchors lay the picture’s edges on those of the box', () => {
    const edges = (id: string): number[] => {
      const f = named(tries, id).frame;
      const { corners } = deriveView(f.placement, f.box, size);
      return [corners[0].x, corners[2].x];
    };
    expect(edges('at-left')[0]).toBeCloseTo(0, 9);
    expect(edges('at-right')[1]).toBeCloseTo(1, 9);
    expect(edges('middle')[0]! + edges('middle')[1]!).toBeCloseTo(1, 9);
  });

  test('all of it lies inside the shape; just filled leaves no empty corner', () => {
    const whole = named(tries, 'whole').frame;
    expect(keptOfMark(whole, size, { u: 0, v: 0, width: 1, height: 1 })).toBeGreaterThan(0.995);
    const least = named(tries, 'least').frame;
    expect(least.placement.zoom).toBeCloseTo(leastZoom(circle, size).zoom, 9);
  });

  test('what is marked to keep comes first, and is kept', () => {
    const keep = { u: 0.55, v: 0.2, width: 0.3, height: 0.5 };
    const [first] = of('position', { frame: { ...circle, keep: [keep] } });
    expect(first!.id).toBe('keep');
    expect(bandOf(keptOfMark(first!.frame, size, keep))).toBe('all');
  });

  test('faces and words that were found are marked and kept by one try; a card says which mark it cuts', () => {
    const mine = { u: 0.45, v: 0.4, width: 0.1, height: 0.1, name: 'Jug' };
    const face = { u: 0.2, v: 0.3, width: 0.1, height: 0.2, name: 'Face' };
    const words = { u: 0.3, v: 0.7, width: 0.2, height: 0.05, name: '“Open day”' };
    const tries = of('position', { frame: { ...circle, keep: [mine] }, suggested: [face, words] });
    const found = named(tries, 'keep-found');
    expect(found.label).toBe('Keep the face and the words');
    expect(found.frame.keep).toEqual([mine, face, words]);
    for (const mark of [mine, face, words]) expect(keptOfMark(found.frame, size, mark)).toBeGreaterThan(0.99);
    expect(named(of('position', { frame: found.frame }), 'at-right').note).toBe('cuts 2 keep marks');
    expect(named(of('position', { frame: { ...circle, keep: [face] } }), 'at-right').note).toBe('cuts Face');
    expect(
      named(
        of('position', {
          suggested: [
            { ...face, u: 0.6 },
            { ...face, name: 'Face 2' },
          ],
        }),
        'keep-found',
      ).label,
    ).toBe('Keep all faces');
  });
});

describe('looks', () => {
  test('outlines offer none, colours of the picture that read on paper, and the file’s own', () => {
    const tries = of('outline');
    expect(tries[0]).toMatchObject({ id: 'none', current: true });
    expect(named(tries, 'picture-2').frame.outline?.paint).toMatchObject({ colour: '#2b6a73' });
    expect(named(tries, 'picture-1').frame.outline?.paint).not.toMatchObject({ colour: '#c9b8a8' });
    const own = solidOutline(1.5, '#123456');
    expect(of('outline', { original: frameOf(1, { outline: own }) }).at(-1)!.frame.outline).toEqual(own);
  });

  test('a tone that is taken back leaves nothing behind', () => {
    const toned = named(of('tone'), 'warm').frame;
    expect(named(of('tone', { frame: toned }), 'warm').current).toBe(true);
    expect('tone' in named(of('tone', { frame: toned }), 'none').frame).toBe(false);
  });

  test('only a picture that can leave the text is offered to', () => {
    const inline = frameOf(1, { flow: 'inline' });
    expect(named(of('place', { frame: inline }), 'free').frame.flow).toBe('floating');
    expect(named(of('place', { frame: inline, freeable: false }), 'free')).toBeUndefined();
  });
});
