import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { walk } from './roving';

/** Words side by side, of which one is open; walked along with the arrow keys. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-tabs',
  template: `@for (t of tabs(); track t.name) {
    <button
      type="button"
      role="tab"
      [id]="prefix() + '-' + t.name"
      [attr.aria-controls]="prefix() + '-panel'"
      [attr.aria-selected]="t.name === value()"
      [tabindex]="t.name === value() ? 0 : -1"
      class="border-b-2 border-transparent pb-0.5 font-name text-[15px] text-soft hover:text-ink aria-selected:border-mark aria-selected:text-[18px] aria-selected:font-semibold aria-selected:text-ink"
      (click)="changed.emit(t.name)"
    >
      {{ t.label }}
    </button>
  }`,
  host: {
    role: 'tablist',
    class: 'flex min-w-0 items-baseline gap-[18px] px-1',
    '[attr.aria-label]': 'label()',
    '(keydown)': 'key($event)',
  },
})
export class Tabs<T extends string> {
  readonly label = input.required<string>();
  /** Of the ids of the words and of their panel. */
  readonly prefix = input.required<string>();
  readonly tabs = input.required<readonly { name: T; label: string }[]>();
  readonly value = input.required<T>();
  readonly changed = output<T>();

  protected key(event: KeyboardEvent): void {
    const tabs = this.tabs();
    // From the word that has the focus: keys come faster than a new value comes back.
    const { id } = event.target as HTMLElement;
    const at = tabs.findIndex((t) => id === `${this.prefix()}-${t.name}`);
    const to = walk(event, at, tabs.length);
    if (to === null) return;
    this.changed.emit(tabs[to]!.name);
    document.getElementById(`${this.prefix()}-${tabs[to]!.name}`)?.focus();
  }
}
