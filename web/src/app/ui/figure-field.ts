import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { formatLength, parseLength, trimNumber, type Axis, type Unit } from '@gable/core';

export type FigureKind = Unit | 'percent' | 'times' | 'degree' | 'number';

/** A number that can be typed, with its unit; Enter or leaving takes it, Escape puts it back. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-figure-field',
  template: `<label class="flex items-baseline justify-between gap-3">
    <span [class]="quiet() ? 'sr-only' : 'text-soft'">{{ label() }}</span>
    <input
      #box
      class="entry"
      [class.entry-quiet]="quiet()"
      type="text"
      inputmode="decimal"
      autocomplete="off"
      spellcheck="false"
      [attr.aria-invalid]="wrong() || null"
      [value]="shown()"
      (focus)="box.select()"
      (input)="wrong.set(false)"
      (keydown.enter)="take(box.value); box.select()"
      (keydown.escape)="putBack($event)"
      (blur)="take(box.value)"
    />
  </label>`,
  host: { class: 'block' },
})
export class FigureField {
  readonly label = input.required<string>();
  /** Points for lengths, a share for percent, a factor for times, degrees, or a plain number. */
  readonly value = input.required<number>();
  readonly kind = input.required<FigureKind>();
  readonly min = input(-Infinity);
  readonly max = input(Infinity);
  /** Which side a paper's name stands for in a sum. */
  readonly axis = input<Axis>('across');
  /** On the drawing: the number alone, its label only for those who cannot see where it stands. */
  readonly quiet = input(false);
  readonly changed = output<number>();
  protected readonly wrong = signal(false);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');

  protected readonly shown = computed(() => {
    const kind = this.kind();
    if (kind === 'percent') return `${trimNumber(this.value() * 100, 1)} %`;
    if (kind === 'times') return `× ${trimNumber(this.value(), 2)}`;
    if (kind === 'degree') return `${trimNumber(this.value(), 1)}°`;
    if (kind === 'number') return trimNumber(this.value(), 2);
    return formatLength(this.value(), kind, kind === 'pt' ? 2 : 1);
  });

  constructor() {
    // What is typed gives way to a value that changed elsewhere.
    effect(() => {
      this.box().nativeElement.value = this.shown();
      this.wrong.set(false);
    });
  }

  protected take(text: string): void {
    if (text === this.shown()) return;
    const value = this.read(text);
    if (value === null || value < this.min() || value > this.max()) {
      this.wrong.set(true);
      return;
    }
    this.changed.emit(value);
    this.box().nativeElement.value = this.shown();
  }

  protected putBack(event: Event): void {
    event.stopPropagation();
    this.box().nativeElement.value = this.shown();
    this.wrong.set(false);
  }

  private read(text: string): number | null {
    const kind = this.kind();
    if (kind === 'percent' || kind === 'times' || kind === 'degree' || kind === 'number') {
      const n = Number(text.replace(/[%×x°\s]/g, '').replace(',', '.'));
      return Number.isFinite(n) && /\d/.test(text) ? n / (kind === 'percent' ? 100 : 1) : null;
    }
    try {
      return parseLength(text, kind, this.axis());
    } catch {
      return null;
    }
  }
}
