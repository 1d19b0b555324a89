import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  input,
  viewChild,
} from '@angular/core';
import { deriveView, framePath, toSvgPath, transform, type Frame, type Size } from '@gable/core';
import { Player } from './player';

/** A playing video in the shape of its frame, over the picture that is seen before. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-video-layer',
  template: `@if (shown(); as s) {
    <div
      class="pointer-events-none absolute overflow-hidden"
      data-playing
      [style.left.px]="x()"
      [style.top.px]="y()"
      [style.width.px]="s.width"
      [style.height.px]="s.height"
      [style.transform]="s.turn"
      [style.clip-path]="s.clip"
    >
      <video
        #video
        class="absolute left-0 top-0 max-w-none"
        style="object-fit: fill; transform-origin: 0 0"
        [src]="player.address()"
        [muted]="player.video()!.play.muted"
        [attr.aria-label]="frame().alt || 'Video'"
        playsinline
        [style.width.px]="size().width"
        [style.height.px]="size().height"
        [style.transform]="s.map"
        (timeupdate)="player.came(video.currentTime)"
        (ended)="player.came(video.duration)"
      ></video>
    </div>
  }`,
  host: { class: 'contents' },
})
export class VideoLayer {
  protected readonly player = inject(Player);
  readonly frame = input.required<Frame>();
  readonly size = input.required<Size>();
  /** Where its box begins, and CSS pixels in a point. */
  readonly x = input.required<number>();
  readonly y = input.required<number>();
  readonly scale = input.required<number>();
  private readonly element = viewChild<ElementRef<HTMLVideoElement>>('video');

  protected readonly shown = computed(() => {
    const [f, k] = [this.frame(), this.scale()];
    if (!this.player.address() || this.player.at() === null) return null;
    const { matrix } = deriveView(f.placement, f.box, this.size());
    const flip = (is: boolean): number => (is ? -1 : 1);
    return {
      width: f.box.width * k,
      height: f.box.height * k,
      turn: `rotate(${f.turn}deg) scale(${flip(f.flip.horizontal)}, ${flip(f.flip.vertical)})`,
      clip: `path('${toSvgPath(transform(framePath(f), [k, 0, 0, k, 0, 0]))}')`,
      map: `matrix(${matrix.map((v) => v * k).join(', ')})`,
    };
  });

  constructor() {
    effect((onCleanup) => {
      const element = this.element()?.nativeElement;
      if (!element) return;
      this.player.attach(element);
      onCleanup(() => this.player.detach(element));
    });
  }
}
