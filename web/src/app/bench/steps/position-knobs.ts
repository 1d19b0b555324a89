import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import {
  containZoom,
  pictureOffset,
  placementOfTiling,
  tilingOf,
  withPictureOffset,
  type Placement,
} from '@gable/core';
import { Choice } from '../../ui/choice';
import { FigureField } from '../../ui/figure-field';
import { SliderField } from '../../ui/slider-field';
import { Swatches } from '../../ui/swatches';
import { Tick } from '../../ui/tick';
import { Edit } from '../edit';
import { TILE_ZOOM } from '../tries/placing-tries';
import { signedTurn } from '../../work/wording';

/** The picture behind its shape. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-position-knobs',
  imports: [Choice, FigureField, SliderField, Swatches, Tick],
  template: `<h2 class="mb-2 text-[15px]">Picture in the shape</h2>
    @if (edit.view(); as v) {
      <gable-choice
        class="mb-1.5"
        label="Fit"
        [quiet]="true"
        [options]="fits"
        [value]="v.fit"
        (changed)="fit($event)"
      />
      @if (v.fit === 'tile') {
        @if (tiling(); as t) {
          <gable-slider-field
            label="Size of a tile"
            kind="percent"
            [value]="t.scale"
            [min]="0.02"
            [max]="1"
            [ceiling]="4"
            (grabbed)="edit.grab()"
            (changed)="tile($event)"
          />
        }
        <gable-choice
          class="mb-1.5"
          label="Mirrored rows"
          [options]="mirrors"
          [value]="v.mirrored ?? 'none'"
          (changed)="set('mirrored rows', { mirrored: $event })"
        />
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
      <gable-slider-field
        label="Aim across"
        kind="percent"
        [value]="v.aim.u"
        [min]="0"
        [max]="1"
        (grabbed)="edit.grab()"
        (changed)="slide('aim', { aim: { u: $event, v: v.aim.v } })"
      />
      <gable-slider-field
        label="Aim down"
        kind="percent"
        [value]="v.aim.v"
        [min]="0"
        [max]="1"
        (grabbed)="edit.grab()"
        (changed)="slide('aim', { aim: { u: v.aim.u, v: $event } })"
      />
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
      @if (offset(); as o) {
        <gable-figure-field
          class="mb-1.5"
          label="Off the middle, across"
          kind="mm"
          [value]="o.x"
          (changed)="move('x', $event)"
        />
        <gable-figure-field
          class="mb-1.5"
          label="Off the middle, down"
          kind="mm"
          axis="down"
          [value]="o.y"
          (changed)="move('y', $event)"
        />
      }
      <gable-tick class="mb-1" label="Mirrored" [on]="v.mirror" (changed)="set('mirrored', { mirror: !v.mirror })" />
      <gable-tick
        class="mb-1"
        label="Paint behind it"
        [on]="backing() !== null"
        (changed)="back(backing() === null ? '#f4f0e7' : null)"
      />
      @if (backing(); as colour) {
        <gable-swatches label="Paint behind it" [value]="colour" [palette]="edit.palette()" (changed)="back($event)" />
      }
    }`,
  host: { class: 'block' },
})
export class PositionKnobs {
  protected readonly edit = inject(Edit);
  protected readonly fits = [
    { value: 'cover', label: 'Fill' },
    { value: 'contain', label: 'All of it' },
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
    return f && f.placement.fit !== 'tile' ? pictureOffset(f, this.edit.size()) : null;
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
    this.edit.set({ cover: 'filled', contain: 'all of it', tile: 'tiled', stretch: 'stretched' }[fit], (f) => {
      const plain = { ...f.placement, fit, distortion: 1 };
      // All of it: as large as the box allows.
      const zoom = fit === 'tile' ? TILE_ZOOM : fit === 'contain' ? containZoom(plain, f.box, this.edit.size()) : 1;
      const aim = fit === 'contain' ? { u: 0.5, v: 0.5 } : f.placement.aim;
      return { ...f, placement: { ...plain, zoom, aim } };
    });
  }

  protected tile(scale: number): void {
    const t = this.tiling();
    if (!t) return;
    this.edit.slide('size of a tile', (f) => ({
      ...f,
      placement: {
        ...placementOfTiling({ ...t, scale }, f.box, this.edit.size()),
        ...(f.placement.mirrored ? { mirrored: f.placement.mirrored } : {}),
      },
    }));
  }

  protected move(axis: 'x' | 'y', value: number): void {
    this.edit.set('move', (f) => {
      const o = pictureOffset(f, this.edit.size());
      return withPictureOffset(f, { ...o, [axis]: value }, this.edit.size());
    });
  }

  protected back(colour: string | null): void {
    this.edit.set(colour ? 'paint behind the picture' : 'no paint behind the picture', (f) => ({
      ...f,
      backing: colour ? { kind: 'solid', colour, opacity: 1 } : null,
    }));
  }
}
