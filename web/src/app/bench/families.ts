import { Component, input, output } from '@angular/core';
import { FAMILIES, type Family } from '@gable/core';
import { scrollSideways } from '../ui/scroll-sideways';

interface Choice {
  family: Family | null;
  label: string;
}

const CHOICES: readonly Choice[] = [
  { family: null, label: 'All' },
  ...FAMILIES.map((family) => ({ family, label: `${family[0]!.toUpperCase()}${family.slice(1)}` })),
];

/** Which family of shapes is offered: one choice of a row, walked along with the arrow keys. */
@Component({
  selector: 'gable-families',
  template: `<div
    role="radiogroup"
    aria-label="Family of shapes"
    class="runs-on flex gap-0.5"
    (keydown)="key($event)"
    (wheel)="scrollSideways($event)"
  >
    @for (c of choices; track c.label) {
      <button
        type="button"
        role="radio"
        [id]="'family-' + c.label.toLowerCase()"
        [attr.aria-checked]="c.family === family()"
        [tabindex]="c.family === family() ? 0 : -1"
        class="shrink-0 rounded-full px-2 py-0.5 text-[13px] leading-tight text-soft hover:text-ink aria-checked:bg-raised aria-checked:font-semibold aria-checked:text-ink"
        (click)="chosen.emit(c.family)"
      >
        {{ c.label }}
      </button>
    }
  </div>`,
  host: { class: 'block min-w-0' },
})
export class Families {
  readonly family = input.required<Family | null>();
  readonly chosen = output<Family | null>();
  protected readonly choices = CHOICES;
  protected readonly scrollSideways = scrollSideways;

  protected key(event: KeyboardEvent): void {
    const at = CHOICES.findIndex((c) => c.family === this.family());
    const to = { ArrowRight: at + 1, ArrowLeft: at - 1, Home: 0, End: CHOICES.length - 1 }[event.key];
    const next = to === undefined ? undefined : CHOICES[to];
    if (!next) return;
    event.preventDefault();
    this.chosen.emit(next.family);
    document.getElementById(`family-${next.label.toLowerCase()}`)?.focus();
  }
}
