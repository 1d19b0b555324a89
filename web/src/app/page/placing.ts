import { computed, inject, Injectable, signal } from '@angular/core';
import type { LibraryPicture } from '@gable/contract';
import { WorkStore } from '../work/work-store';
import { positionsAt, slotFor, type Mark, type Place } from './place';

/** Pictures that are about to be put into the file, and the place that they would get. */
@Injectable()
export class Placing {
  private readonly state = inject(WorkStore);

  /** Pictures that wait for a place to be shown to them. */
  readonly pictures = signal<readonly LibraryPicture[]>([]);
  /** Files are being dragged over the page. */
  readonly dragging = signal(false);
  readonly mark = signal<Mark | null>(null);
  /** Of texts: beside the text, at the pointer, and not between its lines. */
  readonly beside = signal(false);
  /** Over a frame, what is dropped takes the place of its picture. */
  readonly over = signal<number | null>(null);
  readonly waiting = computed(() => this.pictures().length > 0);
  readonly active = computed(() => this.waiting() || this.dragging());

  begin(pictures: readonly LibraryPicture[]): void {
    this.mark.set(null);
    this.pictures.set(pictures);
  }

  end(): void {
    this.pictures.set([]);
    this.dragging.set(false);
    this.mark.set(null);
    this.over.set(null);
  }

  /** Puts pictures at a place. @returns were they? */
  async put(pictures: readonly LibraryPicture[], place: Place): Promise<boolean> {
    const m = this.state.model$.value;
    if (!m || pictures.length === 0) return false;
    const at = positionsAt(
      m.work,
      place,
      pictures.map((p) => p.size),
    );
    this.end();
    return this.state.putIn(
      pictures.map((picture, i) => ({ picture, at: at[i]! })),
      slotFor(m.document, place),
    );
  }
}
