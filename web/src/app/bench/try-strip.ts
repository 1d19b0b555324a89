import {
  ChangeDetectionStrategy,
  afterRenderEffect,
  Component,
  computed,
  effect,
  type ElementRef,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { TrySheet } from '../paint/try-sheet';
import { gradually } from '../ui/gradually';
import { walk } from '../ui/roving';
import { scrollSideways } from '../ui/scroll-sideways';
import type { Try } from './tries';
import { TryFace } from './try-face';

/** How many tries are put on the page at first; the rest follow in the next frames, so that no frame waits for them. */
const FIRST = 14;
const MORE = 12;

/**
 * The alternatives of a step, each with the author's own picture. Hovering or arrowing shows one on the board; Enter or a
 * click takes it; leaving or Escape puts back.
 */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-try-strip',
  imports: [TryFace, TrySheet],
  template: `<div
    #list
    [gableTrySheet]="names()"
    role="listbox"
    aria-orientation="horizontal"
    [attr.aria-label]="label()"
    class="runs-on flex h-full gap-2 py-1 pl-0.5"
    (keydown)="key($event)"
    (wheel)="scrollSideways($event)"
    (mouseleave)="leave()"
    (focusout)="focusOut($event)"
  >
    @for (t of present(); track t.id; let i = $index) {
      <div
        role="option"
        [id]="'try-' + t.id"
        [attr.aria-selected]="t.current"
        [tabindex]="i === active() ? 0 : -1"
        class="relative flex w-[112px] shrink-0 cursor-pointer flex-col rounded-lg border border-transparent px-1.5 pb-1 pt-1.5 hover:bg-sheet focus-visible:bg-sheet aria-selected:border-mark aria-selected:bg-sheet"
        (mouseenter)="hover(t)"
        (click)="take(t, i)"
      >
        <gable-try-face [of]="t" [key]="pictureKey()" [width]="96" [height]="92" [asleep]="covered()" />
      </div>
    }
    @if (tries().length === 0) {
      <p class="self-center px-2 text-soft">{{ nothing() }}</p>
    }
  </div>`,
  host: { class: 'block min-w-0 grow select-none' },
})
export class TryStrip {
  readonly label = input.required<string>();
  readonly tries = input.required<readonly Try[]>();
  readonly pictureKey = input.required<string>();
  /** Whose tries these are: another step's begin at their beginning. */
  readonly step = input.required<string>();
  /** What stands where there is nothing to choose from. */
  readonly nothing = input('There is nothing to choose from.');
  /** Something lies over the whole row. */
  readonly covered = input(false);
  readonly looked = output<Try | null>();
  readonly taken = output<Try>();
  protected readonly scrollSideways = scrollSideways;
  protected readonly active = signal(0);
  private readonly shown = gradually(() => this.tries().length, FIRST, MORE);
  protected readonly present = computed(() => this.tries().slice(0, this.shown.count()));
  protected readonly names = computed(() =>
    this.present()
      .map((t) => t.id)
      .join(' '),
  );
  private readonly list = viewChild.required<ElementRef<HTMLElement>>('list');

  constructor() {
    effect(() => {
      this.step();
      this.shown.again();
      this.list().nativeElement.scrollLeft = 0;
    });
    afterRenderEffect(() => {
      // The one way in by keyboard is the current choice, or the first.
      const at = this.tries().findIndex((t) => t.current);
      if (!this.list().nativeElement.contains(document.activeElement)) this.active.set(Math.max(0, at));
    });
  }

  protected hover(t: Try): void {
    this.looked.emit(t.current ? null : t);
  }

  protected leave(): void {
    this.looked.emit(null);
  }

  protected focusOut(event: FocusEvent): void {
    if (!this.list().nativeElement.contains(event.relatedTarget as Node | null)) this.looked.emit(null);
  }

  protected take(t: Try, index: number): void {
    this.active.set(index);
    this.taken.emit(t);
  }

  protected key(event: KeyboardEvent): void {
    const tries = this.tries();
    const at = Math.min(this.active(), tries.length - 1);
    if (event.ctrlKey || event.metaKey || event.altKey || tries.length === 0) return;
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      this.taken.emit(tries[at]!);
      return;
    }
    if (event.key === 'Escape') {
      this.looked.emit(null);
      return;
    }
    const next = walk(event, at, tries.length);
    if (next === null) return;
    this.active.set(next);
    // One that is not on the page yet comes first.
    if (next >= this.shown.count()) this.shown.all();
    queueMicrotask(() => this.reach(next));
    this.looked.emit(tries[next]!.current ? null : tries[next]!);
  }

  private reach(at: number): void {
    const option = this.list().nativeElement.querySelectorAll<HTMLElement>('[role=option]')[at];
    if (!option) {
      requestAnimationFrame(() =>
        this.list().nativeElement.querySelectorAll<HTMLElement>('[role=option]')[at]?.focus(),
      );
      return;
    }
    option.focus();
    option.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }
}
