import { afterRenderEffect, Component, DestroyRef, ElementRef, inject, input, signal, viewChild } from '@angular/core';
import type { Frame } from '@gable/core';
import { Painter } from './painter';

/** A frame painted small, with the author's own picture. */
@Component({
  selector: 'gable-try-canvas',
  template: '<canvas #canvas aria-hidden="true" class="block h-full w-full"></canvas>',
  host: { class: 'block' },
})
export class TryCanvas {
  readonly key = input.required<string>();
  readonly frame = input.required<Frame>();
  readonly width = input.required<number>();
  readonly height = input.required<number>();
  readonly margin = input(2);
  /** Mark what the shape cuts of what matters. */
  readonly cut = input(false);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly painter = inject(Painter);
  /** Out of sight nothing is painted: a strip holds far more tries than it shows. */
  private readonly seen = signal(false);
  private asked = 0;

  constructor() {
    const element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    const watch = new IntersectionObserver((entries) => this.seen.set(entries[entries.length - 1]!.isIntersecting), {
      rootMargin: '240px',
    });
    watch.observe(element);
    inject(DestroyRef).onDestroy(() => watch.disconnect());
    afterRenderEffect(() => {
      if (!this.seen()) return;
      this.painter.version(this.key());
      const k = Math.min(3, window.devicePixelRatio || 1);
      void this.paint(this.key(), this.frame(), {
        width: Math.round(this.width() * k),
        height: Math.round(this.height() * k),
        margin: this.margin() * k,
        cut: this.cut(),
      });
    });
  }

  private async paint(key: string, frame: Frame, to: Parameters<Painter['paintTry']>[3]): Promise<void> {
    const turn = ++this.asked;
    const bitmap = await this.painter.paintTry(this, key, frame, to);
    if (!bitmap || turn !== this.asked) {
      bitmap?.close();
      return;
    }
    const canvas = this.canvas().nativeElement;
    canvas.width = to.width;
    canvas.height = to.height;
    canvas.getContext('bitmaprenderer')?.transferFromImageBitmap(bitmap);
  }
}
