import {
  ChangeDetectionStrategy,
  afterRenderEffect,
  Component,
  computed,
  DestroyRef,
  ElementRef,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { equal, type Frame } from '@gable/core';
import { Painter, type TryWish } from './painter';
import { TrySheet } from './try-sheet';

/** A frame painted small, with the author's own picture: on the sheet it lies on, or on a canvas of its own. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-try-canvas',
  template: `@if (!sheet) {
    <canvas #canvas aria-hidden="true" class="block h-full w-full"></canvas>
  }`,
  host: { class: 'block' },
})
export class TryCanvas {
  readonly key = input.required<string>();
  readonly frame = input.required<Frame>();
  readonly width = input.required<number>();
  readonly height = input.required<number>();
  readonly margin = input(2);
  /** Fills it with all that it paints, shadow and all. */
  readonly whole = input(false);
  /** Mark what the shape cuts of what matters. */
  readonly cut = input(false);
  /** Something lies over it: painted when that is gone. */
  readonly asleep = input(false);
  private readonly canvas = viewChild<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly painter = inject(Painter);
  protected readonly sheet = inject(TrySheet, { optional: true });
  private readonly place = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  /** Out of sight nothing is painted: a strip holds far more tries than it shows. */
  private readonly seen = signal(false);
  private asked = 0;
  private shows = '';
  /** What is painted on it, and how many times it was; null before it is. */
  readonly painted = signal<{ frame: Frame; count: number } | null>(null);
  /** Tries are made anew more often than they change. */
  private readonly wanted = computed(() => this.frame(), { equal });

  constructor() {
    const watch = new IntersectionObserver((entries) => this.seen.set(entries[entries.length - 1]!.isIntersecting), {
      rootMargin: '240px',
    });
    watch.observe(this.place);
    this.sheet?.add(this.place);
    inject(DestroyRef).onDestroy(() => {
      watch.disconnect();
      this.asked++;
      this.sheet?.drop(this.place);
    });
    afterRenderEffect(() => {
      if (!this.seen() || this.asleep()) return;
      const k = Math.min(3, window.devicePixelRatio || 1);
      const frame = this.wanted();
      const { zoom } = frame.placement;
      this.painter.version(this.key(), 1.5 * k * Math.max(1, zoom) * Math.max(this.width(), this.height()));
      this.wipe(`${this.key()} ${frame.n}`);
      void this.paint(this.key(), frame, {
        width: Math.round(this.width() * k),
        height: Math.round(this.height() * k),
        margin: this.margin() * k,
        cut: this.cut(),
        whole: this.whole(),
        density: k,
      });
    });
  }

  /** A canvas that is used again for another picture must not show the last one. */
  private wipe(shows: string): void {
    if (this.shows !== '' && this.shows !== shows && !this.sheet) {
      const canvas = this.canvas()!.nativeElement;
      canvas.getContext('2d')?.clearRect(0, 0, canvas.width, canvas.height);
    }
    this.shows = shows;
  }

  /** A copy of what is painted on it. */
  copy(): Promise<ImageBitmap> {
    return createImageBitmap(this.canvas()!.nativeElement);
  }

  private async paint(key: string, frame: Frame, to: TryWish): Promise<void> {
    const turn = ++this.asked;
    const piece = await this.painter.paintTry(this, key, frame, to);
    if (!piece) return;
    if (turn !== this.asked) {
      piece.release();
      return;
    }
    if (this.sheet) {
      this.sheet.put(this.place, piece);
      return;
    }
    const canvas = this.canvas()!.nativeElement;
    const ctx = canvas.getContext('2d');
    // A canvas keeps its memory while its size stays.
    if (canvas.width !== to.width || canvas.height !== to.height)
      Object.assign(canvas, { width: to.width, height: to.height });
    else ctx?.clearRect(0, 0, to.width, to.height);
    ctx?.drawImage(piece.bitmap, -piece.x, 0);
    piece.release();
    this.painted.update((last) => ({ frame, count: (last?.count ?? 0) + 1 }));
  }
}
