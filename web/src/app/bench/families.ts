import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FAMILIES } from '@gable/core';
import { OwnShapes } from '../library/own-shapes';
import { OwnShapesSheet } from '../library/own-shapes-sheet';
import { walk } from '../ui/roving';
import type { ShapeFilter } from './tries';

interface FamilyChoice {
  family: ShapeFilter['family'];
  label: string;
}

const CHOICES: readonly FamilyChoice[] = [
  { family: null, label: 'All' },
  { family: 'recent', label: 'Recent' },
  ...FAMILIES.map((family) => ({ family, label: `${family[0]!.toUpperCase()}${family.slice(1)}` })),
  { family: 'own', label: 'Your own' },
];

/** Which family of shapes is offered: one choice of a row, walked along with the arrow keys. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-families',
  imports: [OwnShapesSheet],
  template: `<div
    role="radiogroup"
    aria-label="Family of shapes"
    class="flex flex-wrap gap-x-0.5 max-lg:flex-nowrap max-lg:overflow-x-auto max-lg:[scrollbar-width:none]"
    (keydown)="key($event)"
  >
    @for (c of choices(); track c.label) {
      <button
        type="button"
        role="radio"
        [attr.data-family]="c.family ?? 'all'"
        [attr.aria-checked]="c.family === family()"
        [tabindex]="c.family === family() ? 0 : -1"
        class="shrink-0 rounded-full px-2 py-0.5 text-[13px] leading-tight text-soft hover:text-ink aria-checked:bg-raised aria-checked:font-semibold aria-checked:text-ink"
        (click)="chosen.emit(c.family)"
      >
        {{ c.label }}
      </button>
    }
    @if (canAdd()) {
      <button type="button" class="word ml-2 shrink-0 text-[13px]" (click)="adding.emit()">Add a drawing</button>
    }
    @if (family() === 'own') {
      @if (own.all().length > 0) {
        <button type="button" class="word ml-3 shrink-0 text-[13px]" (click)="sheet.open()">Rename or remove</button>
      }
      <span role="status" class="ml-3 text-[13px] text-warn-text">{{ own.said() }}</span>
    }
    <gable-own-shapes-sheet #sheet />
  </div>`,
  host: { class: 'block min-w-0' },
})
export class Families {
  protected readonly own = inject(OwnShapes);
  readonly family = input.required<ShapeFilter['family']>();
  /** Is there anything under “Recent”? */
  readonly recent = input(false);
  readonly canAdd = input(false);
  /** A drawing is to become a shape. */
  readonly adding = output();
  readonly chosen = output<ShapeFilter['family']>();
  protected readonly choices = computed(() => CHOICES.filter((c) => c.family !== 'recent' || this.recent()));

  protected key(event: KeyboardEvent): void {
    const choices = this.choices();
    const at = choices.findIndex((c) => c.family === this.family());
    const to = walk(event, at, choices.length);
    if (to === null) return;
    this.chosen.emit(choices[to]!.family);
    const list = event.currentTarget as HTMLElement;
    list.querySelectorAll<HTMLElement>('[role=radio]')[to]?.focus();
  }
}
