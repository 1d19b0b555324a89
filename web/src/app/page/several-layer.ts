import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  Injector,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import type { Box, FramedItem, Point } from '@gable/core';
import { nameOf } from '../around/items';
import { scaledBy } from './place';
import { Several } from './several';
import { REACH, snapBox, type PageGuide, type Rests } from './snap';

/** So far something is dragged before it moves, in CSS pixels. */
const LONG = 4;

/** What is chosen together on a page, and the box that is drawn to choose it. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-several-layer',
  template: `<div
      class="absolute -inset-8"
      data-ground
      [class.touch-none]="!several.besideText()"
      (pointerdown)="begin($event)"
      (pointermove)="draw($event)"
      (pointerup)="choose($event)"
      (pointercancel)="given()"
    ></div>
    @if (drawn(); as box) {
      <div
        class="pointer-events-none absolute z-[99999] border border-mark bg-mark/10"
        [style.left.px]="box.x"
        [style.top.px]="box.y"
        [style.width.px]="box.width"
        [style.height.px]="box.height"
      ></div>
    }
    @for (c of chosen(); track c.id) {
      <div
        class="absolute z-[99998] cursor-move touch-none outline-2 outline-offset-2 outline-mark"
        role="button"
        tabindex="0"
        aria-pressed="true"
        [class.outline-dashed]="c.follows"
        [attr.data-chosen]="c.id"
        [attr.aria-label]="c.label"
        [style.left.px]="c.box.x"
        [style.top.px]="c.box.y"
        [style.width.px]="c.box.width"
        [style.height.px]="c.box.height"
        [style.transform]="c.turn === 0 ? null : 'rotate(' + c.turn + 'deg)'"
        (pointerdown)="down($event, c.id)"
        (pointermove)="moved($event)"
        (pointerup)="up($event, c.id)"
        (pointercancel)="letGo()"
        (click)="$event.stopPropagation()"
        (keydown)="key($event)"
      ></div>
    }`,
  host: { class: 'contents' },
})
export class SeveralLayer {
  protected readonly several = inject(Several);
  private readonly injector = inject(Injector);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  /** CSS pixels to the point. */
  readonly scale = input.required<number>();
  /** What the box round all of them can rest on, without what is in it, as it is shown. */
  readonly restsFor = input.required<(box: Box, without: ReadonlySet<string>) => Rests>();
  /** Why they rest where they do. */
  readonly rested = output<readonly PageGuide[]>();

  protected readonly chosen = computed(() => {
    const k = this.scale();
    const moving = new Set(this.several.moving().map((c) => c.item.id));
    return this.several.chosen().map(({ item, box, turn }) => ({
      ...{ id: item.id, turn, label: `${labelOf(item)}, one of ${this.several.chosen().length}` },
      follows: !moving.has(item.id),
      box: scaledBy(box, k),
    }));
  });

  /** The box that is being drawn, in CSS pixels. */
  protected readonly drawn = signal<Box | null>(null);
  private from: Point | null = null;

  private at({ clientX, clientY }: PointerEvent): Point {
    const { left, top } = this.host.nativeElement.parentElement!.getBoundingClientRect();
    return { x: clientX - left, y: clientY - top };
  }

  protected begin(event: PointerEvent): void {
    if (event.button !== 0) return;
    this.from = this.at(event);
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  }

  protected draw(event: PointerEvent): void {
    if (!this.from) return;
    const to = this.at(event);
    const box = between(this.from, to);
    if (this.drawn() || Math.hypot(box.width, box.height) >= LONG) this.drawn.set(box);
  }

  /** The window scrolls instead. */
  protected given(): void {
    this.from = null;
    this.drawn.set(null);
  }

  protected choose(event: PointerEvent): void {
    const box = this.drawn();
    this.from = null;
    this.drawn.set(null);
    if (!box) {
      if (!event.shiftKey) this.several.end();
      return;
    }
    const ids = this.several.within(scaledBy(box, 1 / this.scale()));
    const before = event.shiftKey ? this.several.chosen().map((c) => c.item.id) : [];
    this.several.choose([...new Set([...before, ...ids])]);
  }

  constructor() {
    // What was chosen last has the keys: what lies beneath has none while several are chosen.
    const last = computed(() => this.several.chosen().at(-1)?.item.id);
    effect(() => {
      const id = last();
      if (id === undefined) return;
      const find = (): HTMLElement | null => this.host.nativeElement.querySelector(`[data-chosen="${CSS.escape(id)}"]`);
      untracked(() => afterNextRender(() => find()?.focus({ preventScroll: true }), { injector: this.injector }));
    });
  }

  protected drag: { x: number; y: number; from: FramedItem[]; bounds: Box; gesture: string; moved: boolean } | null =
    null;

  protected down(event: PointerEvent, id: string): void {
    event.stopPropagation();
    if (event.button !== 0) return;
    if (event.shiftKey) {
      this.several.toggle(id);
      return;
    }
    const from = this.several.stored();
    const bounds = scaledBy(this.several.bounds(), this.scale());
    this.drag = { x: event.clientX, y: event.clientY, from, bounds, gesture: this.several.grab(), moved: false };
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  }

  protected moved(event: PointerEvent): void {
    const d = this.drag;
    if (!d) return;
    const [dx, dy] = [event.clientX - d.x, event.clientY - d.y];
    if (!d.moved && Math.hypot(dx, dy) < LONG) return;
    d.moved = true;
    this.several.dragging.set(true);
    const box = { ...d.bounds, x: d.bounds.x + dx, y: d.bounds.y + dy };
    const without = new Set(this.several.chosen().map((c) => c.item.id));
    const rest = event.ctrlKey || event.metaKey ? null : snapBox(box, this.restsFor()(box, without), REACH);
    this.rested.emit(rest?.guides ?? []);
    const k = this.scale();
    const by = { x: (dx + (rest?.by.x ?? 0)) / k, y: (dy + (rest?.by.y ?? 0)) / k };
    const steps = d.from.map(() => by);
    this.several.move('moved together', steps, d.from, d.gesture);
  }

  /** A listener that gave false back would keep the key from the bench. */
  protected key(event: KeyboardEvent): void {
    this.several.key(event);
  }

  protected letGo(): void {
    this.drag = null;
    this.several.dragging.set(false);
    this.rested.emit([]);
  }

  /** A click on one of them without a step chooses it alone. */
  protected up(event: PointerEvent, id: string): void {
    event.stopPropagation();
    const d = this.drag;
    this.letGo();
    if (d && !d.moved) this.several.choose([id]);
  }
}

const between = (a: Point, b: Point): Box => ({
  x: Math.min(a.x, b.x),
  y: Math.min(a.y, b.y),
  width: Math.abs(a.x - b.x),
  height: Math.abs(a.y - b.y),
});

const labelOf = (item: FramedItem): string =>
  item.fill?.kind === 'picture' ? `Picture${item.alt ? `, ${item.alt}` : ''}` : nameOf(item);
