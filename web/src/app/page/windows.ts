import { computed, inject, Injectable, signal } from '@angular/core';
import { itemIdOf, type BoxInWindow, type ItemId, type Size } from '@gable/core';
import { firstValueFrom } from 'rxjs';
import { WINDOW } from '../../../page/told';
import { Api } from '../api/api';
import { addedChanges, changedFrames, framesOf, pictureIn, type WorkModel } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { Layouter } from './layouter';

/** From the width of a narrow telephone to that of a wide screen, in CSS pixels (common practice). */
export const NARROWEST = 320;
export const WIDEST = 2560;
/** Those that are shown: telephones, a tablet, screens (common practice). */
export const SHOWN = [320, 390, 768, 1280, 1920, 2560];
/** All that are measured. */
const STEP = 16;
const ALL = [
  ...new Set([...SHOWN, ...Array.from({ length: (WIDEST - NARROWEST) / STEP + 1 }, (_, i) => NARROWEST + STEP * i)]),
];
ALL.sort((a, b) => a - b);

/** What boxes hang on: what else of a frame is otherwise leaves its box in every window. */
function sizeKey(m: WorkModel, page: number): string {
  const frames = framesOf(m);
  const boxes = m.work.pictures.flatMap(({ n, where }) => {
    const f = (where.page ?? 1) === page ? frames.get(n) : undefined;
    return f ? [[n, f.box.width, f.box.height, f.shape.name, f.source?.sha256, f.section]] : [];
  });
  return JSON.stringify([m.work.id, page, boxes, addedChanges(m) !== undefined]);
}

/** Sizes of pictures by their numbers. */
type Sizes = ReadonlyMap<number, Size>;

/** Does a box change more from one window to another than a box does that hangs on its width? */
function leaps(sizes: ReadonlyMap<number, Sizes>, low: number, high: number): boolean {
  const [a, b] = [sizes.get(low), sizes.get(high)];
  const most = 3 * (high - low);
  return [...(a ?? [])].some(([n, was]) => {
    const is = b?.get(n);
    return is && Math.max(Math.abs(is.width - was.width), Math.abs(is.height - was.height)) > most;
  });
}

/** The boxes of each picture, by the width of the window. */
function boxesFrom(sizes: ReadonlyMap<number, Sizes>): ReadonlyMap<ItemId, readonly BoxInWindow[]> {
  const boxes = new Map<ItemId, BoxInWindow[]>();
  for (const [window, all] of [...sizes].sort(([a], [b]) => a - b))
    for (const [n, { width, height }] of all) {
      const id = itemIdOf({ n });
      boxes.set(id, [...(boxes.get(id) ?? []), { window, width, height }]);
    }
  return boxes;
}

/** The windows that a web page is seen in: that of the screen, and the boxes of its pictures in all others. */
@Injectable()
export class Windows {
  private readonly api = inject(Api);
  private readonly state = inject(WorkStore);
  /** How wide the window is that pages are shown in, in CSS pixels. */
  readonly width = signal(WINDOW.width);
  /** Boxes of the pictures of a page by the width of their window, and what they were measured for. */
  private readonly measured = signal<{ key: string; boxes: ReadonlyMap<ItemId, readonly BoxInWindow[]> } | null>(null);
  private under = '';
  /** For which page and sizes it could not be done. */
  private readonly failed = signal('');

  /** What boxes of the chosen picture's page hang on. */
  private readonly key = computed(() => {
    const m = this.state.model();
    const picture = m && pictureIn(m.work, m.selected);
    return m && picture ? sizeKey(m, picture.where.page ?? 1) : null;
  });
  /** Are they to be measured? By what they hang on. */
  readonly wanted = computed(() => {
    const key = this.key();
    return key !== null && this.measured()?.key !== key && this.failed() !== key ? key : null;
  });
  readonly cannot = computed(() => this.failed() !== '' && this.failed() === this.key());

  /** The boxes of the chosen picture; null while they are not known. */
  readonly boxes = computed((): readonly BoxInWindow[] | null => {
    const m = this.state.model();
    const picture = m && pictureIn(m.work, m.selected);
    const known = this.measured();
    if (!picture || known?.key !== this.key()) return null;
    return known.boxes.get(itemIdOf(picture)) ?? [];
  });

  /** What could not be measured is tried again. */
  again(): void {
    this.failed.set('');
  }

  /** Has the boxes of the chosen picture's page measured, where they are not known. */
  async measure(): Promise<void> {
    const m = this.state.model$.value;
    const page = m && (pictureIn(m.work, m.selected)?.where.page ?? 1);
    if (!m || page === null) return;
    const key = sizeKey(m, page);
    if (this.measured()?.key === key || this.under === key) return;
    this.under = key;
    const added = addedChanges(m);
    const wish = { frames: [...changedFrames(m)], page, ...(added && { added }) };
    const layouter = new Layouter('The page in other windows');
    try {
      await layouter.lay(await firstValueFrom(this.api.pages(m.work.id, wish)), '#ffffff');
      const sizes = new Map<number, Sizes>();
      let before = 0;
      for (const window of ALL) {
        // Something else is asked for by now.
        if (this.under !== key) return;
        sizes.set(window, await layouter.boxesIn(window));
        // Where the page changes all at once, it is found out in which window it does.
        for (let [low, high] = [before, window]; high - low > 1 && leaps(sizes, low, high);) {
          const middle = Math.floor((low + high) / 2);
          sizes.set(middle, await layouter.boxesIn(middle));
          if (leaps(sizes, low, middle)) high = middle;
          else low = middle;
        }
        before = window;
      }
      this.measured.set({ key, boxes: boxesFrom(sizes) });
    } catch {
      // The page takes too long, or the server is gone.
      if (this.under === key) this.failed.set(key);
    } finally {
      layouter.close();
      if (this.under === key) this.under = '';
    }
  }
}
