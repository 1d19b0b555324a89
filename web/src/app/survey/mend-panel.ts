import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { KINDS, type Code, type Row } from './survey-model';
import { SurveyState } from './survey-state';

export interface MendWish {
  title: string;
  rows: readonly Row[];
  codes: ReadonlySet<string>;
}

/** What was found, by kind: looked at by themselves, chosen, or mended in one go. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-mend-panel',
  template: `@if (kinds().length === 0) {
      <p class="pt-3 text-soft">There is nothing to fix.</p>
    } @else {
      <ul class="flex h-full flex-wrap content-start gap-x-3 gap-y-1 overflow-y-auto pb-1" aria-label="Findings">
        @for (k of kinds(); track k.code) {
          <li class="flex min-h-[28px] w-[300px] items-baseline gap-2">
            <span class="figure w-7 shrink-0 text-right text-[14px] font-semibold text-mark">{{ k.rows.length }}</span>
            <button
              type="button"
              class="grow truncate rounded-md px-1 text-left hover:underline aria-pressed:font-semibold"
              [attr.aria-pressed]="state.arrangement().only === k.code"
              [title]="state.arrangement().only === k.code ? 'Show all frames again' : 'Show only these'"
              (click)="only(k.code)"
            >
              {{ words(k.code) }}
            </button>
            @if (k.mendable > 0) {
              <button type="button" class="word shrink-0 text-[13px]" (click)="mend(k.code, k.rows)">
                Fix{{ k.mendable < k.rows.length ? ' ' + k.mendable : '' }}
              </button>
            }
          </li>
        }
      </ul>
    }`,
  host: { class: 'block min-h-0 grow' },
})
export class MendPanel {
  protected readonly state = inject(SurveyState);
  readonly wished = output<MendWish>();
  protected readonly kinds = this.state.kinds;
  protected words(code: Code): string {
    return KINDS[code].many;
  }

  protected only(code: Code): void {
    this.state.arrangement.update((a) => ({ ...a, only: a.only === code ? null : code }));
    const rows = this.kinds().find((k) => k.code === code)?.rows ?? [];
    this.state.choose(this.state.arrangement().only === code ? rows.map((r) => r.n) : []);
  }

  protected mend(code: Code, rows: readonly Row[]): void {
    this.wished.emit({ title: KINDS[code].many, rows, codes: new Set([code]) });
  }
}
