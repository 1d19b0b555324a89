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
import { DomSanitizer, type SafeHtml } from '@angular/platform-browser';
import {
  deriveView,
  framePath,
  frameToSvg,
  paintedBounds,
  svgToneStep,
  toneSteps,
  toSvgPath,
  transform,
  type Frame,
  type Size,
} from '@gable/core';
import { Player } from './player';

/** A playing video, or a picture that moves, in the shape of its frame with its tone and its outline, over the picture that is seen before. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-video-layer',
  template: `@if (shown(); as s) {
    <div
      class="pointer-events-none absolute"
      data-playing
      [style.left.px]="x()"
      [style.top.px]="y()"
      [style.width.px]="s.width"
      [style.height.px]="s.height"
      [style.transform]="s.turn"
    >
      @if (s.tone) {
        <svg class="absolute h-0 w-0" aria-hidden="true">
          <filter id="playing-tone" color-interpolation-filters="sRGB" [innerHTML]="s.tone"></filter>
        </svg>
      }
      <div
        class="absolute inset-0 overflow-hidden"
        [style.clip-path]="s.clip"
        [style.filter]="s.tone && 'url(#playing-tone)'"
      >
        @if (s.video) {
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
        } @else {
          <img
            class="absolute left-0 top-0 max-w-none"
            style="transform-origin: 0 0"
            [src]="player.picture()"
            [alt]="frame().alt"
            [style.width.px]="size().width"
            [style.height.px]="size().height"
            [style.transform]="s.map"
          />
        }
      </div>
      @if (s.line; as line) {
        <img
          class="absolute max-w-none"
          alt=""
          [src]="line.src"
          [style.left.px]="line.x"
          [style.top.px]="line.y"
          [style.width.px]="line.width"
          [style.height.px]="line.height"
        />
      }
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
    const video = this.player.address() !== null && this.player.at() !== null;
    if (!video && !(this.player.picture() && this.player.playing())) return null;
    const { matrix } = deriveView(f.placement, f.box, this.size());
    const flip = (is: boolean): number => (is ? -1 : 1);
    return {
      video,
      tone: this.tone(),
      line: this.line(),
      width: f.box.width * k,
      height: f.box.height * k,
      turn: `rotate(${f.turn}deg) scale(${flip(f.flip.horizontal)}, ${flip(f.flip.vertical)})`,
      clip: `path('${toSvgPath(transform(framePath(f), [k, 0, 0, k, 0, 0]))}')`,
      map: `matrix(${matrix.map((v) => v * k).join(', ')})`,
    };
  });

  private readonly sanitizer = inject(DomSanitizer);
  /** What changes its colours and softens it, as an SVG filter; figures alone. */
  private readonly tone = computed((): SafeHtml | null => {
    const { tone } = this.frame();
    const blur = (tone?.softness?.blur ?? 0) * this.scale();
    const steps = toneSteps(tone).map(svgToneStep).join('');
    const soft = blur > 0 ? `<feGaussianBlur stdDeviation="${blur}" edgeMode="duplicate"/>` : '';
    return steps + soft === '' ? null : this.sanitizer.bypassSecurityTrustHtml(steps + soft);
  });

  /** The outline, which lies over it. */
  private readonly line = computed(() => {
    const { outline, ...f } = this.frame();
    if (!outline) return null;
    const upright = { turn: 0, flip: { horizontal: false, vertical: false } };
    const alone = { ...f, ...upright, outline, shadow: null, backing: null, alt: '' };
    const [b, k] = [paintedBounds(alone), this.scale()];
    const src = `data:image/svg+xml,${encodeURIComponent(frameToSvg(alone, null))}`;
    return { src, x: b.x * k, y: b.y * k, width: b.width * k, height: b.height * k };
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
