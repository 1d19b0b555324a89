import {
  ChangeDetectionStrategy,
  afterNextRender,
  afterRenderEffect,
  Component,
  computed,
  DestroyRef,
  type ElementRef,
  inject,
  linkedSignal,
  output,
  signal,
  viewChild,
} from '@angular/core';
import {
  clamp,
  deriveView,
  isAllRound,
  nudged,
  pictureOffset,
  ontoPicture,
  POINTS,
  type Side,
  SIDES,
  slid,
  turnOf,
  withLine,
  zoomed,
  type Frame,
  type Handle,
  type Knob,
  type Point,
} from '@gable/core';
import { Painter } from '../paint/painter';
import { FigureField } from '../ui/figure-field';
import { Units } from '../ui/units';
import { Player } from '../video/player';
import { VideoLayer } from '../video/video-layer';
import { arrowOf } from '../ui/roving';
import { Images } from '../work/images';
import { WorkStore } from '../work/work-store';
import { actOf } from '../ui/keys';
import { BOARD_KEYS, type BoardActions } from './keys';
import {
  boardLayout,
  heldLayout,
  intoBox,
  intoFrame,
  movedBy,
  ontoBoard,
  pinnedLayout,
  type BoardLayout,
} from './board-layout';
import { Edit } from './edit';
import { HANDLES, pulled } from './handles';
import { factsOf } from '../work/facts';
import { KeepMarks, withNewMark } from './keep-marks';
import { knobHandles, valueNear } from './knob-handles';
import { snapPicture, snapTurn, type Guide } from './snapping';
import { describe, figures, notes, outermost, placeWords, signedTurn, whereShown, type Note } from '../work/wording';
import { shownLength, shownNumber } from '../ui/numbers';

const MM = POINTS.mm;
/** How near something comes to rest, in CSS pixels. */
const REACH = 7;
const REACH_TURN = 4;
/** So far beyond the box a line of an overstep is drawn, in CSS pixels; and where its handle lies on it, as a share of the box. */
const LINE_ROOM = 16;
const LINE_HANDLE = 0.2;
/** So long after the last turn of the wheel, in milliseconds, the picture is painted finely again. */
const REST = 160;

/** What a drag does, from the frame and the place it began with. */
type Drag = { start: Frame; layout: BoardLayout; from: Point; to: Point } & (
  | { kind: 'picture' | 'shape' | 'frame' }
  | { kind: 'crop' | 'size'; handle: Handle; about: 'opposite' | 'middle' }
  | { kind: 'knob'; knob: Knob }
  | { kind: 'line'; side: Side }
  | { kind: 'turn'; of: 'picture' | 'frame' }
  | { kind: 'keep' }
);

