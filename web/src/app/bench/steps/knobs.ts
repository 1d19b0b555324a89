import { NgComponentOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { WorkStore } from '../../work/work-store';
import { Edit } from '../edit';

/** The knobs of the current step: every number can be read and typed, and all of them are in sight. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-knobs',
  imports: [NgComponentOutlet],
  template: `@if (edit.taken()) {
    <div class="flex h-[30px] items-baseline gap-4">
      <h2 class="truncate text-[15px]">{{ title() }}</h2>
      <span class="grow"></span>
      @if (edit.stepChanged()) {
        <button type="button" class="word shrink-0 text-[13px]" (click)="edit.stepBack()">
          Reset {{ edit.step().label.toLowerCase() }}
        </button>
      }
      @if (edit.changed()) {
        <button type="button" class="word shrink-0 text-[13px]" (click)="state.putBack()">Restore the original</button>
      }
    </div>
    <div class="knobs">
      <ng-container [ngComponentOutlet]="edit.step().controls" />
    </div>
  }`,
  host: {
    role: 'region',
    'aria-label': 'Settings',
    tabindex: '-1',
    class: 'block shrink-0 border-l border-line pl-5 max-lg:border-l-0 max-lg:pl-0',
  },
})
export class Knobs {
  protected readonly state = inject(WorkStore);
  protected readonly edit = inject(Edit);
  protected readonly title = computed(() => {
    const frame = this.edit.shown();
    const step = this.edit.step();
    return (frame && step.title?.(frame)) ?? step.label;
  });
}
