import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import type { Paint } from '@gable/core';
import { ColourField } from './colour-field';
import { FigureField } from './figure-field';
import { READY_GRADIENTS } from './ready-gradients';
import { Icon } from './icon';

type Run = Exclude<Paint, { kind: 'solid' }>;
type Stop = Run['stops'][number];

/** The most and fewest stops a gradient has. */
const MAX_STOPS = 10;
const FEWEST = 2;

/** The stops of a gradient: dragged along a bar, added by a click on it, removed by dragging them off it or with Delete. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-gradient',
  imports: [ColourField, FigureField, Icon],
  template: `<div class="grid grid-cols-6 gap-x-1 gap-y-1" role="group" aria-label="Ready gradients">
      @for (g of ready; track g.name) {
        <button
          type="button"
          class="h-6 rounded-sm border border-ink/25"
          [style.background]="cssOf(g.stops)"
          [attr.aria-label]="g.name"
          [title]="g.name"
          (click)="grabbed.emit(); chosen.set(0); changed.emit(g.stops)"
        ></button>
      }
    </div>
    <div class="flex h-[38px] items-start gap-1 pt-1">
      <div
        #bar
        class="relative ml-2 mr-4 h-5 grow cursor-copy rounded border border-ink/25"
        [style.background]="css()"
        title="Click to add a stop"
        (pointerdown)="add($event)"
      >
        @for (s of stops(); track $index) {
          <button
            type="button"
            role="slider"
            class="absolute top-3 h-5 w-4 -translate-x-1/2 cursor-ew-resize touch-none rounded-b-md rounded-t-full border-2 aria-[current=true]:border-mark"
            [class.border-raised]="$index !== chosen()"
            [style.left.%]="s.at * 100"
            [style.background]="s.colour"
            [style.opacity]="leaving() === $index ? 0.25 : 1"
            [style.box-shadow]="'0 0 0 1px rgb(0 0 0 / 35%)'"
            [attr.aria-label]="'Stop ' + ($index + 1) + ', ' + s.colour"
            aria-valuemin="0"
            aria-valuemax="100"
            [attr.aria-valuenow]="round(s.at * 100)"
            [attr.aria-current]="$index === chosen()"
            (focus)="chosen.set($index)"
            (pointerdown)="grab($event, $index)"
            (pointermove)="drag($event)"
            (pointerup)="drop()"
            (pointercancel)="drop()"
            (keydown)="key($event, $index)"
          ></button>
        }
      </div>
      <button
        type="button"
        class="quiet px-1"
        aria-label="Add a stop"
        title="Add a stop"
        [disabled]="stops().length >= most"
        (click)="addBeside()"
      >
        <gable-icon name="add" [size]="15" />
      </button>
      <button
        type="button"
        class="quiet px-1"
        aria-label="Remove the stop"
        title="Remove the stop"
        [disabled]="stops().length <= fewest"
        (click)="remove(at())"
      >
        <gable-icon name="remove" [size]="15" />
      </button>
    </div>
    <gable-colour-field
      [compact]="true"
      label="Stop colour"
      [value]="stops()[at()]?.colour ?? null"
      [picture]="picture()"
      [document]="document()"
      (grabbed)="grabbed.emit()"
      (changed)="recolour($event)"
    />
    <gable-figure-field
      class="knob"
      label="Stop position"
      kind="percent"
      [value]="stops()[at()]?.at ?? 0"
      [min]="0"
      [max]="1"
      (changed)="grabbed.emit(); move(at(), $event)"
    />`,
  host: { class: 'row-span-5 self-start' },
})
export class GradientEditor {
  readonly paint = input.required<Run>();
  /** Colours of the picture, and of what else lies on the pages. */
  readonly picture = input<readonly string[]>([]);
  readonly document = input<readonly string[]>([]);
  readonly changed = output<Stop[]>();
  readonly grabbed = output();
  protected readonly most = MAX_STOPS;
  protected readonly fewest = FEWEST;
  protected readonly chosen = signal(0);
  /** The stop that is being dragged off the bar. */
  protected readonly leaving = signal<number | null>(null);
  private held = false;
  private readonly bar = viewChild.required<ElementRef<HTMLElement>>('bar');

  protected readonly stops = computed(() => this.paint().stops);
  protected readonly at = computed(() => Math.min(this.chosen(), this.stops().length - 1));
  protected readonly css = computed(() => this.cssOf(this.stops()));
  protected readonly ready = READY_GRADIENTS;
  protected cssOf(stops: readonly Stop[]): string {
    const sorted = stops.toSorted((a, b) => a.at - b.at);
    return `linear-gradient(to right, ${sorted.map((s) => `${s.colour} ${s.at * 100}%`).join(', ')})`;
  }

  protected readonly round = Math.round;

  private share(event: PointerEvent): number {
    const box = this.bar().nativeElement.getBoundingClientRect();
    return Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
  }

  protected add(event: PointerEvent): void {
    if (event.target !== this.bar().nativeElement || this.stops().length >= MAX_STOPS) return;
    this.insert(this.share(event));
  }

  /** In the widest gap beside the chosen stop, for those who do not click on the bar. */
  protected addBeside(): void {
    const sorted = [...this.stops()].sort((a, b) => a.at - b.at);
    const i = Math.max(0, sorted.indexOf(this.stops()[this.at()]!));
    const [a, b] = i + 1 < sorted.length ? [sorted[i]!, sorted[i + 1]!] : [sorted[i - 1]!, sorted[i]!];
    this.insert((a.at + b.at) / 2);
  }

  private insert(at: number): void {
    this.grabbed.emit();
    const near = this.stops().reduce((a, b) => (Math.abs(b.at - at) < Math.abs(a.at - at) ? b : a));
    this.chosen.set(this.stops().length);
    this.changed.emit([...this.stops(), { ...near, at }]);
  }

  protected grab(event: PointerEvent, index: number): void {
    event.stopPropagation();
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    (event.currentTarget as HTMLElement).focus();
    this.chosen.set(index);
    this.held = true;
    this.grabbed.emit();
  }

  protected drag(event: PointerEvent): void {
    if (!this.held) return;
    const box = this.bar().nativeElement.getBoundingClientRect();
    const off = event.clientY < box.top - 28 || event.clientY > box.bottom + 44;
    this.leaving.set(off && this.stops().length > FEWEST ? this.at() : null);
    this.move(this.at(), this.share(event));
  }

  protected drop(): void {
    this.held = false;
    if (this.leaving() !== null) this.remove(this.leaving()!);
    this.leaving.set(null);
  }

  protected key(event: KeyboardEvent, index: number): void {
    const step = { ArrowRight: 0.01, ArrowLeft: -0.01, ArrowUp: 0.01, ArrowDown: -0.01 }[event.key];
    if (event.key === 'Delete' || event.key === 'Backspace') this.remove(index);
    else if (step !== undefined) {
      if (!event.repeat) this.grabbed.emit();
      this.move(index, Math.min(1, Math.max(0, this.stops()[index]!.at + step * (event.shiftKey ? 5 : 1))));
    } else return;
    event.preventDefault();
  }

  protected move(index: number, at: number): void {
    this.changed.emit(this.stops().map((s, i) => (i === index ? { ...s, at } : s)));
  }

  protected remove(index: number): void {
    if (this.stops().length <= FEWEST) return;
    this.grabbed.emit();
    this.chosen.set(0);
    this.changed.emit(this.stops().filter((_, i) => i !== index));
  }

  protected recolour(colour: string): void {
    const at = this.at();
    this.changed.emit(this.stops().map((s, i) => (i === at ? { ...s, colour } : s)));
  }
}
