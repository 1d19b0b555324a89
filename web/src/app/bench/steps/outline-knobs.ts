import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { outlineOpacity, solidOutline, withOutlineOpacity, type Outline, type Paint } from '@gable/core';
import { Choice } from '../../ui/choice';
import { ColourField } from '../../ui/colour-field';
import { GradientEditor } from '../../ui/gradient';
import { More } from '../../ui/more';
import { Pick } from '../../ui/pick';
import { SliderField } from '../../ui/slider-field';
import { Edit } from '../edit';

const options = <T extends string>(labels: Readonly<Partial<Record<T, string>>>): { value: T; label: string }[] =>
  (Object.keys(labels) as T[]).map((value) => ({ value, label: labels[value]! }));

/** The line round the shape. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-outline-knobs',
  imports: [Choice, ColourField, GradientEditor, More, Pick, SliderField],
  template: `<gable-slider-field
      label="Line width"
      kind="pt"
      [value]="outline()?.weight ?? 0"
      [min]="0"
      [max]="24"
      [ceiling]="200"
      [step]="0.5"
      (grabbed)="edit.grab()"
      (changed)="weigh($event)"
    />
    @if (outline(); as o) {
      <gable-choice label="Align" [options]="sides" [value]="o.side" (changed)="side($event)" />
      @if (o.side !== 'on') {
        <gable-slider-field
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
      <gable-slider-field
        label="Opacity"
        kind="percent"
        [value]="opacity()"
        [min]="0"
        [max]="1"
        [step]="0.01"
        (grabbed)="edit.grab()"
        (changed)="fade($event)"
      />
      <gable-pick
        label="Line style"
        [options]="lines"
        [value]="o.lines ?? 'single'"
        (changed)="set('line style', { lines: $event })"
      />
      <gable-pick label="Dashes" [options]="dashes" [value]="o.dash" (changed)="set('dashes', { dash: $event })" />
      <gable-more>
        <gable-choice
          class="knob"
          label="Corners"
          [options]="joins"
          [value]="o.join"
          (changed)="set('corners', { join: $event })"
        />
        <gable-choice
          class="knob"
          label="Line ends"
          [options]="caps"
          [value]="o.cap"
          (changed)="set('ends', { cap: $event })"
        />
      </gable-more>
    }
    <gable-choice
      label="Fill"
      class="[grid-column-start:2]"
      [options]="kinds()"
      [value]="outline()?.paint?.kind ?? 'solid'"
      (changed)="kind($event)"
    />
    @if (gradient(); as paint) {
      <gable-gradient
        [paint]="paint"
        [picture]="edit.palette()"
        [document]="edit.colours()"
        (grabbed)="edit.grab()"
        (changed)="restop($event)"
      />
      @if (paint.kind === 'linear') {
        <gable-slider-field
          label="Angle"
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
      <gable-colour-field
        label="Colour"
        [value]="solid()"
        [picture]="edit.palette()"
        [document]="edit.colours()"
        (grabbed)="edit.grab()"
        (changed)="colour($event)"
      />
    }`,
  host: { class: 'contents' },
})
export class OutlineKnobs {
  protected readonly edit = inject(Edit);
  /** A gradient to four sides comes from files; it is named where there is one. */
  protected readonly kinds = computed(() =>
    options({
      solid: 'Solid',
      linear: 'Linear',
      radial: 'Radial',
      ...(this.outline()?.paint.kind === 'rectangular' && { rectangular: 'Sides' }),
    }),
  );
  protected readonly sides = options({ inside: 'Inside', on: 'Centre', outside: 'Outside' });
  protected readonly lines = options({
    single: 'Single',
    double: 'Double',
    'thick-thin': 'Thick and thin',
    'thin-thick': 'Thin and thick',
    triple: 'Triple',
  });
  protected readonly dashes = options({
    solid: 'None',
    dot: 'Dots',
    dash: 'Dashes',
    'long-dash': 'Long dashes',
    'dash-dot': 'Dash and dot',
    'long-dash-dot': 'Long dash and dot',
    'long-dash-dot-dot': 'Long dash and two dots',
  });
  protected readonly joins = options({ mitre: 'Sharp', round: 'Round', bevel: 'Bevelled' });
  protected readonly caps = options({ butt: 'Flat', round: 'Round', square: 'Square' });

  protected readonly outline = computed(() => this.edit.shown()?.outline ?? null);
  protected readonly opacity = computed(() => {
    const outline = this.outline();
    return outline ? outlineOpacity(outline) : 1;
  });
  protected readonly solid = computed(() => {
    const paint = this.outline()?.paint;
    return paint?.kind === 'solid' ? paint.colour : null;
  });
  protected readonly gradient = computed(() => {
    const paint = this.outline()?.paint;
    return paint && paint.kind !== 'solid' ? paint : null;
  });

  protected weigh(value: number): void {
    this.edit.slide('outline width', (f) => ({
      ...f,
      outline: value <= 0 ? null : { ...(f.outline ?? solidOutline(value, '#ffffff')), weight: value },
    }));
  }

  protected slide(name: string, change: Partial<Outline>): void {
    this.edit.slide(`outline ${name}`, (f) => (f.outline ? { ...f, outline: { ...f.outline, ...change } } : f));
  }

  protected set(name: string, change: Partial<Outline>): void {
    this.edit.set(`outline ${name}`, (f) => (f.outline ? { ...f, outline: { ...f.outline, ...change } } : f));
  }

  protected fade(opacity: number): void {
    this.edit.slide('outline opacity', (f) =>
      f.outline ? { ...f, outline: withOutlineOpacity(f.outline, opacity) } : f,
    );
  }

  protected side(side: Outline['side']): void {
    this.edit.set(`outline ${side === 'on' ? 'centred' : side}`, (f) => {
      if (!f.outline) return f;
      const next = { ...f.outline, side };
      if (side === 'on') delete next.gap;
      return { ...f, outline: next };
    });
  }

  protected colour(colour: string): void {
    this.edit.slide('outline colour', (f) => {
      const opacity = f.outline?.paint.kind === 'solid' ? f.outline.paint.opacity : 1;
      return {
        ...f,
        outline: { ...(f.outline ?? solidOutline(4, colour)), paint: { kind: 'solid', colour, opacity } },
      };
    });
  }

  protected kind(kind: Paint['kind']): void {
    this.edit.set(kind === 'solid' ? 'solid outline' : `${kind} gradient`, (f) => {
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
    const paint = this.gradient();
    if (paint) this.slide('gradient', { paint: { ...paint, stops } });
  }

  protected angle(angle: number): void {
    const paint = this.gradient();
    if (paint?.kind === 'linear') this.slide('gradient angle', { paint: { ...paint, angle } });
  }
}
