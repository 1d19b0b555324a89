import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Icon } from '../ui/icon';
import { WorkStore } from './work-store';

/** Undoing and doing again, by name. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-undo-redo',
  imports: [Icon],
  template: `<button
      type="button"
      class="act px-2.5"
      [disabled]="!undoName()"
      (click)="state.undo()"
      [attr.aria-label]="undoName() ? 'Undo “' + undoName() + '”' : 'Undo'"
      [title]="undoName() ? 'Undo “' + undoName() + '” (Ctrl+Z)' : 'Nothing to undo'"
    >
      <gable-icon name="undo" />
      @if (undoName(); as undoing) {
        <span class="hidden max-w-[150px] truncate text-[13px] xl:inline">Undo “{{ undoing }}”</span>
      }
    </button>
    <button
      type="button"
      class="act px-2.5"
      [disabled]="!redoName()"
      (click)="state.redo()"
      [attr.aria-label]="redoName() ? 'Redo “' + redoName() + '”' : 'Redo'"
      [title]="redoName() ? 'Redo “' + redoName() + '” (Ctrl+Y)' : 'Nothing to redo'"
    >
      <gable-icon name="redo" />
    </button>`,
  host: { class: 'contents' },
})
export class UndoRedo {
  protected readonly state = inject(WorkStore);
  protected readonly undoName = computed(() => this.state.model()?.history.past.at(-1)?.name ?? null);
  protected readonly redoName = computed(() => this.state.model()?.history.future[0]?.name ?? null);
}
