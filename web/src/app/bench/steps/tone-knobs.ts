import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { ownTone, type Tone } from '@gable/core';
import { Choice } from '../../ui/choice';
import { SliderField } from '../../ui/slider-field';
import { Swatches } from '../../ui/swatches';
import { Tick } from '../../ui/tick';
import { Edit } from '../edit';
import { givenWords } from '../../work/wording';

type Group = Exclude<keyof Tone, 'given'>;

const REST = {
  light: { brightness: 0, contrast: 0, bright: 0, dark: 0 },
  colour: { amount: 1, warmth: 0, tint: 0, only: null },
  softness: { blur: 0 },
  fading: { opacity: 1, multiply: false },
} satisfies Required<Omit<Tone, 'given'>>;

interface ToneKnob {
  group: Group;
  name: string;
  label: string;
  min: number;
  max: number;
  kind: 'percent' | 'pt';
  ceiling?: number;
}

const KNOBS: readonly ToneKnob[] = [
  { group: 'light', name: 'brightness', label: 'Brightness', min: -1, max: 1, kind: 'percent' },
  { group: 'light', name: 'contrast', label: 'Contrast', min: -1, max: 1, kind: 'percent' },
  { group: 'light', name: 'bright', label: 'Bright parts', min: -1, max: 1, kind: 'percent' },
  { group: 'light', name: 'dark', label: 'Dark parts', min: -1, max: 1, kind: 'percent' },
  { group: 'colour', name: 'amount', label: 'Colourfulness', min: 0, max: 3, kind: 'percent' },
  { group: 'colour', name: 'warmth', label: 'Cool to warm', min: -1, max: 1, kind: 'percent' },
  { group: 'colour', name: 'tint', label: 'Green to pink', min: -1, max: 1, kind: 'percent' },
  { group: 'softness', name: 'blur', label: 'Blur', min: 0, max: 20, kind: 'pt', ceiling: 500 },
  { group: 'fading', name: 'opacity', label: 'Strength', min: 0, max: 1, kind: 'percent' },
];

/** Light, colour, softness and fading of the picture. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-tone-knobs',
  imports: [Choice, SliderField, Swatches, Tick],
  template: `<h2 class="mb-2 text-[15px]">Tone</h2>
    @if (given(); as g) {
      <p class="mb-3 flex items-baseline justify-between gap-3 text-[13px]">
        <span>The file shows it {{ g }}.</span>
        <button type="button" class="word shrink-0" (click)="takeGiven()">Take that off</button>
      </p>
    }
    @for (k of knobs; track k.name) {
      <gable-slider-field
        [label]="k.label"
        [kind]="k.kind"
        [value]="value(k)"
        [min]="k.min"
        [max]="k.max"
        [ceiling]="k.ceiling ?? null"
        [step]="k.kind === 'pt' ? 0.25 : 0.01"
        (grabbed)="edit.grab()"
        (changed)="turn(k, $event)"
      />
    }
    <gable-tick
      class="mb-1"
      label="Paper shows through the light"
      [on]="tone()?.fading?.multiply ?? false"
      (changed)="set('fading', 'multiply', !(tone()?.fading?.multiply ?? false), 'paper through the light')"
    />
    <gable-choice label="Only these colours" [options]="counts" [value]="count()" (changed)="only($event)" />
    @for (c of colours(); track $index) {
      <gable-swatches
        [label]="$index === 0 && colours().length > 1 ? 'For the dark parts' : 'Colour'"
        [value]="c"
        [palette]="edit.palette()"
        (changed)="recolour($index, $event)"
      />
    }`,
  host: { class: 'block' },
})
export class ToneKnobs {
  protected readonly edit = inject(Edit);
  protected readonly knobs = KNOBS;
  protected readonly counts = [
    { value: 'all', label: 'All' },
    { value: 'one', label: 'One' },
    { value: 'two', label: 'Two' },
  ] as const;
  protected readonly tone = computed(() => this.edit.shown()?.tone);
  protected readonly colours = computed(() => this.tone()?.colour?.only ?? []);
  protected readonly count = computed(() => (['all', 'one', 'two'] as const)[this.colours().length]!);

  /** What the file itself does to the colours, in words. */
  protected readonly given = computed(() => {
    const given = this.tone()?.given;
    return given && givenWords(given);
  });

  protected takeGiven(): void {
    this.edit.set('colours of the file taken off', (f) => {
      const next = { ...f };
      const tone = ownTone(f.tone);
      if (tone) next.tone = tone;
      else delete next.tone;
      return next;
    });
  }

  protected value({ group, name }: ToneKnob): number {
    return ({ ...REST[group], ...this.tone()?.[group] } as unknown as Record<string, number>)[name]!;
  }

  protected turn(k: ToneKnob, value: number): void {
    this.edit.slide(k.label.toLowerCase(), (f) => ({ ...f, ...toned(f.tone, k.group, k.name, value) }));
  }

  protected set(group: Group, name: string, value: unknown, entry: string): void {
    this.edit.set(entry, (f) => ({ ...f, ...toned(f.tone, group, name, value) }));
  }

  protected only(count: 'all' | 'one' | 'two'): void {
    const ink = '#22302f';
    const first = this.colours()[0] ?? this.edit.palette()[0] ?? ink;
    const only = count === 'all' ? null : count === 'one' ? [first] : [first, this.colours()[1] ?? '#f4f0e7'];
    this.set('colour', 'only', only, only ? 'only these colours' : 'all colours');
  }

  protected recolour(index: number, colour: string): void {
    this.set(
      'colour',
      'only',
      this.colours().map((c, i) => (i === index ? colour : c)),
      'only these colours',
    );
  }
}

const toned = (tone: Tone | undefined, group: Group, name: string, value: unknown): { tone: Tone } => ({
  tone: { ...tone, [group]: { ...REST[group], ...tone?.[group], [name]: value } },
});
