import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { walk } from './roving';

/** One of a few words, side by side; walked along with the arrow keys. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-choice',
  template: `<div class="flex items-center justify-between gap-3">
    @if (!quiet()) {
      <span class="text-soft">{{ label() }}</span>
    }
    <div role="radiogroup" [attr.aria-label]="label()" class="choice" (keydown)="key($event)">
      @for (o of options(); track o.value) {
        <button
          type="button"
          role="radio"
          [attr.aria-checked]="o.value === value()"
          [tabindex]="o.value === value() || (none() && $first) ? 0 : -1"
          [disabled]="o.disabled ?? false"
          class="choice-one"
          (click)="changed.emit(o.value)"
        >
          {{ o.label }}
        </button>
      }
    </div>
  </div>`,
  host: { class: 'block' },
})
export class Choice<T extends string> {
  readonly label = input.required<string>();
  readonly options = input.required<readonly { value: T; label: string; disabled?: boolean }[]>();
  readonly value = input.required<T | null>();
  readonly quiet = input(false);
  readonly changed = output<T>();

  protected none(): boolean {
    return !this.options().some((o) => o.value === this.value());
  }

  protected key(event: KeyboardEvent): void {
    const options = this.options();
    const at = options.findIndex((o) => o.value === this.value());
    const to = walk(event, at, options.length);
    if (to === null || options[to]!.disabled) return;
    this.changed.emit(options[to]!.value);
    const list = event.currentTarget as HTMLElement;
    list.querySelectorAll<HTMLElement>('[role=radio]')[to]?.focus();
  }
}
