import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { withoutKind } from '../intake/files';
import { Mark } from '../ui/mark';
import { WorkStore } from './work-store';

/** The way back, the work's name, and whether all of it is saved. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-work-name',
  imports: [Mark, RouterLink],
  template: `<a
      routerLink="/"
      class="flex items-center gap-3 rounded-md"
      aria-label="Back to the shelf"
      title="Back to the shelf"
      ><gable-mark
    /></a>
    <div class="flex max-w-[200px] flex-col justify-center">
      <h1 class="truncate text-[17px] leading-tight" [title]="name()">
        {{ name() }}<span class="sr-only">{{ of() }}</span>
      </h1>
      <p class="truncate text-[12.5px] leading-tight text-soft" role="status">{{ words() }}</p>
    </div>`,
  host: { class: 'flex items-stretch gap-4' },
})
export class WorkName {
  private readonly state = inject(WorkStore);
  private readonly save = toSignal(this.state.save$, { requireSync: true });
  /** What of the work is shown, for those who do not see it. */
  readonly of = input('');
  protected readonly name = computed(() => withoutKind(this.state.model()?.work.name ?? ''));
  protected readonly words = computed(() => {
    switch (this.save().kind) {
      case 'saved':
        return 'Saved';
      case 'saving':
        return 'Saving …';
      case 'waiting':
        return 'Server away; saving again soon';
      case 'conflict':
        return 'Not saved: changed elsewhere';
      case 'failed':
        return 'Not saved';
    }
  });
}
