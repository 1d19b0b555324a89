import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { alignAt, alignedTo, anchorWith, BESIDE_TEXT, type ANCHORS, type Anchor, type Frame } from '@gable/core';
import { FigureField } from '../../ui/figure-field';
import { More } from '../../ui/more';
import { NinePlaces } from '../../ui/nine-places';
import { Pick } from '../../ui/pick';
import { Tick } from '../../ui/tick';
import { Units } from '../../ui/units';
import { repeating } from '../../work/copies';
import { WorkStore } from '../../work/work-store';
import { Edit } from '../edit';

type Place = (typeof ANCHORS)[number];
type Around = 'inline' | 'front' | 'behind' | Exclude<Anchor['wrap'], 'none'>;

const AROUND: readonly { value: Around; label: string }[] = [
  { value: 'inline', label: 'In line' },
  { value: 'square', label: 'Square' },
  { value: 'tight', label: 'Tight' },
  { value: 'through', label: 'Through' },
  { value: 'top-bottom', label: 'Above and below' },
  { value: 'front', label: 'In front of text' },
  { value: 'behind', label: 'Behind text' },
];
const SIDES = [
  { value: 'both', label: 'Both sides' },
  { value: 'left', label: 'Left' },
  { value: 'right', label: 'Right' },
  { value: 'larger', label: 'Wider side' },
] as const;
const FROM_X: Readonly<Record<Anchor['from']['x'], string>> = {
  page: 'Page',
  margin: 'Margin',
  column: 'Column',
  character: 'Character',
  'left-margin': 'Left margin',
  'right-margin': 'Right margin',
  'inside-margin': 'Inside margin',
  'outside-margin': 'Outside margin',
};
const FROM_Y: Readonly<Record<Anchor['from']['y'], string>> = {
  page: 'Page',
  margin: 'Margin',
  paragraph: 'Paragraph',
  line: 'Line',
  'top-margin': 'Top margin',
  'bottom-margin': 'Bottom margin',
  'inside-margin': 'Inside margin',
  'outside-margin': 'Outside margin',
};
const USUAL = ['page', 'margin', 'column', 'character', 'paragraph', 'line'];
/** The usual ones, and the one that is. */
const listed = <T extends string>(names: Readonly<Record<T, string>>, now: T): { value: T; label: string }[] =>
  (Object.keys(names) as T[])
    .filter((value) => USUAL.includes(value) || value === now)
    .map((value) => ({ value, label: names[value] }));

const EDGES = ['top', 'right', 'bottom', 'left'] as const;

