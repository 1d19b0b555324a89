import { afterRenderEffect, Component, type ElementRef, input, output, signal, viewChild } from '@angular/core';
import { scrollSideways } from '../ui/scroll-sideways';
import { TryCanvas } from '../paint/try-canvas';
import type { Try } from './tries';

/**
 * The alternatives of a step, each with the author's own picture. Hovering or arrowing shows one on the board; Enter or a
 * click takes it; leaving or Escape puts back.
 */
@Component({
  selector: 'gable-try-strip',
  imports: [TryCanvas],
  template: `<div
    #list
    role="listbox"
    aria-orientation="horizontal"
    [attr.aria-label]="label()"
    class="runs-on flex h-full gap-2 py-1 pl-0.5"
    (keydown)="key($event)"
    (wheel)="scrollSideways($event)"
    (mouseleave)="leave()"
    (focusout)="focusOut($event)"
  >
    @for (t of tries(); track t.id; let i = $index) {
      <div
        role="option"
        [id]="'try-' + t.id"
        [attr.aria-selected]="t.current"
        [tabindex]="i === active() ? 0 : -1"
        class="flex w-[112px] shrink-0 cursor-pointer flex-col rounded-lg border border-transparent px-2 pb-1.5 pt-2 hover:bg-sheet focus-visible:bg-sheet aria-selected:border-mark aria-selected:bg-sheet"
        (mouseenter)="hover(t)"
        (click)="take(t, i)"
      >
        <gable-try-canvas
          class="mx-auto mb-1.5"
          [style.width.px]="92"
          [style.height.px]="84"
          [key]="pictureKey()"
          [frame]="t.frame"
          [width]="92"
          [height]="84"
        />
        <span class="truncate text-[13px] font-semibold leading-tight">{{ t.label }}</span>
        <span class="truncate text-[12px] leading-tight text-soft">{{ t.note }}</span>
      </div>
    }
  </div>`,
  host: { class: 'block min-w-0 grow' },
})
export class TryStrip {
  readonly label = input.required<string>();
  readonly tries = input.required<readonly Try[]>();
  readonly pictureKey = input.required<string>();
  readonly looked = output<Try | null>();
  readonly taken = output<Try>();
  protected readonly scrollSideways = scrollSideways;
  protected readonly active = signal(0);
  private readonly list = viewChild.required<ElementRef<HTMLElement>>('list');

  constructor() {
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
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      this.taken.emit(tries[at]!);
      return;
    }
    if (event.key === 'Escape') {
      this.looked.emit(null);
      return;
    }
    const to = { ArrowRight: at + 1, ArrowLeft: at - 1, Home: 0, End: tries.length - 1 }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    const next = Math.min(tries.length - 1, Math.max(0, to));
    this.active.set(next);
    const option = this.list().nativeElement.querySelectorAll<HTMLElement>('[role=option]')[next];
    option?.focus();
    option?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    this.looked.emit(tries[next]!.current ? null : tries[next]!);
  }
}
