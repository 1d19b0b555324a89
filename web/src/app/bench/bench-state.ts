import { inject, Injectable, signal, type OnDestroy } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import type { Frame, PictureFacts } from '@gable/core';
import {
  BehaviorSubject,
  debounceTime,
  distinctUntilChanged,
  filter,
  firstValueFrom,
  forkJoin,
  map,
  Subscription,
  switchMap,
} from 'rxjs';
import { Api } from '../api/api';
import { toProblem, type Problem } from '../api/problem';
import type { LibraryPicture, Work } from '@gable/contract';
import { Painter, SMALL } from '../paint/painter';
import type { Seen } from '../paint/protocol';
import * as model from './bench-model';
import { factsOf } from './facts';
import { likeThat } from './same-again';
import { Saver, type SaveState } from './saver';
import type { StepName } from './steps';

/** Side of the proxy of the picture on the board; there is a small one of every picture for the run. */
const LARGE = 2048;
/** Milliseconds in which what is seen of small copies is gathered. */
const TOGETHER = 60;
/** Below this many deeds at hand, earlier ones are fetched. */
const AT_HAND = 40;

type Snapshot = Pick<model.BenchModel, 'frames' | 'base' | 'past' | 'future'>;

/** The state of one bench: a model, what has been found in its pictures, and its saving. */
@Injectable()
export class BenchState implements OnDestroy {
  private readonly api = inject(Api);
  private readonly painter = inject(Painter);
  private readonly subscriptions = new Subscription();
  private saver: Saver<Snapshot> | null = null;
  private known: model.Known = { base: 0, deeds: [] };
  private fetching = false;
  /** Deeds as they came back from the server. */
  private fetched: readonly unknown[] | null = null;

  /** Frames whose small copies are still to be fetched. */
  private queue: Frame[] = [];
  /** What was seen and is not told yet. */
  private found: Record<string, Seen> = {};
  private foundAt: ReturnType<typeof setTimeout> | undefined;

  readonly model$ = new BehaviorSubject<model.BenchModel | null>(null);
  readonly problem$ = new BehaviorSubject<Problem | null>(null);
  readonly save$ = new BehaviorSubject<SaveState>({ kind: 'saved' });
  readonly step$ = new BehaviorSubject<StepName>('shape');
  /** What was seen, by the painter's key. */
  readonly seen$ = new BehaviorSubject<Readonly<Record<string, Seen>>>({});
  /** Pictures whose large copies are here and have been looked at, or cannot be had; by the painter's key. */
  private readonly ready$ = new BehaviorSubject<ReadonlySet<string>>(new Set());
  /** The colour of the picture along its rim, and the frame it was looked up for. */
  readonly rim$ = new BehaviorSubject<{ frame: Frame; colour: string | null } | null>(null);

  readonly model = toSignal(this.model$, { requireSync: true });
  readonly ready = toSignal(this.ready$, { requireSync: true });
  readonly step = toSignal(this.step$, { requireSync: true });
  readonly seen = toSignal(this.seen$, { requireSync: true });
  readonly rim = toSignal(this.rim$, { requireSync: true });

  /** Is the board hidden by something that fills the screen? Then nothing is painted on it. */
  readonly covered = signal(false);

  open(id: string): void {
    this.subscriptions.add(
      forkJoin([this.api.work(id), this.api.history(id)]).subscribe({
        next: ([work, history]) => this.start(work, model.openModel(work, history)),
        error: (e: unknown) => this.problem$.next(toProblem(e)),
      }),
    );
  }

  private start(work: Work, opened: model.BenchModel): void {
    this.model$.next(opened);
    this.known = model.knownOf(opened);
    const saver = new Saver<Snapshot>(
      (revision, state, over) => {
        const history = model.unsaved(state, this.known);
        return this.api.saveFrames(work.id, { revision, frames: state.frames, over, history }).pipe(
          map((next) => {
            this.known = model.knownOf(state);
            return next;
          }),
        );
      },
      work.revision,
      opened,
    );
    this.saver = saver;
    this.subscriptions.add(saver.state$.subscribe((s) => this.save$.next(s)));
    const model$ = this.model$.pipe(filter((m) => m !== null));
    this.subscriptions.add(
      model$
        .pipe(distinctUntilChanged((a, b) => a.frames === b.frames && a.past === b.past && a.future === b.future))
        .subscribe((m) => {
          // Deeds that only came back from the server are nothing to save.
          if (m !== opened && m.past !== this.fetched) saver.put(m);
          this.fetchEarlier(m);
        }),
    );
    const shown$ = model$.pipe(map((m) => model.takenFrame(m)));
    this.subscriptions.add(
      shown$
        .pipe(distinctUntilChanged((a, b) => a.n === b.n && a.source?.sha256 === b.source?.sha256))
        .subscribe((frame) => void this.load(frame, LARGE)),
    );
    // What lies along the rim decides whether an outline can be seen; it is looked up once things are still.
    this.subscriptions.add(
      shown$
        .pipe(
          distinctUntilChanged(),
          debounceTime(150),
          switchMap(async (frame) => ({ frame, colour: await this.painter.rim(this.key(frame), frame) })),
        )
        .subscribe((r) => this.rim$.next(r)),
    );
    void this.loadRun();
  }

