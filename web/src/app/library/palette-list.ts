import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import type { KeptPalette } from '@gable/contract';
import { download } from '../ui/download';
import { Icon } from '../ui/icon';
import { Swatches, type Swatch } from '../ui/swatches';
import { Palettes } from './palettes';

/** Palettes of one's own: chosen from, added to, read from files and saved to them. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-palette-list',
  imports: [Icon, Swatches],
  template: `@for (p of palettes.all(); track p.id) {
      <section class="mb-2">
        <div class="flex items-center gap-0.5">
          <input
            class="entry mr-1 min-w-0 !w-auto grow !text-left font-text text-[12.5px]"
            [attr.aria-label]="'Name of the palette ' + p.name"
            [value]="p.name"
            (change)="rename(p, $event)"
          />
          <button
            type="button"
            class="quiet px-1"
            [disabled]="value() === null || has(p)"
            [attr.aria-label]="'Add this colour to ' + p.name"
            title="Add this colour"
            (click)="add(p)"
          >
            <gable-icon name="add" [size]="14" />
          </button>
          <button
            type="button"
            class="quiet px-1"
            [disabled]="!has(p)"
            [attr.aria-label]="'Remove this colour from ' + p.name"
            title="Remove this colour"
            (click)="takeOut(p)"
          >
            <gable-icon name="close" [size]="14" />
          </button>
          <button
            type="button"
            class="quiet px-1"
            [attr.aria-label]="'Save ' + p.name + ' to a file'"
            title="Save to a file"
            (click)="save(p)"
          >
            <gable-icon name="download" [size]="14" />
          </button>
          <button
            type="button"
            class="quiet px-1"
            [attr.aria-label]="'Remove the palette ' + p.name"
            title="Remove the palette"
            (click)="palettes.remove(p.id)"
          >
            <gable-icon name="remove" [size]="14" />
          </button>
        </div>
        <gable-swatches
          class="mt-1"
          [label]="p.name"
          [colours]="swatches(p)"
          [value]="value()"
          (chosen)="chosen.emit($event)"
        />
      </section>
    }
    @if (palettes.problem(); as problem) {
      <p role="alert" class="mb-1 text-[12.5px] text-warn-text">{{ problem.title }} {{ problem.remedy }}</p>
    }
    <div class="flex flex-wrap gap-x-3">
      <button type="button" class="word text-[12.5px]" (click)="create()">New palette</button>
      <button type="button" class="word text-[12.5px]" (click)="file.click()">Open a palette file</button>
      <input
        #file
        type="file"
        class="hidden"
        tabindex="-1"
        aria-label="File of a palette"
        accept=".css,.txt,.csv,text/css,text/plain"
        (change)="read(file)"
      />
    </div>`,
  host: { class: 'block' },
})
export class PaletteList {
  protected readonly palettes = inject(Palettes);
  /** The colour that is being chosen. */
  readonly value = input.required<string | null>();
  readonly chosen = output<string>();

  constructor() {
    this.palettes.load();
  }

  protected swatches(p: KeptPalette): readonly Swatch[] {
    return p.colours.map(({ name, hex }) => ({ name: `${name}, ${hex}`, hex }));
  }

  protected has(p: KeptPalette): boolean {
    return p.colours.some((c) => c.hex === this.value());
  }

  protected create(): void {
    const hex = this.value();
    const name = `Palette ${this.palettes.all().length + 1}`;
    void this.palettes.add({ name, colours: hex ? [{ name: hex, hex }] : [] });
  }

  protected add(p: KeptPalette): void {
    const hex = this.value();
    if (hex) void this.palettes.change({ ...p, colours: [...p.colours, { name: hex, hex }] });
  }

  protected takeOut(p: KeptPalette): void {
    void this.palettes.change({ ...p, colours: p.colours.filter((c) => c.hex !== this.value()) });
  }

  protected rename(p: KeptPalette, event: Event): void {
    const name = (event.target as HTMLInputElement).value.trim();
    if (name && name !== p.name) void this.palettes.change({ ...p, name });
  }

  protected save(p: KeptPalette): void {
    download(this.palettes.write(p), `${p.name}.css`);
  }

  protected read(input: HTMLInputElement): void {
    const file = input.files?.[0];
    input.value = '';
    if (file) void this.palettes.read(file);
  }
}
