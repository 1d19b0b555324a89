import {
  ChangeDetectionStrategy,
  afterNextRender,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  Injector,
  input,
  output,
  signal,
  untracked,
  viewChild,
  viewChildren,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { DomSanitizer } from '@angular/platform-browser';
import {
  BESIDE_TEXT,
  cut,
  applyTo,
  boxMatrix,
  equal,
  FULL_SEAT,
  frameMatrix,
  groundOf,
  papersOf,
  groupsRound,
  invert,
  besideInText,
  type Laid as Surroundings,
  isAdded,
  isBand,
  isPictureItem,
  itemIdOf,
  shownBehind,
  paintedBounds,
  placedIn,
  POINTS,
  spaceOf,
  type Document,
  type Frame,
  type FramedItem,
  type Handle,
  type Placed,
  type Point,
  uprightSize,
  type Box,
  type Size,
} from '@gable/core';
import type { Block, WorkPicture } from '@gable/contract';
import { catchError, debounce, EMPTY, filter, firstValueFrom, switchMap, timer } from 'rxjs';
import { Api } from '../api/api';
import { OwnFonts } from '../library/own-fonts';
import { toProblem } from '../api/problem';
import { TryCanvas } from '../paint/try-canvas';
import {
  WINDOW,
  type Asked,
  type Caret,
  type ItemOnPage,
  type Laid as LaidOut,
  type PageSpot,
  type PictureOnPage,
  type FontData,
} from '../../../page/told';
import { arrowOf } from '../ui/roving';
import { AroundEdit } from '../around/around-edit';
import { ItemLayer } from '../around/item-layer';
import { canMove, restylable } from '../around/items';
import { PageItems, type Stacked } from './page-items';
import {
  addedChanges,
  ownOtherwiseIn,
  changedFrames,
  framesOf,
  keyOf,
  pictureIn,
  pictureOf,
  ownOtherwise,
  problemOf,
  savedState,
  shownDocument,
  sizeOf,
  takenFrame,
  type WorkModel,
} from '../work/work-model';
import { stackOnSheet } from '../work/on-sheet';
import { WorkStore } from '../work/work-store';
import { besideText, type BesideText, type Lying } from './beside-text';
import { boxIn } from './page-shots';
import { markAt, stepped, type Aim } from './aim';
import {
  blocksOf,
  countsOf,
  isEmpty,
  markAmong,
  markOn,
  PX,
  scaledBy,
  takersOn,
  type Count,
  type Mark,
  type Place,
} from './place';
import { Placing } from './placing';
import { Several } from './several';
import { Windows } from './windows';
import { SeveralLayer } from './several-layer';
import { Shown } from './shown';
import { isOwn, nearestParagraph, retied, type Tie } from './retie';
import { restingPull } from './resting-pull';
import { REACH, snapBox, type PageGuide, type Rests } from './snap';
import { movedBy } from '../bench/board-layout';
import { Edit } from '../bench/edit';
import { HANDLES, pulled, type Pull } from '../bench/handles';
import { VideoLayer } from '../video/video-layer';
import { Units } from '../ui/units';
import { describe } from '../work/wording';
import { shownLength } from '../ui/numbers';

interface Laid {
  pictures: readonly PictureOnPage[];
  blocks: LaidOut['blocks'];
  /** Pages of a text. */
  pages?: readonly PageSpot[];
  /** Fonts that others of another width stand in for. */
  approximate?: readonly string[];
  oneSided?: boolean;
  /** Pictures that the pages show themselves. */
  shown?: readonly number[];
  /** What stands round pictures of a web page. */
  items?: readonly ItemOnPage[];
  width: number;
  height: number;
  /** The frames, and the rest, as they were when the pages were laid out. */
  frames: ReadonlyMap<number, Frame>;
  document?: Document | null;
}

/** Texts and web pages are shown at this share of their size at most. */
const SCALE = 0.72;
/** Pages can be shown so many times as large as they would be by themselves, and no smaller than this. */
const MOST_ZOOM = 8;
const LEAST_ZOOM = 0.3;
/** How far a wheel turns for 2.7 times as large. */
const WHEEL = 400;
/** Pages are laid out anew when nothing has changed for so long, in milliseconds. */
const SETTLED_MS = 350;
/** Room round a page that is seen whole, in CSS pixels; and the least share of its size at which one is. */
const ROOM = 26;
const LEAST_SCALE = 0.12;
const LONG = 6;
/** So near to the edge of the window a drag scrolls the pages, by so much at once, in CSS pixels. */
const EDGE = 24;
const EDGE_STEP = 9;
/** A frame less wide or high than this has one handle, in CSS pixels. */
const SMALL = 40;

/** Words that a shape has in front of its picture, as an item of their own that counts from the corner of the frame. */
function wordsOver({ box, turn, flip }: Frame, text: NonNullable<WorkPicture['words']>): Stacked[] {
  const at = { ...box, x: 0, y: 0 };
  const item = { ...WORDS, at: { on: 'page', box: at } as const, text };
  return [{ item, box: at, turn, flip, z: 0 }];
}
const WORDS: FramedItem = {
  kind: 'framed',
  id: 'words',
  at: { on: 'page', box: { x: 0, y: 0, width: 1, height: 1 } },
  turn: 0,
  flip: { horizontal: false, vertical: false },
  opacity: 1,
  alt: '',
  shape: { name: 'rectangle', knobs: {} },
  seat: FULL_SEAT,
  outline: null,
  shadow: null,
  fill: null,
  text: null,
};

const NOTHING: ReadonlySet<string> = new Set();

/** What a text makes room for. */
const placeOf = ({ box, flow, turn, anchor, paragraph }: Frame): object => [
  box,
  flow,
  turn,
  anchor ?? null,
  paragraph ?? null,
];

/** From the corner of a page, in points. */
const inPoints = ({ x, y, width, height }: Box, page: Point = { x: 0, y: 0 }): Box => ({
  ...{ x: (x - page.x) / PX, y: (y - page.y) / PX, width: width / PX, height: height / PX },
});

/** Where a picture of a web page lies, with what is seen round it. */
function laidOnWeb({ ground, font, column, ...spot }: PictureOnPage): Omit<Surroundings, 'page'> {
  return {
    box: inPoints(spot),
    ...(ground && { ground: hexOf(ground) }),
    ...(font && { font }),
    ...(column && { margins: { left: column.left / PX, right: (WINDOW.width - column.right) / PX } }),
  };
}

/** A colour that a browser tells, without its opacity. */
function hexOf(colour: string): string {
  const parts = (/\(([^)]*)\)/.exec(colour)?.[1] ?? '').split(/[\s,/]+/).map(Number);
  const [red = 255, green = 255, blue = 255] = parts.some((v) => !Number.isFinite(v)) ? [] : parts;
  return `#${[red, green, blue].map((v) => Math.round(v).toString(16).padStart(2, '0')).join('')}`;
}

/** Is it beneath the text? */
const isBeneath = ({ at }: Placed['item']): boolean => at.on === 'anchor' && at.anchor?.behind === true;

/** The page at a height, in CSS pixels. */
const pageAt = (pages: readonly PageSpot[], y: number): PageSpot | undefined =>
  pages.find((p) => y >= p.y && y <= p.y + p.height);

/** The lines between cells as a path, in CSS pixels. */
function gridOf({ x, y }: { x: readonly number[]; y: readonly number[] }): string {
  const [right, bottom] = [x, y].map((all) => all[all.length - 1]! * PX);
  return x.map((v) => `M${v * PX} 0V${bottom}`).join('') + y.map((v) => `M0 ${v * PX}H${right}`).join('');
}