/** One frame large: the hidden rest of its picture as a ghost, its dimensions drawn, the picture moved by hand. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-board',
  imports: [FigureField, KeepMarks, VideoLayer],
  templateUrl: './board.html',
  host: { class: 'relative block min-h-0 select-none overflow-hidden' },
})
export class Board implements BoardActions {
  protected readonly state = inject(WorkStore);
  private readonly images = inject(Images);
  protected readonly edit = inject(Edit);
  private readonly painter = inject(Painter);
  private readonly player = inject(Player);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly field = viewChild.required<ElementRef<HTMLElement>>('field');
  /** A picture is wanted for the frame on the board. */
  readonly wanted = output();
  protected readonly size = signal({ width: 800, height: 480 });
  protected readonly drag = signal<Drag | null>(null);
  /** Is the next drag a keep mark? Replace picture or step ends what was begun; an entry or a save does not. */
  readonly marking = linkedSignal({
    source: computed(() => `${this.state.model()?.selected} ${this.edit.step().name}`),
    computation: () => false,
  });
  /** Has the crop met the picture's edge? */
  protected readonly atEdge = signal(false);
  protected readonly units = inject(Units);
  protected readonly guides = signal<readonly Guide[]>([]);
  protected readonly turnWords = signal<string | null>(null);
  private gestures = 0;
  private gesture = '';
  private readonly fingers = new Map<number, Point>();
  private heldKeys = 0;
  private lastKey = 0;
  private wheelAt = 0;
  private place = { left: 0, top: 0 };
  /** What the wheel has turned since the last frame, and where. */
  private turned: { by: number; to: Point } | null = null;
  private readonly wheeling = signal(false);
  private wheelRest: ReturnType<typeof setTimeout> | undefined;

  protected readonly step = computed(() => this.edit.step().name);
  protected readonly dragging = computed(() => this.drag() !== null);
  /** By hand or with the wheel: what only explains waits until things are still. */
  protected readonly moving = computed(() => this.dragging() || this.wheeling());
  /** The aim is drawn where it is being set; elsewhere it would only cover the picture. */
  protected readonly aiming = computed(
    () => this.step() === 'position' || this.drag()?.kind === 'picture' || this.drag()?.kind === 'shape',
  );

  protected readonly layout = computed(() => {
    const taken = this.edit.taken();
    const shown = this.edit.shown();
    if (!taken || !shown) return null;
    const d = this.drag();
    // While shape or crop are dragged the picture stays where it is.
    if (d && (d.kind === 'shape' || d.kind === 'crop')) return heldLayout(d.layout, d.start, taken, this.edit.size());
    if (d?.kind === 'size') return pinnedLayout(d.layout, d.start, taken, d.handle, d.about);
    if (d) return d.layout;
    const { width, height } = this.size();
    return boardLayout(width, height, taken, shown);
  });
  protected readonly movable = computed(() => this.edit.problem() === null);
  /** Is the picture still on its way? */
  protected readonly busy = computed(
    () => this.edit.picture() !== null && this.movable() && !this.images.ready().has(this.edit.key()),
  );
  protected readonly words = computed(() => {
    const f = this.edit.shown();
    const p = this.edit.picture();
    const what = f?.alt.trim() ? `, “${f.alt.trim()}”` : '';
    return f && p ? `Picture ${p.n}${what}, ${placeWords(p.where)}. ${describe(f, this.edit.size())}` : '';
  });
  protected readonly figures = computed(() => {
    const f = this.edit.shown();
    const p = this.edit.picture();
    return f && p ? figures(f, factsOf(p, f).pixels) : '';
  });
  protected readonly notes = computed((): (Note & { at: Point })[] => {
    const f = this.edit.taken();
    const l = this.layout();
    this.images.rim();
    this.images.seen();
    if (!f || !l || this.state.model()?.preview || this.moving() || this.edit.problem()) return [];
    const { width } = this.size();
    return notes(f, this.state.facts(f)).map((note, i) => {
      const at = ontoBoard(f, l, whereShown(note.code, f, this.edit.size(), this.edit.seen()?.subject));
      // Several at one place stand beside each other.
      return { ...note, at: { x: clamp(at.x + 20 * i, 14, width - 14), y: Math.max(14, at.y) } };
    });
  });
  /** Everything the drawing over the picture needs, in CSS pixels. */
  protected readonly drawing = computed(() => {
    const f = this.edit.shown();
    const l = this.layout();
    if (!f || !l) return null;
    const w = f.box.width * l.scale;
    const h = f.box.height * l.scale;
    const line = f.outline ? (f.outline.weight * l.scale) / (f.outline.side === 'on' ? 2 : 1) : 0;
    const edge = f.outline?.side === 'inside' ? 0 : line;
    const view = deriveView(f.placement, f.box, this.edit.size());
    const corner = outermost(f, -1, 1);
    const leader = { x: corner.x * l.scale, y: corner.y * l.scale };
    // Where the figures stand on the board, turned with the frame but upright themselves.
    const at = (x: number, y: number): Point =>
      ontoBoard({ ...f, flip: NO_FLIP }, l, { x: x / l.scale, y: y / l.scale });
    return {
      ...l,
      w,
      h,
      edge,
      below: h + edge + 32,
      beside: w + edge + 46,
      belowAt: at(w / 2, h + edge + 32),
      besideAt: at(w + edge + 46, h / 2),
      turn: `rotate(${f.turn} ${w / 2} ${h / 2})`,
      placement: view.placement,
      middle: at(w / 2, h / 2),
      leader,
      weightAt: at(leader.x - 46, leader.y + 16),
      lever:
        this.movable() && (this.step() === 'position' || (this.step() === 'place' && !this.edit.locked()))
          ? at(-edge - 30, h / 2)
          : null,
      leverFoot: at(-edge, h / 2),
      aimAt: at(w / 2, -edge - 27),
      offset: pictureOffset(f, this.edit.size()),
    };
  });

  protected readonly knobs = computed(() => {
    const f = this.edit.shown();
    const l = this.layout();
    if (!f || !l || !this.movable() || this.step() !== 'shape' || this.state.model()?.preview) return [];
    return knobHandles(f).map((k) => ({ ...k, at: ontoBoard(f, l, k.at) }));
  });
  /** Lines from which on the subject reaches over the edge, with a handle at their end. */
  protected readonly lines = computed(() => {
    const f = this.edit.shown();
    const l = this.layout();
    if (!f?.overstep || !l || !this.movable() || this.step() !== 'position' || isAllRound(f.overstep, f.box)) return [];
    const { width, height } = f.box;
    const room = LINE_ROOM / l.scale;
    const { lines } = f.overstep;
    return SIDES.flatMap((side) => {
      const share = lines[side];
      if (share === undefined) return [];
      const across = side === 'top' || side === 'bottom';
      const on = (x: number): Point => ontoBoard(f, l, across ? { x, y: share * height } : { x: share * width, y: x });
      const length = across ? width : height;
      const [from, to] = [on(-room), on(length + room)];
      return [{ side, across, at: on(LINE_HANDLE * length), path: `M${from.x} ${from.y}L${to.x} ${to.y}` }];
    });
  });
  protected readonly crops = computed(() => {
    const f = this.edit.shown();
    const l = this.layout();
    if (!f || !l || !this.movable() || this.edit.locked() || this.state.model()?.preview) return [];
    const { width, height } = f.box;
    return HANDLES.map(({ handle, cursor, sizes }) => ({
      handle,
      cursor,
      sizes,
      at: ontoBoard({ ...f, flip: NO_FLIP }, l, {
        x: (width * (handle.x + 1)) / 2,
        y: (height * (handle.y + 1)) / 2,
      }),
    }));
  });
  /** The size while a handle is dragged, and where a crop can go no farther. */
  protected readonly sizeWords = computed(() => {
    const d = this.drag();
    const f = this.edit.taken();
    if ((d?.kind !== 'crop' && d?.kind !== 'size') || !f) return null;
    const unit = this.units.unit();
    const size = `${shownLength(f.box.width, unit)} × ${shownLength(f.box.height, unit)}`;
    return this.atEdge() ? `${size} · edge of the picture` : size;
  });
  protected readonly box = computed(() => {
    const d = this.drag();
    if (d?.kind !== 'keep') return null;
    return {
      x: Math.min(d.from.x, d.to.x),
      y: Math.min(d.from.y, d.to.y),
      width: Math.abs(d.to.x - d.from.x),
      height: Math.abs(d.to.y - d.from.y),
    };
  });
  protected readonly hint = computed(() => {
    if (this.marking()) return 'Draw a box round what must stay visible · Esc stops';
    if (this.edit.locked()) return 'Locked: the picture moves in its shape, the frame stays · unlock it in Place';
    if (this.step() === 'place' && this.edit.taken()?.flow === 'floating')
      return 'Drag or use the arrow keys to move the frame · corners resize, sides crop';
    return 'Drag to move the picture · wheel to zoom · corners resize, sides crop · Alt moves the shape';
  });

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      this.painter.attach(this.canvas().nativeElement);
      const field = this.field().nativeElement;
      const observer = new ResizeObserver(([entry]) => {
        const { width, height } = entry!.contentRect;
        if (width > 0 && height > 0) this.size.set({ width, height });
      });
      observer.observe(field);
      // The wheel zooms the picture, so it must be able to keep the page from scrolling.
      const wheel = (e: WheelEvent): void => this.wheel(e);
      field.addEventListener('wheel', wheel, { passive: false });
      destroyed.onDestroy(() => {
        observer.disconnect();
        field.removeEventListener('wheel', wheel);
      });
    });
    afterRenderEffect(() => {
      this.painter.version(this.edit.key());
      const f = this.edit.shown();
      const l = this.layout();
      if (!f || !l || this.images.covered()) return;
      const k = Math.min(3, window.devicePixelRatio || 1);
      const { width, height } = this.size();
      this.painter.board({
        width: Math.round(width * k),
        height: Math.round(height * k),
        draft: this.moving(),
        ghost: this.edit.problem() ? 0 : this.dragging() || this.marking() ? 0.42 : 0.22,
        key: this.edit.key(),
        frame: f,
        target: { x: l.x * k, y: l.y * k, scale: l.scale * k },
      });
    });
  }

  /** The frame to start a change from; null while the picture cannot be moved. */
  private start(): Frame | null {
    return this.movable() ? this.edit.taken() : null;
  }

  private at(event: PointerEvent): Point {
    const box = this.field().nativeElement.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  }

  private begin(
    event: PointerEvent,
    what: (base: { start: Frame; layout: BoardLayout; from: Point; to: Point }) => Drag,
  ): void {
    const start = this.start();
    const layout = this.layout();
    if (event.button !== 0 || !start || !layout) return;
    const from = this.at(event);
    this.field().nativeElement.setPointerCapture(event.pointerId);
    this.field().nativeElement.focus({ preventScroll: true });
    this.fingers.set(event.pointerId, from);
    this.gesture = `hand-${++this.gestures}`;
    this.drag.set(what({ start, layout, from, to: from }));
  }

  protected down(event: PointerEvent): void {
    const moves = this.movesFrame();
    this.begin(event, (base) => ({
      ...base,
      kind: this.marking() ? 'keep' : moves ? 'frame' : event.altKey ? 'shape' : 'picture',
    }));
  }

  /** Is it the frame that a drag and arrow keys move? */
  private movesFrame(): boolean {
    return this.step() === 'place' && this.edit.taken()?.flow === 'floating' && !this.edit.locked();
  }

  protected grabHandle(event: PointerEvent, handle: Handle): void {
    event.stopPropagation();
    const kind = handle.x !== 0 && handle.y !== 0 ? 'size' : 'crop';
    this.atEdge.set(false);
    this.begin(event, (base) => ({ ...base, kind, handle, about: 'opposite' }));
  }

  protected grabKnob(event: PointerEvent, knob: Knob): void {
    event.stopPropagation();
    this.begin(event, (base) => ({ ...base, kind: 'knob', knob }));
  }

  protected grabLine(event: PointerEvent, side: Side): void {
    event.stopPropagation();
    this.begin(event, (base) => ({ ...base, kind: 'line', side }));
  }

  protected grabLever(event: PointerEvent): void {
    event.stopPropagation();
    this.begin(event, (base) => ({ ...base, kind: 'turn', of: this.step() === 'place' ? 'frame' : 'picture' }));
  }

  protected moved(event: PointerEvent): void {
    const d = this.drag();
    const before = this.fingers.get(event.pointerId);
    const start = this.start();
    if (!before || !start || !d) return;
    const now = this.at(event);
    const other = [...this.fingers].find(([id]) => id !== event.pointerId)?.[1];
    this.fingers.set(event.pointerId, now);
    const size = this.edit.size();
    if (other) {
      const distance = (p: Point): number => Math.max(8, Math.hypot(p.x - other.x, p.y - other.y));
      const at = intoBox(start, d.layout, (now.x + other.x) / 2, (now.y + other.y) / 2);
      this.zoom(start.placement.zoom * (distance(now) / distance(before)), at, this.gesture);
      // The drag goes on from here once the second finger is lifted.
      this.drag.set({ ...d, start: this.start()!, from: now, to: now });
      return;
    }
    const { scale } = d.layout;
    const dx = (now.x - d.from.x) / scale;
    const dy = (now.y - d.from.y) / scale;
    const free = event.ctrlKey || event.metaKey;
    switch (d.kind) {
      case 'picture': {
        const step = intoFrame(d.start, dx, dy);
        const raw = nudged(d.start, step.x, step.y, size);
        const subject = this.edit.seen()?.subject;
        const rest = free ? { frame: raw, guides: [] } : snapPicture(raw, size, subject, REACH / scale);
        this.guides.set(rest.guides);
        this.state.take('move', rest.frame, this.gesture);
        break;
      }
      case 'shape':
        this.state.take('shape moved over the picture', placedBox(slid(d.start, dx, dy, size), d.start), this.gesture);
        break;
      case 'frame':
        this.state.take('frame moved', movedBy(d.start, dx, dy), this.gesture);
        break;
      case 'crop':
      case 'size':
        this.dragHandle(d, dx, dy, event);
        break;
      case 'knob': {
        const to = intoBox(start, d.layout, now.x, now.y);
        const value = valueNear(start, d.knob, to);
        this.state.take(
          d.knob.label.toLowerCase(),
          { ...start, shape: { ...start.shape, knobs: { ...start.shape.knobs, [d.knob.name]: value } } },
          this.gesture,
        );
        break;
      }
      case 'line': {
        const to = intoBox(start, d.layout, now.x, now.y);
        const at = d.side === 'top' || d.side === 'bottom' ? to.y / start.box.height : to.x / start.box.width;
        const line = Math.round(clamp(at, 0, 1) * 1000) / 1000;
        this.state.take('line of the subject', withLine(start, d.side, line), this.gesture);
        break;
      }
      case 'turn':
        this.turnTo(d, now, free);
        break;
      case 'keep':
        this.drag.set({ ...d, to: now });
        break;
    }
  }

  /** Corners size the frame with its picture, sides crop it; Shift keeps the ratio or frees it, Alt keeps the middle. */
  private dragHandle(
    d: Drag & { kind: 'crop' | 'size' },
    dx: number,
    dy: number,
    { shiftKey, altKey }: PointerEvent,
  ): void {
    const { start, handle } = d;
    const about = altKey ? 'middle' : 'opposite';
    if (d.about !== about) this.drag.set({ ...d, about });
    const options = { picture: this.edit.size(), linked: this.edit.linked(), shift: shiftKey, middle: altKey };
    const pull = pulled(start, handle, { x: dx, y: dy }, options);
    this.atEdge.set(pull.atEdge);
    this.state.take(d.kind, pull.frame, this.gesture);
  }

  private turnTo(d: Drag & { kind: 'turn' }, now: Point, free: boolean): void {
    const middle = ontoBoard(d.start, d.layout, { x: d.start.box.width / 2, y: d.start.box.height / 2 });
    const angle = (p: Point): number => (Math.atan2(p.y - middle.y, p.x - middle.x) * 180) / Math.PI;
    const by = angle(now) - angle(d.from);
    const old = d.of === 'frame' ? d.start.turn : d.start.placement.turn;
    const rest = free ? { turn: turnOf(old + by), words: null } : snapTurn(old + by, REACH_TURN);
    this.turnWords.set(rest.words ?? `${shownNumber(signedTurn(rest.turn), 1)}°`);
    const turn = Math.round(rest.turn * 10) / 10;
    this.state.take(
      d.of === 'frame' ? 'frame turned' : 'picture turned',
      d.of === 'frame' ? { ...d.start, turn } : { ...d.start, placement: { ...d.start.placement, turn } },
      this.gesture,
    );
  }

  protected up(event: PointerEvent): void {
    this.fingers.delete(event.pointerId);
    if (this.fingers.size > 0) return;
    const d = this.drag();
    this.drag.set(null);
    this.guides.set([]);
    this.turnWords.set(null);
    if (d?.kind === 'keep') this.mark(d);
  }

  /** The box that was drawn becomes a keep mark. */
  private mark(d: Drag): void {
    const f = this.start();
    this.marking.set(false);
    if (!f || Math.abs(d.to.x - d.from.x) < 6 || Math.abs(d.to.y - d.from.y) < 6) return;
    const { matrix } = deriveView(f.placement, f.box, this.edit.size());
    const share = (p: Point): { u: number; v: number } => {
      const { u, v } = ontoPicture(matrix, intoBox(f, d.layout, p.x, p.y), this.edit.size());
      return { u: clamp(u, 0, 1), v: clamp(v, 0, 1) };
    };
    // All four corners: the picture may be turned.
    const corners = [d.from, d.to, { x: d.from.x, y: d.to.y }, { x: d.to.x, y: d.from.y }].map(share);
    const us = corners.map((c) => c.u);
    const vs = corners.map((c) => c.v);
    const u = Math.min(...us);
    const v = Math.min(...vs);
    const keep = { u, v, width: Math.max(...us) - u, height: Math.max(...vs) - v };
    if (keep.width < 0.005 || keep.height < 0.005) return;
    this.state.take('keep mark', withNewMark(f, keep, this.edit.size()));
  }

  private wheel(event: WheelEvent): void {
    const start = this.start();
    const l = this.layout();
    if (!start || !l || this.dragging()) return;
    event.preventDefault();
    if (event.timeStamp - this.wheelAt > 500) this.gesture = `wheel-${++this.gestures}`;
    // To ask for the place makes the browser lay the page out anew; while the wheel turns it stays.
    if (event.timeStamp - this.wheelAt > REST) this.place = this.field().nativeElement.getBoundingClientRect();
    this.wheelAt = event.timeStamp;
    this.wheeling.set(true);
    clearTimeout(this.wheelRest);
    this.wheelRest = setTimeout(() => this.wheeling.set(false), REST);
    const pixels = event.deltaMode === WheelEvent.DOM_DELTA_LINE ? event.deltaY * 18 : event.deltaY;
    // A pinch on a touchpad arrives as a wheel with Ctrl, in smaller steps.
    const by = -pixels * (event.ctrlKey ? 0.01 : 0.0014);
    const to = { x: event.clientX - this.place.left, y: event.clientY - this.place.top };
    // Turns of the wheel come whenever they like: those between two frames are one.
    if (this.turned) Object.assign(this.turned, { by: this.turned.by + by, to });
    else {
      this.turned = { by, to };
      requestAnimationFrame(() => this.wheelZoom());
    }
  }

  private wheelZoom(): void {
    const { by, to } = this.turned!;
    this.turned = null;
    const start = this.start();
    const l = this.layout();
    if (!start || !l) return;
    this.zoom(this.zoomNow(start) * Math.exp(by), intoBox(start, l, to.x, to.y), this.gesture);
  }

  private zoomNow(frame: Frame): number {
    return deriveView(frame.placement, frame.box, this.edit.size()).placement.zoom;
  }

  private zoom(zoom: number, at: Point, gesture: string | null): void {
    const start = this.start();
    if (start) this.state.take('zoom', zoomed(start, zoom, at, this.edit.size()), gesture);
  }

  protected key(event: KeyboardEvent): void {
    if (event.target !== this.field().nativeElement || event.ctrlKey || event.metaKey) return;
    const act = actOf(BOARD_KEYS, event);
    const arrow = arrowOf(event) !== null;
    if (!act || (event.altKey && !arrow) || (event.key === 'Escape' ? !this.marking() : !this.start())) return;
    if (event.timeStamp - this.lastKey > 800) this.gesture = `keys-${++this.gestures}`;
    act(this, event);
    this.lastKey = event.timeStamp;
    event.preventDefault();
  }

  focus(): void {
    this.field().nativeElement.focus();
  }

  move(event: KeyboardEvent): void {
    const start = this.start();
    const direction = arrowOf(event);
    if (!start || !direction) return;
    // Faster while held: up to six steps at once.
    this.heldKeys = event.repeat ? this.heldKeys + 1 : 0;
    const step = (event.shiftKey ? 0.1 : 1) * MM * Math.min(6, 1 + Math.floor(this.heldKeys / 8));
    this.arrow(start, direction[0] * step, direction[1] * step, event.altKey);
  }

  zoomBy(factor: number): void {
    const start = this.start();
    if (start) this.zoom(this.zoomNow(start) * factor, middleOf(start), this.gesture);
  }

  zoomToCover(): void {
    const start = this.start();
    if (start) this.zoom(1, middleOf(start), null);
  }

  leave(): void {
    this.marking.set(false);
  }

  play(): void {
    if (this.player.plays()) this.player.toggle();
  }

  /** Arrow keys move the picture; in Place a free frame; with Alt the shape over the picture. */
  private arrow(start: Frame, dx: number, dy: number, alt: boolean): void {
    const size = this.edit.size();
    if (alt) this.state.take('shape moved over the picture', placedBox(slid(start, dx, dy, size), start), this.gesture);
    else if (this.movesFrame()) this.state.take('frame moved', movedBy(start, dx, dy), this.gesture);
    else {
      const move = intoFrame(start, dx, dy);
      this.state.take('move', nudged(start, move.x, move.y, size), this.gesture);
    }
  }

  protected mend(note: Note): void {
    if (note.remedy) this.state.take(note.remedy.entry, note.remedy.frame);
  }

  protected shift(axis: 'x' | 'y', value: number): void {
    this.edit.set('move', this.edit.shifted(axis, value));
  }

  protected zoomTo(value: number): void {
    this.edit.set('zoom', (f) => ({ ...f, placement: { ...f.placement, zoom: value } }));
  }

  protected turnBy(value: number): void {
    const turn = turnOf(value);
    if (this.step() === 'place') this.edit.set('frame turned', (f) => ({ ...f, turn }));
    else this.edit.set('picture turned', (f) => ({ ...f, placement: { ...f.placement, turn } }));
  }

  protected weigh(value: number): void {
    this.edit.set('outline weight', (f) => (f.outline ? { ...f, outline: { ...f.outline, weight: value } } : f));
  }
}

const NO_FLIP = { horizontal: false, vertical: false };

/** A picture in the text has no place of its own: only the view changes. */
const placedBox = (frame: Frame, before: Frame): Frame =>
  frame.flow === 'floating' ? frame : { ...frame, box: { ...frame.box, x: before.box.x, y: before.box.y } };

const middleOf = ({ box }: Frame): Point => ({ x: box.width / 2, y: box.height / 2 });
