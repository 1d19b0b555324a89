import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { Video } from '@gable/core';
import { Edit } from '../bench/edit';
import { addressOf } from '../work/images';
import { WorkStore } from '../work/work-store';
import { Moving } from './moving';

/** Plays the video of the chosen picture, or a picture that moves by itself, where that is shown. */
@Injectable()
export class Player {
  private readonly edit = inject(Edit);
  private readonly state = inject(WorkStore);
  private readonly moving = inject(Moving);
  /** The address of a picture that moves by itself. */
  readonly picture = this.moving.address;
  readonly plays = computed(() => this.video() !== null || this.picture() !== null);
  /** The video of the chosen picture, where it can be played: it is kept here, or in its file. */
  readonly video = computed((): Video | null => {
    const { video } = this.edit.shown() ?? {};
    return video && (video.source.from === 'kept' || this.edit.picture()?.plays) ? video : null;
  });
  readonly address = computed(() => {
    const [source, m] = [this.video()?.source, this.state.model()];
    if (!source || !m) return null;
    const { id, frame } = addressOf(m, this.edit.shown()!);
    return source.from === 'kept' ? `/api/videos/${source.sha256}` : `/api/works/${id}/pictures/${frame.n}/video`;
  });
  /** What it is called, for the names of its posters. */
  readonly name = computed(() => {
    const source = this.video()?.source;
    return source?.from === 'kept' ? source.name : (source?.key.replace(/^.*\//, '') ?? '');
  });
  /** How long the file's own video is, once that is known. */
  private readonly told = signal(0);
  readonly seconds = computed(() => {
    const source = this.video()?.source;
    return source?.from === 'kept' ? source.seconds : this.told();
  });
  readonly start = computed(() => this.video()?.start ?? 0);
  readonly end = computed(() => Math.min(this.video()?.end ?? Infinity, this.seconds()));
  /** How far it is, in seconds; null while only its picture is seen. */
  readonly at = signal<number | null>(null);
  readonly playing = signal(false);
  private element: HTMLVideoElement | null = null;

  constructor() {
    // Another picture, or another video: nothing goes on playing.
    effect(() => {
      this.address();
      this.picture();
      this.edit.picture();
      untracked(() => {
        this.stop();
        this.told.set(0);
      });
    });
  }

  /** Where it is seen, from now on. */
  attach(element: HTMLVideoElement): void {
    this.element = element;
    const tell = (): void => this.told.set(element.duration);
    if (element.readyState > 0) tell();
    else element.addEventListener('loadedmetadata', tell, { once: true });
    element.currentTime = this.at() ?? this.start();
    if (this.playing()) this.run();
  }

  detach(element: HTMLVideoElement): void {
    if (this.element === element) this.element = null;
  }

  toggle(): void {
    if (this.playing()) {
      this.pause();
      return;
    }
    const at = this.at();
    this.at.set(at === null || (this.end() > 0 && at >= this.end() - 0.05) ? this.start() : at);
    this.playing.set(true);
    if (this.element) {
      this.element.currentTime = this.at()!;
      this.run();
    }
  }

  pause(): void {
    this.playing.set(false);
    this.element?.pause();
  }

  /** Its picture alone is seen again. */
  stop(): void {
    this.pause();
    this.at.set(null);
  }

  seek(seconds: number): void {
    this.at.set(seconds);
    if (this.element) this.element.currentTime = seconds;
  }

  /** The video has come so far. */
  came(seconds: number): void {
    if (!this.playing()) return;
    if (this.end() === 0 || seconds < this.end() - 0.02) this.at.set(seconds);
    else if (this.video()?.play.loop) {
      this.seek(this.start());
      this.run();
    } else {
      this.pause();
      this.at.set(this.end());
    }
  }

  private run(): void {
    // A browser may refuse sound before anything was clicked; then it stands still.
    this.element?.play().catch(() => this.playing.set(false));
  }
}
