import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { solidOutline, type Outline, type Paint } from '@gable/core';
import { Choice } from '../../ui/choice';
import { GradientEditor } from '../../ui/gradient';
import { SliderField } from '../../ui/slider-field';
import { Swatches } from '../../ui/swatches';
import { Edit } from '../edit';

const options = <T extends string>(labels: Readonly<Record<T, string>>): { value: T; label: string }[] =>
  (Object.keys(labels) as T[]).map((value) => ({ value, label: labels[value] }));

const LINE_WORDS: Readonly<Record<NonNullable<Outline['lines']>, string>> = {
  single: 'One line',
  double: 'Double',
  'thick-thin': 'Thick, then thin',
  'thin-thick': 'Thin, then thick',
  triple: 'Triple',
};
const DASH_WORDS: Readonly<Record<Outline['dash'], string>> = {
  solid: 'Unbroken',
  dot: 'Dots',
  dash: 'Dashes',
  'long-dash': 'Long dashes',
  'dash-dot': 'Dash, dot',
  'long-dash-dot': 'Long dash, dot',
  'long-dash-dot-dot': 'Long dash, two dots',
};

/** The line round the shape. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-outline-knobs',
  imports: [Choice, GradientEditor, SliderField, Swatches],
  template: `<h2 class="mb-2 text-[15px]">Outline</h2>
    <gable-slider-field
      label="Weight"
      kind="pt"
      [value]="outline()?.weight ?? 0"
      [min]="0"
      [max]="24"
      [ceiling]="200"
      [step]="0.5"
      (grabbed)="edit.grab()"
      (changed)="weigh($event)"
    />
    <gable-choice
      class="my-1"
      label="Paint"
      [options]="kinds"
      [value]="outline()?.paint?.kind ?? 'solid'"
      (changed)="kind($event)"
    />
    @if (run(); as paint) {
      <gable-gradient [paint]="paint" [palette]="edit.palette()" (grabbed)="edit.grab()" (changed)="restop($event)" />
      @if (paint.kind === 'linear') {
        <gable-slider-field
          label="Direction"
          kind="degree"
          [value]="paint.angle"
          [min]="0"
          [max]="360"
          [step]="1"
          (grabbed)="edit.grab()"
          (changed)="angle($event)"
        />
      }
    } @else {
      <gable-swatches [value]="solid()" [palette]="edit.palette()" (changed)="colour($event)" />
    }
    @if (outline(); as o) {
      <gable-choice class="mt-2" label="Lies" [options]="sides" [value]="o.side" (changed)="side($event)" />
      @if (o.side !== 'on') {
        <gable-slider-field
          class="mt-1"
          label="Gap"
          kind="pt"
          [value]="o.gap ?? 0"
          [min]="0"
          [max]="24"
          [ceiling]="200"
          [step]="0.5"
          (grabbed)="edit.grab()"
          (changed)="slide('gap', { gap: $event })"
        />
      }
      <label class="mt-1.5 flex items-center justify-between gap-3"
        ><span class="text-soft">Lines</span>
        <select class="picker" (change)="set('lines', { lines: $any($event.target).value })">
          @for (l of lines; track l.value) {
            <option [value]="l.value" [selected]="l.value === (o.lines ?? 'single')">{{ l.label }}</option>
          }
        </select></label
      >
      <label class="mt-1.5 flex items-center justify-between gap-3"
        ><span class="text-soft">Broken</span>
        <select class="picker" (change)="set('dashes', { dash: $any($event.target).value })">
          @for (d of dashes; track d.value) {
            <option [value]="d.value" [selected]="d.value === o.dash">{{ d.label }}</option>
          }
        </select></label
      >
      <gable-choice
        class="mt-1.5"
        label="Corners"
        [options]="joins"
        [value]="o.join"
        (changed)="set('corners', { join: $event })"
      />
      @if (o.dash !== 'solid') {
        <gable-choice
          class="mt-1.5"
          label="Ends"
          [options]="caps"
          [value]="o.cap"
          (changed)="set('ends', { cap: $event })"
        />
      }
      <gable-slider-field
        class="mt-1"
        label="Strength"
        kind="percent"
        [value]="o.opacity ?? 1"
        [min]="0"
        [max]="1"
        [step]="0.01"
        (grabbed)="edit.grab()"
        (changed)="slide('outline strength', { opacity: $event })"
      />
    }`,
  host: { class: 'block' },
})
export class OutlineKnobs {
  protected readonly edit = inject(Edit);
  protected readonly kinds = options({ solid: 'Plain', linear: 'Straight run', radial: 'Round run' });
  protected readonly sides = options({ inside: 'inside', on: 'on the edge', outside: 'outside' });
  protected readonly lines = options(LINE_WORDS);
  protected readonly dashes = options(DASH_WORDS);
  protected readonly joins = options({ mitre: 'Sharp', round: 'Round', bevel: 'Cut' });
  protected readonly caps = options({ butt: 'Blunt', round: 'Round', square: 'Square' });

  protected readonly outline = computed(() => this.edit.shown()?.outline ?? null);
  protected readonly solid = computed(() => {
    const paint = this.outline()?.paint;
    return paint?.kind === 'solid' ? paint.colour : null;
  });
  protected readonly run = computed(() => {
    const paint = this.outline()?.paint;
    return paint && paint.kind !== 'solid' ? paint : null;
  });

  protected weigh(value: number): void {
    this.edit.slide('outline weight', (f) => ({
      ...f,
      outline: value <= 0 ? null : { ...(f.outline ?? solidOutline(value, '#ffffff')), weight: value },
    }));
  }

  protected slide(name: string, change: Partial<Outline>): void {
    this.edit.slide(name, (f) => (f.outline ? { ...f, outline: { ...f.outline, ...change } } : f));
  }

  protected set(name: string, change: Partial<Outline>): void {
    this.edit.set(`outline ${name}`, (f) => (f.outline ? { ...f, outline: { ...f.outline, ...change } } : f));
  }

  protected side(side: Outline['side']): void {
    this.edit.set(`outline ${side === 'on' ? 'on the edge' : side}`, (f) => {
      if (!f.outline) return f;
      const next = { ...f.outline, side };
      if (side === 'on') delete next.gap;
      return { ...f, outline: next };
    });
  }

  protected colour(colour: string): void {
    this.edit.set('outline colour', (f) => {
      const opacity = f.outline?.paint.kind === 'solid' ? f.outline.paint.opacity : 1;
      return {
        ...f,
        outline: { ...(f.outline ?? solidOutline(4, colour)), paint: { kind: 'solid', colour, opacity } },
      };
    });
  }

  protected kind(kind: Paint['kind']): void {
    this.edit.set('outline paint', (f) => {
      const outline = f.outline ?? solidOutline(4, '#b5482a');
      const { paint } = outline;
      const first = paint.kind === 'solid' ? paint.colour : paint.stops[0]!.colour;
      const second = this.edit.palette().find((c) => c !== first) ?? (first === '#22302f' ? '#c28a2c' : '#22302f');
      const stops =
        paint.kind === 'solid'
          ? [
              { at: 0, colour: first, opacity: 1 },
              { at: 1, colour: second, opacity: 1 },
            ]
          : paint.stops;
      const next: Paint =
        kind === 'solid'
          ? { kind, colour: first, opacity: 1 }
          : kind === 'linear'
            ? { kind, angle: 90, stops }
            : { kind, stops };
      return { ...f, outline: { ...outline, paint: next } };
    });
  }

  protected restop(stops: Exclude<Paint, { kind: 'solid' }>['stops']): void {
    const paint = this.run();
    if (paint) this.slide('gradient', { paint: { ...paint, stops } });
  }

  protected angle(angle: number): void {
    const paint = this.run();
    if (paint?.kind === 'linear') this.slide('gradient direction', { paint: { ...paint, angle } });
  }
}
