import { Component, type ElementRef, input, output, viewChild } from '@angular/core';
import { Icon } from '../ui/icon';

const GROUPS: readonly { title: string; keys: readonly (readonly [string, string])[] }[] = [
  {
    title: 'On the board',
    keys: [
      ['← → ↑ ↓', 'Move the picture by 1 mm; in Place, a free frame'],
      ['Shift + arrows', 'by 0.1 mm'],
      ['Alt + arrows, Alt + drag', 'Move the shape over the picture'],
      ['+  −  0', 'Zoom in, out, just covering'],
      ['Ctrl while dragging', 'Nothing comes to rest by itself'],
      ['Shift while cropping', 'Hold the ratio, or let it go'],
    ],
  },
  {
    title: 'Among tries',
    keys: [
      ['← →', 'Look at one on the board'],
      ['Enter', 'Take it'],
      ['Esc', 'Leave things as they were'],
      ['H, on the wall', 'Hold it beside others'],
    ],
  },
  {
    title: 'Anywhere on the bench',
    keys: [
      ['1 … 7', 'Shape, Ratio, Position, Outline, Shadow, Tone, Place'],
      ['T', 'To the tries'],
      ['B', 'To the board'],
      ['[  ]', 'The picture before, the next one'],
      ['N', 'The next picture, framed like this one'],
      ['K', 'Mark what must stay'],
      ['O, held', 'The picture as it came'],
      ['W', 'The wall of tries'],
      ['P', 'Page and close-up'],
      ['V', 'All frames at once, and back'],
      ['R', 'Another picture in this frame'],
      ['G', 'Get this picture out'],
      ['Ctrl + C', 'Copy the framed picture'],
      ['Ctrl + V', 'Paste a picture'],
      ['Ctrl + Z, Ctrl + Y', 'Undo, redo'],
      ['?', 'This sheet'],
    ],
  },
];

/** Every key, on one sheet. */
@Component({
  selector: 'gable-shortcuts',
  imports: [Icon],
  template: `<dialog #dialog class="sheet w-[760px] max-w-[94vw]" aria-labelledby="keys-title">
    <div class="mb-4 flex items-center">
      <h2 id="keys-title" class="grow text-[21px]">Keys</h2>
      <button type="button" class="act px-2" aria-label="Close" title="Close" (click)="dialog.close()">
        <gable-icon name="close" />
      </button>
    </div>
    <div class="columns-2 gap-10 [column-fill:balance]">
      @for (g of groups; track g.title) {
        <section class="mb-5 break-inside-avoid">
          <h3 class="mb-1.5 text-[15px]">{{ g.title }}</h3>
          <dl class="text-[13px]">
            @for (k of g.keys; track k[0]) {
              <div class="flex justify-between gap-4 border-b border-line py-1">
                <dt class="figure shrink-0 font-medium">{{ k[0] }}</dt>
                <dd class="text-right text-soft">{{ k[1] }}</dd>
              </div>
            }
          </dl>
        </section>
      }
      <label class="flex break-inside-avoid items-start gap-2 text-[13px]"
        ><input
          type="checkbox"
          class="mt-0.5 tick"
          [checked]="letters()"
          (change)="lettersChanged.emit(!letters())"
        /><span
          >Single letters and digits are keys.
          <span class="text-soft">Switch this off if your voice or another program types them for you.</span></span
        ></label
      >
    </div>
  </dialog>`,
})
export class Shortcuts {
  readonly letters = input.required<boolean>();
  readonly lettersChanged = output<boolean>();
  protected readonly groups = GROUPS;
  private readonly dialog = viewChild.required<ElementRef<HTMLDialogElement>>('dialog');

  open(): void {
    this.dialog().nativeElement.showModal();
  }
}
