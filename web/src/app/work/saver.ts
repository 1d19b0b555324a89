import {
  BehaviorSubject,
  catchError,
  concatMap,
  debounceTime,
  defer,
  EMPTY,
  filter,
  firstValueFrom,
  map,
  retry,
  Subject,
  takeUntil,
  tap,
  throwError,
  timer,
  type Observable,
} from 'rxjs';
import type { NewEntry } from '@gable/core';
import type { LoggedEntry, SaveEntries, Saved } from '@gable/contract';
import { toProblem, type Problem } from '../api/problem';

export type SaveState =
  | { kind: 'saved' }
  | { kind: 'saving' }
  | { kind: 'waiting' }
  | { kind: 'conflict' }
  | { kind: 'failed'; problem: Problem };

/** What is to be saved. */
export interface Queue {
  /** Entries that go now; asked again after a failure to reach the server, it gives the same. */
  next(): readonly NewEntry[];
  /** They have been saved, behind what others did. @returns what is still to do */
  sent(others: readonly LoggedEntry[]): 'nothing' | 'more' | 'conflict';
  /** They were refused. */
  refused(): void;
}

/** How long after the last change a save starts, and the longest pause between tries while the server is away. */
const QUIET = 400;
const LONGEST_PAUSE = 15_000;

/**
 * Saves entries as they come: one save at a time, in their order. While the server is away it tries again and again; when
 * another window has changed the same, it stops and says so.
 */
export class Saver {
  readonly state$ = new BehaviorSubject<SaveState>({ kind: 'saved' });
  private readonly changes = new Subject<{ over: boolean }>();
  private readonly stop = new Subject<void>();

  constructor(
    private readonly queue: Queue,
    private readonly send: (save: SaveEntries) => Observable<Saved>,
    private revision: number,
  ) {
    this.changes
      .pipe(
        tap(() => this.state$.next({ kind: 'saving' })),
        debounceTime(QUIET),
        concatMap(({ over }) => this.save(over)),
        takeUntil(this.stop),
      )
      .subscribe();
  }

  /** There is something to save. */
  changed(): void {
    if (this.state$.value.kind !== 'conflict') this.changes.next({ over: false });
  }

  /** Goes on with what is here, over what another window saved; the server keeps that as a version. */
  overrule(): void {
    if (this.state$.value.kind === 'conflict') this.changes.next({ over: true });
  }

  /** The revision that the next save begins from. */
  get at(): number {
    return this.revision;
  }

  /** Another window's state has been taken over. */
  accept(revision: number): void {
    this.revision = revision;
    this.state$.next({ kind: 'saved' });
  }

  /** The work has moved on by something that is no entry of ours. */
  moveTo(revision: number): void {
    this.revision = revision;
  }

  again(): void {
    if (this.state$.value.kind === 'failed') this.changes.next({ over: false });
  }

  /** Waits until everything is saved, or saving has failed. */
  settled(): Promise<SaveState> {
    return firstValueFrom(this.state$.pipe(filter((s) => s.kind !== 'saving' && s.kind !== 'waiting')));
  }

  close(): void {
    this.stop.next();
    this.state$.complete();
  }

  private save(over: boolean): Observable<unknown> {
    // A change that came while an earlier save was under way may have gone with it.
    if (this.queue.next().length === 0) {
      this.state$.next({ kind: 'saved' });
      return EMPTY;
    }
    return defer(() => this.send({ base: this.revision, entries: this.queue.next(), over })).pipe(
      retry({
        delay: (error: unknown, count) => {
          if (toProblem(error).code !== 'offline') return throwError(() => error);
          this.state$.next({ kind: 'waiting' });
          return timer(Math.min(LONGEST_PAUSE, 500 * 2 ** count));
        },
      }),
      map(({ revision, others }) => {
        this.revision = revision;
        const left = this.queue.sent(others);
        if (left === 'conflict') this.state$.next({ kind: 'conflict' });
        else if (left === 'nothing') this.state$.next({ kind: 'saved' });
        else this.changes.next({ over: false });
      }),
      catchError((error: unknown) => {
        this.queue.refused();
        const problem = toProblem(error);
        this.state$.next(problem.code === 'stale-revision' ? { kind: 'conflict' } : { kind: 'failed', problem });
        return EMPTY;
      }),
    );
  }
}
