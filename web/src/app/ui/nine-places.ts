import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { ANCHORS } from '@gable/core';
import { walk } from './roving';

/** One of nine places in a box: its corners, the middles of its sides, its centre. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-nine-places',
  template: `<span class="pt-1 text-soft">{{ label() }}</span>
    <div
      role="radiogroup"
      [attr.aria-label]="label()"
      class="grid w-[84px] shrink-0 grid-cols-3 gap-1"
      (keydown)="key($event)"
    >
      @for (a of places; track a) {
        <button
          type="button"
          role="radio"
          class="h-6 rounded border border-line bg-raised aria-checked:border-ink aria-checked:bg-ink"
          [attr.aria-checked]="value() === a"
          [attr.aria-label]="a.replace('-', ' ')"
          [title]="a.replace('-', ' ')"
          [tabindex]="value() === a || (value() === null && $first) ? 0 : -1"
          (click)="changed.emit(a)"
        ></button>
      }
    </div>`,
  host: { class: 'row-span-3 flex justify-between gap-3' },
})
export class NinePlaces {
  readonly label = input.required<string>();
  readonly value = input.required<(typeof ANCHORS)[number] | null>();
  readonly changed = output<(typeof ANCHORS)[number]>();
  protected readonly places = ANCHORS;

  protected key(event: KeyboardEvent): void {
    const at = this.places.findIndex((a) => a === this.value());
    const to = walk(event, at, this.places.length, 3);
    if (to === null) return;
    this.changed.emit(this.places[to]!);
    const list = event.currentTarget as HTMLElement;
    list.querySelectorAll<HTMLElement>('[role=radio]')[to]?.focus();
  }
}
