import { solidOutline, type Frame } from '@gable/core';
import type { LoggedEntry } from '@gable/contract';
import { entryOf, frameOf, pictureOf, withFrames, workOf } from '../../testing/works';
import {
  changedFrames,
  chooseAll,
  chosenIn,
  disagrees,
  isChanged,
  keyOf,
  openModel,
  preview,
  problemOf,
  redo,
  remember,
  replaceWork,
  select,
  selectItem,
  sendPending,
  sent,
  shownFrame,
  sizeOf,
  take,
  takeAll,
  takeItems,
  takenFrame,
  undo,
  type WorkModel,
} from './work-model';

const names = (steps: readonly { name: string }[]): string[] => steps.map((s) => s.name);
const numbers = (m: WorkModel): number[] => changedFrames(m).map((f) => f.n);
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
    expect(changedFrames(tried)).toEqual([]);
    expect(shownFrame(preview(tried, null))).toEqual(frameOf(1));
    expect(select(tried, 2).preview).toBeNull();
  });

  test('many frames taken at once are one step, and one undo takes all of it back', () => {
    const before = take(openModel(workOf([pictureOf(1), pictureOf(2), pictureOf(3)])), 'outline', lined(2));
    const thick = [1, 2, 3].map((n) => frameOf(n, { outline: solidOutline(6, '#ffffff') }));
    const m = takeAll(before, 'mended', thick);
    expect(names(m.history.past)).toEqual(['outline', 'mended']);
    const touched = m.pending.map((e) => e.operations.map((o) => 'id' in o && o.id));
    expect(touched).toEqual([['p1'], ['p1', 'p2', 'p3']]);
    const back = undo(m);
    expect(changedFrames(back)).toEqual(changedFrames(before));
    expect(changedFrames(redo(back))).toEqual(changedFrames(m));
    // What is so already is no part of it, and nothing at all is no step.
    expect(takeAll(m, 'again', thick)).toBe(m);
  });

  test('several are chosen beside the one that leads, move as one gesture, and one alone is chosen again', () => {
    const start = openModel(workOf([pictureOf(1), pictureOf(2), pictureOf(3)]));
    const m = chooseAll(start, ['p2', 'p3', 'none']);
    expect([m.selected, chosenIn(m)]).toEqual([2, ['p2', 'p3']]);
    const at = (w: WorkModel, x: number): WorkModel => {
      const moved = chosenIn(m).map((id) => {
        const item = m.document.items[id]!;
        return { ...item, at: { ...item.at, box: { ...item.at.box, x } } } as typeof item;
      });
      return takeItems(w, 'moved together', moved, 'several-1');
    };
    const dragged = at(at(at(m, 5), 9), 14);
    expect(names(dragged.history.past)).toEqual(['moved together']);
    expect([numbers(dragged), chosenIn(dragged)]).toEqual([
      [2, 3],
      ['p2', 'p3'],
    ]);
    expect(changedFrames(undo(dragged))).toEqual([]);
    // Another set is another step, within the same gesture, too.
    const first = takeItems(dragged, 'moved together', [start.document.items['p2']!], 'several-1');
    expect(names(first.history.past)).toEqual(['moved together', 'moved together']);
    for (const alone of [select(dragged, 2), selectItem(dragged, null), chooseAll(dragged, [])])
      expect(chosenIn(alone)).toEqual(['p2']);
    expect(chooseAll(start, [])).toBe(start);
  });

  test('what is taken can be undone and redone, by name, on its own picture', () => {
    let m = take(openModel(workOf()), 'outline', lined(6));
    m = take(select(m, 2), 'move', frameOf(2, { alt: 'other' }));
    expect(names(m.history.past)).toEqual(['outline', 'move']);
    m = undo(undo(m));
    expect([numbers(m), m.selected, m.history.past.length]).toEqual([[], 1, 0]);
    m = redo(redo(m));
    expect([m.selected, numbers(m)]).toEqual([2, [1, 2]]);
    expect(redo(m)).toBe(m);
    expect(undo(openModel(workOf())).history.past).toEqual([]);
  });

  test('a gesture is one step; another gesture, or none, is another', () => {
    let m = openModel(workOf());
    for (const w of [1, 2, 3]) m = take(m, 'outline weight', lined(w), 'slide-1');
    expect(m.history.past).toHaveLength(1);
    m = take(m, 'outline weight', lined(4), 'slide-2');
    m = take(m, 'outline weight', lined(5));
    expect(m.history.past).toHaveLength(3);
    expect(takenFrame(undo(undo(undo(m))))).toEqual(frameOf(1));
  });

  test('a frame that is as it came is no difference to save', () => {
    const m = take(take(openModel(workOf()), 'outline', lined(6)), 'put back', frameOf(1));
    expect(changedFrames(m)).toEqual([]);
    expect(m.history.past).toHaveLength(2);
    expect(numbers(undo(m))).toEqual([1]);
  });

  test('taking what is there already is no step', () => {
    expect(take(openModel(workOf()), 'nothing', frameOf(1)).history.past).toEqual([]);
  });

  test('doing something new forgets what was undone', () => {
    const m = take(undo(take(openModel(workOf()), 'a', lined(1))), 'b', lined(2));
    expect(m.history.future).toEqual([]);
  });

  test('another window’s state replaces ours', () => {
    const m = take(select(openModel(workOf()), 3), 'x', frameOf(3, { alt: '' }));
    const other = replaceWork(m, withFrames([lined(2)]));
    expect([other.selected, numbers(other), other.history.past, other.pending]).toEqual([3, [1], [], []]);
  });
});

