import { ScrollingModule } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import { placeWords } from '../work/wording';
import { TryCanvas } from '../paint/try-canvas';
import type { Row } from './survey-model';
import { SurveyState } from './survey-state';

const LINE = 104;

/** What pictures say to those who do not see them: each beside its text, which is typed in place. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-text-list',
  imports: [ScrollingModule, TryCanvas],
  template: `<cdk-virtual-scroll-viewport [itemSize]="line" class="h-full" aria-label="Alt texts">
    <div
      *cdkVirtualFor="let r of rows(); trackBy: trackRow"
      class="flex items-center gap-4 border-b border-line pr-4"
      [style.height.px]="line"
    >
      <button
        type="button"
        class="shrink-0 rounded-md"
        [attr.aria-label]="'Picture ' + r.n + ' on the bench'"
        [title]="'Picture ' + r.n + ' on the bench'"
        (click)="opened.emit(r.n)"
      >
        <gable-try-canvas class="h-[88px] w-[124px]" [key]="r.key" [frame]="r.frame" [width]="124" [height]="88" />
      </button>
      <div class="w-[230px] shrink-0 text-[13px] leading-snug">
        <p>
          <span class="figure font-semibold">{{ r.n }}</span> · {{ place(r) }}
        </p>
        <p class="line-clamp-2 text-soft" [title]="r.picture.where.near">{{ r.picture.where.near }}</p>
      </div>
      <textarea
        class="h-[72px] grow resize-none rounded-md border bg-raised px-3 py-2 leading-snug"
        [class]="r.frame.alt.trim() === '' ? 'border-warn' : 'border-line'"
        [attr.aria-label]="'Alt text of picture ' + r.n"
        [placeholder]="'Describe the picture for people who cannot see it'"
        [value]="r.frame.alt"
        (input)="type(r, $event)"
      ></textarea>
    </div>
  </cdk-virtual-scroll-viewport>`,
  host: { class: 'block min-h-0' },
})
export class TextList {
  protected readonly state = inject(SurveyState);
  readonly opened = output<number>();
  protected readonly line = LINE;
  /** In the order they are read in; those without a text are not moved to the top, or they would jump while one types. */
  protected readonly rows = computed(() => [...this.state.shown()].sort((a, b) => a.n - b.n));
  protected readonly trackRow = (_: number, r: Row): number => r.n;

  protected place(r: Row): string {
    return placeWords(r.picture.where);
  }

  protected type(r: Row, event: Event): void {
    this.state.setText(r.n, (event.target as HTMLTextAreaElement).value);
  }
}
