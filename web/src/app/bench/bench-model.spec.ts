import { solidOutline } from '@gable/core';
import { frameOf, pictureOf, workOf } from '../../testing/works';
import {
  keyOf,
  knownOf,
  openModel,
  preview,
  problemOf,
  redo,
  remember,
  replaceWork,
  select,
  shownFrame,
  sizeOf,
  take,
  takeAll,
  takenFrame,
  undo,
  unsaved,
} from './bench-model';

const lined = (weight: number): ReturnType<typeof frameOf> => frameOf(1, { outline: solidOutline(weight, '#ffffff') });

describe('the bench', () => {
  test('opens on the first picture that can be shown', () => {
    const broken = pictureOf(1, { problem: { code: 'broken-picture', message: '', remedy: '' } });
    expect(openModel(workOf([broken, pictureOf(2)])).selected).toBe(2);
    expect(openModel(workOf([broken])).selected).toBe(1);
  });

  test('a try is shown, and leaving it puts everything back', () => {
    const m = openModel(workOf());
    const tried = preview(m, lined(6));
    expect(shownFrame(tried).outline?.weight).toBe(6);
    expect(tried.frames).toEqual({});
    expect(shownFrame(preview(tried, null))).toEqual(frameOf(1));
    expect(select(tried, 2).preview).toBeNull();
  });

  test('many frames taken at once are one deed, and one undo takes all of it back', () => {
    const before = take(openModel(workOf([pictureOf(1), pictureOf(2), pictureOf(3)])), 'outline', lined(2));
    const thick = [1, 2, 3].map((n) => frameOf(n, { outline: solidOutline(6, '#ffffff') }));
    const m = takeAll(before, 'mended', thick);
    expect(m.past.map((d) => [d.name, d.n, d.more?.map((c) => c.n)])).toEqual([
      ['outline', 1, undefined],
      ['mended', 1, [2, 3]],
    ]);
    const back = undo(m);
    expect(back.frames).toEqual(before.frames);
    expect(redo(back).frames).toEqual(m.frames);
    // What is so already is no part of it, and nothing at all is no deed.
    expect(takeAll(m, 'again', thick)).toBe(m);
  });

  test('what is taken can be undone and redone, by name, on its own picture', () => {
    let m = take(openModel(workOf()), 'outline', lined(6));
    m = take(select(m, 2), 'move', frameOf(2, { alt: 'other' }));
    expect(m.past.map((d) => d.name)).toEqual(['outline', 'move']);
    m = undo(undo(m));
    expect([m.frames, m.selected, m.past.length]).toEqual([{}, 1, 0]);
    m = redo(redo(m));
    expect([m.selected, Object.keys(m.frames)]).toEqual([2, ['1', '2']]);
    expect(redo(m)).toBe(m);
    expect(undo(openModel(workOf())).past).toEqual([]);
  });

  test('a gesture is one deed; another gesture, or none, is another', () => {
    let m = openModel(workOf());
    for (const w of [1, 2, 3]) m = take(m, 'outline weight', lined(w), 'slide-1');
    expect(m.past).toHaveLength(1);
    m = take(m, 'outline weight', lined(4), 'slide-2');
    m = take(m, 'outline weight', lined(5));
    expect(m.past).toHaveLength(3);
    expect(takenFrame(undo(undo(undo(m))))).toEqual(frameOf(1));
  });

  test('a frame that is as it came is no difference to save', () => {
    const m = take(take(openModel(workOf()), 'outline', lined(6)), 'put back', frameOf(1));
    expect(m.frames).toEqual({});
    expect(m.past).toHaveLength(2);
    expect(Object.keys(undo(m).frames)).toEqual(['1']);
  });

  test('taking what is there already is no deed', () => {
    expect(take(openModel(workOf()), 'nothing', frameOf(1)).past).toEqual([]);
  });

  test('doing something new forgets what was undone', () => {
    const m = take(undo(take(openModel(workOf()), 'a', lined(1))), 'b', lined(2));
    expect(m.future).toEqual([]);
  });

  test('another window’s state replaces ours', () => {
    const m = take(select(openModel(workOf()), 3), 'x', frameOf(3, { alt: '' }));
    const other = replaceWork(m, { ...workOf(), frames: { 1: lined(2) } });
    expect([other.selected, Object.keys(other.frames), other.past]).toEqual([3, ['1'], []]);
  });
});