describe('what outlasts a reload', () => {
  const step = (seq: number, name: string, weight: number): LoggedEntry =>
    entryOf(seq, name, lined(weight), lined(weight + 1));
  const redoable = { ...step(6, 'e', 5), inverse: step(6, 'e', 5).operations, operations: step(6, 'e', 5).inverse };
  const history = { entries: [step(3, 'c', 3), step(4, 'd', 4), { ...redoable, id: 'u', undoes: 'e6' }], more: true };
  const opened = openModel(withFrames([lined(5)]), history);

  test('what is done can be undone, what was undone be done again', () => {
    expect([names(opened.history.past), names(opened.history.future)]).toEqual([['c', 'd'], ['e']]);
    expect(takenFrame(undo(opened)).outline?.weight).toBe(4);
    expect(takenFrame(redo(opened)).outline?.weight).toBe(6);
    expect(opened.pending).toEqual([]);
  });

  test('earlier entries join in front', () => {
    const older = { entries: [step(1, 'a', 1), step(2, 'b', 2)], more: false };
    const longer = remember(take(opened, 'new', lined(9)), older);
    expect([longer.saved.first, longer.saved.more, names(longer.history.past)]).toEqual([
      1,
      false,
      ['a', 'b', 'c', 'd', 'new'],
    ]);
    expect(longer.pending).toHaveLength(1);
  });
});

describe('what is on its way to the server', () => {
  const alt = (n: number, words: string): Frame => frameOf(n, { alt: words });

  test('does not change any more: a gesture that goes on is an entry more, and one step all the same', () => {
    let m = sendPending(take(openModel(workOf()), 'slide', lined(1), 'g'));
    m = take(take(m, 'slide', lined(2), 'g'), 'slide', lined(3), 'g');
    expect([m.pending.length, m.pending[0]!.gesture === m.pending[1]!.gesture]).toEqual([2, true]);
    m = sent(m, []);
    expect([m.pending.length, names(m.history.past)]).toEqual([1, ['slide']]);
    expect(takenFrame(undo(m))).toEqual(frameOf(1));
  });

  test('a gesture that ends where it began has done nothing', () => {
    const m = take(take(openModel(workOf()), 'slide', lined(1), 'g'), 'slide', frameOf(1), 'g');
    expect([m.pending, m.history.past, isChanged(m, 1)]).toEqual([[], [], false]);
  });

  test('what others did comes in beneath what is here, as steps of the same history', () => {
    let m = sendPending(take(openModel(workOf()), 'mine', lined(2)));
    m = take(m, 'mine later', alt(2, 'mine'));
    const others = [entryOf(7, 'theirs', frameOf(1), alt(1, 'theirs'))];
    expect(disagrees(m, others)).toBe(false);
    m = sent(m, others);
    expect(takenFrame(m, 1)).toEqual(frameOf(1, { outline: lined(2).outline, alt: 'theirs' }));
    expect([takenFrame(m, 2).alt, names(m.history.past)]).toEqual(['mine', ['theirs', 'mine', 'mine later']]);
    expect(m.pending.map((e) => e.name)).toEqual(['mine later']);
    expect(changedFrames(undo(undo(undo(m))))).toEqual([]);
    // About the same as what is still here.
    expect(disagrees(m, [entryOf(8, 'theirs too', frameOf(2), alt(2, 'theirs'))])).toBe(true);
  });

  test('a text is written, not its letters: only what changed is sent', () => {
    const [entry] = take(openModel(workOf()), 'text', alt(1, 'A jug')).pending;
    expect(entry!.operations).toEqual([{ op: 'set', id: 'p1', path: 'alt', value: 'A jug' }]);
    expect(entry!.inverse).toEqual([{ op: 'set', id: 'p1', path: 'alt', value: 'A pot' }]);
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
