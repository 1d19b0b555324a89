import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { SHADOWS, type Shadow } from '@gable/core';
import { Choice } from '../../ui/choice';
import { SliderField } from '../../ui/slider-field';
import { Swatches } from '../../ui/swatches';
import { Edit } from '../edit';

/** The shadow of the shape: how far it falls, how soft, how strong. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-shadow-knobs',
  imports: [Choice, SliderField, Swatches],
  template: `<h2 class="mb-2 text-[15px]">Shadow</h2>
    <gable-choice
      class="mb-1.5"
      label="Falls"
      [options]="kinds"
      [value]="shadow()?.kind ?? 'none'"
      (changed)="kind($event)"
    />
    @if (shadow(); as s) {
      @for (k of knobs; track k.name) {
        <gable-slider-field
          [label]="k.label"
          kind="pt"
          [value]="s[k.name]"
          [min]="k.min"
          [max]="k.max"
          [floor]="k.name === 'blur' ? 0 : -200"
          [ceiling]="200"
          [step]="0.5"
          (grabbed)="edit.grab()"
          (changed)="slide(k.label.toLowerCase(), k.name, $event)"
        />
      }
      <gable-slider-field
        label="Strength"
        kind="percent"
        [value]="s.opacity"
        [min]="0"
        [max]="1"
        [step]="0.01"
        (grabbed)="edit.grab()"
        (changed)="slide('strength', 'opacity', $event)"
      />
      <gable-swatches [value]="s.colour" [palette]="edit.palette()" (changed)="colour($event)" />
    }`,
  host: { class: 'block' },
})
export class ShadowKnobs {
  protected readonly edit = inject(Edit);
  protected readonly kinds = [
    { value: 'none', label: 'None' },
    { value: 'outer', label: 'on the page' },
    { value: 'inner', label: 'on the picture' },
  ] as const;
  protected readonly knobs = [
    { name: 'dx', label: 'Across', min: -24, max: 24 },
    { name: 'dy', label: 'Down', min: -24, max: 24 },
    { name: 'blur', label: 'Softness', min: 0, max: 48 },
    { name: 'spread', label: 'Spread', min: -12, max: 12 },
  ] as const;
  protected readonly shadow = computed(() => this.edit.shown()?.shadow ?? null);

  protected kind(kind: Shadow['kind'] | 'none'): void {
    this.edit.set(
      kind === 'none' ? 'no shadow' : `shadow ${kind === 'outer' ? 'on the page' : 'on the picture'}`,
      (f) => ({
        ...f,
        shadow: kind === 'none' ? null : { ...(f.shadow ?? SHADOWS['soft']!), kind },
      }),
    );
  }

  protected slide(label: string, name: 'dx' | 'dy' | 'blur' | 'spread' | 'opacity', value: number): void {
    this.edit.slide(`shadow ${label}`, (f) => (f.shadow ? { ...f, shadow: { ...f.shadow, [name]: value } } : f));
  }

  protected colour(colour: string): void {
    this.edit.set('shadow colour', (f) => (f.shadow ? { ...f, shadow: { ...f.shadow, colour } } : f));
  }
}
