import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { Axis } from '@gable/core';
import { FigureField, type FigureKind } from './figure-field';

/** A slider, and the same number to type. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-slider-field',
  imports: [FigureField],
  template: `<span
      class="line-clamp-2 w-[84px] shrink-0 leading-[1.1] text-soft"
      [title]="hint() || label()"
      aria-hidden="true"
      >{{ label() }}</span
    >
    <gable-figure-field
      class="order-last"
      [quiet]="true"
      [label]="label()"
      [kind]="kind()"
      [axis]="axis()"
      [value]="value()"
      [min]="least()"
      [max]="most()"
      (changed)="grabbed.emit(); changed.emit($event)"
    />
    <input
      type="range"
      class="slide min-w-0 flex-1"
      [attr.aria-label]="label()"
      [min]="toSlider(min())"
      [max]="toSlider(max())"
      [step]="log() ? 0.02 : step()"
      [value]="position()"
      (pointerdown)="grabbed.emit()"
      (keydown)="key($event)"
      (input)="changed.emit(fromSlider(+$any($event.target).value))"
    />`,
  host: { class: 'flex items-center gap-x-2' },
})
export class SliderField {
  readonly label = input.required<string>();
  readonly kind = input.required<FigureKind>();
  readonly value = input.required<number>();
  /** The slider's ends. Typed numbers may go beyond them, to `floor` and `ceiling`. */
  readonly min = input.required<number>();
  readonly max = input.required<number>();
  readonly floor = input<number | null>(null);
  readonly ceiling = input<number | null>(null);
  readonly step = input(0.005);
  /** What the label means, for those who point at it. */
  readonly hint = input('');
  readonly axis = input<Axis>('across');
  /** Does the slider move by doubling? For zooms. */
  readonly log = input(false);
  readonly changed = output<number>();
  /** A new gesture begins: all until the next one is one entry of the history. */
  readonly grabbed = output();

  protected readonly least = computed(() => this.floor() ?? this.min());
  protected readonly most = computed(() => this.ceiling() ?? this.max());
  protected readonly position = computed(() => this.toSlider(this.value()));

  protected toSlider(value: number): number {
    return this.log() ? Math.log2(Math.max(1e-3, value)) : value;
  }

  protected fromSlider(position: number): number {
    return this.log() ? 2 ** position : position;
  }

  /** Holding an arrow key down is one gesture. */
  protected key(event: KeyboardEvent): void {
    if (!event.repeat) this.grabbed.emit();
  }
}
