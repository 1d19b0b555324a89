import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { TryCanvas } from '../paint/try-canvas';
import type { Try } from './tries';
import { TrySource } from './try-source';

/** A try as it is offered: the author's picture in it, its name, and what it keeps or shows. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-try-face',
  imports: [TryCanvas],
  template: `<gable-try-canvas
      class="mx-auto mb-1.5"
      [style.width.px]="width()"
      [style.height.px]="height()"
      [key]="key()"
      [frame]="of().frame"
      [width]="width()"
      [height]="height()"
      [cut]="source.cuts()"
      [asleep]="asleep()"
    />
    <span class="truncate text-[13px] font-semibold leading-tight">{{ of().label }}</span>
    <span class="truncate text-[12px] leading-tight text-soft" [title]="of().note">
      @if (band(); as b) {
        <span [class]="b.band === 'cuts' ? 'text-soft' : b.band === 'all' ? 'text-good' : 'text-warn-text'">{{
          b.words
        }}</span><span class="sr-only">, {{ of().note }}</span>
      } @else {
        {{ of().note }}
      }
    </span>`,
  host: { class: 'flex min-w-0 flex-col' },
})
export class TryFace {
  protected readonly source = inject(TrySource);
  readonly of = input.required<Try>();
  readonly key = input.required<string>();
  readonly width = input.required<number>();
  readonly height = input.required<number>();
  readonly asleep = input(false);
  protected readonly band = computed(() => this.source.band(this.of()));
}
