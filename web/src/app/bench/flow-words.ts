import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Edit } from './edit';

/** What it means that a picture sits in the text or lies free of it, and the way from one to the other. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-flow-words',
  template: `@if (edit.taken(); as f) {
    @if (edit.picture()?.freeable) {
      @if (f.flow === 'inline') {
        <p class="text-[13px] text-soft">
          This picture sits in the text like a letter. Moved freely, it can be dragged anywhere on the page, and the
          text wraps round it.
        </p>
        <button type="button" class="word mt-1 text-[13px]" (click)="free()">Let it move freely</button>
      } @else {
        <p class="text-[13px] text-soft">
          This picture is free on the page, and the text wraps round it. In the text, it moves with its line like a
          letter.
        </p>
        <button type="button" class="word mt-1 text-[13px]" (click)="settle()">Put it in the text</button>
      }
    } @else if (f.flow === 'inline') {
      <p class="text-[13px] text-soft">This picture sits in the text like a letter and cannot leave it here.</p>
    }
  }`,
  host: { class: 'block' },
})
export class FlowWords {
  protected readonly edit = inject(Edit);

  protected free(): void {
    this.edit.set('free on the page', (f) => ({ ...f, flow: 'floating' }));
  }

  protected settle(): void {
    this.edit.set('back in the text', (f) => ({ ...f, flow: 'inline', box: { ...f.box, x: 0, y: 0 } }));
  }
}
