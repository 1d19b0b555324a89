import { ChangeDetectionStrategy, Component, type ElementRef, inject, viewChild } from '@angular/core';
import { Edit } from './edit';

/** What the chosen picture shows, in words for people who cannot see it. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-alt-text',
  template: `<dialog #dialog class="sheet w-[460px]" aria-labelledby="alt-title">
    <h2 id="alt-title" class="mb-3 text-[21px]">Alt text</h2>
    <textarea
      #text
      class="h-[110px] w-full resize-none rounded-md border border-line bg-raised px-3 py-2 leading-snug"
      aria-labelledby="alt-title"
      placeholder="Describe the picture for people who cannot see it"
      [value]="edit.taken()?.alt ?? ''"
      (keydown.control.enter)="take(text.value)"
    ></textarea>
    <div class="mt-4 flex justify-end gap-2">
      <button type="button" class="act" (click)="dialog.close()">Cancel</button>
      <button type="button" class="act act-main" (click)="take(text.value)">Use it</button>
    </div>
  </dialog>`,
})
export class AltText {
  protected readonly edit = inject(Edit);
  private readonly dialog = viewChild.required<ElementRef<HTMLDialogElement>>('dialog');
  private readonly text = viewChild.required<ElementRef<HTMLTextAreaElement>>('text');

  open(): void {
    this.text().nativeElement.value = this.edit.taken()?.alt ?? '';
    this.dialog().nativeElement.showModal();
  }

  protected take(alt: string): void {
    this.dialog().nativeElement.close();
    this.edit.set('alt text', (f) => (f.alt === alt ? f : { ...f, alt }));
  }
}
