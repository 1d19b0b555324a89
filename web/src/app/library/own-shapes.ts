import { inject, Injectable, signal } from '@angular/core';
import type { OwnShape } from '@gable/contract';
import { firstValueFrom } from 'rxjs';
import { Api } from '../api/api';
import { toProblem, type Problem } from '../api/problem';

/** Shapes made from the author's own drawings and pictures, which outlast a work. */
@Injectable({ providedIn: 'root' })
export class OwnShapes {
  private readonly api = inject(Api);
  private asked = false;
  private readonly list = signal<readonly OwnShape[]>([]);
  readonly all = this.list.asReadonly();
  /** What is to be known about the shape that was added last. */
  readonly said = signal('');

  /** Fetched when they are first wanted. */
  load(): void {
    if (this.asked) return;
    this.asked = true;
    this.api.silhouettes().subscribe({ next: (all) => this.list.set(all), error: () => (this.asked = false) });
  }

  /** Makes a shape of a drawing or a picture and keeps it. @returns what was wrong, if it was */
  async add(file: File): Promise<Problem | null> {
    this.said.set('');
    try {
      const { isNew, textLeftOut, ...shape } = await firstValueFrom(this.api.addSilhouette(file));
      this.list.update((all) => [shape, ...all.filter((s) => s.id !== shape.id)]);
      if (!isNew) this.said.set(`You have this shape already: ${shape.name}.`);
      else if (textLeftOut) this.said.set('The text in this drawing was left out. To include it, turn it into paths.');
      return null;
    } catch (e) {
      return toProblem(e);
    }
  }

  async rename(id: string, name: string): Promise<void> {
    const now = await firstValueFrom(this.api.renameSilhouette(id, name));
    this.list.update((all) => all.map((s) => (s.id === id ? now : s)));
  }

  /** Removes it from the shapes that are offered; pictures keep it. */
  async remove(id: string): Promise<void> {
    await firstValueFrom(this.api.removeSilhouette(id));
    this.list.update((all) => all.filter((s) => s.id !== id));
  }
}
