import { inject, Injectable, signal } from '@angular/core';
import { readPalette, writePalette, type ColourPalette } from '@gable/core';
import type { KeptPalette } from '@gable/contract';
import { firstValueFrom } from 'rxjs';
import { Api } from '../api/api';
import { toProblem, type Problem } from '../api/problem';

/** Palettes of one's own, which outlast a work: a company's colours, by name. */
@Injectable({ providedIn: 'root' })
export class Palettes {
  private readonly api = inject(Api);
  private asked = false;
  private readonly list = signal<readonly KeptPalette[]>([]);
  readonly all = this.list.asReadonly();
  readonly problem = signal<Problem | null>(null);

  /** Fetched when they are first wanted. */
  load(): void {
    if (this.asked) return;
    this.asked = true;
    this.api.palettes().subscribe({
      next: (all) => this.list.set(all),
      error: (e: unknown) => {
        this.asked = false;
        this.problem.set(toProblem(e));
      },
    });
  }

  private async try<T>(work: () => Promise<T>): Promise<T | null> {
    this.problem.set(null);
    try {
      return await work();
    } catch (e) {
      this.problem.set(toProblem(e));
      return null;
    }
  }

  async add(palette: ColourPalette): Promise<void> {
    const made = await this.try(() => firstValueFrom(this.api.addPalette(palette)));
    if (made) this.list.update((all) => [...all, made]);
  }

  async change(palette: KeptPalette): Promise<void> {
    const now = await this.try(() => firstValueFrom(this.api.changePalette(palette)));
    if (now) this.list.update((all) => all.map((p) => (p.id === now.id ? now : p)));
  }

  async remove(id: string): Promise<void> {
    const gone = await this.try(() => firstValueFrom(this.api.removePalette(id)).then(() => true));
    if (gone) this.list.update((all) => all.filter((p) => p.id !== id));
  }

  async read(file: File): Promise<void> {
    const palette = await this.try(async () => readPalette(await file.text(), file.name.replace(/\.\w+$/, '')));
    if (palette) await this.add(palette);
  }

  /** A palette as a file. */
  write(palette: ColourPalette): Blob {
    return new Blob([writePalette(palette)], { type: 'text/css' });
  }
}
