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
          It sits in the text like a letter. Let free, it can be dragged anywhere on the page; the text closes the gap
          it leaves and runs round it.
        </p>
        <button type="button" class="word mt-1 text-[13px]" (click)="free()">Let it move freely</button>
      } @else {
        <p class="text-[13px] text-soft">
          It lies free on the page and the text runs round it. Put back, it stands in its line again like a letter, and
          the text makes room for it there.
        </p>
        <button type="button" class="word mt-1 text-[13px]" (click)="settle()">Put it back into the text</button>
      }
    } @else if (f.flow === 'inline') {
      <p class="text-[13px] text-soft">It sits in the text like a letter, and here it cannot be taken out of it.</p>
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
