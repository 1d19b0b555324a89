import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, output, signal } from '@angular/core';
import {
  ALIGNMENTS,
  aligned,
  boundsOfBoxes,
  gapAmong,
  isPictureItem,
  itemIdOf,
  liesAcross,
  withGap,
  withinEvenly,
  type Alignment,
  type Box,
  type Point,
} from '@gable/core';
import { Choice } from '../ui/choice';
import { FigureField } from '../ui/figure-field';
import { WorkStore } from '../work/work-store';
import { Several } from './several';
import { SmallPage } from './small-page';

/** Of a small page, in CSS pixels. */
const HIGH = 70;
const WIDEST = 130;

const TARGETS = [
  { value: 'all', label: 'Each other' },
  { value: 'first', label: 'First' },
  { value: 'margins', label: 'Margins' },
  { value: 'page', label: 'Page' },
] as const;

/** Items of a page that are chosen together, brought in line: tries of ways, what to, and the gap in a figure. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-several-band',
  imports: [Choice, FigureField, SmallPage],
  template: `@if (shown(); as s) {
    <div class="flex h-[30px] items-baseline gap-4">
      <h2 class="shrink-0 text-[15px]">{{ s.title }}</h2>
      <span class="truncate text-[13px] text-soft">{{ s.words }}</span>
      <span class="grow"></span>
      @if (s.pictures > 1) {
        <button
          type="button"
          class="word shrink-0 text-[13px]"
          title="All get the shape, size, outline, shadow and tone of the first chosen picture"
          (click)="frameAlike()"
        >
          Frame alike
        </button>
        @if (several.onPages()) {
          <button type="button" class="word shrink-0 text-[13px]" (click)="arrange.emit()">
            Arrange the {{ s.pictures }} pictures
          </button>
        }
      }
      @if (s.tieable) {
        <button
          type="button"
          class="word shrink-0 text-[13px]"
          title="Words and shapes follow the picture that they are nearest to"
          (click)="several.keepTogether()"
        >
          Keep together
        </button>
      }
      @if (several.takesGroups()) {
        @if (several.canUngroup()) {
          <button type="button" class="word shrink-0 text-[13px]" title="Ctrl + Shift + G" (click)="several.ungroup()">
            Ungroup
          </button>
        }
        @if (!several.isGroup()) {
          <button
            type="button"
            class="word shrink-0 text-[13px]"
            [disabled]="!several.canGroup()"
            [title]="
              several.canGroup()
                ? 'They move together, here and in the file (Ctrl + G)'
                : 'Placeholders, what an animation moves, and part of a group cannot be grouped'
            "
            (click)="several.group()"
          >
            Group
          </button>
        }
      }
      @if (several.canDuplicate()) {
        <button type="button" class="word shrink-0 text-[13px]" (click)="several.duplicate()">Duplicate</button>
      }
      @if (several.canRaise()) {
        <button type="button" class="word shrink-0 text-[13px]" (click)="several.raise(1)">Bring forward</button>
        <button type="button" class="word shrink-0 text-[13px]" (click)="several.raise(-1)">Send back</button>
      }
      @if (several.canRemove()) {
        <button type="button" class="word shrink-0 text-[13px]" (click)="several.remove()">Delete all</button>
      }
      <button type="button" class="word shrink-0 text-[13px]" (click)="several.end()">Choose only one</button>
    </div>
    <div class="flex h-[222px] min-h-0 gap-6">
      <div
        role="group"
        aria-label="Alignments"
        class="grid min-w-0 grow grid-cols-[repeat(4,minmax(0,max-content))] content-start gap-x-4 gap-y-1 overflow-y-auto px-1 pt-1"
      >
        @for (t of s.tries; track t.alignment.name) {
          <button
            type="button"
            class="flex flex-col gap-1 rounded-md p-1 text-left hover:bg-ink/5 disabled:opacity-50 aria-pressed:outline-2 aria-pressed:outline-mark"
            [attr.aria-pressed]="t.holds"
            [disabled]="t.off"
            (click)="align(t.alignment)"
          >
            <gable-small-page
              class="self-start rounded-[3px] shadow-[0_0_0_1px_var(--line)]"
              [placed]="t.placed"
              [size]="s.size"
              [width]="s.width"
              [height]="s.height"
              [ground]="s.ground"
            />
            <span class="text-[13px]">{{ t.alignment.label }}</span>
          </button>
        }
      </div>
      <div class="flex w-[284px] shrink-0 flex-col gap-3 border-l border-line pl-4 pt-1 text-[13px]">
        <div class="flex flex-col items-start gap-1">
          <span class="text-soft" aria-hidden="true">Align to</span>
          <gable-choice
            label="Align to"
            [quiet]="true"
            [options]="targets()"
            [value]="to()"
            (changed)="to.set($event)"
          />
        </div>
        <gable-figure-field
          [label]="(s.across ? 'Gap across' : 'Gap down') + (s.even ? '' : ', now uneven')"
          kind="length"
          [value]="s.mean"
          [min]="-s.most"
          [max]="s.most"
          (changed)="gap($event)"
        />
      </div>
    </div>
  }`,
  host: { class: 'block min-w-0 grow', role: 'region', 'aria-label': 'Settings' },
})
export class SeveralBand {
  private readonly state = inject(WorkStore);
  protected readonly several = inject(Several);
  /** The pictures of them are to be arranged. */
  readonly arrange = output();

  protected readonly targets = computed(() => (this.several.hasEdges() ? TARGETS : TARGETS.slice(0, 2)));
  protected readonly to = signal<(typeof TARGETS)[number]['value']>('all');

  /** While they are dragged it shows what it showed: its tries are made anew where they come to rest. */
  protected readonly shown = linkedSignal<Shown | undefined, Shown>({
    source: () => (this.several.dragging() ? undefined : this.make()),
    computation: (now, last) => (now === undefined ? (last?.value ?? null) : now),
  });

  private make() {
    const ground = this.several.ground();
    const chosen = this.several.chosen();
    if (!ground) return null;
    const { width, height: high } = ground.box;
    const size = { width, height: high };
    const height = Math.min(HIGH, (WIDEST * size.height) / size.width);
    const moving = this.several.moving();
    const boxes = moving.map((c) => c.bounds);
    const across = liesAcross(boxes);
    const still = chosen.length - moving.length;
    return {
      ...{ size, height, width: (height * size.width) / size.height, ground: ground.colour, across },
      title: `${chosen.length} items`,
      words: `${this.several.isGroup() ? 'They are a group. ' : ''}${still > 0 ? `${still} of them ${still > 1 ? 'follow' : 'follows'} another.` : this.several.isGroup() ? '' : 'They move together.'}`,
      tieable: this.several.tieable().length > 0,
      pictures: chosen.filter((c) => isPictureItem(c.item)).length,
      ...gapAmong(boxes, across ? 'x' : 'y'),
      most: Math.max(size.width, size.height),
      tries: ALIGNMENTS.map((alignment) => {
        const steps = this.steps(alignment, this.target(alignment));
        return {
          alignment,
          off: boxes.length < (alignment.at === null ? 3 : 2) - Number(this.isOfPage()),
          holds: this.several.areInLine(steps),
          placed: this.several.tried(steps),
        };
      }),
    };
  }

  /** What they are brought in line with. */
  private target({ at }: Alignment): Box {
    const { box, margins } = this.several.ground()!;
    // Equal gaps lie between those that are moved.
    if (at === null && !this.isOfPage()) return boundsOfBoxes(this.several.moving().map((c) => c.bounds));
    if (this.isOfPage()) return this.to() === 'margins' ? margins : box;
    return this.to() === 'first' ? this.several.chosen()[0]!.bounds : this.several.bounds();
  }

  private readonly isOfPage = computed(() => this.to() === 'page' || this.to() === 'margins');

  /**
   * Equal gaps lie between the outer ones, which stay; on the page as wide to its edges, too, and between margins from one to the
   * other.
   */
  private steps(alignment: Alignment, target: Box): Point[] {
    const boxes = this.several.moving().map((c) => c.bounds);
    const within = alignment.at === null && this.to() === 'page' ? withinEvenly(boxes, alignment.axis, target) : target;
    return aligned(boxes, alignment, within);
  }

  /** The pictures of them get the look of the first chosen one. */
  protected frameAlike(): void {
    const m = this.state.model$.value;
    const numbers = new Map(m?.work.pictures.map((p) => [itemIdOf(p), p.n]));
    const [first, ...others] = this.several.chosen().flatMap(({ item }) => numbers.get(item.id) ?? []);
    if (first !== undefined) void this.state.frameAlike(first, others);
  }

  protected align(alignment: Alignment): void {
    const target = this.target(alignment);
    this.several.bringInLine(alignment.at === null ? 'equal gaps' : 'aligned', () => this.steps(alignment, target));
  }

  protected gap(value: number): void {
    const axis = this.shown()!.across ? 'x' : 'y';
    this.several.bringInLine('gap', () =>
      withGap(
        this.several.moving().map((c) => c.bounds),
        axis,
        value,
      ),
    );
  }
}

type Shown = ReturnType<SeveralBand['make']>;
