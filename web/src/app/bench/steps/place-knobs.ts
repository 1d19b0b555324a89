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
  template: `@if (edit.shown(); as f) {
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
        label="Left"
        kind="length"
        [value]="f.box.x"
        (changed)="edit.set('place', moved('x', $event))"
      />
      <gable-figure-field
        label="Top"
        kind="length"
        axis="down"
        [value]="f.box.y"
        (changed)="edit.set('place', moved('y', $event))"
      />
    }
    <gable-tick
      label="Flip horizontally"
      [on]="f.flip.horizontal"
      (changed)="edit.set('flipped horizontally', flipped('horizontal'))"
    />
    <gable-tick
      label="Flip vertically"
      [on]="f.flip.vertical"
      (changed)="edit.set('flipped vertically', flipped('vertical'))"
    />
    <gable-flow-words class="row-span-4 self-start pt-1" />
  }`,
  host: { class: 'contents' },
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
