import { CdkMenu, CdkMenuItem } from '@angular/cdk/menu';
import { ChangeDetectionStrategy, Component, input } from '@angular/core';

/** What people look for under the right button: a deed, its key, and whether it can be done now. */
export interface MenuDeed {
  label: string;
  key?: string;
  disabled?: boolean;
  /** A line stands above it. */
  apart?: boolean;
  act(): void;
}

/** Deeds on one thing, under the pointer or below a button. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-deed-menu',
  imports: [CdkMenu, CdkMenuItem],
  template: `<div class="pop min-w-[230px] !p-1.5" cdkMenu [attr.aria-label]="label()">
    @for (d of deeds(); track d.label) {
      @if (d.apart) {
        <hr class="my-1 border-line" />
      }
      <button
        type="button"
        cdkMenuItem
        class="flex h-8 w-full items-center justify-between gap-6 rounded-md px-2.5 text-left hover:bg-ink/8 focus-visible:bg-ink/8 disabled:opacity-50"
        [cdkMenuItemDisabled]="d.disabled ?? false"
        [disabled]="d.disabled ?? false"
        (cdkMenuItemTriggered)="d.act()"
      >
        {{ d.label }}
        @if (d.key) {
          <span class="figure text-[12px] text-soft" aria-hidden="true">{{ d.key }}</span>
        }
      </button>
    }
  </div>`,
  host: { class: 'contents' },
})
export class DeedMenu {
  readonly label = input.required<string>();
  readonly deeds = input.required<readonly MenuDeed[]>();
}
