import { ChangeDetectionStrategy, Component, computed, type ElementRef, input, output, viewChild } from '@angular/core';
import { channels, GableError, parseColour } from '@gable/core';

export interface Swatch {
  name: string;
  hex: string;
}

/** Colours of the house: white and ink, then clays and glazes. */
export const COLOURS: readonly Swatch[] = [
  { name: 'White', hex: '#ffffff' },
  { name: 'Stone', hex: '#9a958a' },
  { name: 'Ink', hex: '#22302f' },
  { name: 'Clay', hex: '#b5482a' },
  { name: 'Ochre', hex: '#c28a2c' },
  { name: 'Moss', hex: '#5c7350' },
  { name: 'Lagoon', hex: '#2b6a73' },
  { name: 'Plum', hex: '#6d3b52' },
];

/** Colours to choose from: the house's, those of the picture, and any other by name or number. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-swatches',
  template: `<div class="mb-1.5 mt-1 flex flex-wrap items-center gap-1.5" role="group" [attr.aria-label]="label()">
      @for (c of all(); track c.hex + $index) {
        @if ($index === house) {
          <span class="mx-0.5 h-4 w-px bg-line" aria-hidden="true"></span>
        }
        <button
          type="button"
          class="flex h-6 w-6 items-center justify-center rounded-full border border-ink/30"
          [style.background]="c.hex"
          [attr.aria-label]="c.name"
          [attr.aria-pressed]="value() === c.hex"
          [title]="c.name"
          (click)="changed.emit(c.hex)"
        >
          @if (value() === c.hex) {
            <svg
              width="12"
              height="12"
              viewBox="0 0 12 12"
              fill="none"
              [attr.stroke]="tick(c.hex)"
              stroke-width="2"
              aria-hidden="true"
            >
              <path d="m2 6.5 2.8 2.8L10 3.5" />
            </svg>
          }
        </button>
      }
    </div>
    <label class="flex items-baseline justify-between gap-3">
      <span class="text-soft">{{ fieldLabel() }}</span>
      <input
        #hex
        class="entry"
        type="text"
        autocomplete="off"
        spellcheck="false"
        [value]="value() ?? ''"
        placeholder="#rrggbb"
        (keydown.enter)="take(hex.value)"
        (change)="take(hex.value)"
      />
    </label>`,
  host: { class: 'block' },
})
export class Swatches {
  readonly label = input('Colour');
  readonly fieldLabel = input('Any colour');
  readonly value = input.required<string | null>();
  /** Colours that are in the picture already. */
  readonly palette = input<readonly string[]>([]);
  readonly changed = output<string>();
  protected readonly house = COLOURS.length;
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('hex');

  protected readonly all = computed((): readonly Swatch[] => [
    ...COLOURS,
    ...this.palette()
      .slice(0, 5)
      .map((hex) => ({ name: `In the picture: ${hex}`, hex })),
  ]);

  protected take(text: string): void {
    const field = this.field().nativeElement;
    try {
      const colour = parseColour(text);
      field.removeAttribute('aria-invalid');
      if (colour !== this.value()) this.changed.emit(colour);
    } catch (error) {
      if (!(error instanceof GableError)) throw error;
      field.setAttribute('aria-invalid', 'true');
    }
  }

  /** Ink or paper for the tick on a swatch, whichever reads. */
  protected tick(hex: string): string {
    const [r, g, b] = channels(hex);
    return r * 0.299 + g * 0.587 + b * 0.114 > 150 ? '#22302f' : '#ffffff';
  }
}
