import { computed, inject, Injectable, signal } from '@angular/core';
import { uprightSize, type PictureItem, type Together } from '@gable/core';
import type { LibraryPicture } from '@gable/contract';
import { WorkStore } from '../work/work-store';
import { isEmpty, positionsAt, sizedLike, slotFor, takersOn, type Mark, type Place, type TextWay } from './place';

/** Pictures that are about to be put into the file, and the place that they would get. */
@Injectable()
export class Placing {
  private readonly state = inject(WorkStore);

  /** Pictures that wait for a place to be shown to them. */
  readonly pictures = signal<readonly LibraryPicture[]>([]);
  /** How they are framed; plain where nothing is said. */
  readonly like = signal<PictureItem | null>(null);
  /** Files are being dragged over the page. */
  readonly dragging = signal(false);
  readonly mark = signal<Mark | null>(null);
  /** How it goes into a text. */
  readonly way = signal<TextWay>('between');
  /** How several are arranged on a page. */
  readonly spread = signal<Together>('grid');
  /** On a page: in front of the shapes that are there, and not into them. */
  readonly inFront = signal(false);
  /** Over a frame, what is dropped takes the place of its picture. */
  readonly over = signal<number | null>(null);
  readonly waiting = computed(() => this.pictures().length > 0);
  readonly active = computed(() => this.waiting() || this.dragging());

  begin(pictures: readonly LibraryPicture[], like: PictureItem | null = null): void {
    this.mark.set(null);
    this.like.set(like);
    this.pictures.set(pictures);
  }

  end(): void {
    this.pictures.set([]);
    this.like.set(null);
    this.dragging.set(false);
    this.mark.set(null);
    this.over.set(null);
  }

  /** Puts pictures at a place. @returns were they? */
  async put(pictures: readonly LibraryPicture[], place: Place): Promise<boolean> {
    const m = this.state.model$.value;
    if (!m || pictures.length === 0) return false;
    const like = this.like();
    const places = positionsAt(
      m.work,
      place,
      pictures.map((p) => uprightSize(p.size, p.orientation)),
      {
        way: this.spread(),
        empty:
          place.in === 'page'
            ? takersOn(m.file, place.page)
                .filter(isEmpty)
                .map((t) => t.box)
            : [],
      },
    );
    const at = like ? places.map((p) => sizedLike(p, like.at.box)) : places;
    this.end();
    return this.state.putIn(
      pictures.map((picture, i) => ({ picture, at: at[i]!, ...(like && { like }) })),
      slotFor(m.document, place),
    );
  }
}