/** Where a picture of a text stands, and how the text goes round it. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-text-place',
  imports: [FigureField, More, NinePlaces, Pick, Tick],
  template: `@if (edit.taken(); as f) {
    @if (anchor(); as a) {
      <table class="row-span-2 w-full table-fixed text-[12px]" aria-label="Distance to text">
        <thead>
          <tr class="h-[22px] text-soft">
            <th class="w-[54px] text-left font-normal whitespace-nowrap">Text gap</th>
            @for (e of edges; track e) {
              <th class="text-right font-normal capitalize">{{ e }}</th>
            }
          </tr>
        </thead>
        <tbody>
          <tr class="h-[30px]">
            <td class="text-soft">{{ units.unit() }}</td>
            @for (e of edges; track e) {
              <td>
                <gable-figure-field
                  [label]="'Text gap ' + e"
                  kind="length"
                  [bare]="true"
                  [value]="a.distances[e]"
                  [min]="0"
                  [max]="720"
                  (changed)="apart(e, $event)"
                />
              </td>
            }
          </tr>
        </tbody>
      </table>
    }
    @if (choices().length > 1) {
      <gable-pick label="Text wrap" [options]="choices()" [value]="around()" (changed)="wrap($event)" />
    } @else if (f.flow === 'inline') {
      <p class="row-span-3 self-start pt-1 text-[13px] text-soft">
        This picture sits in the text like a letter and cannot leave it here.
      </p>
    }
    @if (anchor(); as a) {
      <gable-pick label="Left from" [options]="acrossFrom()" [value]="a.from.x" (changed)="count('x', $event)" />
      <gable-pick label="Top from" [options]="downFrom()" [value]="a.from.y" (changed)="count('y', $event)" />
      <gable-nine-places label="Align" [value]="aligned()" (changed)="align($event)" />
      <gable-more>
        <div class="grid gap-2 text-[13px]">
          @if (a.wrap === 'square' || a.wrap === 'tight' || a.wrap === 'through') {
            <gable-pick
              label="Text runs on"
              [options]="sides"
              [value]="a.sides ?? 'both'"
              (changed)="put('sides of the text', { sides: $event })"
            />
          }
          @if (canLock()) {
            <gable-tick
              label="Stay with its paragraph"
              [on]="a.locked === true"
              (changed)="put('anchor', { locked: a.locked ? undefined : true })"
            />
          }
          @if (canRepeat()) {
            <button type="button" class="word justify-self-start" (click)="state.repeat()">
              Same place on every page
            </button>
          } @else if (inBody()) {
            <p class="text-soft">Count Top from the page to show it on every page.</p>
          }
        </div>
      </gable-more>
    }
  }`,
  host: { class: 'contents' },
})
export class TextPlace {
  protected readonly edit = inject(Edit);
  protected readonly units = inject(Units);
  protected readonly state = inject(WorkStore);
  protected readonly edges = EDGES;
  protected readonly sides = SIDES;

  protected readonly anchor = computed((): Anchor | null => {
    const f = this.edit.shown();
    return f?.flow === 'floating' ? (f.anchor ?? null) : null;
  });
  protected readonly around = computed((): Around | 'as-is' => {
    const a = this.anchor();
    if (!a) return this.edit.shown()?.flow === 'inline' ? 'inline' : 'as-is';
    return a.wrap === 'none' ? (a.behind ? 'behind' : 'front') : a.wrap;
  });
  /** A picture that floats as only its file knows can be put into its line. */
  protected readonly choices = computed((): readonly { value: Around | 'as-is'; label: string }[] => {
    const free = this.edit.picture()?.freeable ?? false;
    const ways = this.anchor() || this.edit.shown()?.flow === 'inline' ? AROUND : AROUND.slice(0, 1);
    const own = this.around() === 'as-is' ? [{ value: 'as-is' as const, label: 'As in the file' }] : [];
    return [...own, ...ways.filter((w) => w.value !== 'inline' || free)].filter(
      (w) => free || this.anchor() !== null || w.value === this.around(),
    );
  });
  protected readonly acrossFrom = computed(() => listed(FROM_X, this.anchor()!.from.x));
  protected readonly downFrom = computed(() => listed(FROM_Y, this.anchor()!.from.y));
  protected readonly canLock = computed(() => this.state.model()?.work.format === 'docx');
  protected readonly canRepeat = computed(() => {
    const m = this.state.model();
    return m !== null && repeating(m) !== null;
  });
  protected readonly inBody = computed(
    () => (this.state.model()?.work.can.margin ?? false) && this.edit.picture()?.where.place === 'body',
  );
  /** Null where it is not aligned both ways. */
  protected readonly aligned = computed((): Place | null => {
    const anchor = this.anchor();
    return anchor && alignedTo(anchor);
  });

  protected put(name: string, part: Partial<Anchor> | { [K in keyof Anchor]?: Anchor[K] | undefined }): void {
    this.edit.set(name, (f) => ({ ...f, anchor: anchorWith(f.anchor ?? BESIDE_TEXT, part as Partial<Anchor>) }));
  }

  protected wrap(to: Around | 'as-is'): void {
    if (to === 'as-is') return;
    this.edit.set(to === 'inline' ? 'back in the text' : 'text wrap', (f): Frame => {
      if (to === 'inline') return { ...f, flow: 'inline', box: { ...f.box, x: 0, y: 0 } };
      const plain = to === 'front' || to === 'behind';
      const way = { wrap: plain ? ('none' as const) : to, behind: to === 'behind' };
      return { ...f, flow: 'floating', anchor: anchorWith(f.anchor ?? BESIDE_TEXT, way) };
    });
  }

  protected count(axis: 'x' | 'y', from: string): void {
    this.edit.set('place', (f) => {
      const anchor = f.anchor ?? BESIDE_TEXT;
      return { ...f, anchor: anchorWith(anchor, { from: { ...anchor.from, [axis]: from } }) };
    });
  }

  protected align(to: Place): void {
    this.put('alignment', { align: alignAt(to) });
  }

  protected apart(edge: (typeof EDGES)[number], value: number): void {
    const { distances } = this.anchor()!;
    this.put('text gap', { distances: { ...distances, [edge]: value } });
  }
}
