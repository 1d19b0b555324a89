import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { Frame } from '@gable/core';
import { FigureField } from '../../ui/figure-field';
import { SliderField } from '../../ui/slider-field';
import { Tick } from '../../ui/tick';
import { Edit } from '../edit';
import { signedTurn } from '../../work/wording';
import { FlowWords } from '../flow-words';

/** The frame on its page. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-place-knobs',
  imports: [FigureField, FlowWords, SliderField, Tick],
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
      <gable-tick
        class="mb-1"
        label="Flipped across"
        [on]="f.flip.horizontal"
        (changed)="edit.set('flipped across', flipped('horizontal'))"
      />
      <gable-tick
        class="mb-1"
        label="Flipped down"
        [on]="f.flip.vertical"
        (changed)="edit.set('flipped down', flipped('vertical'))"
      />
      <gable-flow-words />
    }`,
  host: { class: 'block' },
})
export class PlaceKnobs {
  protected readonly edit = inject(Edit);
  protected readonly turn = computed(() => signedTurn(this.edit.shown()?.turn ?? 0));

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
