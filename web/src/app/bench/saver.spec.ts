import { HttpErrorResponse } from '@angular/common/http';
import type { Frame } from '@gable/core';
import { type Observable, of, throwError } from 'rxjs';
import { frameOf } from '../../testing/works';
import { Saver } from './saver';

type Call = { revision: number; frames: Record<string, Frame>; over: boolean };

function setup(answers: ((c: Call) => Observable<number>)[] = []): {
  saver: Saver<Record<string, Frame>>;
  calls: Call[];
} {
  const calls: Call[] = [];
  const saver = new Saver<Record<string, Frame>>(
    (revision, frames, over) => {
      const call = { revision, frames: { ...frames }, over };
      calls.push(call);
      return answers.shift()?.(call) ?? of(revision + 1);
    },
    1,
    {},
  );
  return { saver, calls };
}
const one = (alt: string): Record<string, Frame> => ({ 1: frameOf(1, { alt }) });
const away = (): Observable<number> => throwError(() => new HttpErrorResponse({ status: 0 }));
const stale = (): Observable<number> =>
  throwError(
    () =>
      new HttpErrorResponse({
        status: 409,
        error: { code: 'stale-revision', title: '', detail: '', facts: { revision: 7 } },
      }),
  );

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

describe('saving', () => {
  test('waits for quiet, then saves the newest state once', () => {
    const { saver, calls } = setup();
    for (const alt of ['a', 'b', 'c']) {
      saver.put(one(alt));
      jest.advanceTimersByTime(100);
    }
    expect([calls.length, saver.state$.value.kind]).toEqual([0, 'saving']);
    jest.advanceTimersByTime(400);
    expect(calls).toEqual([{ revision: 1, frames: one('c'), over: false }]);
    expect(saver.state$.value.kind).toBe('saved');
    saver.put(one('d'));
    jest.advanceTimersByTime(500);
    expect(calls[1]).toMatchObject({ revision: 2 });
  });

  test('while the server is away it tries again, and what was done meanwhile is saved too', () => {
    const { saver, calls } = setup([away, away]);
    saver.put(one('a'));
    jest.advanceTimersByTime(450);
    expect(saver.state$.value.kind).toBe('waiting');
    saver.put(one('b'));
    jest.advanceTimersByTime(30_000);
    expect(saver.state$.value.kind).toBe('saved');
    expect(calls[calls.length - 1]!.frames).toEqual(one('b'));
  });

  test('when another window has saved, it stops, and goes on as it is told', () => {
    const { saver, calls } = setup([stale]);
    saver.put(one('mine'));
    jest.advanceTimersByTime(450);
    expect(saver.state$.value).toEqual({ kind: 'conflict', revision: 7 });
    saver.put(one('mine too'));
    jest.advanceTimersByTime(5000);
    expect(calls).toHaveLength(1);
    saver.overrule();
    jest.advanceTimersByTime(450);
    expect(calls[1]).toEqual({ revision: 7, frames: one('mine too'), over: true });
    expect(saver.state$.value.kind).toBe('saved');
  });

  test('or takes over what the other has', () => {
    const { saver, calls } = setup([stale]);
    saver.put(one('mine'));
    jest.advanceTimersByTime(450);
    const theirs = one('theirs');
    saver.accept(7, theirs);
    saver.put(theirs);
    jest.advanceTimersByTime(5000);
    expect([calls.length, saver.state$.value.kind]).toEqual([1, 'saved']);
  });

  test('a refusal is told with its words, and can be tried again', async () => {
    const { saver, calls } = setup([
      () =>
        throwError(
          () =>
            new HttpErrorResponse({
              status: 507,
              error: { code: 'no-space', title: 'No room', detail: 'Make room', facts: {} },
            }),
        ),
    ]);
    saver.put(one('a'));
    jest.advanceTimersByTime(450);
    expect(saver.state$.value).toMatchObject({ kind: 'failed', problem: { title: 'No room', remedy: 'Make room' } });
    saver.again();
    jest.advanceTimersByTime(450);
    expect(calls).toHaveLength(2);
    await expect(saver.settled()).resolves.toEqual({ kind: 'saved' });
  });
});
