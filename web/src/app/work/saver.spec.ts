import { HttpErrorResponse } from '@angular/common/http';
import type { NewEntry } from '@gable/core';
import type { LoggedEntry, SaveEntries, Saved } from '@gable/contract';
import { type Observable, of, throwError } from 'rxjs';
import { Saver } from './saver';

type Answer = (save: SaveEntries) => Observable<Saved>;
const entry = (id: string): NewEntry => ({
  id,
  name: id,
  operations: [{ op: 'set', id: 'p1', path: 'alt', value: id }],
});
const theirs = { ...entry('theirs'), seq: 9, at: '', inverse: [] } as LoggedEntry;

function setup(answers: Answer[] = []) {
  const calls: { base: number; ids: string[]; over: boolean }[] = [];
  const pending: NewEntry[] = [];
  let going = 0;
  let clash = false;
  const others: LoggedEntry[][] = [];
  const saver = new Saver(
    {
      next: () => pending.slice(0, (going ||= pending.length)),
      sent: (o) => {
        others.push([...o]);
        pending.splice(0, going);
        going = 0;
        return clash ? 'conflict' : pending.length > 0 ? 'more' : 'nothing';
      },
      refused: () => (going = 0),
    },
    (save) => {
      calls.push({ base: save.base, ids: save.entries.map((e) => e.id), over: save.over ?? false });
      return answers.shift()?.(save) ?? of({ revision: save.base + save.entries.length, others: [] });
    },
    1,
  );
  const did = (...ids: string[]): void => {
    pending.push(...ids.map(entry));
    saver.changed();
  };
  return { saver, calls, did, others, pending, disagree: () => (clash = true) };
}
const away: Answer = () => throwError(() => new HttpErrorResponse({ status: 0 }));
const problem =
  (status: number, code: string): Answer =>
  () =>
    throwError(
      () => new HttpErrorResponse({ status, error: { code, title: 'No room', detail: 'Make room', facts: {} } }),
    );

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

describe('saving', () => {
  test('waits for quiet, then saves all that was done, in its order', () => {
    const { saver, calls, did } = setup();
    for (const id of ['a', 'b', 'c']) {
      did(id);
      jest.advanceTimersByTime(100);
    }
    expect([calls.length, saver.state$.value.kind]).toEqual([0, 'saving']);
    jest.advanceTimersByTime(400);
    expect(calls).toEqual([{ base: 1, ids: ['a', 'b', 'c'], over: false }]);
    expect(saver.state$.value.kind).toBe('saved');
    did('d');
    jest.advanceTimersByTime(500);
    expect(calls[1]).toMatchObject({ base: 4, ids: ['d'] });
  });

  test('while the server is away it tries again with the same, and what was done meanwhile follows', () => {
    const { saver, calls, did } = setup([away, away]);
    did('a');
    jest.advanceTimersByTime(450);
    expect(saver.state$.value.kind).toBe('waiting');
    did('b');
    jest.advanceTimersByTime(30_000);
    expect(saver.state$.value.kind).toBe('saved');
    expect(calls.map((c) => c.ids)).toEqual([['a'], ['a'], ['a'], ['b']]);
  });

  test('what others did comes with the answer; where it is about the same as what is done since, it stops', () => {
    const { saver, calls, did, others, disagree } = setup([() => of({ revision: 3, others: [theirs] })]);
    did('a');
    jest.advanceTimersByTime(450);
    expect([others, saver.state$.value.kind]).toEqual([[[theirs]], 'saved']);
    disagree();
    did('b');
    jest.advanceTimersByTime(450);
    expect([calls[1]!.base, saver.state$.value.kind]).toEqual([3, 'conflict']);
  });

  test('when another window has changed the same, it stops, and goes on as it is told', () => {
    const { saver, calls, did } = setup([problem(409, 'stale-revision')]);
    did('mine');
    jest.advanceTimersByTime(450);
    expect(saver.state$.value).toEqual({ kind: 'conflict' });
    did('mine too');
    jest.advanceTimersByTime(5000);
    expect(calls).toHaveLength(1);
    saver.overrule();
    jest.advanceTimersByTime(450);
    expect(calls[1]).toEqual({ base: 1, ids: ['mine', 'mine too'], over: true });
    expect(saver.state$.value.kind).toBe('saved');
  });

  test('or takes over what the other has', () => {
    const { saver, calls, did, pending } = setup([problem(409, 'stale-revision')]);
    did('mine');
    jest.advanceTimersByTime(450);
    pending.length = 0;
    saver.accept(7);
    jest.advanceTimersByTime(5000);
    expect([calls.length, saver.state$.value.kind]).toEqual([1, 'saved']);
    did('next');
    jest.advanceTimersByTime(450);
    expect(calls[1]).toMatchObject({ base: 7, ids: ['next'] });
  });

  test('a refusal is told with its words, and can be tried again', async () => {
    const { saver, calls, did } = setup([problem(507, 'no-space')]);
    did('a');
    jest.advanceTimersByTime(450);
    expect(saver.state$.value).toMatchObject({ kind: 'failed', problem: { title: 'No room', remedy: 'Make room' } });
    saver.again();
    jest.advanceTimersByTime(450);
    expect(calls).toHaveLength(2);
    await expect(saver.settled()).resolves.toEqual({ kind: 'saved' });
  });
});
