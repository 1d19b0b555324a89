import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { shapeOf, type Knob, type Seat } from '@gable/core';
import { Choice } from '../../ui/choice';
import { NinePlaces } from '../../ui/nine-places';
import { SliderField } from '../../ui/slider-field';
import { Tick } from '../../ui/tick';
import { Edit } from '../edit';
import { SizeFields } from './size-fields';

/** Size of the frame, the knobs of its shape, and how the shape sits in its box. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-shape-knobs',
  imports: [Choice, NinePlaces, SizeFields, SliderField, Tick],
  template: `<gable-size-fields />
    @for (knob of shape()?.knobs ?? []; track knob.name) {
      <gable-slider-field
        [label]="knob.label"
        [kind]="knob.unit ?? 'percent'"
        [value]="value(knob)"
        [min]="knob.min"
        [max]="knob.max"
        [step]="knob.whole || knob.unit === 'degree' ? 1 : 0.005"
        (grabbed)="edit.grab()"
        (changed)="turn(knob, $event)"
      />
    }
    @if (edit.taken(); as f) {
      @if (seated()) {
        <gable-choice label="In its box" [options]="seats" [value]="f.seat.fit" (changed)="seat({ fit: $event })" />
        @if (f.seat.fit === 'keep') {
          <gable-nine-places label="Place in the box" [value]="f.seat.anchor" (changed)="seat({ anchor: $event })" />
          <gable-tick label="Repeat" [on]="f.seat.repeat" (changed)="seat({ repeat: !f.seat.repeat })" />
        }
      }
    }`,
  host: { class: 'contents' },
})
export class ShapeKnobs {
  protected readonly edit = inject(Edit);
  protected readonly seats = [
    { value: 'fill', label: 'Fill' },
    { value: 'keep', label: 'Keep ratio' },
  ] as const;
  protected readonly shape = computed(() => {
    const f = this.edit.shown();
    return f && shapeOf(f.shape);
  });
  /** Only a shape with a ratio of its own sits in its box in one way or another. */
  protected readonly seated = computed(() => (this.shape()?.locked ?? null) !== null);

  protected value(knob: Knob): number {
    return this.edit.shown()?.shape.knobs[knob.name] ?? knob.default;
  }

  protected turn(knob: Knob, value: number): void {
    this.edit.slide(knob.label.toLowerCase(), (f) => ({
      ...f,
      shape: { ...f.shape, knobs: { ...f.shape.knobs, [knob.name]: value } },
    }));
  }

  protected seat(change: Partial<Seat>): void {
    this.edit.set('shape in its box', (f) => ({ ...f, seat: { ...f.seat, ...change } }));
  }
}
