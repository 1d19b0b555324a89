import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { freed, GableError, parseRatio, withRatio } from '@gable/core';
import { Edit } from '../edit';
import { SizeFields } from './size-fields';
import { shownNumber } from '../../ui/numbers';

/** Any ratio or size. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-ratio-knobs',
  imports: [SizeFields],
  template: `<div class="relative">
      <label class="flex items-baseline justify-between gap-3">
        <span class="text-soft">Ratio</span>
        <input
          #ratio
          class="entry"
          type="text"
          autocomplete="off"
          spellcheck="false"
          [value]="words()"
          [attr.aria-invalid]="wrong() || null"
          [attr.aria-describedby]="wrong() ? 'ratio-note' : null"
          (focus)="ratio.select()"
          (input)="wrong.set(false)"
          (keydown.enter)="take(ratio.value)"
          (blur)="take(ratio.value)"
        />
      </label>
      @if (wrong()) {
        <p role="alert" id="ratio-note" class="field-note">Type a ratio such as 3:2, 1.5 or golden.</p>
      }
    </div>
    <gable-size-fields />
    <p class="row-span-3 self-start pt-1 text-[13px] text-soft">
      A new ratio keeps the area of the frame. The picture is cut, never squashed.
    </p>`,
  host: { class: 'contents' },
})
export class RatioKnobs {
  protected readonly edit = inject(Edit);
  protected readonly wrong = signal(false);
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('ratio');

  protected readonly words = computed(() => {
    const f = this.edit.shown();
    return f ? `${shownNumber(f.box.width / f.box.height, 3)} : 1` : '';
  });

  protected take(text: string): void {
    const field = this.field().nativeElement;
    if (text === this.words()) return;
    try {
      const ratio = parseRatio(text.replace(/\s/g, '').replace(',', '.'));
      this.wrong.set(false);
      this.edit.set(`ratio ${text.trim()}`, (f) =>
        freed(withRatio(f, ratio, this.edit.size(), this.edit.seen()?.subject, this.edit.room())),
      );
      field.value = this.words();
    } catch (error) {
      if (!(error instanceof GableError)) throw error;
      this.wrong.set(true);
    }
  }
}
