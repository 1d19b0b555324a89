import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { SECTION_EDGES, type Frame, type Section, type SectionEdge } from '@gable/core';
import { Edit } from '../bench/edit';
import { ColourField } from '../ui/colour-field';
import { FigureField } from '../ui/figure-field';
import { Pick } from '../ui/pick';
import { Tick } from '../ui/tick';
import { AroundEdit } from './around-edit';

type Side = 'above' | 'below';
type Shape = SectionEdge['shape'] | 'none';

/** How high an edge is at first, in points (common practice: a twentieth of a screen). */
const HIGH = 36;

/** The section that the chosen picture is the ground of. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-section-knobs',
  imports: [ColourField, FigureField, Pick, Tick],
  template: `@if (section(); as s) {
    <gable-figure-field
      label="Least height"
      kind="length"
      axis="down"
      [value]="height()"
      [min]="1"
      [max]="2000"
      (changed)="high($event)"
    />
    <gable-pick
      label="Window height"
      [options]="shares"
      [value]="shareOf(s)"
      (changed)="set('height of the section', { share: +$event })"
    />
    <gable-tick
      label="Edge to edge"
      title="As wide as the window. Otherwise it is as wide as its column."
      [on]="s.wide"
      (changed)="set('width of the section', { wide: !s.wide })"
    />
    @for (side of sides; track side.name) {
      <gable-pick
        [label]="side.label"
        [options]="edges"
        [value]="s[side.name]?.shape ?? 'none'"
        (changed)="edge(side.name, $event)"
      />
    }
    @if (s.above ?? s.below; as e) {
      <gable-figure-field
        label="Edge height"
        kind="length"
        axis="down"
        [value]="e.size"
        [min]="1"
        [max]="300"
        (changed)="both({ size: $event })"
      />
      <gable-colour-field
        label="Edge colour"
        [compact]="true"
        [value]="e.colour"
        [picture]="edit.palette()"
        [document]="edit.colours()"
        (grabbed)="edit.grab()"
        (changed)="both({ colour: $event })"
      />
      <gable-tick label="Edge mirrored" [on]="!!e.mirrored" (changed)="mirror(!e.mirrored)" />
    }
  }`,
  host: { class: 'contents' },
})
export class SectionKnobs {
  protected readonly edit = inject(Edit);
  private readonly around = inject(AroundEdit);
  protected readonly section = computed(() => this.edit.shown()?.section ?? null);
  protected readonly sides = [
    { name: 'above', label: 'Top edge' },
    { name: 'below', label: 'Bottom edge' },
  ] as const;
  protected readonly edges: readonly { value: Shape; label: string }[] = [
    { value: 'none', label: 'Straight' },
    ...SECTION_EDGES.map(({ name, label }) => ({ value: name, label })),
  ];
  protected readonly shares = [
    { value: '0', label: 'Any' },
    { value: '0.5', label: 'At least half' },
    { value: '0.8', label: 'At least 80 %' },
    { value: '1', label: 'All of it' },
  ];

  /** The nearest of those that are offered. */
  protected shareOf({ share }: Section): string {
    const far = (value: string): number => Math.abs(Number(value) - share);
    return this.shares.reduce((a, b) => (far(b.value) < far(a.value) ? b : a)).value;
  }

  protected readonly height = computed(() => this.edit.shown()?.box.height ?? 0);
  protected high(height: number): void {
    this.edit.set('height of the section', (f) => ({ ...f, box: { ...f.box, height } }));
  }

  protected set(name: string, part: Partial<Section>): void {
    this.edit.set(name, withSection(part));
  }

  protected edge(side: Side, shape: Shape): void {
    const s = this.section();
    const like = s?.above ?? s?.below;
    this.edit.set('edge of the section', (f) => {
      const { [side]: old, ...rest } = f.section!;
      void old;
      const colour = this.around.context()?.ground ?? '#ffffff';
      const made = { ...{ size: HIGH, colour }, ...like };
      return { ...f, section: shape === 'none' ? rest : { ...rest, [side]: { ...made, shape } } };
    });
  }

  protected both(part: Partial<SectionEdge>): void {
    this.edit.slide('edge of the section', (f) => onEdges(f, (e) => ({ ...e, ...part })));
  }

  protected mirror(on: boolean): void {
    this.edit.set('edge of the section', (f) =>
      onEdges(f, ({ mirrored, ...e }) => {
        void mirrored;
        return on ? { ...e, mirrored: true } : e;
      }),
    );
  }
}

const withSection =
  (part: Partial<Section>) =>
  (f: Frame): Frame =>
    f.section ? { ...f, section: { ...f.section, ...part } } : f;

function onEdges(f: Frame, change: (edge: SectionEdge) => SectionEdge): Frame {
  const { above, below } = f.section ?? {};
  return f.section
    ? {
        ...f,
        section: { ...f.section, ...(above && { above: change(above) }), ...(below && { below: change(below) }) },
      }
    : f;
}