describe('deeds that outlast a reload', () => {
  const deed = (name: string, i: number) => ({ name, n: 1, before: lined(i), after: lined(i + 1) });
  const history = { from: 2, done: 4, deeds: [deed('c', 3), deed('d', 4), deed('e', 5)] };

  test('those that are done can be undone, those undone be done again', () => {
    const m = openModel({ ...workOf(), frames: { 1: lined(5) } }, history);
    expect([m.base, m.past.map((d) => d.name), m.future.map((d) => d.name)]).toEqual([2, ['c', 'd'], ['e']]);
    expect(takenFrame(undo(m)).outline?.weight).toBe(4);
    expect(takenFrame(redo(m)).outline?.weight).toBe(6);
  });

  test('a save tells only what the server does not know', () => {
    const opened = openModel(workOf(), history);
    const known = knownOf(opened);
    expect(unsaved(opened, known)).toEqual({ from: 5, deeds: [], done: 4 });
    // Undoing changes how many are done, and nothing else.
    expect(unsaved(undo(opened), known)).toEqual({ from: 5, deeds: [], done: 3 });
    const more = take(undo(opened), 'new', lined(9));
    const told = unsaved(more, known);
    expect([told.from, told.done, told.deeds.map((d) => d.name)]).toEqual([3, 4, ['new']]);
    // A gesture that goes on changes its deed: it is told again.
    const first = take(openModel(workOf()), 'slide', lined(1), 'g');
    const grown = take(first, 'slide', lined(2), 'g');
    expect(unsaved(grown, knownOf(first))).toMatchObject({ from: 0, done: 1, deeds: [{ name: 'slide' }] });
    expect(unsaved(more, { base: 2, deeds: [] }).from).toBe(2);
  });

  test('earlier ones join in front when they fit, and are not told again', () => {
    const m = openModel(workOf(), history);
    const older = { from: 0, done: 4, deeds: [deed('a', 1), deed('b', 2)] };
    const longer = remember(m, older);
    expect([longer.base, longer.past.map((d) => d.name)]).toEqual([0, ['a', 'b', 'c', 'd']]);
    expect(remember(longer, older)).toBe(longer);
    expect(unsaved(longer, { base: 0, deeds: [...older.deeds, ...history.deeds] }).deeds).toEqual([]);
  });
});

test('another picture in a frame has its own pixels and its own key, and takes the problem away', () => {
  const source = { sha256: 'a'.repeat(64), name: 'pot', type: 'png', size: { width: 9, height: 7 }, orientation: 1 };
  const empty = pictureOf(1, { problem: { code: 'empty-frame', message: '', remedy: '' } });
  const filled = frameOf(1, { source });
  expect([sizeOf(empty, filled), problemOf(empty, filled)]).toEqual([source.size, null]);
  expect([keyOf(workOf(), filled), keyOf(workOf(), frameOf(1))]).toEqual([`kept/${source.sha256}`, 'w/1']);
  expect(problemOf(empty, frameOf(1))?.code).toBe('empty-frame');
});

test('frames that show the same data share a key; a picture of a folder has that of its own file', () => {
  const media = { type: 'png', pixels: null, orientation: 1, drawable: true, data: '12/345' };
  const work = workOf([pictureOf(1), pictureOf(2, { media }), pictureOf(3, { media })]);
  expect(work.pictures.map((p) => keyOf(work, p.frame))).toEqual([`${work.id}/1`, `${work.id}/2`, `${work.id}/2`]);
  const folder = workOf([pictureOf(1, { member: { id: 'a', n: 1 } }), pictureOf(2, { member: { id: 'b', n: 7 } })]);
  expect(folder.pictures.map((p) => keyOf(folder, p.frame))).toEqual(['a/1', 'b/7']);
});
