import { deriveView, findShape, ontoBox, solidOutline, withShape } from '@gable/core';
import { frameOf } from '../../testing/works';
import { fidelityWords } from '../handover/fidelity-words';
import { knobHandles, valueNear } from './knob-handles';
import { resized } from './resize';
import { likeThat } from '../work/same-again';
import { snapPicture, snapTurn } from './snapping';
import { actOf, type KeyRow } from '../ui/keys';
import { benchKeys, BOARD_KEYS, keyGroups } from './keys';
import { STEPS } from './steps';

// Jest cannot load a module worker.
jest.mock('../paint/worker-of', () => ({ paintWorker: () => null }));

const size = { width: 3000, height: 2000 };
const square = withShape(frameOf(1), { name: 'square', knobs: {} }, size);
const aimed = (u: number, v: number, zoom = 2) => ({
  ...square,
  placement: { ...square.placement, aim: { u, v }, zoom },
});

describe('coming to rest', () => {
  const subject = { u: 0.6, v: 0.4 };

  test('the subject in the middle or on a third, with the reason', () => {
    const near = snapPicture(aimed(0.602, 0.401), size, subject, 3);
    expect(near.guides.map((g) => g.words)).toEqual(['Subject in the middle', 'Subject in the middle']);
    expect(near.frame.placement.aim).toEqual({ u: expect.closeTo(0.6, 9), v: expect.closeTo(0.4, 9) });
    const { matrix } = deriveView(aimed(0.6, 0.4).placement, square.box, size);
    // A third of the box left of its middle: the aim is a sixth of the box to the right of the subject.
    const sixth = square.box.width / 6 / (matrix[0] * size.width);
    const third = snapPicture(aimed(0.6 + sixth + 0.001, 0.42), size, subject, 3);
    expect(third.guides).toMatchObject([
      { axis: 'x', words: 'Subject on a third', at: expect.closeTo(square.box.width / 3, 6) },
    ]);
    const at = ontoBox(deriveView(third.frame.placement, square.box, size).matrix, subject, size);
    expect(at.x).toBeCloseTo(square.box.width / 3, 6);
  });

  test('a keep mark comes before the subject; the picture’s own middle counts too', () => {
    const keep = { u: 0.3, v: 0.3, width: 0.2, height: 0.2 };
    const kept = snapPicture({ ...aimed(0.401, 0.45), keep: [keep] }, size, subject, 3);
    expect(kept.guides[0]!.words).toBe('Keep mark in the middle');
    expect(snapPicture(aimed(0.5005, 0.3), size, undefined, 3).guides[0]!.words).toBe('Middle of the picture');
  });

  test('nothing happens from afar, nor where the picture ends', () => {
    const far = aimed(0.66, 0.47);
    expect(snapPicture(far, size, subject, 1)).toEqual({ frame: far, guides: [] });
    // At zoom 1 there is no room above and below: nothing can come to rest there.
    const tight = snapPicture(aimed(0.6, 0.5, 1), size, { u: 0.6, v: 0.49 }, 5);
    expect(tight.guides.map((g) => g.words)).toEqual(['Subject in the middle', 'Middle of the picture']);
  });

  test('turns rest at the eighths of a circle', () => {
    expect(snapTurn(88, 4)).toEqual({ turn: 90, words: 'A quarter right' });
    expect(snapTurn(-2, 4)).toEqual({ turn: 0, words: 'Upright' });
    expect(snapTurn(226, 4)).toEqual({ turn: 225, words: '225°' });
    expect(snapTurn(-60, 4)).toEqual({ turn: 300, words: null });
  });
});

describe('knobs on the shape', () => {
  test('the value whose handle comes nearest to the hand is found again', () => {
    for (const name of ['rounded', 'sector', 'star-5', 'trapezoid']) {
      const f = withShape(frameOf(1), { name, knobs: {} }, size);
      for (const { knob } of knobHandles(f)) {
        const value = knob.min + (knob.max - knob.min) * 0.37;
        const at = knobHandles({ ...f, shape: { ...f.shape, knobs: { ...f.shape.knobs, [knob.name]: value } } }).find(
          (h) => h.knob === knob,
        )!.at;
        const moved = (v: number): number => {
          const p = knobHandles({ ...f, shape: { ...f.shape, knobs: { ...f.shape.knobs, [knob.name]: v } } }).find(
            (h) => h.knob === knob,
          )!.at;
          return Math.hypot(p.x - at.x, p.y - at.y);
        };
        expect([name, knob.name, moved(valueNear(f, knob, at)) < 0.2]).toEqual([name, knob.name, true]);
      }
    }
  });

  test('counts stay whole', () => {
    const f = withShape(frameOf(1), { name: 'gear', knobs: {} }, size);
    const whole = findShape('gear')!.knobs.find((k) => k.whole);
    expect(whole === undefined || Number.isInteger(valueNear(f, whole, { x: 3, y: 5 }))).toBe(true);
  });
});

