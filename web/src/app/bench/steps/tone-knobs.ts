import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { ownTone, type Tone } from '@gable/core';
import { Choice } from '../../ui/choice';
import { ColourField } from '../../ui/colour-field';
import { More } from '../../ui/more';
import { SliderField } from '../../ui/slider-field';
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
  { group: 'light', name: 'bright', label: 'Highlights', min: -1, max: 1, kind: 'percent' },
  { group: 'light', name: 'dark', label: 'Shadows', min: -1, max: 1, kind: 'percent' },
  { group: 'colour', name: 'amount', label: 'Saturation', min: 0, max: 3, kind: 'percent' },
  { group: 'colour', name: 'warmth', label: 'Warmth', min: -1, max: 1, kind: 'percent' },
  { group: 'colour', name: 'tint', label: 'Tint', min: -1, max: 1, kind: 'percent' },
  { group: 'softness', name: 'blur', label: 'Blur', min: 0, max: 20, kind: 'pt', ceiling: 500 },
  { group: 'fading', name: 'opacity', label: 'Opacity', min: 0, max: 1, kind: 'percent' },
];

/** Light, colour, softness and fading of the picture. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-tone-knobs',
  imports: [Choice, ColourField, More, SliderField, Tick],
  template: `@for (k of knobs; track k.name) {
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
      label="Blend with the page"
      [on]="tone()?.fading?.multiply ?? false"
      (changed)="set('fading', 'multiply', !(tone()?.fading?.multiply ?? false), 'blended with the page')"
    />
    <gable-choice label="Recolour" [options]="counts" [value]="count()" (changed)="only($event)" />
    @for (c of colours(); track $index) {
      <gable-colour-field
        [compact]="true"
        [label]="colours().length === 1 ? 'Colour' : $index === 0 ? 'Dark parts' : 'Light parts'"
        [value]="c"
        [picture]="edit.palette()"
        [document]="edit.colours()"
        (grabbed)="edit.grab()"
        (changed)="recolour($index, $event)"
      />
    }
    @if (given(); as g) {
      <gable-more>
        <p class="text-[13px]">The file shows this picture {{ g }}.</p>
        <button type="button" class="word mt-1 text-[13px]" (click)="takeGiven()">Remove the file’s recolouring</button>
      </gable-more>
    }`,
  host: { class: 'contents' },
})
export class ToneKnobs {
  protected readonly edit = inject(Edit);
  protected readonly knobs = KNOBS;
  protected readonly counts = [
    { value: 'all', label: 'None' },
    { value: 'one', label: 'One' },
    { value: 'two', label: 'Two' },
  ] as const;
  protected readonly tone = computed(() => this.edit.shown()?.tone);
  private readonly recolouring = computed(() => this.tone()?.colour?.only ?? []);
  protected readonly count = computed((): 'all' | 'one' | 'two' => {
    const [first, second] = this.recolouring();
    return first === undefined ? 'all' : isOne(first, second) ? 'one' : 'two';
  });
  protected readonly colours = computed(() => this.recolouring().slice(0, this.count() === 'two' ? 2 : 1));

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
    const first = this.colours()[0] ?? this.edit.palette()[0] ?? '#22302f';
    const only = count === 'all' ? null : count === 'one' ? this.one(first) : [first, this.colours()[1] ?? '#f4f0e7'];
    this.set('colour', 'only', only, only ? 'recoloured' : 'own colours');
  }

  protected recolour(index: number, colour: string): void {
    const only = this.count() === 'one' ? this.one(colour) : this.colours().map((c, i) => (i === index ? colour : c));
    this.edit.slide('recoloured', (f) => ({ ...f, ...toned(f.tone, 'colour', 'only', only) }));
  }

  /** A picture with clear parts becomes that colour all over; one without would be a plain box, and runs to white. */
  private one(colour: string): string[] {
    return [colour, this.edit.seen()?.clear ? colour : '#ffffff'];
  }
}

const isOne = (dark: string, light: string | undefined): boolean =>
  light === undefined || light === dark || light === '#ffffff';

const toned = (tone: Tone | undefined, group: Group, name: string, value: unknown): { tone: Tone } => ({
  tone: { ...tone, [group]: { ...REST[group], ...tone?.[group], [name]: value } },
});
