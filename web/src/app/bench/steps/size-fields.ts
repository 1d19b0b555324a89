import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { FigureField } from '../../ui/figure-field';
import { Edit } from '../edit';
import { resized } from '../resize';

/** Width and height of the frame. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-size-fields',
  imports: [FigureField],
  template: `@if (edit.shown(); as f) {
    <gable-figure-field
      class="mb-1.5"
      label="Across"
      kind="mm"
      [value]="f.box.width"
      [min]="3"
      [max]="4000"
      (changed)="resize('width', $event)"
    />
    <gable-figure-field
      class="mb-1.5"
      label="Down"
      kind="mm"
      axis="down"
      [value]="f.box.height"
      [min]="3"
      [max]="4000"
      (changed)="resize('height', $event)"
    />
  }`,
  host: { class: 'block' },
})
export class SizeFields {
  protected readonly edit = inject(Edit);

  protected resize(side: 'width' | 'height', value: number): void {
    this.edit.set('size', (f) => resized(f, side, value, this.edit.size(), false));
  }
}
