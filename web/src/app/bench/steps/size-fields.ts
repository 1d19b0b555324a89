import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { shapeOf } from '@gable/core';
import { FigureField } from '../../ui/figure-field';
import { Icon } from '../../ui/icon';
import { Edit } from '../edit';

/** Width and height of the frame, and the link that keeps their ratio. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-size-fields',
  imports: [FigureField, Icon],
  template: `@if (edit.shown(); as f) {
    <div class="min-w-0 grow">
      <gable-figure-field
        class="knob"
        label="Width"
        kind="length"
        [value]="f.box.width"
        [whole]="edit.picture()!.frame.box.width"
        [min]="least"
        [max]="most"
        (changed)="edit.resize('width', $event)"
      />
      <gable-figure-field
        class="knob"
        label="Height"
        kind="length"
        axis="down"
        [value]="f.box.height"
        [whole]="edit.picture()!.frame.box.height"
        [min]="least"
        [max]="most"
        (changed)="edit.resize('height', $event)"
      />
    </div>
    <button
      type="button"
      class="link-sides"
      aria-label="Keep the ratio of width and height"
      [attr.aria-pressed]="locked() || edit.linked()"
      [disabled]="locked()"
      [title]="
        locked()
          ? 'This shape has a ratio of its own'
          : edit.linked()
            ? 'Width and height keep their ratio. Click to set them one by one.'
            : 'Width and height are set one by one. Click to keep their ratio.'
      "
      (click)="edit.linked.set(!edit.linked())"
    >
      <gable-icon [name]="locked() || edit.linked() ? 'link' : 'unlink'" [size]="15" />
    </button>
  }`,
  host: { class: 'row-span-2 flex items-center gap-1.5' },
})
export class SizeFields {
  protected readonly edit = inject(Edit);
  /** A millimetre, and a hall. */
  protected readonly least = 3;
  protected readonly most = 11340;
  protected readonly locked = computed(() => {
    const f = this.edit.shown();
    return f !== null && f.seat.fit === 'fill' && (shapeOf(f.shape)?.locked ?? null) !== null;
  });
}