  private fetchEarlier(m: model.BenchModel): void {
    if (m.base === 0 || m.past.length > AT_HAND || this.fetching) return;
    this.fetching = true;
    this.subscriptions.add(
      this.api.history(m.work.id, m.base).subscribe({
        next: (older) => {
          this.fetching = false;
          if (older.from + older.deeds.length === this.known.base)
            this.known = { base: older.from, deeds: [...older.deeds, ...this.known.deeds] };
          this.update((now) => {
            const next = model.remember(now, older);
            this.fetched = next.past;
            return next;
          });
        },
        error: () => {
          this.fetching = false;
        },
      }),
    );
  }

  /** What the painter knows a frame's picture by. */
  key(frame: Frame): string {
    const m = this.model$.value;
    return m ? model.keyOf(m.work, frame) : '';
  }

  private async load(frame: Frame, side: number): Promise<void> {
    const m = this.model$.value;
    const picture = m && model.pictureOf(m, frame.n);
    if (!m || !picture || model.problemOf(picture, frame)) return;
    const key = this.key(frame);
    const at = model.homeOf(m.work, frame.n);
    const url = frame.source ? this.api.keptUrl(frame.source.sha256, side) : this.api.proxyUrl(at.id, at.n, side);
    const seen = await this.painter.load(key, url, model.sizeOf(picture, frame), side);
    if (side === LARGE) this.ready$.next(new Set([...this.ready$.value, key]));
    if (!seen || this.seen$.value[key]) return;
    this.found[key] = seen;
    // Of a thousand pictures several come in each moment: they are told together.
    if (side === LARGE) this.tellFound();
    else this.foundAt ??= setTimeout(() => this.tellFound(), TOGETHER);
  }

  private tellFound(): void {
    clearTimeout(this.foundAt);
    this.foundAt = undefined;
    this.seen$.next({ ...this.seen$.value, ...this.found });
    this.found = {};
  }

  /** The pictures that others have taken the place of: to show frames as they came. */
  async loadAsCame(): Promise<void> {
    const m = this.model$.value;
    if (!m) return;
    const gone = Object.values(m.frames).filter((f) => f.source);
    await Promise.all(gone.map((f) => this.load(model.pictureOf(m, f.n).frame, SMALL)));
  }

  /** The small copies, a few at a time, so that the one on the board is not kept waiting. */
  private async loadRun(): Promise<void> {
    const m = this.model$.value;
    this.queue = m ? [...model.framesOf(m).values()] : [];
    const next = async (): Promise<void> => {
      for (let f = this.queue.shift(); f !== undefined; f = this.queue.shift()) await this.load(f, SMALL);
    };
    await Promise.all([next(), next(), next()]);
  }

  /** These are in sight: their copies are fetched before others. */
  sooner(numbers: ReadonlySet<number>): void {
    const [now, later] = [true, false].map((wanted) => this.queue.filter((f) => numbers.has(f.n) === wanted));
    this.queue = [...now!, ...later!];
  }

  private update(change: (m: model.BenchModel) => model.BenchModel): void {
    const m = this.model$.value;
    if (!m) return;
    const next = change(m);
    if (next !== m) this.model$.next(next);
  }

  select(n: number): void {
    this.update((m) => model.select(m, n));
  }

  preview(frame: Frame | null): void {
    this.update((m) => model.preview(m, frame));
  }

  take(name: string, frame: Frame, gesture: string | null = null): void {
    this.update((m) => model.take(m, name, frame, gesture));
  }

  /** Several frames as one deed: one undo takes all of it back. */
  takeAll(name: string, frames: readonly Frame[]): void {
    this.update((m) => model.takeAll(m, name, frames));
  }

  undo(): void {
    this.update(model.undo);
  }

  redo(): void {
    this.update(model.redo);
  }

  /** Puts the selected picture back as the file has it. */
  putBack(): void {
    this.update((m) => model.take(m, 'put back as it came', model.pictureOf(m, m.selected).frame));
  }

  go(step: StepName): void {
    if (step === this.step$.value) return;
    this.preview(null);
    this.step$.next(step);
  }

  /** The findings' facts of a frame, as far as they are known. */
  facts(frame: Frame): PictureFacts {
    const m = this.model$.value!;
    const rim = this.rim$.value;
    return {
      ...factsOf(model.pictureOf(m, frame.n), frame),
      subject: this.seen$.value[this.key(frame)]?.subject,
      // Documents are read on white paper.
      ...(rim?.frame === frame && rim.colour ? { rim: rim.colour, page: '#ffffff' } : {}),
    };
  }

