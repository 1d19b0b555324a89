import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { SHADOWS, type Shadow } from '@gable/core';
import { Choice } from '../../ui/choice';
import { ColourField } from '../../ui/colour-field';
import { More } from '../../ui/more';
import { SliderField } from '../../ui/slider-field';
import { Edit } from '../edit';
import { ShadowFigures } from './shadow-figures';

/** The shadow of the shape: how far it falls, how soft, how strong. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-shadow-knobs',
  imports: [Choice, ColourField, More, ShadowFigures, SliderField],
  template: `<gable-choice label="Kind" [options]="kinds" [value]="shadow()?.kind ?? 'none'" (changed)="kind($event)" />
    @if (shadow(); as s) {
      <gable-shadow-figures [shadow]="s" (changed)="slide($event.label.toLowerCase(), $event.name, $event.value)" />
      <gable-colour-field
        label="Colour"
        [value]="s.colour"
        [picture]="edit.palette()"
        [document]="edit.colours()"
        (grabbed)="edit.grab()"
        (changed)="colour($event)"
      />
      <gable-more>
        <gable-slider-field
          label="Spread"
          kind="pt"
          [value]="s.spread"
          [min]="-12"
          [max]="12"
          [floor]="-200"
          [ceiling]="200"
          [step]="0.5"
          (grabbed)="edit.grab()"
          (changed)="slide('spread', 'spread', $event)"
        />
      </gable-more>
    }`,
  host: { class: 'contents' },
})
export class ShadowKnobs {
  protected readonly edit = inject(Edit);
  protected readonly kinds = [
    { value: 'none', label: 'None' },
    { value: 'outer', label: 'Drop' },
    { value: 'inner', label: 'Inner' },
  ] as const;
  protected readonly shadow = computed(() => this.edit.shown()?.shadow ?? null);

  protected kind(kind: Shadow['kind'] | 'none'): void {
    this.edit.set(kind === 'none' ? 'no shadow' : kind === 'outer' ? 'drop shadow' : 'inner shadow', (f) => ({
      ...f,
      shadow: kind === 'none' ? null : { ...(f.shadow ?? SHADOWS['soft']!), kind },
    }));
  }

  protected slide(label: string, name: 'dx' | 'dy' | 'blur' | 'spread' | 'opacity', value: number): void {
    this.edit.slide(`shadow ${label}`, (f) => (f.shadow ? { ...f, shadow: { ...f.shadow, [name]: value } } : f));
  }

  protected colour(colour: string): void {
    this.edit.slide('shadow colour', (f) => (f.shadow ? { ...f, shadow: { ...f.shadow, colour } } : f));
  }
}
