import { ChangeDetectionStrategy, Component, type ElementRef, inject, input, viewChild } from '@angular/core';
import { Icon } from './icon';
import type { KeyGroup } from './keys';
import { Letters } from './letters';

/** Every key, on one sheet. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
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
      @for (g of groups(); track g.title) {
        <section class="mb-5 break-inside-avoid">
          <h3 class="mb-1.5 text-[15px]">{{ g.title }}</h3>
          <dl class="text-[13px]">
            @for (k of g.rows; track k.shown) {
              <div class="flex justify-between gap-4 border-b border-line py-1">
                <dt class="figure shrink-0 font-medium">{{ k.shown }}</dt>
                <dd class="text-right text-soft">{{ k.words }}</dd>
              </div>
            }
          </dl>
        </section>
      }
      <label class="flex break-inside-avoid items-start gap-2 text-[13px]"
        ><input
          type="checkbox"
          class="mt-0.5 tick"
          [checked]="letters.on()"
          (change)="letters.set(!letters.on())"
        /><span
          >Single letters and digits are keys.
          <span class="text-soft">Switch this off if your voice or another program types them for you.</span></span
        ></label
      >
    </div>
  </dialog>`,
})
export class Shortcuts {
  readonly groups = input.required<readonly KeyGroup[]>();
  protected readonly letters = inject(Letters);

  private readonly dialog = viewChild.required<ElementRef<HTMLDialogElement>>('dialog');

  open(): void {
    this.dialog().nativeElement.showModal();
  }
}
