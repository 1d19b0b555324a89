import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { AroundFace } from '../around/around-face';
import { TryCanvas } from '../paint/try-canvas';
import type { Try } from './tries';
import { TrySource } from './try-source';

/** A try as it is offered: the author's picture in it, its name, and what it keeps or shows. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-try-face',
  imports: [AroundFace, TryCanvas],
  template: `@if (of().add; as add) {
      <gable-around-face
        class="mx-auto mb-1.5"
        [style.width.px]="width()"
        [style.height.px]="height()"
        [of]="add"
        [key]="key()"
        [width]="width()"
        [height]="height()"
        [asleep]="asleep()"
      />
    } @else {
      <gable-try-canvas
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
    }
    <span class="text-[13px] font-semibold leading-[1.15]">{{ of().label }}</span>
    <span class="truncate text-[12px] leading-tight text-soft" [title]="title()">
      {{ of().note }}
      @if (band(); as b) {
        @if (b.band !== 'cuts') {
          <span [class]="b.band === 'all' ? 'text-good' : 'text-warn-text'" aria-hidden="true">{{
            b.band === 'all' ? '✓' : '~'
          }}</span>
        }
        <span class="sr-only">. {{ b.words }}</span>
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
  protected readonly title = computed(() => [`${this.of().note}.`, this.band()?.words ?? ''].join(' ').trim());
}
