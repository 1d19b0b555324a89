import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { containZoom, pictureOffset, pictureRect, tilingOf, type Frame, type Placement } from '@gable/core';
import { Choice } from '../../ui/choice';
import { ColourField } from '../../ui/colour-field';
import { More } from '../../ui/more';
import { SliderField } from '../../ui/slider-field';
import { Tick } from '../../ui/tick';
import { Edit } from '../edit';
import { TILE_ZOOM } from '../tries/placing-tries';
import { signedTurn } from '../../work/wording';
import { ByNumber } from './by-number';
import { OverstepKnobs } from './overstep-knobs';

/** The picture behind its shape. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-position-knobs',
  imports: [ByNumber, Choice, ColourField, More, OverstepKnobs, SliderField, Tick],
  template: `@if (edit.view(); as v) {
    <gable-choice label="Fit" [options]="fits" [value]="v.fit" (changed)="fit($event)" />
    @if (v.fit === 'tile') {
      @if (tiling(); as t) {
        <gable-slider-field
          label="Tile size"
          kind="percent"
          [value]="t.scale"
          [min]="0.02"
          [max]="1"
          [ceiling]="4"
          (grabbed)="edit.grab()"
          (changed)="tile($event)"
        />
      }
    } @else {
      <gable-slider-field
        label="Zoom"
        kind="times"
        [value]="v.zoom"
        [min]="v.fit === 'cover' ? 1 : 0.1"
        [max]="16"
        [ceiling]="40"
        [log]="true"
        (grabbed)="edit.grab()"
        (changed)="slide('zoom', { zoom: $event })"
      />
    }
    @if (offset(); as o) {
      <gable-slider-field
        label="Across"
        hint="How far the middle of the picture is to the right of the middle of the shape"
        kind="length"
        [value]="o.x"
        [min]="-reach().x"
        [max]="reach().x"
        [floor]="-far"
        [ceiling]="far"
        [step]="0.25"
        (grabbed)="edit.grab()"
        (changed)="move('x', $event)"
      />
      <gable-slider-field
        label="Down"
        hint="How far the middle of the picture is below the middle of the shape"
        kind="length"
        axis="down"
        [value]="o.y"
        [min]="-reach().y"
        [max]="reach().y"
        [floor]="-far"
        [ceiling]="far"
        [step]="0.25"
        (grabbed)="edit.grab()"
        (changed)="move('y', $event)"
      />
    }
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
      (changed)="slide('picture turned', { turn: $event })"
    />
    <gable-tick label="Mirror" [on]="v.mirror" (changed)="set('mirrored', { mirror: !v.mirror })" />
    <gable-colour-field
      label="Background"
      [compact]="true"
      [optional]="true"
      [value]="backing()"
      [picture]="edit.palette()"
      [document]="edit.colours()"
      (grabbed)="edit.grab()"
      (cleared)="back(null)"
      (changed)="back($event)"
    />
    <gable-by-number />
    @if (edit.subject() && v.fit !== 'tile') {
      <gable-overstep-knobs />
    }
    @if (v.fit === 'tile') {
      <gable-more>
        <gable-choice
          label="Mirrored tiles"
          [options]="mirrors"
          [value]="v.mirrored ?? 'none'"
          (changed)="set('mirrored tiles', { mirrored: $event })"
        />
      </gable-more>
    }
  }`,
  host: { class: 'contents' },
})
export class PositionKnobs {
  protected readonly edit = inject(Edit);
  protected readonly fits = [
    { value: 'cover', label: 'Cover' },
    { value: 'contain', label: 'Contain' },
    { value: 'tile', label: 'Tile' },
    { value: 'stretch', label: 'Stretch' },
  ] as const;
  protected readonly mirrors = [
    { value: 'none', label: 'None' },
    { value: 'across', label: 'Across' },
    { value: 'down', label: 'Down' },
    { value: 'both', label: 'Both' },
  ] as const;

  protected readonly turn = computed(() => signedTurn(this.edit.view()?.turn ?? 0));
  protected readonly offset = computed(() => {
    const f = this.edit.shown();
    return f && f.placement.fit !== 'stretch' ? pictureOffset(f, this.edit.size()) : null;
  });
  /** Farther than any page. */
  protected readonly far = 20_000;
  /** How far the sliders go: as far as the picture reaches, or half of the box. */
  protected readonly reach = computed(() => {
    const f = this.edit.shown();
    if (!f) return { x: 1, y: 1 };
    const r = pictureRect(f, this.edit.size());
    const { width, height } = f.box;
    const most = (picture: number, box: number): number =>
      f.placement.fit === 'cover' ? Math.max(0.5, (picture - box) / 2) : Math.max(picture, box) / 2;
    return { x: most(r.width, width), y: most(r.height, height) };
  });
  protected readonly tiling = computed(() => {
    const f = this.edit.shown();
    return f?.placement.fit === 'tile' ? tilingOf(f.placement, f.box, this.edit.size()) : null;
  });
  protected readonly backing = computed(() => {
    const paint = this.edit.shown()?.backing;
    return !paint ? null : paint.kind === 'solid' ? paint.colour : (paint.stops[0]?.colour ?? null);
  });

  protected slide(name: string, change: Partial<Placement>): void {
    const view = this.edit.view();
    if (view) this.edit.slide(name, (f) => ({ ...f, placement: { ...f.placement, aim: view.aim, ...change } }));
  }

  protected set(name: string, change: Partial<Placement>): void {
    this.edit.set(name, (f) => ({ ...f, placement: { ...f.placement, ...change } }));
  }

  protected fit(fit: Placement['fit']): void {
    this.edit.set({ cover: 'cover', contain: 'contain', tile: 'tiled', stretch: 'stretched' }[fit], (f) => {
      const plain = { ...f.placement, fit, distortion: 1 };
      // Contain: as large as the box allows.
      const zoom = fit === 'tile' ? TILE_ZOOM : fit === 'contain' ? containZoom(plain, f.box, this.edit.size()) : 1;
      const aim = fit === 'contain' ? { u: 0.5, v: 0.5 } : f.placement.aim;
      return { ...f, placement: { ...plain, zoom, aim } };
    });
  }

  /** Tiles grow and shrink about the middle of the box; how they are turned and mirrored stays. */
  protected tile(scale: number): void {
    const t = this.tiling();
    if (!t) return;
    this.edit.slide('tile size', (f) => ({
      ...f,
      placement: { ...f.placement, zoom: (f.placement.zoom * scale) / t.scale },
    }));
  }

  protected move(axis: 'x' | 'y', value: number): void {
    this.edit.slide('move', this.edit.shifted(axis, value));
  }

  protected back(colour: string | null): void {
    const change = (f: Frame): Frame => ({
      ...f,
      backing: colour ? { kind: 'solid', colour, opacity: 1 } : null,
    });
    if (colour) this.edit.slide('background', change);
    else this.edit.set('no background', change);
  }
}
