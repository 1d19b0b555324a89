import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import type { Uneven } from '@gable/core';
import { familyWords, wishWords } from './family-words';
import { SurveyState } from './survey-state';

/** Families of frames that are nearly but not quite alike. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-even-panel',
  template: `@if (state.families().length === 0) {
      <p class="pt-3 text-soft">No frames are almost alike.</p>
    } @else {
      <ul class="h-full overflow-y-auto pr-2" aria-label="Nearly alike">
        @for (f of state.families(); track f.key) {
          <li class="flex items-baseline gap-3 border-b border-line py-1.5" [class.opacity-60]="f.deliberate">
            <button
              type="button"
              class="grow truncate rounded-md text-left hover:underline"
              title="Choose them"
              (click)="state.choose(f.family.members)"
            >
              <span class="font-semibold">{{ has(f.family) }}</span>
              <span class="text-soft">, pictures {{ f.family.members.join(', ') }}</span>
            </button>
            @if (!f.deliberate) {
              <button type="button" class="word shrink-0" (click)="wished.emit(f.family)">{{ wish(f.family) }}</button>
            }
            <button
              type="button"
              class="quiet shrink-0 text-[13px]"
              [attr.aria-pressed]="f.deliberate"
              (click)="state.toggleDeliberate(f.key)"
            >
              {{ f.deliberate ? 'Ignored: check again' : 'Ignore' }}
            </button>
          </li>
        }
      </ul>
    }`,
  host: { class: 'block min-h-0 grow' },
})
export class EvenPanel {
  protected readonly state = inject(SurveyState);
  readonly wished = output<Uneven>();
  protected readonly has = familyWords;
  protected readonly wish = wishWords;
}
