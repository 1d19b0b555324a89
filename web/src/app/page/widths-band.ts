import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  output,
  signal,
  untracked,
} from '@angular/core';
import {
  atEveryWidth,
  deriveView,
  equal,
  framePath,
  hasPositions,
  isRectangle,
  keepMarks,
  leastShown,
  movedAt,
  partedAt,
  positionsThatHold,
  rangeAt,
  rangesOf,
  shownShares,
  toSvgPath,
  transform,
  withRanges,
  type BoxInWindow,
  type Frame,
  type Lying,
  type Positions,
  type Region,
  type Size,
} from '@gable/core';
import { Api } from '../api/api';
import { Edit } from '../bench/edit';
import { foundWords } from '../bench/tries/placing-tries';
import { FigureField } from '../ui/figure-field';
import { shownNumber } from '../ui/numbers';
import { SliderField } from '../ui/slider-field';
import { homeOf } from '../work/work-model';
import { Suggestions } from '../work/suggestions';
import { WorkStore } from '../work/work-store';
import { WINDOW } from '../../../page/told';
import { NARROWEST, SHOWN, WIDEST, Windows } from './windows';

/** A small frame is so high at most, and so wide, in CSS pixels. */
const HIGH = 150;
const WIDE = 138;
/** From here on nothing of a region is missed. */
const ALL = 0.985;
/** Sides on which a picture may be hidden. */
const AXES = [
  { key: 'x', label: 'Across', side: 'width' },
  { key: 'y', label: 'Down', side: 'height' },
] as const;
/** The longer side of the picture that is shown small. */
const PROXY = 480;
/** A subject that is a point is as large as this, in shares of the picture. */
const AROUND = 0.08;

