import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import {
  isAllRound,
  oversteppingAt,
  SIDES,
  withLine,
  withOverstep,
  type Frame,
  type Shadow,
  type Side,
} from '@gable/core';
import { More } from '../../ui/more';
import { SliderField } from '../../ui/slider-field';
import { Tick } from '../../ui/tick';
import { Edit } from '../edit';
import { ShadowFigures, type ShadowFigure } from './shadow-figures';

const SIDE_LABELS: Readonly<Record<Side, string>> = { top: 'Top', right: 'Right', bottom: 'Bottom', left: 'Left' };
type Where = Side | 'none' | 'several' | 'all';

/** The subject that reaches over the edge: on which sides, from which lines on, and its shadow. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-overstep-knobs',
  imports: [More, ShadowFigures, SliderField, Tick],
  template: `<label class="flex items-center justify-between gap-3"
      ><span class="text-soft">Over the edge</span>
      <select class="picker" [title]="hint" (change)="reach($any($event.target).value)">
        @for (p of places; track p.value) {
          <option [value]="p.value" [selected]="p.value === where()">{{ p.label }}</option>
        }
        @if (where() === 'several') {
          <option value="several" selected>Several edges</option>
        }
      </select></label
    >
    @if (overstep(); as over) {
      <gable-more>
        @for (l of lines(); track l.side) {
          <gable-slider-field
            [label]="l.label"
            [hint]="hint"
            kind="percent"
            [value]="l.at"
            [min]="0"
            [max]="1"
            [step]="0.005"
            (grabbed)="edit.grab()"
            (changed)="moved(l.side, $event)"
          />
        }
        <gable-tick label="Shadow on the picture" [on]="!!over.shadow" (changed)="shade($event)" />
        @if (over.shadow; as s) {
          <gable-shadow-figures [shadow]="s" (changed)="cast($event)" />
        }
      </gable-more>
    }`,
  host: { class: 'contents' },
})
export class OverstepKnobs {
  protected readonly edit = inject(Edit);
  protected readonly hint = 'Beyond its line the subject lies in front of the shape';
  protected readonly places = [
    { value: 'none', label: 'None' },
    ...SIDES.map((side) => ({ value: side, label: SIDE_LABELS[side] })),
    { value: 'all', label: 'All edges' },
  ];
  protected readonly overstep = computed(() => this.edit.shown()?.overstep ?? null);
  protected readonly where = computed((): Where => {
    const over = this.overstep();
    const box = this.edit.shown()?.box;
    if (!over || !box) return 'none';
    if (isAllRound(over, box)) return 'all';
    const sides = SIDES.filter((side) => over.lines[side] !== undefined);
    return sides.length === 1 ? sides[0]! : 'several';
  });
  protected readonly lines = computed(() => {
    const over = this.overstep();
    const box = this.edit.shown()?.box;
    if (!over || !box || isAllRound(over, box)) return [];
    return SIDES.flatMap((side) => {
      const at = over.lines[side];
      return at === undefined ? [] : [{ side, at, label: `${SIDE_LABELS[side]} line` }];
    });
  });

  protected reach(where: Where): void {
    const subject = this.edit.subject();
    if (where === 'none') this.edit.set('subject in the shape', (f) => withOverstep(f, null));
    else if (subject && where !== 'several')
      this.edit.set('subject over the edge', (f) =>
        oversteppingAt(f, subject, where === 'all' ? SIDES : [where], this.edit.size()),
      );
  }

  protected moved(side: Side, at: number): void {
    this.edit.slide('line of the subject', (f) => withLine(f, side, at));
  }

  protected shade(on: boolean): void {
    this.edit.set(on ? 'shadow of the subject' : 'no shadow of the subject', (f) => {
      if (!f.overstep) return f;
      const { shadow, ...rest } = f.overstep;
      void shadow;
      return withOverstep(f, on ? { ...rest, shadow: firstShadow(f) } : rest);
    });
  }

  protected cast({ name, label, value }: ShadowFigure): void {
    this.edit.slide(`shadow of the subject: ${label.toLowerCase()}`, (f) =>
      f.overstep?.shadow ? withOverstep(f, { ...f.overstep, shadow: { ...f.overstep.shadow, [name]: value } }) : f,
    );
  }
}

/** Soft, in the measure of the frame. */
function firstShadow({ box }: Frame): Shadow {
  const side = Math.round(Math.min(box.width, box.height)) / 100;
  return { kind: 'outer', dx: side, dy: 1.5 * side, blur: 6 * side, spread: 0, colour: '#000000', opacity: 0.45 };
}
