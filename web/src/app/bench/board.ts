import {
  afterNextRender,
  afterRenderEffect,
  Component,
  computed,
  DestroyRef,
  type ElementRef,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import {
  deriveView,
  flatten,
  formatLength,
  framePath,
  nudged,
  POINTS,
  trimNumber,
  zoomed,
  type Frame,
} from '@gable/core';
import { Painter } from '../paint/painter';
import { pictureOf, shownFrame, takenFrame } from './bench-model';
import { BenchState } from './bench-state';
import { boardLayout, intoBox, intoFrame } from './board-layout';
import { describe, figures, notes, placeWords, type Note } from './wording';

const MM = POINTS.mm;

/** One frame large: the hidden rest of its picture as a ghost, its dimensions drawn, the picture moved by hand. */
@Component({
  selector: 'gable-board',
  templateUrl: './board.html',
  host: { class: 'relative block min-h-0 overflow-hidden rounded-xl border border-line bg-sheet' },
})
export class Board {
  protected readonly state = inject(BenchState);
  private readonly painter = inject(Painter);
  private readonly model = toSignal(this.state.model$, { initialValue: null });
  private readonly ready = toSignal(this.painter.ready$);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly field = viewChild.required<ElementRef<HTMLElement>>('field');
  protected readonly size = signal({ width: 800, height: 480 });
  protected readonly dragging = signal(false);
  private readonly step = toSignal(this.state.step$, { requireSync: true });
  /** The aim is drawn where it is being set; elsewhere it would only cover the picture. */
  protected readonly aiming = computed(() => this.dragging() || this.step() === 'position');
  private gestures = 0;
  private gesture = '';
  private readonly fingers = new Map<number, { x: number; y: number }>();
  private held = 0;
  private lastKey = 0;
  private wheelAt = 0;

  protected readonly picture = computed(() => {
    const m = this.model();
    return m && pictureOf(m, m.selected);
  });
  protected readonly frame = computed(() => {
    const m = this.model();
    return m && shownFrame(m);
  });
  protected readonly layout = computed(() => {
    const m = this.model();
    if (!m) return null;
    const { width, height } = this.size();
    return boardLayout(width, height, takenFrame(m), shownFrame(m));
  });
  protected readonly movable = computed(() => this.picture()?.problem === null);
  protected readonly words = computed(() => {
    const f = this.frame();
    const p = this.picture();
    return f && p ? `Picture ${p.n}, ${placeWords(p.where)}. ${describe(f, p.size)}` : '';
  });
  protected readonly figures = computed(() => {
    const f = this.frame();
    const p = this.picture();
    return f && p ? figures(p, f) : '';
  });
  protected readonly notes = computed((): Note[] => {
    const m = this.model();
    const p = this.picture();
    return m && p && !m.preview ? notes(p, takenFrame(m)) : [];
  });
  protected readonly where = computed(() => {
    const p = this.picture();
    return p ? placeWords(p.where) : '';
  });

  /** Everything the drawing over the picture needs, in CSS pixels. */
  protected readonly drawing = computed(() => {
    const f = this.frame();
    const l = this.layout();
    const p = this.picture();
    if (!f || !l || !p) return null;
    const w = f.box.width * l.scale;
    const h = f.box.height * l.scale;
    const line = f.outline ? (f.outline.weight * l.scale) / (f.outline.side === 'on' ? 2 : 1) : 0;
    const edge = f.outline?.side === 'inside' ? 0 : line;
    const { aim } = deriveView(f.placement, f.box, p.size).placement;
    return {
      ...l,
      w,
      h,
      edge,
      below: h + edge + 34,
      beside: w + edge + 40,
      width: formatLength(f.box.width),
      height: formatLength(f.box.height),
      turn: `rotate(${f.turn} ${w / 2} ${h / 2})`,
      aim: `${trimNumber(aim.u * 100, 0)} % · ${trimNumber(aim.v * 100, 0)} %`,
      leader: leader(f, l.scale),
      weight: f.outline ? `${trimNumber(f.outline.weight, 2)} pt` : null,
    };
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
      this.ready();
      const f = this.frame();
      const l = this.layout();
      const m = this.model();
      if (!f || !l || !m) return;
      const k = Math.min(3, window.devicePixelRatio || 1);
      const { width, height } = this.size();
      this.painter.board({
        key: this.state.key(m.selected),
        frame: f,
        width: Math.round(width * k),
        height: Math.round(height * k),
        x: l.x * k,
        y: l.y * k,
        scale: l.scale * k,
        ghost: this.dragging() ? 0.42 : 0.22,
      });
    });
  }

  /** The frame to start a change from; null while the picture cannot be moved. */
  private start(): { frame: Frame; size: { width: number; height: number } } | null {
    const m = this.model();
    const p = this.picture();
    return m && p && this.movable() ? { frame: takenFrame(m), size: p.size } : null;
  }

  protected down(event: PointerEvent): void {
    if (event.button !== 0 || !this.start()) return;
    this.field().nativeElement.setPointerCapture(event.pointerId);
    this.fingers.set(event.pointerId, { x: event.offsetX, y: event.offsetY });
    this.gesture = `hand-${++this.gestures}`;
    this.dragging.set(true);
  }

  protected moved(event: PointerEvent): void {
    const before = this.fingers.get(event.pointerId);
    const start = this.start();
    const l = this.layout();
    if (!before || !start || !l) return;
    const now = { x: event.offsetX, y: event.offsetY };
    const other = [...this.fingers].find(([id]) => id !== event.pointerId)?.[1];
    this.fingers.set(event.pointerId, now);
    const { frame, size } = start;
    if (other) {
      const distance = (p: { x: number; y: number }): number => Math.max(8, Math.hypot(p.x - other.x, p.y - other.y));
      const at = intoBox(frame, l, (now.x + other.x) / 2, (now.y + other.y) / 2);
      this.zoom(frame.placement.zoom * (distance(now) / distance(before)), at, this.gesture);
      return;
    }
    const step = intoFrame(frame, (now.x - before.x) / l.scale, (now.y - before.y) / l.scale);
    this.state.take('move', nudged(frame, step.x, step.y, size), this.gesture);
  }

  protected up(event: PointerEvent): void {
    this.fingers.delete(event.pointerId);
    if (this.fingers.size === 0) this.dragging.set(false);
  }

  private wheel(event: WheelEvent): void {
    const start = this.start();
    const l = this.layout();
    if (!start || !l) return;
    event.preventDefault();
    if (event.timeStamp - this.wheelAt > 500) this.gesture = `wheel-${++this.gestures}`;
    this.wheelAt = event.timeStamp;
    const box = this.field().nativeElement.getBoundingClientRect();
    const at = intoBox(start.frame, l, event.clientX - box.left, event.clientY - box.top);
    const pixels = event.deltaMode === WheelEvent.DOM_DELTA_LINE ? event.deltaY * 18 : event.deltaY;
    // A pinch on a touchpad arrives as a wheel with Ctrl, in smaller steps.
    this.zoom(this.zoomNow(start) * Math.exp(-pixels * (event.ctrlKey ? 0.01 : 0.0014)), at, this.gesture);
  }

  private zoomNow({ frame, size }: { frame: Frame; size: { width: number; height: number } }): number {
    return deriveView(frame.placement, frame.box, size).placement.zoom;
  }

  private zoom(zoom: number, at: { x: number; y: number }, gesture: string | null): void {
    const start = this.start();
    if (start) this.state.take('zoom', zoomed(start.frame, zoom, at, start.size), gesture);
  }

  protected key(event: KeyboardEvent): void {
    const start = this.start();
    if (!start || event.ctrlKey || event.metaKey || event.altKey) return;
    const { frame, size } = start;
    const direction = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    const middle = { x: frame.box.width / 2, y: frame.box.height / 2 };
    if (event.timeStamp - this.lastKey > 800) this.gesture = `keys-${++this.gestures}`;
    if (direction) {
      // Faster while held: up to six steps at once.
      this.held = event.repeat ? this.held + 1 : 0;
      const step = (event.shiftKey ? 0.1 : 1) * MM * Math.min(6, 1 + Math.floor(this.held / 8));
      const move = intoFrame(frame, direction[0]! * step, direction[1]! * step);
      this.state.take('move', nudged(frame, move.x, move.y, size), this.gesture);
    } else if (event.key === '+' || event.key === '=') this.zoom(this.zoomNow(start) * 1.05, middle, this.gesture);
    else if (event.key === '-') this.zoom(this.zoomNow(start) / 1.05, middle, this.gesture);
    else if (event.key === '0') this.zoom(1, middle, null);
    else return;
    this.lastKey = event.timeStamp;
    event.preventDefault();
  }

  protected mend(note: Note): void {
    if (note.remedy) this.state.take(note.remedy.deed, note.remedy.frame);
  }
}

/** The point of the outline nearest the lower left, where its weight is written. CSS pixels in the box. */
function leader(frame: Frame, scale: number): { x: number; y: number } {
  const { width, height } = frame.box;
  const outwards = (p: { x: number; y: number }): number => p.y / height - p.x / width;
  let best = { x: 0, y: height };
  let most = -Infinity;
  for (const p of flatten(framePath(frame), Math.max(width, height) / 200).flat())
    if (outwards(p) > most) {
      most = outwards(p);
      best = p;
    }
  return { x: best.x * scale, y: best.y * scale };
}