/** A frame in windows of other widths: what of its subject is seen there, and one action that keeps it in view in all of them. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-widths-band',
  imports: [FigureField, SliderField],
  template: `<div class="flex h-[30px] items-baseline gap-4">
      <h2 class="shrink-0 text-[15px]">At every width</h2>
      <span class="truncate text-[13px]" [class]="words().wrong ? 'text-warn-text' : 'text-soft'" role="status">{{
        words().text
      }}</span>
      @if (canKeep()) {
        <button type="button" class="word shrink-0 text-[13px]" (click)="keep()">Keep it in view</button>
      }
      <span class="grow"></span>
      @if ((held()?.at ?? []).length > 1) {
        <button type="button" class="word shrink-0 text-[13px]" (click)="drop()">Use one position</button>
      }
      <button type="button" class="word shrink-0 text-[13px]" (click)="closed.emit()">Back to the picture</button>
    </div>
    <div class="flex h-[222px] min-h-0 gap-6">
      <div
        role="group"
        aria-label="Windows"
        class="flex min-w-0 grow flex-wrap content-start gap-x-2 gap-y-2 overflow-y-auto pt-1"
      >
        @for (s of strip(); track s.window) {
          <button
            type="button"
            class="flex flex-col justify-end gap-1 rounded-md p-1 text-left hover:bg-ink/5 aria-pressed:outline-2 aria-pressed:outline-mark"
            [attr.aria-pressed]="s.window === windows.width()"
            (click)="windows.width.set(s.window)"
          >
            <svg
              class="block self-start"
              [attr.width]="s.wide"
              [attr.height]="s.high"
              [attr.viewBox]="'0 0 ' + s.width + ' ' + s.height"
              preserveAspectRatio="none"
              aria-hidden="true"
            >
              <clipPath [attr.id]="'window-' + s.window"><path [attr.d]="s.form" /></clipPath>
              <g [attr.clip-path]="'url(#window-' + s.window + ')'">
                <image
                  [attr.href]="picture()"
                  [attr.x]="s.image.x"
                  [attr.y]="s.image.y"
                  [attr.width]="s.image.width"
                  [attr.height]="s.image.height"
                  [attr.transform]="s.image.transform"
                  preserveAspectRatio="none"
                />
              </g>
              @for (r of s.regions; track $index) {
                <rect
                  [attr.x]="r.x"
                  [attr.y]="r.y"
                  [attr.width]="r.width"
                  [attr.height]="r.height"
                  fill="none"
                  stroke="#fbf9f4"
                  stroke-width="3"
                  vector-effect="non-scaling-stroke"
                />
                <rect
                  [attr.x]="r.x"
                  [attr.y]="r.y"
                  [attr.width]="r.width"
                  [attr.height]="r.height"
                  fill="none"
                  [attr.stroke]="s.all ? '#4b7352' : '#b5482a'"
                  stroke-width="1.5"
                  vector-effect="non-scaling-stroke"
                />
              }
            </svg>
            <span class="text-[12px]"
              ><span class="tabular-nums">{{ s.window }} px</span>
              <span [class]="s.all ? 'text-good' : 'text-warn-text'"> {{ s.note }}</span></span
            >
          </button>
        }
      </div>
      <div class="flex w-[284px] shrink-0 flex-col gap-3 border-l border-line pl-4 pt-1 text-[13px]">
        <label class="flex flex-col gap-1">
          <span class="text-soft">Width of the window</span>
          <span class="flex items-center gap-3">
            <input
              type="range"
              class="slide min-w-0 flex-1"
              aria-label="Width of the window"
              [min]="narrowest"
              [max]="widest"
              step="16"
              [value]="windows.width()"
              (input)="windows.width.set(+$any($event.target).value)"
            />
            <gable-figure-field
              label="Window"
              kind="number"
              [quiet]="true"
              [value]="windows.width()"
              [min]="narrowest"
              [max]="widest"
              (changed)="widen($event)"
            />
            <span class="text-soft">px</span>
          </span>
        </label>
        @if (range(); as r) {
          <div class="flex flex-col gap-1">
            <span class="text-soft">{{ r.words }}</span>
            @for (axis of r.axes; track axis.key) {
              <gable-slider-field
                [label]="axis.label"
                kind="percent"
                [value]="r[axis.key]"
                [min]="0"
                [max]="1"
                (grabbed)="edit.grab()"
                (changed)="move(axis.key, $event)"
              />
            }
          </div>
        }
        <p class="leading-snug">
          {{ told() }}
          @if (canPart()) {
            <button type="button" class="word" (click)="part()">Set a position up to {{ windows.width() }} px</button>
          }
        </p>
      </div>
    </div>`,
  host: { class: 'block min-w-0 grow', role: 'region', 'aria-label': 'Settings' },
})
export class WidthsBand {
  private readonly state = inject(WorkStore);
  private readonly api = inject(Api);
  protected readonly edit = inject(Edit);
  private readonly suggestions = inject(Suggestions);
  protected readonly windows = inject(Windows);
  readonly closed = output();

  protected readonly narrowest = NARROWEST;
  protected readonly widest = WIDEST;
  /** What the last search found. */
  private readonly found = signal<{ positions: Positions; in: string } | null>(null);
  /** What a search hangs on beside the picture's place. */
  private readonly asked = computed(() => {
    const f = this.edit.taken();
    return JSON.stringify([f?.shape, f?.seat, f?.box.width, f?.box.height, this.kept()?.regions]);
  });

  constructor() {
    this.windows.again();
    inject(DestroyRef).onDestroy(() => this.windows.width.set(WINDOW.width));
    effect(() => {
      if (this.windows.wanted() !== null) untracked(() => void this.windows.measure());
    });
  }

  /** What is to stay in view, and what it is called. */
  private readonly kept = computed((): { regions: readonly Region[]; name: string } | null => {
    const frame = this.edit.taken();
    if (!frame) return null;
    const marks = keepMarks(frame);
    if (marks.length > 0)
      return { regions: marks, name: marks.length === 1 ? 'what you marked' : 'all that you marked' };
    const found = this.suggestions.of(frame);
    if (found.length > 0) return { regions: found, name: foundWords(found) };
    const subject = this.edit.seen()?.subject;
    if (!subject || subject.guessed) return null;
    const region = { u: subject.u - AROUND / 2, v: subject.v - AROUND / 2, width: AROUND, height: AROUND };
    return { regions: [region], name: 'the subject' };
  });

  private readonly boxes = computed(() => {
    const boxes = this.windows.boxes();
    return boxes && boxes.length > 0 && boxes.every((b) => b.width > 0 && b.height > 0) ? boxes : null;
  });
  /** Is its box as high to its width in every window? */
  private readonly isSteady = computed(() => {
    const ratios = (this.boxes() ?? []).map((b) => b.width / b.height);
    return ratios.length > 0 && Math.max(...ratios) / Math.min(...ratios) < 1.01;
  });
  /** The frame, where positions can say where its picture lies. */
  private readonly movable = computed(() => {
    const f = this.edit.taken();
    return f && hasPositions({ ...f, placement: deriveView(f.placement, f.box, this.edit.size()).placement })
      ? f
      : null;
  });
  protected readonly held = computed(() => {
    const f = this.edit.taken();
    return f ? positionsThatHold(f) : undefined;
  });

  private lyingIn(f: Frame, window: number): Lying {
    return rangeAt(rangesOf(f, this.edit.size()), window);
  }

  /** The position in the window that is seen, and in which others. */
  protected readonly range = computed(() => {
    const [f, boxes, window] = [this.movable(), this.boxes(), this.windows.width()];
    if (!f || !boxes || this.isSteady()) return null;
    const far = (b: BoxInWindow): number => Math.abs(b.window - window);
    const shown = shownShares(
      boxes.reduce((a, b) => (far(b) < far(a) ? b : a)),
      this.edit.size(),
      f.placement.zoom,
    );
    const ranges = rangesOf(f, this.edit.size());
    const here = rangeAt(ranges, window);
    const before = ranges[ranges.indexOf(here) - 1]?.upTo;
    const from = before === undefined || before === null ? '' : `from ${before + 1} `;
    const to =
      here.upTo === null ? (from === '' ? 'at every width' : 'px on') : `${from === '' ? 'up ' : ''}to ${here.upTo} px`;
    // Only where something is hidden can the picture be moved.
    const axes = AXES.filter(({ side }) => shown[side] < 0.999);
    return { ...here, axes, words: `Position ${from}${to}` };
  });
  /** Telephones and wide screens can have positions of their own. */
  protected readonly canPart = computed(() => {
    const [range, width] = [this.range(), this.windows.width()];
    return range !== null && range.upTo !== width && width < WIDEST;
  });

  protected move(axis: 'x' | 'y', to: number): void {
    const [size, window] = [this.edit.size(), this.windows.width()];
    this.edit.slide('position at this width', (f) =>
      withRanges(f, movedAt(rangesOf(f, size), window, { [axis]: to }), size, WINDOW.width),
    );
  }

  protected part(): void {
    const [size, window] = [this.edit.size(), this.windows.width()];
    this.edit.set(`position up to ${window} px`, (f) =>
      withRanges(f, partedAt(rangesOf(f, size), window), size, WINDOW.width),
    );
  }

  private shares(f: Frame, boxes: readonly BoxInWindow[], regions: readonly Region[]): number[] {
    const shown = leastShown(f, this.edit.size(), regions);
    return boxes.map((b) => shown(b, this.lyingIn(f, b.window)));
  }

  /** In which windows something is cut now. */
  private readonly missing = computed(() => {
    const [f, boxes, kept] = [this.movable(), this.boxes(), this.kept()];
    if (!f || !boxes || !kept) return [];
    const shares = this.shares(f, boxes, kept.regions);
    return stretchesOf(
      boxes.filter((_, i) => shares[i]! < ALL).map((b) => b.window),
      boxes,
    );
  });

  protected readonly canKeep = computed(() => this.missing().length > 0 && !this.isSteady() && !this.isSearched());

  /** Is it as the search left it? */
  private readonly isSearched = computed(() => {
    const [found, held] = [this.found(), this.held()];
    return found !== null && held !== undefined && equal(found.positions, held) && found.in === this.asked();
  });

  protected readonly words = computed((): { text: string; wrong: boolean } => {
    const say = (text: string, wrong = false): { text: string; wrong: boolean } => ({ text, wrong });
    if (this.windows.cannot()) return say('The page cannot be measured. Close this and open it again.', true);
    if (this.windows.boxes() === null) return say('Measuring the page in windows from 320 to 2,560 px …');
    if (!this.boxes()) return say('This picture is not on the page shown.');
    if (this.isSteady()) return say('The box has the same ratio at every width, so the same part shows everywhere.');
    if (!this.movable()) return say('Only a picture that covers its shape, and is not turned, moves with the window.');
    const kept = this.kept();
    if (!kept) return say('Mark what must stay in view first: “Keep this visible”, above the picture.');
    const missing = this.missing();
    if (missing.length === 0) return say(`${capital(kept.name)} is in view from 320 to 2,560 px.`);
    return say(`${capital(kept.name)} is cut ${inWords(missing)}.`, true);
  });

  /** What the search found, once it was asked for. */
  protected readonly told = computed((): string => {
    const held = this.held();
    if (!held) return '';
    const bounds = held.at.flatMap(({ upTo }) => (upTo === null ? [] : [`${upTo} px`]));
    const missing = this.missing();
    return [
      bounds.length === 0
        ? 'One position for every width.'
        : `The position changes at ${new Intl.ListFormat('en').format(bounds)}.`,
      ...(missing.length > 0 && this.isSearched()
        ? [
            `${capital(inWords(missing))} no position shows all of it. ${this.needed()} Or choose “Contain” in the step Position.`,
          ]
        : []),
    ].join(' ');
  });

  /** What the box would have to be. */
  private needed(): string {
    const [f, size, regions] = [this.edit.taken(), this.edit.size(), this.kept()?.regions ?? []];
    const ratios = (this.boxes() ?? []).map((b) => b.width / b.height);
    if (!f || !isRectangle(f)) return 'Another ratio or height there would.';
    const span = (low: (r: Region) => number, long: (r: Region) => number): number =>
      Math.max(...regions.map((r) => low(r) + long(r))) - Math.min(...regions.map(low));
    const wide =
      span(
        (r) => r.u,
        (r) => r.width,
      ) * size.width;
    const high =
      span(
        (r) => r.v,
        (r) => r.height,
      ) * size.height;
    const zoom = Math.max(1, f.placement.zoom);
    const [narrowest, flattest] = [(wide * zoom) / size.height, size.width / (high * zoom)];
    const told = (ratio: number): string => `${shownNumber(ratio, 2)} : 1`;
    const [flat, narrow] = [Math.max(...ratios) > flattest, Math.min(...ratios) < narrowest];
    if (flat && narrow) return `Boxes from ${told(narrowest)} to ${told(flattest)} would.`;
    return flat ? `A box no flatter than ${told(flattest)} would.` : `A box no narrower than ${told(narrowest)} would.`;
  }

  protected readonly picture = computed(() => {
    const [m, f] = [this.state.model(), this.edit.shown()];
    if (!m || !f) return '';
    const at = homeOf(m.work, f.n);
    return f.source ? this.api.keptUrl(f.source.sha256, PROXY) : this.api.proxyUrl(at.id, at.n, PROXY);
  });

  protected readonly strip = computed(() => {
    const [f, boxes] = [this.edit.taken(), this.boxes()];
    if (!f || !boxes || !this.movable()) return [];
    const regions = this.kept()?.regions ?? [];
    const size = this.edit.size();
    const shown = leastShown(f, size, regions);
    return SHOWN.flatMap((w) => boxes.find((b) => b.window === w) ?? []).map((box) => {
      const at = this.lyingIn(f, box.window);
      const share = regions.length > 0 ? shown(box, at) : 1;
      return {
        ...box,
        ...drawnIn(f, box, at, size, regions),
        ...sidesOf(box),
        all: share >= ALL,
        note: regions.length === 0 ? '' : share >= ALL ? 'in view' : share < 0.05 ? 'not seen' : 'cut',
      };
    });
  });

  /** Finds the positions at which all stays in view. */
  protected keep(): void {
    const [f, boxes, kept] = [this.movable(), this.boxes(), this.kept()];
    if (!f || !boxes || !kept) return;
    // The frame has its own box in the window that pages are read for.
    const found = atEveryWidth(f, { picture: this.edit.size(), regions: kept.regions, boxes, seen: WINDOW.width });
    if (!found) return;
    this.edit.set('in view at every width', (now) => ({
      ...now,
      placement: found.frame.placement,
      ...(found.frame.positions && { positions: found.frame.positions }),
    }));
    this.found.set(found.frame.positions ? { positions: found.frame.positions, in: this.asked() } : null);
  }

  protected drop(): void {
    this.edit.set('one position for all widths', ({ positions, ...f }) => {
      void positions;
      return f;
    });
  }

  protected widen(width: number): void {
    this.windows.width.set(Math.round(Math.min(WIDEST, Math.max(NARROWEST, width))));
  }
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** Windows side by side as ranges of their widths. */
function stretchesOf(widths: readonly number[], boxes: readonly BoxInWindow[]): { from: number; to: number }[] {
  const ranges: { from: number; to: number }[] = [];
  const order = new Map(boxes.map((b, i) => [b.window, i]));
  for (const w of widths) {
    const last = ranges.at(-1);
    if (last && order.get(w) === (order.get(last.to) ?? 0) + 1) last.to = w;
    else ranges.push({ from: w, to: w });
  }
  return ranges;
}

