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
import { toProblem, type Problem } from '../api/problem';

export type SaveState =
  | { kind: 'saved' }
  | { kind: 'saving' }
  | { kind: 'waiting' }
  | { kind: 'conflict'; revision: number }
  | { kind: 'failed'; problem: Problem };

type Send<T> = (revision: number, state: T, over: boolean) => Observable<number>;

/** How long after the last change a save starts, and the longest pause between tries while the server is away. */
const QUIET = 400;
const LONGEST_PAUSE = 15_000;

/**
 * Saves a state as it changes: one save at a time, the latest state last. While the server is away it tries again and
 * again; when another window has saved, it stops and says so.
 */
export class Saver<T> {
  readonly state$ = new BehaviorSubject<SaveState>({ kind: 'saved' });
  private readonly changes = new Subject<{ state: T; over: boolean }>();
  private readonly stop = new Subject<void>();
  private latest: T;

  constructor(
    private readonly send: Send<T>,
    private revision: number,
    saved: T,
  ) {
    this.latest = saved;
    this.changes
      .pipe(
        tap(() => this.state$.next({ kind: 'saving' })),
        debounceTime(QUIET),
        // A state that was overtaken while it waited need not be saved by itself.
        concatMap((c) => (c.state === this.latest || c.over ? this.save({ ...c, state: this.latest }) : EMPTY)),
        takeUntil(this.stop),
      )
      .subscribe();
  }

  /** Hands over the newest state. */
  put(state: T): void {
    if (state === this.latest) return;
    this.latest = state;
    if (this.state$.value.kind !== 'conflict') this.changes.next({ state, over: false });
  }

  /** Goes on with what is here, over what another window saved; the server keeps that as a version. */
  overrule(): void {
    const { value } = this.state$;
    if (value.kind !== 'conflict') return;
    this.revision = value.revision;
    this.changes.next({ state: this.latest, over: true });
  }

  /** Another window's state has been taken over. */
  accept(revision: number, state: T): void {
    this.revision = revision;
    this.latest = state;
    this.state$.next({ kind: 'saved' });
  }

  /** The work has moved on by something that is no state of ours. */
  moveTo(revision: number): void {
    this.revision = revision;
  }

  again(): void {
    if (this.state$.value.kind === 'failed') this.changes.next({ state: this.latest, over: false });
  }

  /** Waits until everything is saved, or saving has failed. */
  settled(): Promise<SaveState> {
    return firstValueFrom(this.state$.pipe(filter((s) => s.kind !== 'saving' && s.kind !== 'waiting')));
  }

  close(): void {
    this.stop.next();
    this.state$.complete();
  }

  private save({ state, over }: { state: T; over: boolean }): Observable<unknown> {
    return defer(() => this.send(this.revision, state, over)).pipe(
      retry({
        delay: (error: unknown, count) => {
          if (toProblem(error).code !== 'offline') return throwError(() => error);
          this.state$.next({ kind: 'waiting' });
          return timer(Math.min(LONGEST_PAUSE, 500 * 2 ** count));
        },
      }),
      map((revision) => {
        this.revision = revision;
        if (this.latest === state) this.state$.next({ kind: 'saved' });
      }),
      catchError((error: unknown) => {
        const problem = toProblem(error);
        const revision = problem.facts['revision'];
        this.state$.next(
          problem.code === 'stale-revision' && typeof revision === 'number'
            ? { kind: 'conflict', revision }
            : { kind: 'failed', problem },
        );
        return EMPTY;
      }),
    );
  }
}
