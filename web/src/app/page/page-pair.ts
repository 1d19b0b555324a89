import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { PageView } from './page-view';

/** The least share of the width for either side, and how far a key moves the divider. */
const LEAST_SHARE = 0.2;
const STEP = 0.05;
/** Width of the divider, in CSS pixels. */
const DIVIDER = 12;

/** The pages before and now, beside each other: they scroll together, and a divider gives one of them more room. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-page-pair',
  imports: [PageView],
  template: `<div #row class="absolute inset-0 flex">
    <section class="flex min-w-0 basis-0 flex-col" aria-label="Before" [style.flex-grow]="share()">
      <h2 class="px-3 font-text text-[13px] font-semibold">Before</h2>
      <gable-page-view class="grow" [came]="true" (scrolled)="follow(now, $event)" #before />
    </section>
    <div
      class="group relative z-[99999] w-3 shrink-0 cursor-col-resize touch-none"
      role="separator"
      tabindex="0"
      aria-orientation="vertical"
      aria-label="Width of the page before"
      aria-valuemin="20"
      aria-valuemax="80"
      [attr.aria-valuenow]="percent()"
      (pointerdown)="grab($event)"
      (pointermove)="drag($event)"
      (dblclick)="share.set(0.5)"
      (keydown)="key($event)"
    >
      <span class="absolute inset-y-0 left-1/2 w-px bg-line group-hover:bg-mark group-focus-visible:bg-mark"></span>
      <span
        class="absolute left-1/2 top-1/2 h-9 w-1.5 -translate-x-1/2 -translate-y-1/2 border-2 border-mark bg-raised"
      ></span>
    </div>
    <section class="flex min-w-0 basis-0 flex-col" aria-label="Now" [style.flex-grow]="1 - share()">
      <h2 class="px-3 font-text text-[13px] font-semibold">Now</h2>
      <gable-page-view class="grow" (scrolled)="follow(before, $event)" (closer)="closer.emit()" #now />
    </section>
  </div>`,
  host: { class: 'relative block min-h-0 select-none overflow-hidden' },
})
export class PagePair {
  readonly closer = output();
  private readonly row = viewChild.required<ElementRef<HTMLElement>>('row');
  /** Of the width, for the pages before. */
  protected readonly share = signal(0.5);
  protected readonly percent = computed(() => Math.round(100 * this.share()));

  protected grab(event: PointerEvent): void {
    if (event.button !== 0) return;
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  }

  protected drag(event: PointerEvent): void {
    if (!(event.currentTarget as HTMLElement).hasPointerCapture(event.pointerId)) return;
    const { left, width } = this.row().nativeElement.getBoundingClientRect();
    this.give((event.clientX - left - DIVIDER / 2) / (width - DIVIDER));
  }

  protected key(event: KeyboardEvent): void {
    const to = { ArrowLeft: this.share() - STEP, ArrowRight: this.share() + STEP, Home: 0, End: 1 }[event.key];
    if (to === undefined || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    this.give(to);
  }

  private give(share: number): void {
    this.share.set(Math.min(1 - LEAST_SHARE, Math.max(LEAST_SHARE, share)));
  }

  /** The other side shows the same part of its pages. */
  protected follow(other: PageView, part: number): void {
    other.scrollTo(part);
  }
}
