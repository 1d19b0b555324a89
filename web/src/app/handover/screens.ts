import { inject, Injectable } from '@angular/core';
import type { ScreensWish } from '@gable/contract';
import { firstValueFrom } from 'rxjs';
import { Api } from '../api/api';
import { Layouter } from '../page/layouter';
import { addedChanges, changedFrames, type WorkModel } from '../work/work-model';

/** Widths of windows in which pages are measured, in CSS pixels: telephones, tablets, screens (common practice). */
const WINDOWS = [320, 360, 390, 480, 600, 768, 900, 1024, 1180, 1280, 1440, 1680, 1920, 2240, 2560];
/** How high a window is, by its width (common practice). */
const heightOf = (width: number): number => (width < 768 ? 850 : 1000);

type Picture = ScreensWish['pictures'][number];

/** How the pictures of a site are laid out in windows of many widths. */
@Injectable({ providedIn: 'root' })
export class Screens {
  private readonly api = inject(Api);

  /** @throws Error for a page that takes too long, and what the server says */
  async measure(m: WorkModel): Promise<Picture[]> {
    const pages = [...new Set(m.work.pictures.map((p) => p.where.page ?? 1))].sort((a, b) => a - b);
    const added = addedChanges(m);
    const frames = [...changedFrames(m)];
    const out: Picture[] = [];
    for (const page of pages) {
      const layouter = new Layouter('The page in other windows');
      try {
        const bytes = await firstValueFrom(this.api.pages(m.work.id, { frames, page, ...(added && { added }) }));
        await layouter.lay(bytes, '#ffffff');
        out.push(...(await measuredIn(layouter)));
      } finally {
        layouter.close();
      }
    }
    return out;
  }
}

async function measuredIn(layouter: Layouter): Promise<Picture[]> {
  const known = new Map<number, { n: number; below: boolean; boxes: Picture['boxes'][number][] }>();
  for (const window of WINDOWS)
    for (const [n, { width, height, top }] of await layouter.boxesIn(window)) {
      const picture = known.get(n) ?? { n, below: true, boxes: [] };
      known.set(n, picture);
      // One that is not shown there needs no pixels.
      if (width <= 0 || height <= 0) continue;
      picture.boxes.push({ window, width, height });
      if (top < heightOf(window)) picture.below = false;
    }
  return [...known.values()].filter((p) => p.boxes.length > 0);
}
