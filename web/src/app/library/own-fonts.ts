import { inject, Injectable, signal } from '@angular/core';
import type { KeptFont } from '@gable/contract';
import { knowFonts } from '@gable/core';
import { catchError, defer, firstValueFrom, of, shareReplay, tap } from 'rxjs';
import { Api } from '../api/api';
import { toProblem, type Problem } from '../api/problem';

/** Where the file of a font is fetched. */
export const fontUrl = (id: string): string => `/api/fonts/${id}/file`;

/** Fonts of one's own, which outlast a work. */
@Injectable({ providedIn: 'root' })
export class OwnFonts {
  private readonly api = inject(Api);
  private readonly list = signal<readonly KeptFont[]>([]);
  readonly all = this.list.asReadonly();
  readonly problem = signal<Problem | null>(null);

  /** Lets words be set in them, once; without them the others are at hand still. */
  readonly load = defer(() => this.api.fonts()).pipe(
    tap((all) => {
      all.forEach(bring);
      knowFonts(all);
      this.list.set(all);
    }),
    catchError(() => of([])),
    shareReplay(1),
  );

  private readonly files = new Map<string, Promise<ArrayBuffer>>();

  /**
   * Fonts as data, for a frame that cannot fetch them; one whose file is away is left out.
   * @param text that names the families that are needed
   */
  async data(text: string): Promise<(KeptFont & { bytes: ArrayBuffer })[]> {
    const needed = this.list().filter(({ family }) => text.includes(family));
    const all = needed.map(async (font) => {
      let file = this.files.get(font.id);
      if (!file) this.files.set(font.id, (file = fetch(fontUrl(font.id)).then((r) => r.arrayBuffer())));
      return { ...font, bytes: await file };
    });
    return (await Promise.allSettled(all)).flatMap((f) => (f.status === 'fulfilled' ? f.value : []));
  }

  /** @returns the font, once letters can be set in it; null where it cannot be had, which `problem` tells */
  async add(file: File): Promise<KeptFont | null> {
    this.problem.set(null);
    try {
      const font = await firstValueFrom(this.api.addFont(file));
      if (!this.list().some((f) => f.id === font.id)) {
        await bring(font).load();
        knowFonts([font]);
        this.list.update((all) => [...all, font]);
      }
      return font;
    } catch (error) {
      this.problem.set(toProblem(error));
      return null;
    }
  }

  /** Takes a family off the list; words that are set in it keep its name. */
  async remove(family: string): Promise<void> {
    this.problem.set(null);
    try {
      for (const { id } of this.list().filter((f) => f.family === family)) {
        await firstValueFrom(this.api.removeFont(id));
        this.list.update((all) => all.filter((f) => f.id !== id));
      }
    } catch (error) {
      this.problem.set(toProblem(error));
    }
  }
}

/** Fetched when the first letter is set in it. */
function bring({ id, family, weight, italic }: KeptFont): FontFace {
  const face = new FontFace(family, `url(${fontUrl(id)})`, {
    weight: String(weight),
    style: italic ? 'italic' : 'normal',
  });
  document.fonts.add(face);
  return face;
}
