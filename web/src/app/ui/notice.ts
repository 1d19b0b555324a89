import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { Problem } from '../api/problem';
import { Icon } from './icon';

/** Says what is wrong and what to do; stays until it is closed. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-notice',
  imports: [Icon],
  template: `<div
    role="alert"
    class="flex items-start gap-3 rounded-lg border-l-4 border-warn bg-raised px-4 py-3 shadow-md"
  >
    <gable-icon name="warn" class="mt-0.5 text-warn-text" />
    <p class="grow">
      <strong class="font-semibold">{{ problem().title }}</strong> {{ problem().remedy }}
    </p>
    <ng-content />
    <button type="button" class="act -my-1.5 -mr-2 px-2" (click)="closed.emit()" aria-label="Close this message">
      <gable-icon name="close" />
    </button>
  </div>`,
})
export class Notice {
  readonly problem = input.required<Problem>();
  readonly closed = output();
}
