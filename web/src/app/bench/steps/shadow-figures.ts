import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import type { Shadow } from '@gable/core';
import { SliderField } from '../../ui/slider-field';
import { Edit } from '../edit';

/** A figure of a shadow that was set. */
export interface ShadowFigure {
  name: 'dx' | 'dy' | 'blur' | 'opacity';
  label: string;
  value: number;
}

/** How far a shadow falls, how soft it is and how strong: of a frame, or of its subject. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-shadow-figures',
  imports: [SliderField],
  template: `@for (k of lengths; track k.name) {
      <gable-slider-field
        [label]="k.label"
        kind="pt"
        [value]="shadow()[k.name]"
        [min]="k.min"
        [max]="k.max"
        [floor]="k.name === 'blur' ? 0 : -200"
        [ceiling]="200"
        [step]="0.5"
        (grabbed)="edit.grab()"
        (changed)="changed.emit({ name: k.name, label: k.label, value: $event })"
      />
    }
    <gable-slider-field
      label="Opacity"
      kind="percent"
      [value]="shadow().opacity"
      [min]="0"
      [max]="1"
      [step]="0.01"
      (grabbed)="edit.grab()"
      (changed)="changed.emit({ name: 'opacity', label: 'Opacity', value: $event })"
    />`,
  host: { class: 'contents' },
})
export class ShadowFigures {
  protected readonly edit = inject(Edit);
  readonly shadow = input.required<Shadow>();
  readonly changed = output<ShadowFigure>();
  protected readonly lengths = [
    { name: 'dx', label: 'To the right', min: -24, max: 24 },
    { name: 'dy', label: 'Down', min: -24, max: 24 },
    { name: 'blur', label: 'Blur', min: 0, max: 48 },
  ] as const;
}
