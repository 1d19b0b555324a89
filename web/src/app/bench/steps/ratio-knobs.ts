import { ChangeDetectionStrategy, Component, computed, type ElementRef, inject, viewChild } from '@angular/core';
import { freed, GableError, parseRatio, ratioCut, trimNumber, withRatio } from '@gable/core';
import { Edit } from '../edit';
import { SizeFields } from './size-fields';

/** Any ratio or size, and what it costs. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-ratio-knobs',
  imports: [SizeFields],
  template: `<h2 class="mb-2 text-[15px]">Ratio and size</h2>
    <label class="mb-1.5 flex items-baseline justify-between gap-3">
      <span class="text-soft">Across : down</span>
      <input
        #ratio
        class="entry"
        type="text"
        autocomplete="off"
        spellcheck="false"
        [value]="words()"
        (focus)="ratio.select()"
        (keydown.enter)="take(ratio.value)"
        (blur)="take(ratio.value)"
      />
    </label>
    <gable-size-fields />
    <p class="mt-2 text-[13px] text-soft">{{ cut() }}</p>`,
  host: { class: 'block' },
})
export class RatioKnobs {
  protected readonly edit = inject(Edit);
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('ratio');

  protected readonly words = computed(() => {
    const f = this.edit.shown();
    return f ? `${trimNumber(f.box.width / f.box.height, 3)} : 1` : '';
  });
  /** What a try that is being looked at would cut. */
  protected readonly cut = computed(() => {
    const shown = this.edit.shown();
    const taken = this.edit.taken();
    if (!shown || !taken || shown === taken) return 'Nothing is ever squashed: a new ratio cuts, and says how much.';
    const cut = ratioCut(taken.box, shown.box.width / shown.box.height);
    return cut ? `Cuts ${trimNumber(cut.share * 100, 1)} % of the ${cut.side}.` : 'Cuts nothing.';
  });

  protected take(text: string): void {
    const field = this.field().nativeElement;
    if (text === this.words()) return;
    try {
      const ratio = parseRatio(text.replace(/\s/g, ''));
      field.removeAttribute('aria-invalid');
      this.edit.set(`ratio ${text.trim()}`, (f) => {
        const next = withRatio(f, ratio, this.edit.size(), this.edit.seen()?.subject);
        return { ...next, shape: freed(next.shape, next.box) };
      });
    } catch (error) {
      if (!(error instanceof GableError)) throw error;
      field.setAttribute('aria-invalid', 'true');
    }
  }
}