  /**
   * Frames the next picture of the run like the last one that was framed: its shape, ratio, size, edges and tone, with the
   * picture's own subject in the middle.
   * @returns the picture that was framed; null where there is none left, or none to copy from
   */
  async sameAgain(): Promise<number | null> {
    const m = this.model$.value;
    if (!m || !(String(m.selected) in m.frames)) return null;
    const next = m.work.pictures.find((p) => p.n > m.selected && !model.problemOf(p, model.takenFrame(m, p.n)));
    if (!next) return null;
    const frame = model.takenFrame(m, next.n);
    await this.load(frame, LARGE);
    const subject = this.seen$.value[this.key(frame)]?.subject;
    const like = likeThat(frame, model.takenFrame(m), model.sizeOf(next, frame), subject);
    this.update((now) => model.take(model.select(now, next.n), 'same again', like));
    return next.n;
  }

  /**
   * Puts kept pictures into frames, each with its own subject in the middle: the first into `n`, the rest into empty
   * frames.
   * @returns what is left over
   */
  async place(n: number, pictures: readonly LibraryPicture[]): Promise<readonly LibraryPicture[]> {
    const m = this.model$.value;
    if (!m) return pictures;
    const empty = m.work.pictures
      .filter((p) => p.n !== n && model.problemOf(p, model.takenFrame(m, p.n))?.code === 'empty-frame')
      .map((p) => p.n);
    const into = [n, ...empty].slice(0, pictures.length);
    const name = into.length > 1 ? 'pictures put in' : 'picture replaced';
    for (const [i, frame] of into.entries()) {
      const shown = shows(model.takenFrame(this.model$.value!, frame), pictures[i]!);
      await this.load(shown, LARGE);
      const aim = this.seen$.value[this.key(shown)]?.subject ?? { u: 0.5, v: 0.5 };
      this.take(name, { ...shown, placement: { ...shown.placement, aim } });
    }
    return pictures.slice(into.length);
  }

  /** One kept picture in all of these frames, as one deed: same shape, same place, its own subject in the middle. */
  async replaceIn(numbers: readonly number[], picture: LibraryPicture): Promise<void> {
    const m = this.model$.value;
    const [first] = numbers;
    if (!m || first === undefined) return;
    await this.load(shows(model.takenFrame(m, first), picture), LARGE);
    const frames = numbers.map((n) => {
      const shown = shows(model.takenFrame(this.model$.value!, n), picture);
      const aim = this.seen$.value[this.key(shown)]?.subject ?? { u: 0.5, v: 0.5 };
      return { ...shown, placement: { ...shown.placement, aim } };
    });
    this.takeAll('picture replaced', frames);
  }

  /** Lays more pictures, or empty frames, behind those of a work that began with pictures. */
  async add(pictures: readonly (string | null)[]): Promise<void> {
    const m = this.model$.value;
    if (!m || !this.saver || (await this.saver.settled()).kind !== 'saved') return;
    try {
      const work = await firstValueFrom(this.api.addPictures(m.work.id, pictures));
      const now = this.model$.value!;
      const next = { ...now, work: { ...work, frames: now.work.frames }, selected: now.work.pictures.length + 1 };
      this.saver.moveTo(work.revision);
      this.model$.next(next);
      void this.loadRun();
    } catch (e) {
      this.problem$.next(toProblem(e));
    }
  }

  keepMine(): void {
    // The other window may have written other deeds: all that are known here are written anew.
    this.known = { base: this.model$.value?.base ?? 0, deeds: [] };
    this.saver?.overrule();
  }

  takeTheirs(): void {
    const m = this.model$.value;
    if (!m) return;
    forkJoin([this.api.work(m.work.id), this.api.history(m.work.id)]).subscribe({
      next: ([work, history]) => {
        const next = model.replaceWork(m, work, history);
        this.known = model.knownOf(next);
        this.saver?.accept(work.revision, next);
        this.model$.next(next);
      },
      error: (e: unknown) => this.problem$.next(toProblem(e)),
    });
  }

  saveAgain(): void {
    this.saver?.again();
  }

  /** Waits until everything is saved. @returns false when that has failed */
  async settled(): Promise<boolean> {
    return this.saver !== null && (await this.saver.settled()).kind === 'saved';
  }

  get unsaved(): boolean {
    return this.save$.value.kind !== 'saved';
  }

  ngOnDestroy(): void {
    // A save that is under way or due is let finish before everything ends.
    const { saver } = this;
    if (saver) void saver.settled().finally(() => saver.close());
    this.subscriptions.unsubscribe();
    clearTimeout(this.foundAt);
    this.queue = [];
  }
}

/** The frame with another picture, true and with all else as it was; what was marked on the old one is gone. */
function shows(frame: Frame, { sha256, name, type, size }: LibraryPicture): Frame {
  const fit = frame.placement.fit === 'stretch' ? ('cover' as const) : frame.placement.fit;
  const next: Frame = {
    ...frame,
    placement: { ...frame.placement, fit, distortion: 1 },
    source: { sha256, name, type, size, orientation: 1 },
  };
  delete next.keep;
  return next;
}
