import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import {
  deriveView,
  movedTo,
  pictureRect,
  viewCrop,
  withCropSide,
  withPictureRect,
  type Crop,
  type Rect,
} from '@gable/core';
import { FigureField } from '../../ui/figure-field';
import { Units } from '../../ui/units';
import { Edit } from '../edit';

const NAMES = { x: 'left', y: 'top', width: 'width', height: 'height' } as const;
const SIDES = ['left', 'top', 'right', 'bottom'] as const;

/** For those who place by numbers: the picture in its shape, the box on its page, and the crop. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-by-number',
  imports: [FigureField],
  template: `<table class="w-full table-fixed text-[12px]" aria-label="By number">
    <thead>
      <tr class="h-[22px] text-soft">
        <th class="w-[50px] text-left font-normal">{{ units.unit() }}</th>
        @for (k of keys; track k) {
          <th class="text-right font-normal capitalize">{{ names[k] }}</th>
        }
      </tr>
    </thead>
    <tbody>
      <tr class="h-[30px]">
        <th class="text-left font-normal text-soft">Picture</th>
        @for (k of keys; track k) {
          <td>
            <gable-figure-field
              [label]="'Picture ' + names[k]"
              kind="length"
              [bare]="true"
              [value]="picture()[k]"
              [min]="k === 'width' || k === 'height' ? 1 : -far"
              [max]="far"
              (changed)="setPicture(k, $event)"
            />
          </td>
        }
      </tr>
      <tr class="h-[30px]">
        <th class="text-left font-normal text-soft">Box</th>
        @for (k of keys; track k) {
          <td>
            @if (boxed(k); as value) {
              <gable-figure-field
                [label]="'Box ' + names[k]"
                kind="length"
                [bare]="true"
                [value]="value.of"
                [min]="k === 'width' || k === 'height' ? 3 : -far"
                [max]="far"
                (changed)="setBox(k, $event)"
              />
            } @else {
              <span class="block text-right text-soft" title="The text places it">–</span>
            }
          </td>
        }
      </tr>
      @if (crop(); as c) {
        <tr class="h-[22px] text-soft">
          <th></th>
          @for (s of sides; track s) {
            <th class="text-right font-normal capitalize">{{ s }}</th>
          }
        </tr>
        <tr class="h-[30px]">
          <th class="text-left font-normal text-soft">Crop, %</th>
          @for (s of sides; track s) {
            <td>
              <gable-figure-field
                [label]="'Crop ' + s"
                kind="percent"
                [bare]="true"
                [value]="c[s]"
                [min]="-10"
                [max]="0.99"
                (changed)="setCrop(s, $event)"
              />
            </td>
          }
        </tr>
      }
    </tbody>
  </table>`,
  host: { class: 'row-span-5 self-start' },
})
export class ByNumber {
  protected readonly edit = inject(Edit);
  protected readonly units = inject(Units);
  protected readonly names = NAMES;
  protected readonly keys = ['x', 'y', 'width', 'height'] as const;
  protected readonly sides = SIDES;
  protected readonly far = 20_000;

  protected readonly picture = computed((): Rect => {
    const f = this.edit.shown();
    return f ? pictureRect(f, this.edit.size()) : { x: 0, y: 0, width: 1, height: 1 };
  });
  /** The crop of a picture that is not turned, and shown once. */
  protected readonly crop = computed((): Crop | null => {
    const f = this.edit.shown();
    if (!f || f.placement.turn % 360 !== 0 || f.placement.fit === 'tile') return null;
    return viewCrop(deriveView(f.placement, f.box, this.edit.size()));
  });

  protected boxed(key: keyof Rect): { of: number } | null {
    const f = this.edit.shown();
    if (!f || (f.flow === 'inline' && (key === 'x' || key === 'y'))) return null;
    return { of: f.box[key] };
  }

  protected setPicture(key: keyof Rect, value: number): void {
    this.edit.set(`picture ${NAMES[key]}`, (f) => withPictureRect(f, { [key]: value }, this.edit.size()));
  }

  protected setBox(key: keyof Rect, value: number): void {
    if (key === 'width' || key === 'height') this.edit.resize(key, value);
    else this.edit.set('place', (f) => movedTo(f, { [key]: value }));
  }

  protected setCrop(side: keyof Crop, share: number): void {
    this.edit.set(`crop ${side}`, (f) => withCropSide(f, side, share, this.edit.size()));
  }
}
