import { inject, Injectable, type OnDestroy } from '@angular/core';
import type { Frame, Subject as Aim } from '@gable/core';
import { BehaviorSubject, distinctUntilChanged, filter, map, Subscription } from 'rxjs';
import { Api } from '../api/api';
import { toProblem, type Problem } from '../api/problem';
import type { Work } from '../api/types';
import { Painter } from '../paint/painter';
import * as model from './bench-model';
import { Saver, type SaveState } from './saver';

export type StepName = 'shape' | 'position' | 'outline';

/** Sides of the proxies: a small one of every picture for the run, a large one of the picture on the board. */
const SMALL = 256;
const LARGE = 2048;

/** The state of one bench: a model, what has been found in its pictures, and its saving. */
@Injectable()
export class BenchState implements OnDestroy {
  private readonly api = inject(Api);
  private readonly painter = inject(Painter);
  private readonly subscriptions = new Subscription();
  private saver: Saver | null = null;

  readonly model$ = new BehaviorSubject<model.BenchModel | null>(null);
  readonly problem$ = new BehaviorSubject<Problem | null>(null);
  readonly save$ = new BehaviorSubject<SaveState>({ kind: 'saved' });
  readonly step$ = new BehaviorSubject<StepName>('shape');
  /** Subjects by picture number, as they are found. */
  readonly subjects$ = new BehaviorSubject<Readonly<Record<number, Aim>>>({});

  open(id: string): void {
    this.subscriptions.add(
      this.api.work(id).subscribe({
        next: (work) => this.start(work),
        error: (e: unknown) => this.problem$.next(toProblem(e)),
      }),
    );
  }

  private start(work: Work): void {
    this.model$.next(model.openModel(work));
    const saver = new Saver(
      (revision, frames, over) => this.api.saveFrames(work.id, revision, frames, over),
      work.revision,
      work.frames,
    );
    this.saver = saver;
    this.subscriptions.add(saver.state$.subscribe((s) => this.save$.next(s)));
    const frames$ = this.model$.pipe(
      filter((m) => m !== null),
      map((m) => m.frames),
      distinctUntilChanged(),
    );
    this.subscriptions.add(frames$.subscribe((frames) => saver.put(frames)));
    const selected$ = this.model$.pipe(
      filter((m) => m !== null),
      map((m) => m.selected),
      distinctUntilChanged(),
    );
    this.subscriptions.add(selected$.subscribe((n) => void this.load(n, LARGE)));
    void this.loadRun(work);
  }

  key(n: number): string {
    return `${this.model$.value?.work.id}/${n}`;
  }

  private async load(n: number, side: number): Promise<void> {
    const m = this.model$.value;
    const picture = m && model.pictureOf(m, n);
    if (!m || !picture || picture.problem) return;
    const subject = await this.painter.load(this.key(n), this.api.proxyUrl(m.work.id, n, side), picture.size);
    if (subject && !this.subjects$.value[n]) this.subjects$.next({ ...this.subjects$.value, [n]: subject });
  }

  /** The small copies, a few at a time, so that the one on the board is not kept waiting. */
  private async loadRun(work: Work): Promise<void> {
    const queue = work.pictures.filter((p) => !p.problem).map((p) => p.n);
    const next = async (): Promise<void> => {
      for (let n = queue.shift(); n !== undefined; n = queue.shift()) await this.load(n, SMALL);
    };
    await Promise.all([next(), next(), next()]);
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

  keepMine(): void {
    this.saver?.overrule();
  }

  takeTheirs(): void {
    const m = this.model$.value;
    if (!m) return;
    this.api.work(m.work.id).subscribe({
      next: (work) => {
        this.saver?.accept(work.revision, work.frames);
        this.model$.next(model.replaceWork(m, work));
      },
      error: (e: unknown) => this.problem$.next(toProblem(e)),
    });
  }

  saveAgain(): void {
    this.saver?.again();
  }

  /** The file with everything saved. @throws what the request throws */
  async handOver(): Promise<Blob | null> {
    const m = this.model$.value;
    if (!m || !this.saver) return null;
    const state = await this.saver.settled();
    if (state.kind !== 'saved') return null;
    return new Promise((resolve, reject) =>
      this.subscriptions.add(this.api.file(m.work.id).subscribe({ next: resolve, error: reject })),
    );
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
