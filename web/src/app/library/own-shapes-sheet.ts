import { ChangeDetectionStrategy, Component, type ElementRef, inject, signal, viewChild } from '@angular/core';
import type { OwnShape } from '@gable/contract';
import { toProblem, type Problem } from '../api/problem';
import { Notice } from '../ui/notice';
import { OwnShapes } from './own-shapes';

/** Side of the room for a shape, in units of its drawing. */
const ROOM = 40;

/** The author's own shapes, to rename and to remove: what is removed is gone when the sheet is closed. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-own-shapes-sheet',
  imports: [Notice],
  template: `<dialog
    #dialog
    class="sheet w-[460px]"
    aria-labelledby="own-shapes-title"
    (close)="closed()"
    (keydown)="$event.stopPropagation()"
  >
    <h2 id="own-shapes-title" class="mb-3 text-[21px]">Your shapes</h2>
    @if (problem(); as p) {
      <gable-notice class="mb-3 block" [problem]="p" (closed)="problem.set(null)" />
    }
    <ul class="max-h-[52vh] overflow-y-auto">
      @for (s of own.all(); track s.id) {
        <li class="flex items-center gap-3 py-1.5" [class.opacity-50]="gone().has(s.id)">
          <svg class="h-10 w-10 shrink-0" [attr.viewBox]="'0 0 ${ROOM} ${ROOM}'" aria-hidden="true">
            <path class="fill-ink" fill-rule="evenodd" [attr.d]="s.shape.drawn!.path" [attr.transform]="fitted(s)" />
          </svg>
          <input
            class="entry min-w-0 !w-auto grow !text-left font-text"
            maxlength="200"
            [attr.aria-label]="'Name of the shape ' + s.name"
            [value]="s.name"
            [disabled]="gone().has(s.id)"
            (change)="rename(s, $event)"
          />
          <button type="button" class="act h-8 w-[84px] justify-center" (click)="toggle(s.id)">
            {{ gone().has(s.id) ? 'Undo' : 'Remove' }}<span class="sr-only"> {{ s.name }}</span>
          </button>
        </li>
      }
    </ul>
    <p class="mt-3 text-[13px] text-soft">Pictures that have a shape keep it when you remove it here.</p>
    <div class="mt-4 flex justify-end">
      <button type="button" class="act act-main" (click)="dialog.close()">Done</button>
    </div>
  </dialog>`,
})
export class OwnShapesSheet {
  protected readonly own = inject(OwnShapes);
  private readonly dialog = viewChild.required<ElementRef<HTMLDialogElement>>('dialog');
  protected readonly gone = signal<ReadonlySet<string>>(new Set());
  protected readonly problem = signal<Problem | null>(null);

  open(): void {
    this.dialog().nativeElement.showModal();
  }

  /** A shape's box of 1 × 1 in the middle of its room, at its ratio. */
  protected fitted({ shape }: OwnShape): string {
    const ratio = shape.drawn!.ratio ?? 1;
    const [width, height] = ratio > 1 ? [ROOM, ROOM / ratio] : [ROOM * ratio, ROOM];
    return `translate(${(ROOM - width) / 2} ${(ROOM - height) / 2}) scale(${width} ${height})`;
  }

  protected rename(s: OwnShape, event: Event): void {
    const field = event.target as HTMLInputElement;
    const name = field.value.trim();
    if (name && name !== s.name) this.try(this.own.rename(s.id, name));
    else field.value = s.name;
  }

  protected toggle(id: string): void {
    this.gone.update((all) => {
      const next = new Set(all);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  }

  protected closed(): void {
    for (const id of this.gone()) this.try(this.own.remove(id));
    this.gone.set(new Set());
  }

  private try(work: Promise<void>): void {
    work.catch((e: unknown) => {
      this.problem.set(toProblem(e));
      if (!this.dialog().nativeElement.open) this.open();
    });
  }
}
