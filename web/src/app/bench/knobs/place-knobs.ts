import { Component, computed, inject } from '@angular/core';
import type { Frame } from '@gable/core';
import { FigureField } from '../../ui/figure-field';
import { SliderField } from '../../ui/slider-field';
import { Edit } from '../edit';
import { FlowWords } from '../flow-words';

/** The frame on its page. */
@Component({
  selector: 'gable-place-knobs',
  imports: [FigureField, FlowWords, SliderField],
  template: `<h2 class="mb-2 text-[15px]">Frame on the page</h2>
    @if (edit.shown(); as f) {
      <gable-slider-field
        label="Turn"
        kind="degree"
        [value]="turn()"
        [min]="-180"
        [max]="180"
        [floor]="-360"
        [ceiling]="360"
        [step]="0.5"
        (grabbed)="edit.grab()"
        (changed)="edit.slide('frame turned', turned($event))"
      />
      @if (f.flow === 'floating') {
        <gable-figure-field
          class="mb-1.5"
          label="From the left"
          kind="mm"
          [value]="f.box.x"
          (changed)="edit.set('place', moved('x', $event))"
        />
        <gable-figure-field
          class="mb-1.5"
          label="From the top"
          kind="mm"
          axis="down"
          [value]="f.box.y"
          (changed)="edit.set('place', moved('y', $event))"
        />
      }
      <label class="mb-1 flex items-center justify-between"
        ><span class="text-soft">Flipped across</span
        ><input
          type="checkbox"
          class="tick"
          [checked]="f.flip.horizontal"
          (change)="edit.set('flipped across', flipped('horizontal'))"
      /></label>
      <label class="mb-2 flex items-center justify-between"
        ><span class="text-soft">Flipped down</span
        ><input
          type="checkbox"
          class="tick"
          [checked]="f.flip.vertical"
          (change)="edit.set('flipped down', flipped('vertical'))"
      /></label>
      <gable-flow-words />
    }`,
  host: { class: 'block' },
})
export class PlaceKnobs {
  protected readonly edit = inject(Edit);
  protected readonly turn = computed(() => {
    const turn = (((this.edit.shown()?.turn ?? 0) % 360) + 360) % 360;
    return turn > 180 ? turn - 360 : turn;
  });

  protected readonly turned =
    (turn: number) =>
    (f: Frame): Frame => ({ ...f, turn });
  protected readonly moved =
    (axis: 'x' | 'y', value: number) =>
    (f: Frame): Frame => ({ ...f, box: { ...f.box, [axis]: value } });
  protected readonly flipped =
    (way: 'horizontal' | 'vertical') =>
    (f: Frame): Frame => ({ ...f, flip: { ...f.flip, [way]: !f.flip[way] } });
}
