import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { parseLength, POINTS, unitIn, type Axis, type Unit } from '@gable/core';
import { Units } from './units';
import { shownLength, shownNumber } from './numbers';

/** `length` is shown in the unit of the work; a unit's name says in which one it is shown until another is typed. */
export type FigureKind = 'length' | Unit | 'percent' | 'times' | 'degree' | 'seconds' | 'number';

/** Decimals that are shown of each unit: about a hundredth of a millimetre where it is an inch, a tenth elsewhere. */
const DIGITS: Readonly<Record<Unit, number>> = { mm: 1, cm: 2, in: 2, pt: 2, px: 1 };
const EXAMPLE: Readonly<Record<Exclude<FigureKind, 'length' | Unit>, string>> = {
  percent: 'Type a percentage such as 45 %.',
  times: 'Type a factor such as 1.5.',
  degree: 'Type an angle such as 30°.',
  seconds: 'Type seconds such as 2.5.',
  number: 'Type a number such as 5.',
};

/** A number that can be typed, with its unit; Enter or leaving takes it, Escape puts it back. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-figure-field',
  template: `<label class="flex items-baseline justify-between gap-2">
      <span [class]="quiet() || bare() ? 'sr-only' : 'text-soft'">{{ label() }}</span>
      <input
        #box
        class="entry"
        [class.entry-quiet]="quiet()"
        [class.entry-bare]="bare()"
        type="text"
        inputmode="decimal"
        autocomplete="off"
        spellcheck="false"
        [attr.aria-invalid]="wrong() || null"
        [attr.aria-describedby]="note() ? id : null"
        [value]="shown()"
        (focus)="box.select()"
        (input)="note.set(null)"
        (keydown.enter)="take(box.value); box.select()"
        (keydown.escape)="putBack($event)"
        (blur)="leave(box.value)"
      />
    </label>
    @if (note(); as words) {
      <p role="alert" class="field-note" [id]="id">{{ words.text }}</p>
    }`,
  host: { class: 'relative block' },
})
export class FigureField {
  private static made = 0;
  protected readonly id = `figure-note-${FigureField.made++}`;
  private readonly units = inject(Units);
  readonly label = input.required<string>();
  /** Points for lengths, a share for percent, a factor for times, degrees, or a plain number. */
  readonly value = input.required<number>();
  readonly kind = input.required<FigureKind>();
  readonly min = input(-Infinity);
  readonly max = input(Infinity);
  /** What 100 % of a length are, in points; without it a length takes no percent. */
  readonly whole = input<number | null>(null);
  /** Which side a paper's name stands for in a sum. */
  readonly axis = input<Axis>('across');
  /** On the drawing: the number alone, its label only for those who cannot see where it stands. */
  readonly quiet = input(false);
  /** In a table: without label, and without the unit that its head tells. */
  readonly bare = input(false);
  readonly changed = output<number>();
  protected readonly note = signal<{ text: string; wrong: boolean } | null>(null);
  protected readonly wrong = computed(() => this.note()?.wrong ?? false);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  /** What was typed last, until it is seen what became of it. */
  private asked: number | null = null;

  protected readonly unit = computed((): Unit | '%' => {
    const kind = this.kind();
    const own = this.units.of(this.label());
    if (own === '%') return this.whole() ? '%' : this.units.unit();
    return own ?? (kind in POINTS ? (kind as Unit) : this.units.unit());
  });

  protected readonly shown = computed(() => this.words(this.value()));

  private words(value: number): string {
    const kind = this.kind();
    if (kind === 'percent') return shownNumber(value * 100, 1) + (this.bare() ? '' : ' %');
    if (kind === 'times') return `× ${shownNumber(value, 2)}`;
    if (kind === 'degree') return `${shownNumber(value, 1)}°`;
    if (kind === 'seconds') return `${shownNumber(value, 2)} s`;
    if (kind === 'number') return shownNumber(value, 2);
    const unit = this.unit();
    if (this.bare() && unit === this.units.unit()) return shownNumber(value / POINTS[unit], DIGITS[unit]);
    return unit === '%' ? `${shownNumber((value / this.whole()!) * 100, 1)} %` : shownLength(value, unit, DIGITS[unit]);
  }

  constructor() {
    // What is typed gives way to a value that changed elsewhere.
    effect(() => {
      const shown = this.shown();
      const value = this.value();
      untracked(() => {
        this.box().nativeElement.value = shown;
        const asked = this.asked;
        this.asked = null;
        const held = asked !== null && Math.abs(asked - value) > 0.02 * Math.max(1, Math.abs(asked));
        this.note.set(held ? { text: `Held at ${shown}: there is no more room.`, wrong: false } : null);
      });
    });
  }

  protected leave(text: string): void {
    if (text === this.shown()) {
      // What was said has been read.
      if (!this.wrong()) this.note.set(null);
      return;
    }
    this.take(text);
  }

  protected take(text: string): void {
    if (text === this.shown()) return;
    const value = this.read(text);
    if (value === null) {
      this.refuse(this.example());
      return;
    }
    const [min, max] = [this.min(), this.max()];
    if (value < min || value > max) {
      this.refuse(value < min ? `The least is ${this.words(min)}.` : `The most is ${this.words(max)}.`);
      return;
    }
    this.keepUnit(text);
    this.asked = value;
    this.changed.emit(value);
    this.box().nativeElement.value = this.shown();
  }

  private refuse(text: string): void {
    this.note.set({ text, wrong: true });
  }

  private example(): string {
    const kind = this.kind();
    if (kind === 'length' || kind in POINTS)
      return `Type a length such as 32mm, 1.25in or 540px${this.whole() ? ', or 50 %' : ''}.`;
    return EXAMPLE[kind as keyof typeof EXAMPLE];
  }

  private keepUnit(text: string): void {
    const kind = this.kind();
    if (kind !== 'length' && !(kind in POINTS)) return;
    const unit = text.includes('%') ? '%' : unitIn(text);
    if (unit) this.units.keep(this.label(), unit);
  }

  protected putBack(event: Event): void {
    event.stopPropagation();
    this.box().nativeElement.value = this.shown();
    this.note.set(null);
  }

  private read(text: string): number | null {
    const kind = this.kind();
    const plain = (): number | null => {
      const n = Number(text.replace(/[%×x°s\s]/g, '').replace(',', '.'));
      return Number.isFinite(n) && /\d/.test(text) ? n : null;
    };
    if (kind === 'percent') {
      const n = plain();
      return n === null ? null : n / 100;
    }
    if (kind === 'times' || kind === 'degree' || kind === 'seconds' || kind === 'number') return plain();
    const unit = this.unit();
    if (text.includes('%') || (unit === '%' && /^[\s\d.,+-]+$/.test(text))) {
      const n = plain();
      const whole = this.whole();
      return n === null || whole === null ? null : (n / 100) * whole;
    }
    try {
      return parseLength(text, unit === '%' ? this.units.unit() : unit, this.axis());
    } catch {
      return null;
    }
  }
}
