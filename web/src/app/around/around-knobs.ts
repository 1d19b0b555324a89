import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { AroundEdit } from './around-edit';
import { Edit } from '../bench/edit';
import { nameOf } from './items';
import { SectionKnobs } from './section-knobs';

/** What stands round the chosen picture. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-around-knobs',
  imports: [SectionKnobs],
  template: `@for (item of around.tied(); track item.id) {
      <button type="button" class="word truncate text-left" (click)="around.choose(item.id)">{{ name(item) }}</button>
    } @empty {
      @if (!edit.shown()?.section) {
        <p class="row-span-3 self-start pt-1 text-soft">
          @if (around.context()) {
            Choose what stands around this picture. It follows the picture when that moves, grows or changes shape.
          } @else {
            Nothing can stand around this picture: it is in a group or a text box of its document, or in no document.
          }
        </p>
      }
    }
    <gable-section-knobs />`,
  host: { class: 'contents' },
})
export class AroundKnobs {
  protected readonly around = inject(AroundEdit);
  protected readonly edit = inject(Edit);
  protected readonly name = nameOf;
}