describe('steps', () => {
  test('each can be put back alone', () => {
    const came = frameOf(1);
    const changed = {
      ...came,
      box: { ...came.box, width: 99, x: 4 },
      turn: 9,
      shape: { name: 'heart', knobs: {} },
      outline: solidOutline(2, '#000000'),
      placement: { ...came.placement, zoom: 2 },
      shadow: { kind: 'outer' as const, dx: 1, dy: 1, blur: 1, spread: 0, colour: '#000000', opacity: 1 },
      tone: { softness: { blur: 1 } },
      video: {
        source: { from: 'file' as const, key: 'wheel.mp4', type: 'video/mp4' },
        play: { automatic: false, loop: true, muted: false, controls: true },
      },
    };
    // What stands around a picture is no part of its frame.
    const own = STEPS.filter((s) => s.name !== 'around');
    for (const step of own) {
      expect([step.name, step.changed(came, came), step.changed(changed, came)]).toEqual([step.name, false, true]);
      const back = step.reset(changed, came);
      expect([step.name, step.changed(back, came)]).toEqual([step.name, false]);
      // No other step is touched.
      for (const other of own)
        if (other !== step)
          expect([step.name, other.name, other.changed(back, came)]).toEqual([step.name, other.name, true]);
    }
  });

  test('a size is typed: circles keep their ratio, others only when it is held', () => {
    const circle = withShape(frameOf(1), { name: 'circle', knobs: {} }, size);
    expect(resized(circle, 'width', 50, size, false).box).toMatchObject({ width: 50, height: 50 });
    expect(resized(frameOf(1), 'height', 50, size, false).box).toMatchObject({ width: 300, height: 50 });
    expect(resized(frameOf(1), 'height', 50, size, true).box).toMatchObject({ width: 75, height: 50 });
  });
});

test('the next picture gets shape, size and edges of the last, and keeps its place and its own subject', () => {
  const model = { ...square, outline: solidOutline(6, '#ffffff'), tone: { softness: { blur: 1 } } };
  const next = likeThat(frameOf(2, { flow: 'floating', alt: 'Jug' }), model, size, { u: 0.4, v: 0.45 });
  expect(next).toMatchObject({ n: 2, alt: 'Jug', shape: model.shape, outline: model.outline, tone: model.tone });
  expect([next.box.width, next.box.height]).toEqual([model.box.width, model.box.height]);
  expect(next.box.x).toBeCloseTo((300 - model.box.width) / 2, 9);
  expect(next.placement.aim.u).toBeCloseTo(0.4, 9);
  const keep = { u: 0.6, v: 0.3, width: 0.3, height: 0.4 };
  const kept = likeThat(frameOf(2, { keep: [keep] }), model, size, undefined);
  // Flush with the right side: no farther than it must.
  expect(kept.placement.aim.u).toBeCloseTo(0.9 - 1 / 3, 4);
});

test('what is painted into pixels is told in a sentence', () => {
  expect(fidelityWords({ n: 1, fidelity: 'rasterised-fill', reasons: ['a changed tone'] })).toBe(
    'a changed tone. Shape, outline and shadow stay editable.',
  );
  expect(fidelityWords({ n: 1, fidelity: 'rasterised', reasons: ['a', 'b', 'c'] })).toBe(
    'a, b and c. The frame becomes one plain picture.',
  );
});

describe('keys', () => {
  const rows = benchKeys(STEPS.map((s) => s.label));
  const press = (key: string, more: KeyboardEventInit = {}): KeyboardEvent =>
    new KeyboardEvent('keydown', { key, ...more });
  /** What was called. */
  const called = <T extends object>(
    list: readonly KeyRow<T>[],
    event: KeyboardEvent,
  ): [string, ...unknown[]] | null => {
    let found: [string, ...unknown[]] | null = null;
    const target = new Proxy({} as T, {
      get:
        (_, name) =>
        (...args: unknown[]) =>
          (found = [String(name), ...args]),
    });
    actOf(list, event)?.(target, event);
    return found;
  };

  test('every key on the sheet that is a single letter, digit or sign does something, and no key does two things', () => {
    const groups = keyGroups(rows);
    expect(groups.map((g) => g.rows.length)).toEqual([BOARD_KEYS.length, 4, rows.length]);
    for (const list of [rows, BOARD_KEYS]) {
      const keys = list.flatMap((r: KeyRow<never>) =>
        Object.keys(r.acts ?? {}).map((k) => `${r.ctrl ? 'ctrl ' : ''}${k}`),
      );
      expect(new Set(keys).size).toBe(keys.length);
    }
    for (const { shown, acts } of rows) if (/^[A-Z?]$/.test(shown)) expect(acts).toHaveProperty(shown.toLowerCase());
  });

  test('steps by their digits, undo and redo with Ctrl or Command, letters without', () => {
    expect(called(rows, press('3'))).toEqual(['goTo', 2]);
    expect(called(rows, press('8'))).toEqual(['goTo', 7]);
    expect(called(rows, press('9'))).toEqual(['goTo', 8]);
    expect(called(rows, press('0'))).toBeNull();
    expect(called(rows, press('W'))).toEqual(['openWall']);
    expect(called(rows, press('w', { ctrlKey: true }))).toBeNull();
    expect(called(rows, press('z', { ctrlKey: true }))).toEqual(['undo']);
    expect(called(rows, press('Z', { metaKey: true, shiftKey: true }))).toEqual(['redo']);
    expect(called(rows, press('z'))).toBeNull();
    expect(called(BOARD_KEYS, press('+'))).toEqual(['zoomBy', 1.05]);
    expect(called(BOARD_KEYS, press('constructor'))).toBeNull();
  });
});
