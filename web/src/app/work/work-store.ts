import { inject, Injectable, type OnDestroy } from '@angular/core';
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
import { Painter } from '../paint/painter';
import { factsOf } from './facts';
import { Images, LARGE } from './images';
import { likeThat } from './same-again';
import { Saver, type SaveState } from './saver';
import * as model from './work-model';

/** Below this many steps at hand, earlier entries are fetched. */
const AT_HAND = 40;

/** An open work: its state, its history, and its saving. */
@Injectable()
export class WorkStore implements OnDestroy {
  private readonly api = inject(Api);
  private readonly painter = inject(Painter);
  private readonly images = inject(Images);
  private readonly subscriptions = new Subscription();
  private saver: Saver | null = null;
  private fetching = false;

  readonly model$ = new BehaviorSubject<model.WorkModel | null>(null);
  readonly problem$ = new BehaviorSubject<Problem | null>(null);
  readonly save$ = new BehaviorSubject<SaveState>({ kind: 'saved' });

  /** What is seen of it: saving alone changes nothing here. */
  readonly model = toSignal(this.model$.pipe(distinctUntilChanged(model.looksTheSame)), { requireSync: true });

  open(id: string): void {
    this.subscriptions.add(
      forkJoin([this.api.work(id), this.api.history(id)]).subscribe({
        next: ([work, history]) => this.start(model.openModel(work, history)),
        error: (e: unknown) => this.problem$.next(toProblem(e)),
      }),
    );
  }

  private start(opened: model.WorkModel): void {
    const { work } = opened;
    this.model$.next(opened);
    const saver = this.saverOf(work);
    this.saver = saver;
    this.subscriptions.add(saver.state$.subscribe((s) => this.save$.next(s)));
    const model$ = this.model$.pipe(filter((m) => m !== null));
    this.subscriptions.add(
      model$.pipe(distinctUntilChanged((a, b) => a.pending === b.pending && a.history === b.history)).subscribe((m) => {
        if (m.pending.length > m.sending) saver.changed();
        this.fetchEarlier(m);
      }),
    );
    const shown$ = model$.pipe(map((m) => model.takenFrame(m)));
    this.subscriptions.add(
      shown$
        .pipe(distinctUntilChanged((a, b) => a.n === b.n && a.source?.sha256 === b.source?.sha256))
        .subscribe((frame) => void this.load(frame)),
    );
    // What lies along the rim decides whether an outline can be seen; it is looked up once things are still.
    this.subscriptions.add(
      shown$
        .pipe(
          distinctUntilChanged(),
          debounceTime(150),
          switchMap(async (frame) => ({ frame, colour: await this.painter.rim(this.key(frame), frame) })),
        )
        .subscribe((r) => this.images.rim$.next(r)),
    );
    void this.images.loadAll(opened);
  }

  private saverOf(work: Work): Saver {
    return new Saver(
      {
        next: () => {
          this.update(model.sendPending);
          const { pending, sending } = this.model$.value!;
          return pending.slice(0, sending).map(({ inverse, ...entry }) => {
            void inverse;
            return entry;
          });
        },
        sent: (others) => {
          const before = this.model$.value!;
          const clash = others.length > 0 && model.disagrees(before, others);
          this.update((m) => model.sent(m, others));
          if (clash) return 'conflict';
          return this.model$.value!.pending.length > 0 ? 'more' : 'nothing';
        },
        refused: () => this.update(model.notSent),
      },
      (save) => this.api.saveEntries(work.id, save),
      work.revision,
    );
  }

  private fetchEarlier(m: model.WorkModel): void {
    const { first, more } = m.saved;
    if (!more || first === null || m.history.past.length > AT_HAND || this.fetching) return;
    this.fetching = true;
    this.subscriptions.add(
      this.api.history(m.work.id, first).subscribe({
        next: (older) => {
          this.fetching = false;
          this.update((now) => model.remember(now, older));
        },
        error: () => {
          this.fetching = false;
        },
      }),
    );
  }

  /** What the painter knows a frame's picture by. */
  private key(frame: Frame): string {
    const m = this.model$.value;
    return m ? model.keyOf(m.work, frame) : '';
  }

  /** Fetches the large copy of a frame's picture, and looks at it. */
  private async load(frame: Frame): Promise<void> {
    const m = this.model$.value;
    if (m) await this.images.load(m, frame, LARGE);
  }

  /** Where the picture of a frame has its subject, as far as that is known. */
  private subjectOf(frame: Frame): { u: number; v: number } | undefined {
    return this.images.seen$.value[this.key(frame)]?.subject;
  }

  private update(change: (m: model.WorkModel) => model.WorkModel): void {
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

  /** Several frames as one step: one undo takes all of it back. */
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
    this.update((m) => model.take(m, 'restored', model.pictureOf(m, m.selected).frame));
  }

  /** The findings' facts of a frame, as far as they are known. */
  facts(frame: Frame): PictureFacts {
    const m = this.model$.value!;
    const rim = this.images.rim$.value;
    return {
      ...factsOf(model.pictureOf(m, frame.n), frame),
      subject: this.subjectOf(frame),
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
    if (!m || !model.isChanged(m)) return null;
    const next = m.work.pictures.find((p) => p.n > m.selected && !model.problemOf(p, model.takenFrame(m, p.n)));
    if (!next) return null;
    const frame = model.takenFrame(m, next.n);
    await this.load(frame);
    const subject = this.subjectOf(frame);
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
      await this.load(shown);
      const aim = this.subjectOf(shown) ?? { u: 0.5, v: 0.5 };
      this.take(name, { ...shown, placement: { ...shown.placement, aim } });
    }
    return pictures.slice(into.length);
  }

  /** One kept picture in all of these frames, as one step: same shape, same place, its own subject in the middle. */
  async replaceIn(numbers: readonly number[], picture: LibraryPicture): Promise<void> {
    const m = this.model$.value;
    const [first] = numbers;
    if (!m || first === undefined) return;
    await this.load(shows(model.takenFrame(m, first), picture));
    const frames = numbers.map((n) => {
      const shown = shows(model.takenFrame(this.model$.value!, n), picture);
      const aim = this.subjectOf(shown) ?? { u: 0.5, v: 0.5 };
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
      this.saver.moveTo(work.revision);
      this.update((now) => model.withPictures(now, work));
      void this.images.loadAll(this.model$.value!);
    } catch (e) {
      this.problem$.next(toProblem(e));
    }
  }

  keepMine(): void {
    this.saver?.overrule();
  }

  takeTheirs(): void {
    const m = this.model$.value;
    if (!m) return;
    forkJoin([this.api.work(m.work.id), this.api.history(m.work.id)]).subscribe({
      next: ([work, history]) => {
        this.model$.next(model.replaceWork(m, work, history));
        this.saver?.accept(work.revision);
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
  delete next.overstep;
  return next;
}
