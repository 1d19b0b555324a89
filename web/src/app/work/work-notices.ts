import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import type { Problem } from '../api/problem';
import { Icon } from '../ui/icon';
import { Notice } from '../ui/notice';
import { WorkStore } from './work-store';

/** What went wrong with the work, and what can be done about it. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-work-notices',
  imports: [Icon, Notice],
  template: `@if (problem(); as p) {
      <gable-notice class="mx-4 mb-2 block" [problem]="p" (closed)="state.problem$.next(null)" />
    }
    @if (failure(); as p) {
      <gable-notice class="mx-4 mb-2 block" [problem]="p" (closed)="state.saveAgain()">
        <button type="button" class="word shrink-0" (click)="state.saveAgain()">Save again</button>
      </gable-notice>
    }
    @if (save().kind === 'conflict') {
      <div
        role="alert"
        class="mx-4 mb-2 flex items-center gap-4 rounded-lg border-l-4 border-warn bg-raised px-4 py-2.5 shadow-md"
      >
        <gable-icon name="warn" class="text-warn-text" />
        <p class="grow">
          <strong class="font-semibold">This work was changed in another window.</strong> Both versions are kept. Which
          one do you want to go on with?
        </p>
        <button type="button" class="act act-line" (click)="state.takeTheirs()">The other one</button>
        <button type="button" class="act act-main" (click)="state.keepMine()">This one</button>
      </div>
    }`,
})
export class WorkNotices {
  protected readonly state = inject(WorkStore);
  protected readonly problem = toSignal(this.state.problem$, { requireSync: true });
  protected readonly save = toSignal(this.state.save$, { requireSync: true });
  protected readonly failure = computed((): Problem | null => {
    const s = this.save();
    return s.kind === 'failed' ? s.problem : null;
  });
}
