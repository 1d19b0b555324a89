import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { channels } from '@gable/core';

export interface Swatch {
  name: string;
  hex: string;
}

/** Colours side by side, each a button. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-swatches',
  template: `@for (c of colours(); track c.hex + $index) {
    <button
      type="button"
      class="flex h-6 w-6 shrink-0 items-center justify-center rounded-full border border-ink/30"
      [style.background]="c.hex"
      [attr.aria-label]="c.name"
      [attr.aria-pressed]="value() === c.hex"
      [title]="c.name"
      (click)="chosen.emit(c.hex)"
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
  }`,
  host: { role: 'group', '[attr.aria-label]': 'label()', class: 'flex flex-wrap items-center gap-1' },
})
export class Swatches {
  readonly label = input.required<string>();
  readonly colours = input.required<readonly Swatch[]>();
  readonly value = input<string | null>(null);
  readonly chosen = output<string>();

  /** Ink or paper for the tick on a swatch, whichever reads. */
  protected tick(hex: string): string {
    const [r, g, b] = channels(hex);
    return r * 0.299 + g * 0.587 + b * 0.114 > 150 ? '#22302f' : '#ffffff';
  }
}
