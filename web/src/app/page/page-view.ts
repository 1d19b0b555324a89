import {
  ChangeDetectionStrategy,
  afterNextRender,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  Injector,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { DomSanitizer } from '@angular/platform-browser';
import {
  frameMatrix,
  groupsRound,
  invert,
  isPictureItem,
  itemIdOf,
  paintedBounds,
  placedIn,
  POINTS,
  spaceOf,
  stackOf,
  type Frame,
} from '@gable/core';
import { catchError, debounceTime, EMPTY, filter, switchMap } from 'rxjs';
import { Api } from '../api/api';
import { toProblem } from '../api/problem';
import { TryCanvas } from '../paint/try-canvas';
import type { PictureOnPage } from '../../../page/told';
import { arrowOf } from '../ui/roving';
import { PageItems } from './page-items';
import { changedFrames, framesOf, keyOf, problemOf, sizeOf, takenFrame, type WorkModel } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { WINDOW } from './page-shots';
import { movedBy } from '../bench/board-layout';
import { describe } from '../work/wording';

interface Laid {
  pictures: readonly PictureOnPage[];
  width: number;
  height: number;
  /** The frames as they were when the pages were laid out. */
  frames: ReadonlyMap<number, Frame>;
}

/** CSS pixels in a point. */
const PX = 4 / 3;
/** Pages are shown at this share of their size. */
const SCALE = 0.72;
const LONG = 6;
/** Between two pages, in CSS pixels at full size. */
const PAGE_GAP = 36;

/** The lines between cells as a path, in CSS pixels. */
function gridOf({ x, y }: { x: readonly number[]; y: readonly number[] }): string {
  const [right, bottom] = [x, y].map((all) => all[all.length - 1]! * PX);
  return x.map((v) => `M${v * PX} 0V${bottom}`).join('') + y.map((v) => `M0 ${v * PX}H${right}`).join('');
}

/** Frames among the text they stand in, and beside each other: the document's pages, with our frames painted on them. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-page-view',
  imports: [PageItems, TryCanvas],
  template: `<div
    #scroller
    class="absolute inset-0 overflow-auto"
    tabindex="0"
    role="region"
    [attr.aria-busy]="busy()"
    [attr.aria-label]="
      isRow() ? 'The pictures on a sheet' : isFixed() ? 'The pages of the file' : 'The pages of the document'
    "
    (pointermove)="moved($event)"
    (pointerup)="up()"
    (pointercancel)="up()"
  >
    <div
      class="relative mx-auto"
      [class.my-11]="isFixed() || isWeb()"
      [style.width.px]="size().width * scale"
      [style.height.px]="size().height * scale"
    >
      @if (isRow()) {
        <div class="absolute inset-0 bg-white shadow-[0_1px_8px_rgb(34_48_47/22%)]"></div>
      } @else if (isFixed()) {
        @for (s of sheets(); track $index) {
          <div
            class="absolute overflow-hidden shadow-[0_1px_8px_rgb(34_48_47/22%)]"
            aria-hidden="true"
            [style.top.px]="s.top * scale"
            [style.width.px]="s.width * scale"
            [style.height.px]="s.height * scale"
            [style.background-color]="s.background"
          >
            @if (s.ground) {
              <img class="absolute inset-0 h-full w-full" [src]="s.ground" alt="" />
            }
            @if (s.lines; as lines) {
              <svg class="absolute inset-0 h-full w-full" [attr.viewBox]="'0 0 ' + s.width + ' ' + s.height">
                <path [attr.d]="lines" fill="none" stroke="#ddd6c7" />
              </svg>
            }
            <gable-page-items [items]="s.items" [scale]="px" />
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
          [style.transform]="'scale(' + scale + ')'"
          sandbox="allow-scripts"
          [src]="source"
          title="Pages of the document"
          tabindex="-1"
          aria-hidden="true"
        ></iframe>
      }
      @for (p of placed(); track $index) {
        <div
          class="absolute touch-none"
          [style.z-index]="p.z"
          [class.outline-2]="p.n === selected()"
          [class.outline-mark]="p.n === selected()"
          [class.outline-offset-2]="p.n === selected()"
          [class.cursor-move]="p.frame.flow === 'floating'"
          [class.cursor-pointer]="p.frame.flow === 'inline'"
          [style.left.px]="p.x"
          [style.top.px]="p.y"
          [style.width.px]="p.width"
          [style.height.px]="p.height"
          [attr.data-n]="p.n"
          [attr.aria-label]="p.label"
          [attr.aria-pressed]="p.n === selected()"
          role="button"
          [tabindex]="p.n === selected() ? 0 : -1"
          (pointerdown)="down($event, p.n)"
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
            />
          }
        </div>
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
            line goes. Let it move freely, and the text closes the gap it leaves and runs round it.
          </p>
          <button type="button" class="act act-main h-8" (click)="free(o.n)">Let it move freely</button>
          <button type="button" class="act h-8" (click)="offer.set(null)">Leave it there</button>
        </div>
      }
    </div>
    @if (!laid()) {
      <p class="absolute left-1/2 top-1/2 -translate-x-1/2 text-soft" role="status">
        {{ failed() ?? 'Laying out the pages …' }}
      </p>
    }
  </div>`,
  host: { class: 'relative block min-h-0 select-none overflow-hidden rounded-xl border border-line bg-paper' },
})
export class PageView {
  protected readonly state = inject(WorkStore);
  private readonly api = inject(Api);
  readonly closer = output();
  /** The pages as they came, to look at only. */
  readonly came = input(false);
  protected readonly scale = SCALE;
  protected readonly source = inject(DomSanitizer).bypassSecurityTrustResourceUrl('/page/index.html');
  private readonly page = viewChild<ElementRef<HTMLIFrameElement>>('page');
  private readonly scroller = viewChild.required<ElementRef<HTMLElement>>('scroller');
  private readonly told = signal<Laid | null>(null);
  protected readonly failed = signal<string | null>(null);
  protected readonly offer = signal<{ n: number; x: number; y: number } | null>(null);
  private readonly frameReady = signal(false);
  /** The layout that was asked for last: answers to earlier ones come too late. */
  private sent: { id: number; room: string; frames: ReadonlyMap<number, Frame> } = {
    id: 0,
    room: '',
    frames: new Map(),
  };
  /** What the text made room for when the pages were laid out. */
  private readonly laidFor = signal<string | null>(null);
  private drag: { n: number; x: number; y: number; start: Frame; gesture: string } | null = null;
  private gestures = 0;

  protected readonly selected = computed(() => this.state.model()?.selected ?? 0);
  /** A work of pictures has no pages: its frames lie on a sheet as they are. */
  protected readonly isRow = computed(() => this.state.model()?.work.can.pages === 'row');
  /** Slides and drawings have pages of a fixed size, one below the other. */
  protected readonly isFixed = computed(() => (this.state.model()?.work.sheets ?? []).length > 0);
  protected readonly isWeb = computed(() => this.state.model()?.work.can.pages === 'web');
  /** Of a web site, the page with the chosen picture is shown. */
  private readonly webPage = computed(() => {
    const m = this.state.model();
    return (this.isWeb() && m?.work.pictures[m.selected - 1]?.where.page) || 1;
  });
  /** Points to CSS pixels as they are shown. */
  protected readonly px = PX * SCALE;
  /** What lies on each page, from the back to the front. */
  private readonly stacks = computed(() => {
    const document = this.document();
    return (document?.pages ?? []).map((page) => stackOf(document!, page));
  });
  /** How far up each picture lies on its page, by its number. */
  private readonly heights = computed(() => {
    const heights = new Map(this.stacks().flatMap((stack) => stack.map(({ item }, z) => [item.id, z + 1] as const)));
    return new Map((this.state.model()?.work.pictures ?? []).map((p) => [p.n, heights.get(itemIdOf(p)) ?? null]));
  });
  /** The groups round pictures that are in some, by their numbers. */
  private readonly groups = computed(() => {
    const document = this.document();
    const round = document ? groupsRound(document) : null;
    const pictures = this.state.model()?.work.pictures ?? [];
    return new Map(pictures.map((p) => [p.n, (round?.get(itemIdOf(p)) ?? []).map(spaceOf)]));
  });
  /** Only pictures change so far: shapes and order are the file's. */
  private readonly document = computed(() => this.state.model()?.file ?? null);
  protected readonly sheets = computed(() => {
    const work = this.state.model()?.work;
    const stacks = this.stacks();
    let top = 0;
    return (work?.sheets ?? []).map((s, i) => {
      const at = {
        background: s.background,
        items: (stacks[i] ?? []).flatMap((placed, z) =>
          s.drawn || isPictureItem(placed.item) ? [] : [{ ...placed, z: z + 1 }],
        ),
        top,
        width: s.width * PX,
        height: s.height * PX,
        lines: s.lines ? gridOf(s.lines) : null,
        ground: s.backdrop ? this.api.groundUrl(work!.id, i + 1) : null,
      };
      top += at.height + PAGE_GAP;
      return at;
    });
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
    return this.came() ? m.work.pictures[n - 1]!.frame : takenFrame(m, n);
  }

  /** A frame as it lies on its page, whatever groups it is in. */
  private readonly onPage = (frame: Frame): Frame => placedIn(frame, this.groups().get(frame.n) ?? []);

  /** A step on the page as one in the groups round a picture. */
  private inGroups(n: number, dx: number, dy: number): [number, number] {
    const upright = { box: { x: 0, y: 0, width: 1, height: 1 }, turn: 0, flip: { horizontal: false, vertical: false } };
    const [a, b, c, d] = invert(frameMatrix(upright, this.groups().get(n) ?? []));
    return [a * dx + c * dy, b * dx + d * dy];
  }

  /** Frames where their slide or drawing has them; those of layouts and masters lie on no page of their own. */
  private onSheets(m: WorkModel): Laid {
    const sheets = this.sheets();
    const last = sheets[sheets.length - 1]!;
    const pictures = m.work.pictures.flatMap((p): PictureOnPage[] => {
      const sheet = p.where.page === null ? undefined : sheets[p.where.page - 1];
      const { box } = this.onPage(p.frame);
      const { width, height } = box;
      const [x, y] = [box.x + (p.origin?.x ?? 0), box.y + (p.origin?.y ?? 0)];
      if (!sheet) return [];
      return [
        {
          n: p.n,
          x: x * PX,
          y: sheet.top + y * PX,
          width: width * PX,
          height: height * PX,
          inParagraph: { x: 0, y: 0 },
        },
      ];
    });
    const frames = new Map(m.work.pictures.map((p) => [p.n, this.onPage(p.frame)]));
    return {
      pictures,
      width: Math.max(...sheets.map((s) => s.width)),
      height: last.top + last.height,
      frames,
    };
  }

  protected readonly size = computed(() => this.laid() ?? (this.isWeb() ? WINDOW : { width: 860, height: 1180 }));

  /** Our frames where the layout put them, and moved from there by what has been done since. */
  protected readonly placed = computed(() => {
    const m = this.state.model();
    const laid = this.laid();
    if (!m || !laid) return [];
    return laid.pictures.flatMap((t) => {
      const p = m.work.pictures[t.n - 1];
      const was = laid.frames.get(t.n);
      if (!p || !was) return [];
      const frame = this.onPage(m.preview && m.selected === t.n && !this.came() ? m.preview : this.frameNow(m, t.n));
      const all = paintedBounds(frame);
      // The layout knows the box; what is painted reaches beyond it. A shadow is no part of what is taken hold of.
      const b = frame.shadow ? paintedBounds({ ...frame, shadow: null }) : all;
      const dx = frame.flow === 'floating' && was.flow === 'floating' ? frame.box.x - was.box.x : 0;
      const dy = frame.flow === 'floating' && was.flow === 'floating' ? frame.box.y - was.box.y : 0;
      const k = PX * SCALE;
      // A web page may give a picture another size than its box has in our count.
      const kx = this.isWeb() ? (t.width / was.box.width) * SCALE : k;
      const ky = this.isWeb() ? (t.height / was.box.height) * SCALE : k;
      const problem = problemOf(p, frame);
      return [
        {
          n: t.n,
          x: t.x * SCALE + dx * k + b.x * kx,
          y: t.y * SCALE + dy * k + b.y * ky,
          width: b.width * kx,
          height: b.height * ky,
          painted: {
            left: (all.x - b.x) * kx,
            top: (all.y - b.y) * ky,
            width: all.width * kx,
            height: all.height * ky,
          },
          frame,
          key: keyOf(m.work, frame),
          empty: problem !== null,
          z: this.heights().get(t.n) ?? null,
          label: `Picture ${t.n}${frame.alt ? `, ${frame.alt}` : ''}: ${describe(frame, sizeOf(p, frame))}`,
        },
      ];
    });
  });

  /** What the text makes room for, as one word; none where nothing is laid out. */
  private readonly room = computed(() => {
    const m = this.state.model();
    if (!m || this.isRow() || this.isFixed() || !this.frameReady()) return '';
    const room = m.work.pictures.map((p) => {
      const { box, flow, turn } = this.frameNow(m, p.n);
      return [box, flow, turn];
    });
    return JSON.stringify([this.webPage(), room]);
  });
  /** Are the pages being laid out? */
  protected readonly busy = computed(
    () => !this.failed() && !this.isRow() && !this.isFixed() && this.laidFor() !== this.room(),
  );

  constructor() {
    const destroyed = inject(DestroyRef);
    const listen = (event: MessageEvent): void => this.hear(event);
    window.addEventListener('message', listen);
    destroyed.onDestroy(() => window.removeEventListener('message', listen));
    // The pages are laid out anew when something changes that the text makes room for.
    toObservable(this.room)
      .pipe(
        filter((r) => r !== ''),
        debounceTime(350),
        switchMap((room) => {
          const m = this.state.model$.value!;
          const id = this.sent.id + 1;
          const page = this.webPage();
          this.sent = { id, room, frames: this.framesNow(m) };
          return this.api.pages(m.work.id, this.came() ? [] : changedFrames(m), page).pipe(
            switchMap((bytes) => {
              this.page()?.nativeElement.contentWindow?.postMessage({ bytes, id }, '*', [bytes]);
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
    // The selected picture is brought into sight.
    let last = 0;
    const injector = inject(Injector);
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

  private hear(event: MessageEvent): void {
    if (!this.page() || event.source !== this.page()!.nativeElement.contentWindow) return;
    const data = event.data as {
      page?: boolean;
      ready?: boolean;
      id?: number;
      failed?: string;
      pictures?: PictureOnPage[];
      width?: number;
      height?: number;
    };
    if (!data.page) return;
    if (data.ready) {
      this.frameReady.set(true);
      return;
    }
    if (data.id !== this.sent.id) return;
    if (data.failed || !Array.isArray(data.pictures)) {
      this.failed.set('The pages of this document cannot be laid out. Work on in close-up.');
      return;
    }
    this.laidFor.set(this.sent.room);
    this.told.set({
      pictures: data.pictures,
      width: Number(data.width) || 860,
      height: Number(data.height) || 1180,
      frames: this.sent.frames,
    });
  }

  protected down(event: PointerEvent, n: number): void {
    if (event.button !== 0) return;
    this.offer.set(null);
    this.state.select(n);
    if (this.came()) return;
    const m = this.state.model$.value!;
    this.scroller().nativeElement.setPointerCapture(event.pointerId);
    this.drag = {
      n,
      x: event.clientX,
      y: event.clientY,
      start: takenFrame(m, n),
      gesture: `page-${++this.gestures}`,
    };
  }

  protected moved(event: PointerEvent): void {
    const d = this.drag;
    const m = this.state.model$.value;
    if (!d || !m) return;
    const dx = event.clientX - d.x;
    const dy = event.clientY - d.y;
    if (Math.hypot(dx, dy) < LONG && takenFrame(m, d.n) === d.start) return;
    if (d.start.flow === 'floating') {
      const k = PX * SCALE;
      this.state.take('frame moved', movedBy(d.start, ...this.inGroups(d.n, dx / k, dy / k)), d.gesture);
    } else {
      const at = this.placed().find((p) => p.n === d.n);
      if (at && m.work.pictures[d.n - 1]?.freeable)
        this.offer.set({ n: d.n, x: Math.max(8, at.x), y: at.y + Math.min(at.height, 240) + 8 });
      this.drag = null;
    }
  }

  protected up(): void {
    this.drag = null;
  }

  /** Out of the text, where it stands now. */
  protected free(n: number): void {
    const m = this.state.model$.value;
    const told = this.laid()?.pictures.find((p) => p.n === n);
    this.offer.set(null);
    if (!m) return;
    const f = takenFrame(m, n);
    const at = told ? { x: told.inParagraph.x / PX, y: told.inParagraph.y / PX } : { x: f.box.x, y: f.box.y };
    this.state.take('free on the page', { ...f, flow: 'floating', box: { ...f.box, ...at } });
  }

  protected key(event: KeyboardEvent, n: number): void {
    const m = this.state.model$.value;
    if (!m || event.ctrlKey || event.metaKey || event.altKey) return;
    const direction = arrowOf(event);
    const f = takenFrame(m, n);
    if (event.key === 'Enter') this.closer.emit();
    else if (this.came()) return;
    else if (direction && f.flow === 'floating') {
      const step = (event.shiftKey ? 0.1 : 1) * POINTS.mm;
      const next = movedBy(f, ...this.inGroups(n, direction[0] * step, direction[1] * step));
      this.state.take('frame moved', next, `page-keys-${this.gestures}`);
    } else return;
    event.preventDefault();
  }
}
