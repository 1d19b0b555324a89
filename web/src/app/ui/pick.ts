import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

/** One of several words, from a list that opens. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-pick',
  template: `<label class="flex items-center justify-between gap-3"
    ><span class="text-soft">{{ label() }}</span>
    <select class="picker" (change)="pick($any($event.target))">
      @for (o of options(); track o.value) {
        <option [value]="o.value" [selected]="o.value === value()">{{ o.label }}</option>
      }
    </select></label
  >`,
  host: { class: 'block' },
})
export class Pick<T extends string> {
  readonly label = input.required<string>();
  readonly options = input.required<readonly { value: T; label: string }[]>();
  readonly value = input.required<T>();
  readonly changed = output<T>();

  /** What is shown is what there is: a choice that changes nothing leaves it. */
  protected pick(select: HTMLSelectElement): void {
    const chosen = select.value as T;
    select.value = this.value();
    this.changed.emit(chosen);
  }
}
