import { Injectable, signal, type WritableSignal } from '@angular/core';
import type { Frame, KeepMark, Size } from '@gable/core';
import type { BoardPaint, Ranking, Reply, Request, Seen } from './protocol';
import { paintWorker } from './worker-of';

type Ask = Request extends infer R ? (R extends { id: number } ? Omit<R, 'id'> : never) : never;

/** How many wishes that can wait are given to the worker at a time, and how many frames are weighed in one. */
const AT_ONCE = 4;
const KEPT_AT_ONCE = 16;

/** Talks to the painting worker; one worker for the whole application. */
@Injectable({ providedIn: 'root' })
export class Painter {
  private readonly worker = paintWorker();
  private readonly waiting = new Map<number, (reply: Reply) => void>();
  private readonly loads = new Map<string, Promise<Seen | null>>();
  private next = 1;
  private readonly queue: { owner: object; request: Ask; resolve: (reply: Reply | null) => void }[] = [];
  private underWay = 0;
  private keptRound = 0;
  private readonly versions = new Map<string, WritableSignal<number>>();

  constructor() {
    this.worker.addEventListener('message', ({ data }: MessageEvent<Reply>) => {
      this.waiting.get(data.id)?.(data);
      this.waiting.delete(data.id);
    });
  }

  private ask(request: Ask): Promise<Reply> {
    const id = this.next++;
    return new Promise((resolve) => {
      this.waiting.set(id, resolve);
      this.worker.postMessage({ ...request, id });
    });
  }

  /** Counts up whenever a picture can be painted, or painted better. */
  version(key: string): number {
    return this.versionOf(key)();
  }

  private versionOf(key: string): WritableSignal<number> {
    let version = this.versions.get(key);
    if (!version) this.versions.set(key, (version = signal(0)));
    return version;
  }

  /**
   * Fetches and decodes a picture, once for each address.
   * @returns its subject and its colours; null when it cannot be shown
   */
  load(key: string, url: string, size: Size): Promise<Seen | null> {
    let load = this.loads.get(url);
    if (!load) {
      load = this.ask({ kind: 'load', key, url, size }).then((reply) => {
        if (!('subject' in reply)) {
          this.loads.delete(url);
          return null;
        }
        this.versionOf(key).update((n) => n + 1);
        return { subject: reply.subject, palette: reply.palette };
      });
      this.loads.set(url, load);
    }
    return load;
  }

  /**
   * Asks when the worker is free for it: the board comes first, so only little of this is under way at a time.
   * @param owner what asks; a newer wish of the same owner takes the place of one that still waits
   * @returns null for a wish that was overtaken
   */
  private askLater(owner: object, request: Ask): Promise<Reply | null> {
    return new Promise((resolve) => {
      const known = this.queue.find((w) => w.owner === owner);
      if (known) {
        known.resolve(null);
        Object.assign(known, { request, resolve });
      } else this.queue.push({ owner, request, resolve });
      this.goOn();
    });
  }

  private goOn(): void {
    while (this.underWay < AT_ONCE) {
      const wish = this.queue.shift();
      if (!wish) return;
      this.underWay++;
      void this.ask(wish.request).then((reply) => {
        this.underWay--;
        wish.resolve(reply);
        this.goOn();
      });
    }
  }

  /** The frame painted to fit a rectangle of device pixels; null when the same owner has asked for another since. */
  async paintTry(
    owner: object,
    key: string,
    frame: Frame,
    to: { width: number; height: number; margin: number; cut?: boolean },
  ): Promise<ImageBitmap | null> {
    const reply = await this.askLater(owner, { kind: 'try', key, frame, cut: false, ...to });
    return reply && 'bitmap' in reply ? reply.bitmap : null;
  }

  /** The mean colour of the picture along the rim of its shape; null while it is not known. */
  async rim(key: string, frame: Frame): Promise<string | null> {
    const reply = await this.ask({ kind: 'rim', key, frame });
    return 'colour' in reply ? reply.colour : null;
  }

  /** How much of what matters each frame keeps, 0..1; null while that is not known, or when it is asked again. */
  async kept(key: string, frames: readonly Frame[]): Promise<number[] | null> {
    const round = ++this.keptRound;
    const shares: number[] = [];
    for (let i = 0; i < frames.length; i += KEPT_AT_ONCE) {
      const part = frames.slice(i, i + KEPT_AT_ONCE);
      const reply = await this.askLater(this, { kind: 'kept', key, frames: part });
      if (!reply || !('shares' in reply) || round !== this.keptRound) return null;
      shares.push(...reply.shares);
    }
    return shares;
  }

  /** Every shape with the placement that keeps most of a region. */
  async rank(key: string, frame: Frame, size: Size, keep: KeepMark): Promise<Ranking[]> {
    const reply = await this.ask({ kind: 'rank', key, frame, size, keep });
    return 'ranking' in reply ? reply.ranking : [];
  }

  /** Gives the board's canvas to the worker for good. */
  attach(canvas: HTMLCanvasElement): void {
    const offscreen = canvas.transferControlToOffscreen();
    this.worker.postMessage({ kind: 'attach', canvas: offscreen } satisfies Request, [offscreen]);
  }

  board(paint: BoardPaint): void {
    this.worker.postMessage({ kind: 'board', paint } satisfies Request);
  }
}