const inWords = (ranges: readonly { from: number; to: number }[]): string =>
  new Intl.ListFormat('en').format(
    ranges.map(({ from, to }) =>
      from <= NARROWEST && to >= WIDEST
        ? 'at every width'
        : from <= NARROWEST
          ? `up to ${to} px`
          : to >= WIDEST
            ? `from ${from} px on`
            : from === to
              ? `at ${from} px`
              : `from ${from} to ${to} px`,
    ),
  );

function sidesOf({ width, height }: Size): { wide: number; high: number } {
  const k = Math.min(HIGH / height, WIDE / width);
  return { wide: width * k, high: height * k };
}

/** A frame in a box: its form, its picture and regions of it, in CSS pixels. */
function drawnIn(f: Frame, box: Size, at: Lying, size: Size, regions: readonly Region[]) {
  const { zoom, mirror } = f.placement;
  const shown = shownShares(box, size, zoom);
  const [width, height] = [box.width / shown.width, box.height / shown.height];
  const [x, y] = [at.x * (box.width - width), at.y * (box.height - height)];
  const path = transform(framePath(f), [box.width / f.box.width, 0, 0, box.height / f.box.height, 0, 0]);
  return {
    form: toSvgPath(path, 2),
    image: { x, y, width, height, transform: mirror ? `translate(${2 * x + width} 0) scale(-1 1)` : null },
    regions: regions.map((r) => ({
      x: x + (mirror ? 1 - r.u - r.width : r.u) * width,
      y: y + r.v * height,
      width: r.width * width,
      height: r.height * height,
    })),
  };
}
