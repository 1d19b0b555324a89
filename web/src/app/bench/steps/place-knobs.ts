import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { movedTo, type Frame } from '@gable/core';
import { FigureField } from '../../ui/figure-field';
import { SliderField } from '../../ui/slider-field';
import { Tick } from '../../ui/tick';
import { Several } from '../../page/several';
import { Edit } from '../edit';
import { WorkStore } from '../../work/work-store';
import { signedTurn } from '../../work/wording';
import { TextPlace } from './text-place';

/** Enough to be noticed, and no more (common practice). */
const ZOOM = 1.06;

/** The frame on its page. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-place-knobs',
  imports: [FigureField, SliderField, TextPlace, Tick],
  template: `@if (edit.shown(); as f) {
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
      (changed)="edit.slide('frame turned', turned($event))"
    />
    @if (f.flow === 'floating') {
      @for (side of sides; track side.axis) {
        @if (f.anchor?.align?.[side.axis]; as by) {
          <div class="flex items-baseline justify-between gap-2">
            <span class="text-soft">{{ side.label }}</span>
            <button
              type="button"
              class="word text-[13px]"
              title="Click to place it by number"
              (click)="edit.set('place', moved(side.axis, f.box[side.axis]))"
            >
              aligned: {{ by }}
            </button>
          </div>
        } @else {
          <gable-figure-field
            [label]="side.label"
            kind="length"
            [axis]="side.axis === 'x' ? 'across' : 'down'"
            [value]="f.box[side.axis]"
            (changed)="edit.set('place', moved(side.axis, $event))"
          />
        }
      }
    }
    <gable-tick
      label="Flip horizontally"
      [on]="f.flip.horizontal"
      (changed)="edit.set('flipped horizontally', flipped('horizontal'))"
    />
    <gable-tick
      label="Flip vertically"
      [on]="f.flip.vertical"
      (changed)="edit.set('flipped vertically', flipped('vertical'))"
    />
    @if (isWeb() && !f.overstep && f.placement.fit !== 'tile') {
      <gable-tick
        label="Zoom in on hover"
        [on]="!!f.hover"
        title="While it is pointed at, or its link has the focus. Not for readers who ask for less motion."
        (changed)="edit.set(f.hover ? 'no zoom on hover' : 'zoom on hover', growing)"
      />
    }
    @if (canLock()) {
      <gable-tick
        label="Locked in place"
        [on]="edit.locked()"
        title="Dragging and keys neither move nor delete it"
        (changed)="several.lock(!edit.locked())"
      />
    }
    <gable-text-place />
  }`,
  host: { class: 'contents' },
})
export class PlaceKnobs {
  protected readonly edit = inject(Edit);
  protected readonly several = inject(Several);
  private readonly state = inject(WorkStore);
  /** On a page of a fixed size. */
  protected readonly canLock = computed(() => this.several.takesLocks() && this.edit.picture()?.where.page !== null);
  protected readonly isWeb = computed(() => this.state.model()?.work.can.pages === 'web');
  protected readonly growing = ({ hover, ...f }: Frame): Frame => (hover ? f : { ...f, hover: { zoom: ZOOM } });
  protected readonly sides = [
    { axis: 'x', label: 'Left' },
    { axis: 'y', label: 'Top' },
  ] as const;
  protected readonly turn = computed(() => signedTurn(this.edit.shown()?.turn ?? 0));

  protected readonly turned =
    (turn: number) =>
    (f: Frame): Frame => ({ ...f, turn });
  protected readonly moved =
    (axis: 'x' | 'y', value: number) =>
    (f: Frame): Frame =>
      movedTo(f, { [axis]: value });
  protected readonly flipped =
    (way: 'horizontal' | 'vertical') =>
    (f: Frame): Frame => ({ ...f, flip: { ...f.flip, [way]: !f.flip[way] } });
}
