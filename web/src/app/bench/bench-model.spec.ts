import { solidOutline } from '@gable/core';
import { frameOf, pictureOf, workOf } from '../../testing/works';
import { openModel, preview, redo, replaceWork, select, shownFrame, take, takenFrame, undo } from './bench-model';

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
