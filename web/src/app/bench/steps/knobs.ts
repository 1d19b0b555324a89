import { NgComponentOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { WorkStore } from '../../work/work-store';
import { Edit } from '../edit';
/** The knobs of the current step: every number can be read and typed. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-knobs',
  imports: [NgComponentOutlet],
  template: `@if (edit.taken()) {
    <ng-container [ngComponentOutlet]="edit.step().controls" />
    <p class="mt-3 flex flex-wrap gap-x-4 gap-y-1 pb-2 text-[13px]">
      @if (edit.stepChanged()) {
        <button type="button" class="word" (click)="edit.stepBack()">Put this step back</button>
      }
      @if (edit.changed()) {
        <button type="button" class="word" (click)="state.putBack()">Put this picture back as it came</button>
      }
    </p>
  }`,
  host: {
    role: 'region',
    'aria-label': 'Knobs',
    tabindex: '-1',
    class: 'block w-[304px] max-lg:w-[236px] shrink-0 overflow-y-auto border-l border-line pl-5 pr-2',
  },
})
export class Knobs {
  protected readonly state = inject(WorkStore);
  protected readonly edit = inject(Edit);
}
