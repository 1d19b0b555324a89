import { computed, inject, Injectable, signal } from '@angular/core';
import { keepMarks, suggestedMarks, type Frame, type KeepMark, type Region } from '@gable/core';
import type { Suggestions as Found } from '@gable/contract';
import { catchError, of } from 'rxjs';
import { Api } from '../api/api';
import { addressOf, Images } from './images';
import { keyOf } from './work-model';
import { WorkStore } from './work-store';

const NOTHING: Found = { words: [], refused: [] };

/** What of the pictures may be worth keeping visible: faces, and words that are read when a picture is on the board. */
@Injectable()
export class Suggestions {
  private readonly api = inject(Api);
  private readonly images = inject(Images);
  private readonly state = inject(WorkStore);
  private readonly work = computed(() => this.state.model()?.work);
  private readonly asked = new Set<string>();
  /** What the server read, and what the author refused, by the painter's key. */
  private readonly found = signal<Readonly<Record<string, Found>>>({});

  /** Has the words of a frame's picture read, once. */
  ask(frame: Frame): void {
    const m = this.state.model();
    const key = m && keyOf(m.work, frame);
    if (!key || this.asked.has(key)) return;
    this.asked.add(key);
    const at = addressOf(m, frame);
    this.api
      .suggestions(at.id, at.frame)
      // Without an answer there are the faces.
      .pipe(catchError(() => of(NOTHING)))
      .subscribe((now) => this.found.update((all) => ({ ...all, [key]: now })));
  }

  /** The marks to suggest for a frame: without those that it has, and without what was refused. */
  of(frame: Frame): KeepMark[] {
    const work = this.work();
    const key = work ? keyOf(work, frame) : '';
    const { words, refused } = this.found()[key] ?? NOTHING;
    const faces = this.images.seen()[key]?.faces ?? [];
    return suggestedMarks({ faces, blocks: words }, [...keepMarks(frame), ...refused]);
  }

  /** How much was refused of a frame's picture. */
  refused(frame: Frame): number {
    const m = this.state.model();
    return m ? (this.found()[keyOf(m.work, frame)]?.refused.length ?? 0) : 0;
  }

  /** Suggests a region of a frame's picture no more, wherever that picture is used. */
  refuse(frame: Frame, { u, v, width, height }: Region): void {
    this.set(frame, (refused) => [...refused, { u, v, width, height }]);
  }

  /** Suggests again what was refused. */
  restore(frame: Frame): void {
    this.set(frame, () => []);
  }

  private set(frame: Frame, change: (refused: readonly Region[]) => Region[]): void {
    const m = this.state.model();
    if (!m) return;
    const key = keyOf(m.work, frame);
    const before = this.found()[key] ?? NOTHING;
    const refused = change(before.refused);
    this.found.update((all) => ({ ...all, [key]: { ...before, refused } }));
    const at = addressOf(m, frame);
    this.api.refuse(at.id, at.frame, refused).subscribe({
      error: () => this.found.update((all) => ({ ...all, [key]: before })),
    });
  }
}