/** Frames among the text they stand in, and beside each other: the document's pages, with our frames painted on them. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-page-view',
  imports: [ItemLayer, PageItems, SeveralLayer, TryCanvas, VideoLayer],
  template: `<div
      #scroller
      class="absolute inset-0 isolate overflow-auto"
      tabindex="0"
      role="region"
      [attr.aria-busy]="busy()"
      [attr.aria-label]="
        (isRow() ? 'The pictures on a sheet' : isFixed() ? 'The pages of the file' : 'The pages of the document') +
        (came() ? ', before' : '')
      "
      (scroll)="scrolls()"
      (wheel)="wheels($event)"
      (pointermove)="moved($event)"
      (dragover)="aim($event)"
      (pointerup)="up()"
      (pointercancel)="up()"
    >
      <div
        class="relative mx-auto"
        [class.my-11]="isWeb()"
        [style.margin-top.px]="isFixed() ? top() : null"
        [style.width.px]="size().width * scale()"
        [style.height.px]="size().height * scale()"
      >
        @if (isRow()) {
          <div class="absolute inset-0 bg-white shadow-[0_1px_8px_rgb(34_48_47/22%)]"></div>
        } @else if (isFixed()) {
          @if (sheet(); as s) {
            <div
              class="absolute overflow-hidden shadow-[0_1px_8px_rgb(34_48_47/22%)]"
              aria-hidden="true"
              [style.width.px]="s.width * scale()"
              [style.height.px]="s.height * scale()"
              [style.background-color]="s.background"
            >
              @if (s.ground) {
                <img class="absolute inset-0 h-full w-full" [src]="s.ground" alt="" (load)="groundShown(s.ground)" />
              }
              @if (s.lines; as lines) {
                <svg class="absolute inset-0 h-full w-full" [attr.viewBox]="'0 0 ' + s.width + ' ' + s.height">
                  <path [attr.d]="lines" fill="none" stroke="#ddd6c7" />
                </svg>
              }
              <gable-page-items [items]="s.items" [scale]="px()" [likenessOf]="likenessOf" />
            </div>
          }
        } @else {
          <iframe
            #page
            class="pointer-events-none absolute left-0 top-0 origin-top-left border-0"
            [class.bg-white]="isWeb()"
            [class.shadow-[0_1px_8px_rgb(34_48_47/22%)]]="isWeb()"
            [style.width.px]="size().width"
            [style.height.px]="size().height"
            [style.transform]="'scale(' + scale() + ')'"
            sandbox="allow-scripts"
            [src]="source"
            title="Pages of the document"
            tabindex="-1"
            aria-hidden="true"
          ></iframe>
        }
        @if ((isFixed() || isText()) && !came() && !alone()) {
          <gable-several-layer [scale]="px()" [restsFor]="restsAround" (rested)="rests.set($event)" />
        }
        @if ((isText() || isWeb()) && !came() && !alone()) {
          <gable-item-layer [items]="ownInText()" [scale]="px()" [beneath]="true" />
        }
        @for (p of placed(); track $index) {
          <div
            class="absolute touch-none"
            [class.pointer-events-none]="p.shared && p.n !== selected()"
            [style.z-index]="p.z"
            [class.outline-2]="p.n === selected() && !alone() && !itemChosen() && !several.active()"
            [class.outline-mark]="p.n === selected()"
            [class.outline-offset-2]="p.n === selected()"
            [class.cursor-move]="p.frame.flow === 'floating'"
            [class.cursor-pointer]="p.frame.flow === 'inline'"
            [style.left.px]="p.x"
            [style.top.px]="p.y"
            [style.width.px]="p.width"
            [style.height.px]="p.height"
            [attr.data-n]="p.n"
            [attr.inert]="several.has(p.id) ? '' : null"
            [attr.aria-label]="p.label"
            [attr.aria-pressed]="p.n === selected()"
            role="button"
            [tabindex]="p.n === selected() ? 0 : -1"
            (pointerdown)="down($event, p.n)"
            (contextmenu)="state.select(p.n)"
            (dblclick)="closer.emit()"
            (keydown)="key($event, p.n)"
          >
            @if (p.empty) {
              <div class="h-full w-full border border-dashed border-[#5a6560] bg-[#f4f0e7]"></div>
            } @else {
              <gable-try-canvas
                class="pointer-events-none absolute"
                [style.left.px]="p.painted.left"
                [style.top.px]="p.painted.top"
                [style.width.px]="p.painted.width"
                [style.height.px]="p.painted.height"
                [key]="p.key"
                [frame]="p.frame"
                [width]="p.painted.width"
                [height]="p.painted.height"
                [margin]="0"
                [whole]="true"
                [class.invisible]="p.shown"
                [asleep]="p.shown && isWeb()"
              />
              @if (p.n === selected() && !came()) {
                <gable-video-layer
                  [frame]="p.frame"
                  [size]="edit.size()"
                  [x]="p.painted.box.x"
                  [y]="p.painted.box.y"
                  [scale]="p.at.kx"
                />
              }
            }
          </div>
          @if (p.words; as w) {
            <div
              class="pointer-events-none absolute"
              [style.z-index]="p.z"
              [style.left.px]="p.at.x"
              [style.top.px]="p.at.y"
            >
              <gable-page-items [items]="w" [scale]="px()" />
            </div>
          }
        }
        @if (isText()) {
          <gable-page-items [items]="overText()" [scale]="px()" />
        }
        @if ((isFixed() || isText() || isWeb()) && !came() && !alone()) {
          <gable-item-layer [items]="isText() ? besideText() : isWeb() ? onWeb() : stack()" [scale]="px()" />
        }
        @if (groupBox(); as g) {
          <div
            class="pointer-events-none absolute z-[99997] border border-dashed border-mark"
            data-group
            [style.left.px]="g.x - 6"
            [style.top.px]="g.y - 6"
            [style.width.px]="g.width + 12"
            [style.height.px]="g.height + 12"
          ></div>
        }
        @for (gap of gaps(); track $index) {
          <button
            type="button"
            class="absolute flex items-center justify-center border border-dashed border-soft bg-raised/70 text-[13px] text-soft hover:border-mark hover:text-ink"
            [style.left.px]="gap.x"
            [style.top.px]="gap.y"
            [style.width.px]="gap.width"
            [style.height.px]="gap.height"
            (click)="fill(gap.taker)"
          >
            Add a picture here
          </button>
        }
        @for (h of handles(); track h.cursor + h.handle.x + h.handle.y) {
          <span
            class="absolute z-[99999] flex h-6 w-6 -translate-x-1/2 -translate-y-1/2 touch-none items-center justify-center"
            [style.left.px]="h.x"
            [style.top.px]="h.y"
            [style.cursor]="h.cursor"
            [title]="h.sizes ? 'Resize with the picture' : 'Crop'"
            [attr.data-handle]="h.handle.x + ' ' + h.handle.y"
            (pointerdown)="grab($event, h.handle)"
            ><span
              class="border-2 border-mark bg-raised"
              [class]="h.sizes ? 'h-2.5 w-2.5 rotate-45' : h.handle.x === 0 ? 'h-1.5 w-4' : 'h-4 w-1.5'"
            ></span
          ></span>
        }
        @if (placing.waiting()) {
          <div
            #aimer
            class="absolute -inset-4 z-[99999] cursor-crosshair outline-none"
            tabindex="0"
            role="application"
            aria-roledescription="place for a picture"
            [attr.aria-label]="
              (placing.mark()?.words ?? 'Choose a place') +
              '. Arrow keys move, Enter puts the picture in, Escape cancels.'
            "
            (pointermove)="aim($event)"
            (click)="putHere($event)"
            (keydown)="aimByKey($event)"
          ></div>
        }
        @if (mark(); as m) {
          <div
            class="pointer-events-none absolute z-[99999]"
            [class.border-2]="m.form === 'box' && !m.boxes"
            [class.border-dashed]="m.form === 'box' && !m.boxes"
            [class.border-mark]="true"
            [class.bg-mark]="m.form !== 'box'"
            [class.rounded-sm]="true"
            data-mark
            [style.left.px]="m.x"
            [style.top.px]="m.form === 'line' ? m.y - 2 : m.y"
            [style.width.px]="m.width"
            [style.height.px]="m.form === 'line' ? 4 : m.height"
            [style.rotate.deg]="m.turn ?? 0"
          >
            @for (b of m.boxes ?? []; track $index) {
              <div
                class="absolute rounded-sm border-2 border-dashed border-mark"
                [style.left.px]="b.x"
                [style.top.px]="b.y"
                [style.width.px]="b.width"
                [style.height.px]="b.height"
              ></div>
            }
            <span
              class="absolute whitespace-nowrap rounded bg-mark px-2 py-0.5 text-[13px] text-on-ink"
              [class]="
                m.form === 'line'
                  ? 'bottom-full right-0 mb-1'
                  : m.form === 'caret'
                    ? 'bottom-full left-0 mb-1 -translate-x-1/2'
                    : 'left-1/2 top-full mt-1.5 -translate-x-1/2'
              "
              >{{ m.words }}</span
            >
          </div>
        }
        @if (sizeWords(); as words) {
          <p
            class="figure pointer-events-none absolute z-[99999] -translate-x-1/2 -translate-y-1/2 rounded bg-mark px-2 py-1 text-[13px] text-on-ink"
            data-size
            [style.left.px]="words.x"
            [style.top.px]="words.y"
          >
            {{ words.text }}
          </p>
        }
        @for (g of guides(); track $index) {
          @let down = g.axis === 'x' && !g.gap;
          @let across = (g.axis === 'y' && !g.gap) || (g.axis === 'x' && g.gap);
          <div
            class="pointer-events-none absolute z-[99999] bg-mark"
            data-guide
            [style.left.px]="down ? g.at : g.axis === 'y' && g.gap ? g.at : g.from"
            [style.top.px]="down ? g.from : g.axis === 'y' && !g.gap ? g.at : g.gap && g.axis === 'x' ? g.at : g.from"
            [style.width.px]="across ? g.to - g.from : 1"
            [style.height.px]="across ? 1 : g.to - g.from"
          ></div>
        }
        @for (why of reasons(); track why.words) {
          <p
            class="pointer-events-none absolute z-[99999] whitespace-nowrap rounded bg-mark px-2 py-0.5 text-[13px] text-on-ink"
            [style.left.px]="why.x"
            [style.top.px]="why.y"
          >
            {{ why.words }}
          </p>
        }
        @if (offer(); as o) {
          <div
            class="absolute z-[100000] w-[300px] rounded-lg border-l-4 border-mark bg-raised p-3 text-[13px] shadow-lg"
            role="alertdialog"
            aria-label="This picture sits in the text"
            [style.left.px]="o.x"
            [style.top.px]="o.y"
          >
            <p class="mb-2">
              <strong class="font-semibold">This picture sits in the text like a letter</strong>, so it goes where its
              line goes. Moved freely, it can be dragged anywhere, and the text wraps round it.
            </p>
            <button type="button" class="act act-main h-8" (click)="free(o.n)">Let it move freely</button>
            <button type="button" class="act h-8" (click)="offer.set(null)">Keep it in the text</button>
          </div>
        }
      </div>
      @if (!laid()) {
        <p class="absolute left-1/2 top-1/2 -translate-x-1/2 text-soft" role="status">
          {{ failed() ?? 'Laying out the pages …' }}
        </p>
      }
    </div>
    @if (!alone() && lacking(); as words) {
      <p class="pointer-events-none absolute bottom-1 left-3 text-[12px] text-soft" data-approximate>{{ words }}</p>
    }
    @if (!alone() && sheet(); as s) {
      <p class="figure pointer-events-none absolute bottom-1 left-3 text-[12px] text-soft">{{ s.words }}</p>
      <p class="pointer-events-none absolute bottom-1 right-3 text-[12px] text-soft max-lg:hidden">
        {{
          several.active()
            ? 'Drag to move them all · Shift and click lets one go · Esc chooses one'
            : several.locked()
              ? 'Locked: it stays where it is · unlock it in its menu (right-click) · double-click for the close-up'
              : groupBox()
                ? 'Dragging moves the group; with Alt, this alone · Shift and click chooses more · double-click for the close-up'
                : 'Corners resize, sides crop · ' +
                  (several.all().length > 1 ? 'Shift and click chooses more · ' : '') +
                  'double-click for the close-up · Ctrl and wheel zoom'
        }}
      </p>
    }`,
  host: {
    class: 'relative block min-h-0 select-none overflow-hidden [&:fullscreen]:bg-paper',
    '(fullscreenchange)': 'alone.set(isAlone())',
    '(keydown)': 'turn($event)',
    '(keydown.control.alt.arrowup)': 'zoomBy(1.25, $event)',
    '(keydown.control.alt.arrowdown)': 'zoomBy(0.8, $event)',
  },
})
export class PageView {
  protected readonly state = inject(WorkStore);
  protected readonly placing = inject(Placing);
  protected readonly several = inject(Several);
  private readonly api = inject(Api);
  readonly closer = output();
  /** The author has scrolled: how far down, as a share of the way. */
  readonly scrolled = output<number>();
  /** The pages as they came, to look at only. */
  readonly came = input(false);
  protected readonly edit = inject(Edit);
  private readonly around = inject(AroundEdit);
  private readonly windows = inject(Windows);
  private readonly injector = inject(Injector);
  private readonly units = inject(Units);
  /** The window on the pages, in CSS pixels. */
  private readonly pane = signal({ width: 1200, height: 440 });
  /** CSS pixels as they are shown to those of a page at its own size: a page of a fixed size is fitted to the window. */
  protected readonly scale = computed(() => {
    const { width, height } = this.pane();
    const sheet = this.sheet();
    if (!sheet) return Math.min(this.alone() ? 1 : SCALE, (width - ROOM) / this.size().width) * this.zoom();
    const fit = Math.min((width - 2 * ROOM) / sheet.width, (height - 2 * ROOM) / sheet.height);
    return Math.max(LEAST_SCALE, fit) * this.zoom();
  });
  /** How many times as large as it would be by itself. */
  protected readonly zoom = signal(1);
  /** Above a page that is seen whole. */
  protected readonly top = computed(() => {
    const sheet = this.sheet();
    return sheet ? Math.max(ROOM - 8, (this.pane().height - sheet.height * this.scale()) / 2 - 6) : 0;
  });
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  /** Is the page all that is on the screen, as its readers see it? */
  protected readonly alone = signal(false);
  protected readonly isAlone = (): boolean => document.fullscreenElement === this.host.nativeElement;
  protected readonly source = inject(DomSanitizer).bypassSecurityTrustResourceUrl('/page/index.html');
  private readonly page = viewChild<ElementRef<HTMLIFrameElement>>('page');
  private readonly aimer = viewChild<ElementRef<HTMLElement>>('aimer');
  private readonly scroller = viewChild.required<ElementRef<HTMLElement>>('scroller');
  private readonly canvases = viewChildren(TryCanvas);
  private readonly shown = new Shown(this.api, (message, transfer) => this.post(message, transfer));
  private readonly told = signal<Laid | null>(null);
  protected readonly failed = signal<string | null>(null);
  protected readonly offer = signal<{ n: number; x: number; y: number } | null>(null);
  private readonly frameReady = signal(false);
  private readonly fonts = inject(OwnFonts);
  /** Fonts that the frame has, by their ids. */
  private readonly given = new Set<string>();
  /** The layout that was asked for last: answers to earlier ones come too late. */
  private sent: { id: number; room: string; frames: ReadonlyMap<number, Frame>; document: Document | null } = {
    id: 0,
    room: '',
    frames: new Map(),
    document: null,
  };
  /** What the text made room for when the pages were laid out. */
  private readonly laidFor = signal<string | null>(null);
  private drag: {
    n: number;
    x: number;
    y: number;
    start: Frame;
    gesture: string;
    handle?: Handle;
    /** Where it is shown as the drag begins, and what it can rest on. */
    box: Box;
    rests: Rests | null;
    /** It can be tied to other paragraphs. */
    ties: boolean;
    /** How far the pages were scrolled as the drag began. */
    scrolled: Point;
    /** All of its group, which moves with it. */
    group?: readonly FramedItem[] | null;
  } | null = null;
  /** What can be tied to other paragraphs is moved: these are asked for. */
  private readonly tieable = signal(false);
  /** Is it being dragged? */
  private readonly dragging = signal(false);
  /** Frames that were tied to other paragraphs, where they were let go until the pages are laid out anew; CSS pixels. */
  private readonly letGo = signal<ReadonlyMap<number, { frame: Frame; at: Point }>>(new Map());
  /** Why what is dragged rests where it does, and what it goes with. */
  protected readonly guides = computed(() => [...this.rests(), ...this.tieGuides()]);
  protected readonly rests = signal<readonly PageGuide[]>([]);
  /** A line beside the paragraph that what is dragged would go with, where that is another than its own. */
  private readonly tieGuides = computed((): PageGuide[] => {
    const found = this.dragging() ? this.tieFor(this.selected()) : null;
    if (!found) return [];
    const { spot } = found.tie;
    const k = this.scale();
    const begins = cut(spot.words.replace(/\s+/g, ' ').trim(), 32, '…');
    const words = begins ? `Moves with “${begins}”` : 'Moves with an empty paragraph';
    return [{ axis: 'x', at: (spot.x - 8) * k, from: spot.y * k, to: (spot.y + spot.height) * k, words }];
  });
  /** While a handle is dragged: has its crop met the picture's edge? */
  private readonly pulling = signal<boolean | null>(null);
  private gestures = 0;

  /** Is it something round a picture that is chosen? */
  protected readonly itemChosen = computed(() => (this.state.model()?.item ?? null) !== null);
  protected readonly selected = computed(() => this.state.model()?.selected ?? 0);
  /** A work of pictures has no pages: its frames lie on a sheet as they are. */
  protected readonly isRow = computed(() => this.state.model()?.work.can.pages === 'row');
  /** Slides and drawings have pages of a fixed size, one below the other. */
  protected readonly isText = computed(() => this.state.model()?.work.can.pages === 'text');
  protected readonly isFixed = computed(() => (this.state.model()?.work.sheets ?? []).length > 0);
  protected readonly isWeb = computed(() => this.state.model()?.work.can.pages === 'web');
  /** Of a web site, the page with the chosen picture is shown. */
  private readonly webPage = computed(() => {
    const m = this.state.model();
    return (this.isWeb() && m && pictureIn(m.work, m.selected)?.where.page) || 1;
  });
  /** Points to CSS pixels as they are shown. */
  protected readonly px = computed(() => PX * this.scale());
  /** What the guides say, once each, below what is dragged. */
  protected readonly reasons = computed(() => {
    const words = [...new Set(this.guides().map((g) => g.words))];
    const p = words.length > 0 ? this.dragged() : undefined;
    return p ? words.map((text, i) => ({ words: text, x: p.x + 4, y: p.y + p.height + 8 + i * 26 })) : [];
  });
  private dragged(): Box | undefined {
    if (!this.several.active()) return this.placed().find((one) => one.n === this.selected());
    return scaledBy(this.several.bounds(), this.px());
  }
  /** What lies on each page, from the back to the front. */
  private readonly stacks = computed(() => {
    const [document, work] = [this.document(), this.state.model()?.work];
    return document && work ? document.pages.map((page) => stackOnSheet(work, document, page)) : [];
  });
  /** How far up each picture lies on its page, by its number. */
  private readonly heights = computed(() => {
    // What pages share lies beneath what is on the one that is seen.
    const stacks = [...this.stacks(), this.stacks()[this.edit.page() - 1] ?? []];
    const heights = new Map(stacks.flatMap((stack) => stack.map(({ item }, z) => [item.id, z + 1] as const)));
    return new Map((this.state.model()?.work.pictures ?? []).map((p) => [p.n, heights.get(itemIdOf(p)) ?? null]));
  });
  /** The groups round pictures that are in some, by their numbers. */
  private readonly groups = computed(() => {
    const document = this.document();
    const round = document ? groupsRound(document) : null;
    const pictures = this.state.model()?.work.pictures ?? [];
    return new Map(pictures.map((p) => [p.n, (round?.get(itemIdOf(p)) ?? []).map(spaceOf)]));
  });
  /** As the file has it, and with what was put round pictures. */
  private readonly document = computed(() => {
    const m = this.state.model();
    return !m ? null : this.came() ? m.file : shownDocument(m);
  });
  protected readonly stack = computed(() => this.stacks()[this.edit.page() - 1] ?? []);
  /** What of the page that is seen takes pictures that are put on it. */
  private readonly takers = computed(() => {
    const [work, document] = [this.state.model()?.work, this.state.model()?.file];
    const page = this.edit.page();
    return work?.can.insert && document?.pages[page - 1] ? takersOn(document, page) : [];
  });
  /** Empty frames of the page that is seen, for the author to fill. */
  protected readonly gaps = computed(() => {
    const k = this.px();
    if (this.came() || this.alone()) return [];
    return this.takers()
      .filter(isEmpty)
      .map((taker) => {
        const { x, y, width, height } = taker.box;
        return { x: x * k, y: y * k, width: width * k, height: height * k, taker };
      });
  });
  readonly filled = output<Place>();

  protected fill(taker: Placed): void {
    this.filled.emit(markOn(taker, this.edit.page(), PX).place);
  }

  protected readonly likenessOf = (item: string): string =>
    this.api.likenessUrl(this.state.model$.value?.work.id ?? '', item);

  /** How what a drawing has itself is shown by the picture behind it: as it is saved. */
  private readonly groundState = computed(() => {
    const m = this.state.model();
    return m && !this.came() && this.hasDrawn() ? savedState(m) : '';
  });
  private readonly hasDrawn = computed(() => this.state.model()?.work.sheets?.some((s) => s.drawn) === true);
  /** The state that the picture behind the page shows, once it is there. */
  private readonly behindNow = signal<Document | null>(null);

  protected groundShown(url: string): void {
    const m = this.state.model$.value;
    if (m && this.hasDrawn() && url === this.sheet()?.ground) this.behindNow.set(m.saved.document);
  }

  /** What that shows otherwise than it is now: it is painted over it until it shows it, too. */
  private readonly otherwise = computed(
    (): ReadonlySet<string> => {
      const m = this.state.model();
      const shown = this.behindNow();
      if (!m || this.came() || !this.hasDrawn()) return NOTHING;
      return ownOtherwise(m, shown ?? m.file);
    },
    { equal: (a, b) => a === b || (a.size === b.size && [...a].every((id) => b.has(id))) },
  );

  /** The page that is seen, where pages have a fixed size. */
  protected readonly sheet = computed(() => {
    const work = this.state.model()?.work;
    const i = this.edit.page() - 1;
    const s = work?.sheets?.[i];
    if (!work || !s) return null;
    const page = this.document()?.pages[i];
    const unit = this.units.unit();
    const typed = this.around.typing() ? this.around.item()?.id : undefined;
    const stack = this.stacks()[i] ?? [];
    const behind = shownBehind(stack, s, this.otherwise());
    return {
      words: `${shownLength(s.width, unit)} × ${shownLength(s.height, unit)}`,
      background: page ? groundOf(page) : s.background,
      items: stack.flatMap((placed, z) =>
        behind.has(placed.item.id) || isPictureItem(placed.item) || placed.item.id === typed
          ? []
          : [{ item: placed.item, box: placed.box, turn: placed.turn, flip: placed.flip, z: z + 1 }],
      ),
      width: s.width * PX,
      height: s.height * PX,
      lines: s.lines ? gridOf(s.lines) : null,
      // Another ground takes the place of a picture behind the page, but for one of all that is drawn there.
      ground:
        s.backdrop && (s.drawn || equal(page?.ground, this.state.model()?.file.pages[i]?.ground))
          ? this.api.groundUrl(work.id, i + 1, this.groundState())
          : null,
    };
  });

  protected readonly laid = computed((): Laid | null => {
    const m = this.state.model();
    if (m && this.isFixed()) return this.onSheets(m);
    if (!m || !this.isRow()) return this.told();
    const frames = this.framesNow(m);
    const edge = 40;
    const all = [...frames.values()];
    const right = Math.max(300, ...all.map((f) => f.box.x + f.box.width));
    const below = Math.max(200, ...all.map((f) => f.box.y + f.box.height));
    return {
      pictures: all.map((f) => ({
        n: f.n,
        x: (f.box.x + edge) * PX,
        y: (f.box.y + edge) * PX,
        width: f.box.width * PX,
        height: f.box.height * PX,
        inParagraph: { x: 0, y: 0 },
      })),
      blocks: [],
      width: (right + 2 * edge) * PX,
      height: (below + 2 * edge) * PX,
      frames,
    };
  });
  /** The frames that are shown. */
  private framesNow(m: WorkModel): ReadonlyMap<number, Frame> {
    return this.came() ? new Map(m.work.pictures.map((p) => [p.n, p.frame])) : framesOf(m);
  }

  private frameNow(m: WorkModel, n: number): Frame {
    return this.came() ? pictureOf(m, n).frame : takenFrame(m, n);
  }

  /** A frame as it lies on its page, whatever groups it is in. */
  private readonly onPage = (frame: Frame): Frame => placedIn(frame, this.groups().get(frame.n) ?? []);

  /** A step on the page as one in the groups round a picture. */
  private inGroups(n: number, dx: number, dy: number): [number, number] {
    const upright = { box: { x: 0, y: 0, width: 1, height: 1 }, turn: 0, flip: { horizontal: false, vertical: false } };
    const [a, b, c, d] = invert(frameMatrix(upright, this.groups().get(n) ?? []));
    return [a * dx + c * dy, b * dx + d * dy];
  }

  /** Frames where their slide or drawing has them, those of its layout and its master beneath. */
  private onSheets(m: WorkModel): Laid {
    const sheet = this.sheet()!;
    const page = this.edit.page();
    const stack = new Set((this.stacks()[page - 1] ?? []).map(({ item }) => item.id));
    const pictures = m.work.pictures.flatMap((p): PictureOnPage[] => {
      if (p.where.page !== page && !(p.where.page === null && stack.has(itemIdOf(p)))) return [];
      const { box } = this.onPage(p.frame);
      const [x, y] = [box.x + (p.origin?.x ?? 0), box.y + (p.origin?.y ?? 0)];
      const inParagraph = { x: 0, y: 0 };
      return [{ n: p.n, x: x * PX, y: y * PX, width: box.width * PX, height: box.height * PX, inParagraph }];
    });
    const frames = new Map(m.work.pictures.map((p) => [p.n, this.onPage(p.frame)]));
    return {
      pictures,
      blocks: [],
      width: sheet.width,
      height: sheet.height,
      frames,
    };
  }

  /** Why the lines of a text may break elsewhere in its own program; null where they do not. */
  protected readonly lacking = computed(() => {
    const fonts = this.laid()?.approximate ?? [];
    const list = new Intl.ListFormat('en', { type: 'conjunction' });
    const why = [
      ...(fonts.length > 0
        ? [`lines may break elsewhere in ${list.format(fonts.slice(0, 3).map((f) => `“${f}”`))}`]
        : []),
      ...(this.laid()?.oneSided ? ['text beside a picture is on one side of it only'] : []),
    ];
    return why.length > 0 ? `Approximate: ${why.join('; ')}.` : null;
  });

  protected readonly size = computed((): Size => {
    const laid = this.laid();
    if (this.isWeb()) return { width: this.windows.width(), height: laid?.height ?? WINDOW.height };
    return laid ?? { width: 860, height: 1180 };
  });

  /** Our frames where the layout put them, and moved from there by what has been done since. */
  protected readonly placed = computed(() => {
    const m = this.state.model();
    const laid = this.laid();
    if (!m || !laid) return [];
    const shown = this.shown.now();
    return laid.pictures.flatMap((t) => {
      const p = pictureIn(m.work, t.n);
      const was = laid.frames.get(t.n);
      if (!p || !was) return [];
      const now = m.preview && m.selected === t.n && !this.came() ? m.preview : this.frameNow(m, t.n);
      const frame = this.onPage(now);
      const all = paintedBounds(frame);
      // The layout knows the box; what is painted reaches beyond it. A shadow is no part of what is taken hold of.
      const b = frame.shadow ? paintedBounds({ ...frame, shadow: null }) : all;
      const dropped = this.letGo().get(t.n);
      // Tied to another paragraph, it is where it was let go.
      const left =
        dropped && equal(dropped.frame.paragraph, now.paragraph) && !equal(now.paragraph, was.paragraph)
          ? dropped
          : null;
      const rested = left ? left.at : this.isText() ? boxIn(t, was) : t;
      const by = this.movedInText()[t.own ?? ''] ?? { x: 0, y: 0 };
      const at = { x: rested.x + by.x, y: rested.y + by.y };
      const since = (left?.frame ?? was).box;
      const floats = frame.flow === 'floating' && was.flow === 'floating';
      const dx = floats ? frame.box.x - since.x : 0;
      const dy = floats ? frame.box.y - since.y : 0;
      const scale = this.scale();
      const k = PX * scale;
      // A web page may give a picture another size than its box has in our count.
      const kx = this.isWeb() ? (t.width / was.box.width) * scale : k;
      const ky = this.isWeb() ? (t.height / was.box.height) * scale : k;
      const problem = problemOf(p, frame);
      // Its place is the one that the pages were laid out with.
      const rests = now !== m.preview && equal(placeOf(now), placeOf(was));
      return [
        {
          n: t.n,
          id: itemIdOf(p),
          x: at.x * scale + dx * k + b.x * kx,
          y: at.y * scale + dy * k + b.y * ky,
          width: b.width * kx,
          height: b.height * ky,
          painted: {
            left: (all.x - b.x) * kx,
            top: (all.y - b.y) * ky,
            width: all.width * kx,
            height: all.height * ky,
            box: { x: -b.x * kx, y: -b.y * ky },
          },
          frame,
          rests,
          left: left !== null,
          told: t,
          at: { x: at.x * scale + dx * k, y: at.y * scale + dy * k, kx, ky },
          key: keyOf(m.work, frame),
          words: p.words ? wordsOver(frame, p.words) : null,
          empty: problem !== null,
          // One of a layout or a master is chosen in the row of pictures: on a slide it lies beneath.
          shared: this.isFixed() && p.where.page === null,
          shown: (laid.shown?.includes(t.n) ?? false) && rests && equal(now, this.isWeb() ? was : shown.get(t.n)),
          z: this.heights().get(t.n) ?? null,
          label: `Picture ${t.n}${frame.alt ? `, ${frame.alt}` : ''}: ${describe(frame, sizeOf(p, frame))}`,
        },
      ];
    });
  });

  /** The handles of the chosen frame, where its box has its corners and sides. */
  protected readonly handles = computed(() => {
    const p = this.placed().find((one) => one.n === this.selected());
    if (!p || this.came() || this.alone() || p.empty || this.itemChosen() || this.several.active()) return [];
    if (this.edit.locked()) return [];
    if (this.state.model()?.preview) return [];
    const { frame, at } = p;
    const { width, height } = frame.box;
    const matrix = boxMatrix({ ...frame, flip: { horizontal: false, vertical: false } });
    // On a small frame the sides would lie upon the corners.
    const small = Math.min(width * p.at.kx, height * p.at.ky) < SMALL;
    // A section is as wide as its page says.
    const has = ({ x, y }: Handle): boolean => (frame.section ? x === 0 : !small || (x > 0 && y > 0));
    return HANDLES.filter(({ handle }) => has(handle)).map(({ handle, cursor, sizes }) => {
      const q = applyTo(matrix, { x: (width * (handle.x + 1)) / 2, y: (height * (handle.y + 1)) / 2 });
      return { handle, cursor, sizes, x: at.x + q.x * at.kx, y: at.y + q.y * at.ky };
    });
  });
  /** The size while a handle is dragged, in the middle of the frame. */
  protected readonly sizeWords = computed(() => {
    const atEdge = this.pulling();
    const p = atEdge === null ? undefined : this.placed().find((one) => one.n === this.selected());
    if (!p) return null;
    const { width, height } = p.frame.box;
    const unit = this.units.unit();
    const text = `${shownLength(width, unit)} × ${shownLength(height, unit)}${atEdge ? ' · edge of the picture' : ''}`;
    return { text, x: p.at.x + (width * p.at.kx) / 2, y: p.at.y + (height * p.at.ky) / 2 };
  });

  /** What was put round pictures of a text or of a web page, in its order, with the number of its picture. */
  private readonly beside = computed((): { item: FramedItem; n: number }[] => {
    const [m, document] = [this.state.model(), this.document()];
    if (!m || !document || !(this.isText() || this.isWeb()) || this.came()) return [];
    const numbers = new Map(m.work.pictures.map((p) => [itemIdOf(p), p.n]));
    return document.stories.flatMap(({ items }) =>
      items.flatMap((id) => {
        const item = document.items[id];
        if (!isAdded(id) || item?.kind !== 'framed') return [];
        const n = numbers.get(besideInText(item) ?? '');
        return n === undefined ? [] : [{ item, n }];
      }),
    );
  });
  /** Where that lies on the pages; in points. */
  protected readonly besideText = computed((): Stacked[] => {
    const pictures = new Map(this.placed().map((p) => [p.n, p]));
    const pages = this.told()?.pages ?? [];
    const k = this.px();
    return this.beside().flatMap(({ item, n }, z): Stacked[] => {
      const p = pictures.get(n);
      if (!p || item.at.on !== 'anchor') return [];
      const own = p.frame.flow === 'inline' ? { x: 0, y: 0 } : p.frame.box;
      const { box, anchor } = item.at;
      const page = pageAt(pages, (p.y + p.height / 2) / this.scale());
      const at = (axis: 'x' | 'y'): number =>
        anchor?.from[axis] === 'page' && page ? page[axis] / PX + box[axis] : p.at[axis] / k + box[axis] - own[axis];
      return [{ item, box: { ...box, x: at('x'), y: at('y') }, turn: item.turn, flip: item.flip, z: z + 1 }];
    });
  });
  /** Where it lies on a web page, which shows it itself. */
  protected readonly onWeb = computed((): Stacked[] => {
    const spots = new Map((this.told()?.items ?? []).map((spot) => [spot.id, spot]));
    return this.beside().flatMap(({ item }, z): Stacked[] => {
      const spot = spots.get(item.id);
      if (!spot) return [];
      const box = inPoints(spot);
      // A band goes from edge to edge of the window.
      const across = isBand(item) ? { x: 0, width: this.windows.width() / PX } : {};
      return [{ item, box: { ...box, ...across }, turn: item.turn, flip: item.flip, z: z + 1 }];
    });
  });
  /** Shapes and text boxes of a text itself, and words of a web page, where these are laid out with them: they show these themselves. */
  protected readonly ownInText = computed((): Stacked[] => {
    const [m, document] = [this.state.model(), this.document()];
    if (!m || !document || this.isRow() || this.isFixed() || this.came()) return [];
    const own = restylable(m);
    const laid = this.told();
    return (laid?.items ?? []).flatMap((spot): Stacked[] => {
      const item = document.items[spot.id];
      if (item?.kind !== 'framed' || !own.has(item.id)) return [];
      // Since it was laid out it may be elsewhere, or of another size.
      const [was, { box: now }] = [(laid?.document?.items[spot.id] ?? item).at.box, item.at];
      const { x, y, width, height } = inPoints(spot);
      const box = {
        ...{ x: x + now.x - was.x, y: y + now.y - was.y },
        ...{ width: width + now.width - was.width, height: height + now.height - was.height },
      };
      return [{ item, box, turn: item.turn, flip: item.flip, z: 0 }];
    });
  });
  /** What beside the words of a text can be chosen together: pictures that are free there, and shapes and text boxes. */
  private readonly besideEachOther = computed((): BesideText | null => {
    const [m, document, told] = [this.state.model(), this.document(), this.told()];
    if (!m || !document || !told || !this.isText() || this.came()) return null;
    const k = this.px();
    const pictures = this.placed().flatMap(({ n, id, at, frame, told: { own } }): Lying[] => {
      const item = document.items[id];
      if (item?.kind !== 'framed' || frame.flow !== 'floating' || own || this.groups().get(n)?.length) return [];
      if (pictureIn(m.work, n)?.where.place !== 'body') return [];
      const { width, height } = frame.box;
      return [{ item, box: { x: at.x / k, y: at.y / k, width, height }, turn: item.turn }];
    });
    const own = this.ownInText().filter(({ item }) => item.kind === 'framed' && canMove(item)) as Lying[];
    return besideText([...own, ...pictures], told.pages ?? []);
  });
  /** How far shapes of a text are from where they are laid out, in CSS pixels. */
  private readonly movedInText = computed(
    (): Record<string, Point> => {
      const [laid, document] = [this.told()?.document, this.document()];
      if (!laid || !document || !this.isText() || this.came()) return {};
      const moved = (this.told()?.items ?? []).flatMap(({ id }): [string, Point][] => {
        const [was, now] = [laid.items[id]?.at.box, document.items[id]?.at.box];
        if (!was || !now || (was.x === now.x && was.y === now.y)) return [];
        return [[id, { x: (now.x - was.x) * PX, y: (now.y - was.y) * PX }]];
      });
      return Object.fromEntries(moved);
    },
    { equal },
  );
  /** What of that is painted over the pages: what lies beneath the text is in them, and what is typed in its field. */
  protected readonly overText = computed(() => {
    const typed = this.around.typing() ? this.around.item()?.id : undefined;
    return this.besideText().filter(({ item }) => !isBeneath(item) && item.id !== typed);
  });

  /** What the text makes room for, as one word; none where nothing is laid out. A web page shows all of its frames itself. */
  private readonly room = computed(() => {
    const m = this.state.model();
    if (!m || this.isRow() || this.isFixed() || !this.frameReady()) return '';
    const room = m.work.pictures.map((p) => {
      const frame = this.frameNow(m, p.n);
      return this.isWeb() ? frame : placeOf(frame);
    });
    // What lies beneath the text is shown by the pages themselves.
    const beside = this.beside().map(({ item }) => (isBeneath(item) || this.isWeb() ? item : [item.id, item.at]));
    const own = this.came() ? [] : ownOtherwiseIn(m);
    return JSON.stringify([this.webPage(), room, beside, own]);
  });
  /** Are the pages being laid out? */
  protected readonly busy = computed(
    () => !this.failed() && !this.isRow() && !this.isFixed() && this.laidFor() !== this.room(),
  );

  /** The place that pictures would be put at, as it is shown. */
  protected readonly mark = computed((): Mark | null => {
    const m = this.placing.active() && !this.came() ? this.placing.mark() : null;
    const k = this.scale();
    return m && { ...m, ...scaledBy(m, k), ...(m.boxes && { boxes: m.boxes.map((b) => scaledBy(b, k)) }) };
  });
  /** Which block of the file each laid out one shows. */
  private readonly counts = signal<readonly (Count | null)[]>([]);
  /** The blocks of the file. */
  private readonly blocks = signal<readonly Block[]>([]);

  constructor() {
    const destroyed = inject(DestroyRef);
    effect(() => {
      const beside = this.besideEachOther();
      const settled = !this.busy();
      if (this.came()) return;
      this.several.besideText.set(beside);
      if (beside && settled) untracked(() => this.several.settle());
    });
    destroyed.onDestroy(() => this.came() || this.several.besideText.set(null));
    // The blocks of the text are asked for when something is to be put between them.
    effect(() => {
      const m = untracked(this.state.model);
      const laid = this.told();
      const page = this.webPage();
      if (
        !m ||
        !laid ||
        !(this.placing.active() || this.tieable()) ||
        (m.work.can.insert !== 'text' && m.work.can.insert !== 'web')
      )
        return;
      void firstValueFrom(this.api.blocks(m.work.id, page))
        // Those of texts bear their numbers.
        .then((blocks) => {
          this.counts.set(this.isText() ? countsOf(blocks) : blocksOf(laid.blocks, blocks));
          this.blocks.set(blocks);
        })
        .then(() => untracked(() => this.placing.waiting() && !this.placing.mark() && this.aimFirst()))
        .catch((e: unknown) => this.failed.set(toProblem(e).title));
    });
    effect(() => {
      const aimer = this.aimer()?.nativeElement;
      if (!aimer) return;
      aimer.focus({ preventScroll: true });
      untracked(() => {
        if (!this.placing.mark()) this.aimFirst();
      });
    });
    // Another way into the text has places of its own.
    effect(() => {
      this.placing.way();
      this.placing.inFront();
      untracked(() => this.placing.waiting() && this.placing.mark() && this.aimFirst());
    });
    // Arranged otherwise they stay about the same point.
    effect(() => {
      this.placing.spread();
      untracked(() => {
        const place = this.placing.mark()?.place;
        if (this.placing.waiting() && place?.in === 'page') this.aimAt({ x: place.x * PX, y: place.y * PX });
      });
    });
    // Pictures that are being changed are painted over the page.
    effect(() => {
      const { shown } = this.told() ?? {};
      if (!shown || shown.length === 0) return;
      const seen = new Set(this.placed().flatMap((p) => (p.shown ? [p.n] : [])));
      this.post({ id: this.sent.id, left: shown.filter((n) => !seen.has(n)) });
    });
    // What floats in a text lies in it, as soon as it is painted: words and shapes may lie over it.
    effect(() => {
      if (!this.isText() || this.busy()) return;
      const scale = this.scale();
      const resting = this.placed().flatMap((p) => {
        if (!p.rests || p.frame.flow !== 'floating' || p.empty) return [];
        const { left, top, width, height } = p.painted;
        const at = { x: (p.x + left) / scale - p.told.x, y: (p.y + top) / scale - p.told.y };
        return [{ n: p.n, frame: p.frame, at: { ...at, width: width / scale, height: height / scale } }];
      });
      this.shown.paint(this.sent.id, resting, this.canvases());
    });
    const listen = (event: MessageEvent): void => this.hear(event);
    afterNextRender(() => {
      const observer = new ResizeObserver(([entry]) => {
        const { width, height } = entry!.contentRect;
        if (width > 0 && height > 0) this.pane.set({ width, height });
      });
      observer.observe(this.scroller().nativeElement);
      destroyed.onDestroy(() => observer.disconnect());
    });
    window.addEventListener('message', listen);
    destroyed.onDestroy(() => window.removeEventListener('message', listen));
    // The pages are laid out anew when something changes that the text makes room for.
    toObservable(this.room)
      .pipe(
        filter((r) => r !== ''),
        // The first time nothing is waited for.
        debounce(() => timer(this.told() ? SETTLED_MS : 0)),
        switchMap((room) => {
          const m = this.state.model$.value!;
          const id = this.sent.id + 1;
          const page = this.webPage();
          this.sent = { id, room, frames: this.framesNow(m), document: m.document };
          const frames = this.came() ? [] : [...changedFrames(m)];
          const added = this.came() ? undefined : addedChanges(m);
          const pages$ = this.api.pages(m.work.id, { frames, page, ...(added && { added }) });
          return pages$.pipe(
            switchMap(async (bytes) => ({ bytes, fonts: await this.fonts.data(new TextDecoder().decode(bytes)) })),
            switchMap(({ bytes, fonts }) => {
              this.giveFonts(fonts);
              this.post({ bytes, id, given: this.shown.again(m.work, this.sent.frames) }, [bytes]);
              return EMPTY;
            }),
            catchError((e: unknown) => {
              this.failed.set(toProblem(e).title);
              return EMPTY;
            }),
          );
        }),
        takeUntilDestroyed(),
      )
      .subscribe();
    effect(() => {
      const document = this.isText() ? this.document() : null;
      const paper = document && papersOf(document)[0];
      if (paper && this.frameReady()) untracked(() => this.post({ id: this.sent.id, paper: groundOf(paper) }));
    });
    // What is typed into a field is not seen in the page beneath it.
    effect(() => {
      const typed = this.isWeb() && this.around.typing() ? (this.around.item()?.id ?? null) : null;
      if (this.frameReady()) untracked(() => this.post({ id: this.sent.id, typed }));
    });
    effect(() => {
      // Laid out anew, the pages know of none.
      this.told();
      const moved = this.movedInText();
      if (this.isText() && this.frameReady()) untracked(() => this.post({ id: this.sent.id, moved }));
    });
    // In a window of another width the page is measured anew.
    effect(() => {
      const width = this.windows.width();
      if (this.isWeb() && this.frameReady() && untracked(this.told))
        untracked(() =>
          afterNextRender(() => this.post({ id: this.sent.id, measure: width }), { injector: this.injector }),
        );
    });
    // The selected picture is brought into sight.
    let last = 0;
    const { injector } = this;
    effect(() => {
      const n = this.selected();
      if (n === last || !this.laid()?.pictures.some((p) => p.n === n)) return;
      last = n;
      untracked(() =>
        afterNextRender(
          () => this.scroller().nativeElement.querySelector(`[data-n="${n}"]`)?.scrollIntoView({ block: 'center' }),
          { injector },
        ),
      );
    });
  }

  /** Fonts that the frame does not have yet. */
  private giveFonts(fonts: readonly (FontData & { id: string })[]): void {
    const missing = fonts.filter(({ id }) => !this.given.has(id));
    if (missing.length === 0) return;
    this.post({ id: this.sent.id, fonts: missing });
    for (const { id } of missing) this.given.add(id);
  }

  private post(message: Asked, transfer: Transferable[] = []): void {
    this.page()?.nativeElement.contentWindow?.postMessage(message, '*', transfer);
  }

  private hear(event: MessageEvent): void {
    if (!this.page() || event.source !== this.page()!.nativeElement.contentWindow) return;
    const data = event.data as {
      page?: boolean;
      ready?: boolean;
      id?: number;
      failed?: string;
      pictures?: PictureOnPage[];
      blocks?: Laid['blocks'];
      pages?: readonly PageSpot[];
      approximate?: readonly string[];
      oneSided?: boolean;
      items?: readonly ItemOnPage[];
      shown?: readonly number[];
      lacking?: readonly number[];
      caret?: Caret | null;
      width?: number;
      height?: number;
    };
    if (!data.page) return;
    if (data.ready) {
      this.shown.forget();
      this.given.clear();
      this.frameReady.set(true);
      return;
    }
    if (data.id !== this.sent.id) return;
    if (data.caret !== undefined) {
      const mark = data.caret && markAmong(data.caret, this.counts(), this.webPage());
      if (this.placing.active() && this.placing.way() === 'among') this.placing.mark.set(mark);
      return;
    }
    const { shown, lacking = [] } = data;
    if (shown && !data.pictures) {
      this.shown.arrived();
      this.told.update((told) => told && { ...told, shown });
      return;
    }
    const m = this.state.model$.value;
    if (m && lacking.length > 0) void this.shown.give(this.sent.id, m.work, lacking);
    if (data.failed || !Array.isArray(data.pictures)) {
      this.failed.set('The pages of this document cannot be laid out. Work on in close-up.');
      return;
    }
    this.laidFor.set(this.sent.room);
    const { pages = [] } = data;
    if (this.isText() && !this.came()) {
      const on = (y: number): number => pages.findIndex((p) => y >= p.y && y <= p.y + p.height);
      const all = data.pictures.map((p) => [p.n, on(p.y + p.height / 2) + 1] as const);
      this.state.laidPages.set(new Map(all.filter(([, page]) => page > 0).reverse()));
      const lies = data.pictures.flatMap((p): [number, { page: Size; box: Box }][] => {
        const page = pages[on(p.y + p.height / 2)];
        return page ? [[p.n, { page: inPoints(page, page), box: inPoints(p, page) }]] : [];
      });
      this.around.laid.set(new Map(lies));
    }
    if (this.isWeb() && !this.came()) {
      const page = { width: this.windows.width() / PX, height: (Number(data.height) || WINDOW.height) / PX };
      this.around.laid.set(new Map(data.pictures.map((p) => [p.n, { page, ...laidOnWeb(p) }])));
      const grounds = (data.items ?? []).flatMap(({ id, ground }) => (ground ? [[id, hexOf(ground)] as const] : []));
      this.around.grounds.set(new Map(grounds));
    }
    this.told.set({
      ...(data.items && { items: data.items }),
      pictures: data.pictures,
      blocks: data.blocks ?? [],
      pages: data.pages ?? [],
      approximate: data.approximate ?? [],
      oneSided: data.oneSided ?? false,
      ...(shown && { shown }),
      width: Number(data.width) || 860,
      height: Number(data.height) || 1180,
      frames: this.sent.frames,
      document: this.sent.document,
    });
  }

  private scrolledTo(): Point {
    const { scrollLeft: x, scrollTop: y } = this.scroller().nativeElement;
    return { x, y };
  }

  /** What is dragged to the upper or lower edge of the window scrolls the pages, as long as it is held there. */
  private scrollAtEdge(event: PointerEvent): void {
    const pane = this.scroller().nativeElement;
    const { top, bottom } = pane.getBoundingClientRect();
    const by = event.clientY < top + EDGE ? -EDGE_STEP : event.clientY > bottom - EDGE ? EDGE_STEP : 0;
    if (this.edgeTimer !== undefined) cancelAnimationFrame(this.edgeTimer);
    this.edgeTimer = undefined;
    if (by === 0 || !this.drag) return;
    this.edgeTimer = requestAnimationFrame(() => {
      const before = pane.scrollTop;
      // What hangs over the end of the pages makes no room.
      const pages = pane.firstElementChild as HTMLElement;
      const last = Math.max(before, pages.offsetTop + pages.offsetHeight + ROOM - pane.clientHeight);
      pane.scrollTop = Math.min(last, before + by);
      if (pane.scrollTop !== before) this.moved(event);
    });
  }
  private edgeTimer: number | undefined;

  /** Where it was scrolled to by the other of a pair, until its event comes. */
  private led: number | null = null;

  protected scrolls(): void {
    const { scrollTop, scrollHeight, clientHeight } = this.scroller().nativeElement;
    const way = scrollHeight - clientHeight;
    const led = this.led !== null && Math.abs(this.led - scrollTop) < 2;
    this.led = null;
    if (way > 0 && !led) this.scrolled.emit(scrollTop / way);
  }

  /** Scrolls to a share of the way down, as another view of the same pages has. */
  scrollTo(part: number): void {
    const e = this.scroller().nativeElement;
    const to = Math.round(part * (e.scrollHeight - e.clientHeight));
    if (Math.abs(e.scrollTop - to) < 1) return;
    this.led = to;
    e.scrollTop = to;
  }

  protected down(event: PointerEvent, n: number): void {
    if (event.button !== 0 || this.alone()) return;
    this.offer.set(null);
    const m = this.state.model$.value!;
    if (event.shiftKey && !this.came() && this.several.toggle(itemIdOf(pictureOf(m, n)))) return;
    this.state.select(n);
    if (this.came() || this.edit.locked()) return;
    const start = takenFrame(m, n);
    const own = this.placed().find((p) => p.n === n);
    const { x, y, width, height } = own ?? { x: 0, y: 0, width: 0, height: 0 };
    const ties = this.canRetie(start);
    const box = { x, y, width, height };
    const group = event.altKey ? null : this.several.movingWith(itemIdOf(pictureOf(m, n)));
    const along = group ? new Set(this.several.groupOfOne()?.children) : NOTHING;
    this.tieable.set(ties);
    this.drag = {
      ...{ n, x: event.clientX, y: event.clientY, start, gesture: `page-${++this.gestures}`, ties, box, group },
      scrolled: this.scrolledTo(),
      rests: start.flow === 'floating' && own ? this.restsFor(own, ties, along) : null,
    };
  }

  /** Can a frame beside a text be tied to another of its paragraphs? */
  private canRetie({ n, flow, anchor }: Frame): boolean {
    const picture = pictureIn(this.state.model$.value!.work, n);
    const { place, table } = picture?.where ?? {};
    const isFree = (picture?.freeable ?? false) && place === 'body' && !table;
    return this.isText() && flow === 'floating' && isFree && anchor !== undefined && !anchor.locked;
  }

  /** The paragraph that a frame is nearest to, and where it is on the pages; null where that is its own. */
  private tieFor(n: number): { tie: Tie; at: Point } | null {
    const [laid, p] = [this.told(), this.placed().find((one) => one.n === n)];
    if (!laid || !p || p.left) return null;
    const k = this.scale();
    const at = { x: p.at.x / k, y: p.at.y / k };
    const box = { ...at, width: p.frame.box.width * PX, height: p.frame.box.height * PX };
    const tie = nearestParagraph({ blocks: laid.blocks, pages: laid.pages ?? [], file: this.blocks() }, box);
    return tie && !isOwn(p.told, tie) ? { tie, at } : null;
  }

  /** Ties a frame to the paragraph that it is nearest to, as a part of the gesture that brought it there. */
  private tieAnew(n: number, gesture: string): void {
    const found = this.tieFor(n);
    const p = this.placed().find((one) => one.n === n);
    const m = this.state.model$.value;
    if (!found || !p || !m) return;
    const { tie, at } = found;
    const next = retied(takenFrame(m, n), tie, at, { pages: this.told()?.pages ?? [], told: p.told });
    this.state.take('frame moved', next, gesture);
    this.letGo.set(new Map(this.letGo()).set(n, { frame: takenFrame(this.state.model$.value!, n), at }));
  }

  protected grab(event: PointerEvent, handle: Handle): void {
    event.stopPropagation();
    const m = this.state.model$.value!;
    const n = this.selected();
    if (event.button !== 0) return;
    this.scroller().nativeElement.setPointerCapture(event.pointerId);
    const gesture = `page-${++this.gestures}`;
    const start = takenFrame(m, n);
    const own = this.placed().find((p) => p.n === n);
    const k = this.px();
    const box = { x: own?.at.x ?? 0, y: own?.at.y ?? 0, width: start.box.width * k, height: start.box.height * k };
    // What sits in a line, or is turned, has no sides that lie still.
    const rests = own && start.flow === 'floating' && start.turn === 0 && !this.groups().get(n)?.length;
    this.drag = {
      ...{ n, x: event.clientX, y: event.clientY, start, gesture, handle, box, ties: false },
      ...{ rests: rests ? this.restsFor(own, true) : null, scrolled: this.scrolledTo() },
    };
    this.pulling.set(false);
  }

  private pull(
    d: { n: number; start: Frame; gesture: string; handle: Handle; box: Box; rests: Rests | null },
    by: Point,
    event: PointerEvent,
  ): void {
    const m = this.state.model$.value!;
    const options = {
      picture: sizeOf(pictureOf(m, d.n), d.start),
      linked: this.edit.linked(),
      shift: event.shiftKey,
      middle: event.altKey,
    };
    const rests = event.ctrlKey || event.metaKey ? null : d.rests;
    const k = this.px();
    const boxOf = ({ frame: { box } }: Pull): Box => ({
      x: d.box.x + (box.x - d.start.box.x) * k,
      y: d.box.y + (box.y - d.start.box.y) * k,
      width: box.width * k,
      height: box.height * k,
    });
    const at = (p: Point): Pull => pulled(d.start, d.handle, p, options);
    const { pull, guides } = restingPull({ at, boxOf, by, handle: d.handle, rests, scale: k });
    this.rests.set(guides);
    const { frame, atEdge } = pull;
    this.pulling.set(atEdge);
    this.state.take(d.handle.x !== 0 && d.handle.y !== 0 ? 'size' : 'crop', frame, d.gesture);
  }

  protected moved(event: PointerEvent): void {
    const d = this.drag;
    const m = this.state.model$.value;
    if (!d || !m) return;
    const pane = this.scroller().nativeElement;
    // What is scrolled under the pointer is a way, too.
    const dx = event.clientX - d.x + pane.scrollLeft - d.scrolled.x;
    const dy = event.clientY - d.y + pane.scrollTop - d.scrolled.y;
    if (Math.hypot(dx, dy) < LONG && takenFrame(m, d.n) === d.start) return;
    // Not before: what is captured has its clicks, too.
    pane.setPointerCapture(event.pointerId);
    this.scrollAtEdge(event);
    this.dragging.set(d.ties);
    const k = this.px();
    if (d.handle) {
      const [x, y] = this.inGroups(d.n, dx / k, dy / k);
      this.pull({ ...d, handle: d.handle }, { x, y }, event);
    } else if (d.start.flow === 'floating') {
      const free = event.ctrlKey || event.metaKey || !d.rests;
      const box = { ...d.box, x: d.box.x + dx, y: d.box.y + dy };
      // On another page it rests on what is there.
      const rests = d.ties ? this.restsFor({ n: d.n, ...box }, true) : d.rests!;
      const rest = free ? null : snapBox(box, rests, REACH);
      const { x, y } = rest?.by ?? { x: 0, y: 0 };
      this.step(d, (dx + x) / k, (dy + y) / k);
      this.rests.set(rest?.guides ?? []);
    } else {
      const at = this.placed().find((p) => p.n === d.n);
      if (at && pictureIn(m.work, d.n)?.freeable)
        this.offer.set({ n: d.n, x: Math.max(8, at.x), y: at.y + Math.min(at.height, 240) + 8 });
      this.drag = null;
    }
  }

  /** Moves a frame, or the group that it is in. In points of the page. */
  private step(
    { n, start, group, gesture }: { n: number; start: Frame; group?: readonly FramedItem[] | null; gesture: string },
    dx: number,
    dy: number,
  ): void {
    if (group) this.several.moveGroup(group, dx, dy, gesture);
    else this.state.take('frame moved', movedBy(start, ...this.inGroups(n, dx, dy)), gesture);
  }

  /**
   * What a frame can rest on while it is dragged: its page, the text on that, and what else lies there. As they are shown.
   * @param ties it may leave its page
   * @param without what moves with it
   */
  private restsFor(own: { n: number } & Box, ties: boolean, without: ReadonlySet<string> = NOTHING): Rests {
    const k = this.scale();
    const scaled = (b: Box): Box => scaledBy(b, k);
    const sheet = this.sheet();
    const within = (b: Box, page: Box): boolean =>
      b.x + b.width > page.x && b.x < page.x + page.width && b.y + b.height > page.y && b.y < page.y + page.height;
    const middle = own.y + own.height / 2;
    const page = sheet
      ? { x: 0, y: 0, width: sheet.width, height: sheet.height }
      : this.laid()?.pages?.find((p) => middle >= p.y * k && middle <= (p.y + p.height) * k);
    if (!page) return { areas: [], others: [] };
    const columns = 'columns' in page ? (page.columns ?? []) : [];
    const isCell = this.state.model()?.work.can.insert === 'cell';
    const px = this.px();
    const shapes = (sheet?.items ?? []).flatMap(({ item, box }) =>
      !without.has(item.id) && (item.kind === 'framed' || (item.kind === 'foreign' && item.what !== 'connector'))
        ? [{ box: scaledBy(box, px), name: 'a shape' }]
        : [],
    );
    const others = this.placed()
      .filter((p) => p.n !== own.n && !without.has(p.id) && within(p, scaled(page)))
      .map(({ n, x, y, width, height }) => ({ box: { x, y, width, height }, name: `picture ${n}` }));
    return {
      // What is tied to words is on the page of these, wherever on it.
      ...(this.isText() && !ties && { within: { box: scaled(page), words: 'Stays on the page of its words' } }),
      areas: isCell
        ? []
        : [
            { box: scaled(page), edge: 'Edge of the page', middle: 'Middle of the page' },
            ...columns.map((c) => ({
              box: scaled({ ...c, x: page.x + c.x, y: page.y + c.y }),
              edge: columns.length > 1 ? 'Edge of the column' : 'Margin',
              middle: columns.length > 1 ? 'Middle of the column' : 'Middle of the text',
            })),
          ],
      others: [...others, ...shapes],
    };
  }

  /** Round the group of what is chosen, as it is shown. */
  protected readonly groupBox = computed((): Box | null => {
    const box = this.came() || this.alone() ? null : this.several.groupBox();
    return box && scaledBy(box, this.px());
  });

  /** What several that are dragged together can rest on. */
  protected readonly restsAround = (box: Box, without: ReadonlySet<string>): Rests =>
    this.restsFor({ n: 0, ...box }, false, without);

  protected up(): void {
    if (this.edgeTimer !== undefined) cancelAnimationFrame(this.edgeTimer);
    const d = this.drag;
    const m = this.state.model$.value;
    if (d?.ties && m && takenFrame(m, d.n) !== d.start) this.tieAnew(d.n, d.gesture);
    this.dragging.set(false);
    this.tieable.set(false);
    this.drag = null;
    this.rests.set([]);
    this.pulling.set(null);
  }

  /** Out of the text, where it stands now. */
  protected free(n: number): void {
    const m = this.state.model$.value;
    const told = this.laid()?.pictures.find((p) => p.n === n);
    this.offer.set(null);
    if (!m) return;
    const f = takenFrame(m, n);
    const at = told ? { x: told.inParagraph.x / PX, y: told.inParagraph.y / PX } : { x: f.box.x, y: f.box.y };
    this.state.take('free on the page', { ...f, flow: 'floating', anchor: BESIDE_TEXT, box: { ...f.box, ...at } });
  }

  /** With Ctrl, or by two fingers, the wheel zooms about the pointer. */
  protected wheels(event: WheelEvent): void {
    if (!event.ctrlKey && !event.metaKey) return;
    event.preventDefault();
    const pane = this.scroller().nativeElement;
    const corner = pane.getBoundingClientRect();
    this.zoomTo(this.zoom() * Math.exp(-event.deltaY / WHEEL), event.clientX - corner.left, event.clientY - corner.top);
  }

  protected zoomBy(times: number, event: Event): void {
    event.preventDefault();
    const { width, height } = this.pane();
    this.zoomTo(this.zoom() * times, width / 2, height / 2);
  }

  /** Zooms so that what is at a place of the window stays there; CSS pixels from its corner. */
  private zoomTo(wished: number, x: number, y: number): void {
    const next = Math.min(MOST_ZOOM, Math.max(LEAST_ZOOM, Math.abs(wished - 1) < 0.02 ? 1 : wished));
    const pane = this.scroller().nativeElement;
    const pages = pane.firstElementChild as HTMLElement;
    const before = this.scale();
    const at = {
      x: (pane.scrollLeft + x - pages.offsetLeft) / before,
      y: (pane.scrollTop + y - pages.offsetTop) / before,
    };
    this.zoom.set(next);
    afterNextRender(
      () => {
        const now = this.scale();
        pane.scrollTo(at.x * now + pages.offsetLeft - x, at.y * now + pages.offsetTop - y);
      },
      { injector: this.injector },
    );
  }

  /** Shows the page alone, on the whole screen; Esc ends it. */
  async showAlone(): Promise<void> {
    await this.host.nativeElement.requestFullscreen();
    this.scroller().nativeElement.focus();
  }

  /** Alone, arrow keys turn pages of a fixed size. */
  protected turn(event: KeyboardEvent): void {
    const direction = this.alone() && this.isFixed() ? arrowOf(event) : null;
    if (!direction) return;
    event.preventDefault();
    event.stopPropagation();
    const to = this.edit.page() + (direction[0] || direction[1]);
    if (to >= 1 && to <= this.edit.pages()) this.edit.goToPage(to);
  }

  /** The place under the pointer. */
  protected aim(event: MouseEvent): void {
    if (!this.placing.active() || this.came() || this.isRow()) return;
    const frame = (event.target as HTMLElement).closest<HTMLElement>('[data-n]');
    this.placing.over.set(frame ? Number(frame.dataset['n']) : null);
    if (frame) {
      this.placing.mark.set(null);
      return;
    }
    const edge = this.scroller().nativeElement.firstElementChild!.getBoundingClientRect();
    const k = this.scale();
    this.aimAt({ x: (event.clientX - edge.left) / k, y: (event.clientY - edge.top) / k });
  }

  /** What places are looked for in; null where nothing is open. */
  private aimNow(): Aim | null {
    const m = this.state.model$.value;
    if (!m) return null;
    const waiting = this.placing.pictures().map((p) => uprightSize(p.size, p.orientation));
    return {
      work: m.work,
      laid: this.laid(),
      counts: this.counts(),
      page: this.isWeb() ? this.webPage() : this.edit.page(),
      pictures: waiting.length > 0 ? waiting : [{ width: 1200, height: 800 }],
      spread: this.placing.spread(),
      way: this.placing.way(),
      takers: this.placing.inFront() ? [] : this.takers(),
      unit: this.units.unit(),
    };
  }

  /** @param at in CSS pixels of the page at its own size */
  private aimAt(at: Point): void {
    const aim = this.aimNow();
    if (!aim) return;
    if (this.isText() && aim.way === 'among') this.post({ id: this.sent.id, caret: at });
    else this.placing.mark.set(markAt(aim, at));
  }

  /** What is proposed before the pointer says anything: the middle of a page, the place below the chosen picture. */
  private aimFirst(): void {
    const laid = this.laid();
    const sheet = this.sheet();
    if (sheet) {
      const inCell = this.state.model$.value?.work.can.insert === 'cell';
      this.aimAt(inCell ? { x: 1, y: 1 } : { x: sheet.width / 2, y: sheet.height / 2 });
      return;
    }
    const chosen = laid?.pictures.find((p) => p.n === this.selected());
    const first = laid?.blocks.find((b) => b.width > 0);
    this.aimAt(
      chosen
        ? { x: chosen.x, y: chosen.y + chosen.height }
        : this.placing.way() === 'among' && first
          ? { x: first.x + 1, y: first.y + first.height / 2 }
          : { x: 0, y: 0 },
    );
  }

  protected putHere(event: MouseEvent): void {
    event.stopPropagation();
    this.aim(event);
    this.putIn();
  }

  private putIn(): void {
    const place = this.placing.mark()?.place;
    if (place) void this.placing.put(this.placing.pictures(), place);
  }

  protected aimByKey(event: KeyboardEvent): void {
    const mark = this.placing.mark();
    const direction = arrowOf(event);
    if (event.key === 'Escape') this.placing.end();
    else if (event.key === 'Enter') this.putIn();
    else if (direction && mark) this.stepTo(mark, direction, event.shiftKey);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  private stepTo(mark: Mark, direction: readonly [number, number], fine: boolean): void {
    const aim = this.aimNow();
    const next = aim && stepped(aim, mark, direction, fine);
    if (next && 'ask' in next) this.aimAt(next.ask);
    else if (next) this.placing.mark.set(next);
    afterNextRender(
      () => this.scroller().nativeElement.querySelector('[data-mark]')?.scrollIntoView({ block: 'nearest' }),
      { injector: this.injector },
    );
  }

  protected key(event: KeyboardEvent, n: number): void {
    const m = this.state.model$.value;
    if (!m || this.alone() || event.ctrlKey || event.metaKey || event.altKey || this.several.key(event)) return;
    const direction = arrowOf(event);
    const f = takenFrame(m, n);
    if (event.key === 'Enter' && event.shiftKey) this.several.toggle(itemIdOf(pictureOf(m, n)));
    else if (event.key === 'Enter') this.closer.emit();
    else if (this.came()) return;
    else if (direction && f.flow === 'floating' && !this.edit.locked()) {
      const step = (event.shiftKey ? 0.1 : 1) * POINTS.mm;
      const group = this.several.movingWith(itemIdOf(pictureOf(m, n)));
      const gesture = `page-keys-${this.gestures}`;
      this.step({ n, start: f, group, gesture }, direction[0] * step, direction[1] * step);
      if (this.canRetie(f)) {
        this.tieable.set(true);
        this.tieAnew(n, `page-keys-${this.gestures}`);
      }
    } else return;
    event.preventDefault();
  }
}
