import { Injectable, signal, type WritableSignal } from '@angular/core';
import type { Face, Frame, KeepMark, Size } from '@gable/core';
import type { BoardPaint, Ranking, Reply, Request, Seen, TryCell } from './protocol';
import { paintWorker } from './worker-of';

type Ask = Request extends infer R ? (R extends { id: number } ? Omit<R, 'id'> : never) : never;

/**
 * How many wishes that can wait are given to the worker at a time, how many tries are painted in one, and how many frames
 * are weighed in one.
 */
const AT_ONCE = 2;
const TRIES_AT_ONCE = 8;
const KEPT_AT_ONCE = 16;

interface Version {
  first: WritableSignal<number>;
  finer: WritableSignal<number>;
}

/** Side of the smallest copy that is asked for, in pixels. */
export const SMALL = 256;

/** A try on a bitmap that it shares with others, in device pixels from `x` and from the top. */
export interface Piece {
  bitmap: ImageBitmap;
  x: number;
  width: number;
  height: number;
  /** Device pixels in a CSS pixel. */
  density: number;
  /** No other try is waited for. */
  last: boolean;
  /** It is no longer wanted: the bitmap goes with the last of its pieces. */
  release(): void;
}

type Wish =
  | { owner: object; request: Ask; resolve: (reply: Reply | null) => void }
  | { owner: object; cell: Omit<TryCell, 'x'>; density: number; resolve: (piece: Piece | null) => void };

export interface TryWish {
  width: number;
  height: number;
  margin: number;
  cut?: boolean;
  whole?: boolean;
  density?: number;
}

/** Talks to the painting worker; one worker for the whole application. */
@Injectable({ providedIn: 'root' })
export class Painter {
  private readonly worker = paintWorker();
  private readonly waiting = new Map<number, (reply: Reply) => void>();
  private readonly loads = new Map<string, Promise<Seen | null>>();
  private next = 1;
  private readonly queue: Wish[] = [];
  private underWay = 0;
  private triesUnderWay = 0;
  private keptRound = 0;
  private readonly versions = new Map<string, Version>();

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

  /**
   * Counts up whenever a picture can be painted, or painted better.
   * @param width how wide it will be painted at most, in device pixels: what the first copy has enough for is no better
   *   with a larger one
   */
  version(key: string, width = Infinity): number {
    const { first, finer } = this.versionOf(key);
    return width > SMALL ? first() + finer() : first();
  }

  private versionOf(key: string): Version {
    let version = this.versions.get(key);
    if (!version) this.versions.set(key, (version = { first: signal(0), finer: signal(0) }));
    return version;
  }

  /**
   * Fetches and decodes a picture, once for each address.
   * @param side of the copy, in pixels: a large one waits for a pause in the painting
   * @returns its subject and its colours; null when it cannot be shown
   */
  load(key: string, url: string, size: Size, side: number): Promise<Seen | null> {
    let load = this.loads.get(url);
    if (!load) {
      load = this.ask({ kind: 'load', key, url, size, patient: side > SMALL }).then((reply) => {
        if (!('subject' in reply)) {
          this.loads.delete(url);
          return null;
        }
        const { first, finer } = this.versionOf(key);
        (first() === 0 ? first : finer).update((n) => n + 1);
        return { subject: reply.subject, palette: reply.palette, clear: reply.clear };
      });
      this.loads.set(url, load);
    }
    return load;
  }

  /** Tells which faces are in a picture. @returns what is seen in it now; null where it is not here */
  async know(key: string, faces: readonly Face[]): Promise<Seen | null> {
    const reply = await this.ask({ kind: 'know', key, faces });
    if (!('subject' in reply)) return null;
    // What a cut would cost is drawn anew.
    this.versionOf(key).first.update((n) => n + 1);
    return { subject: reply.subject, palette: reply.palette, clear: reply.clear };
  }

  /**
   * Asks when the worker is free for it: the board comes first, so only little of this is under way at a time.
   * A newer wish of the same owner takes the place of one that still waits, which is answered with null.
   */
  private askLater(wish: Wish): void {
    const at = this.queue.findIndex((w) => w.owner === wish.owner);
    if (at >= 0) {
      this.queue[at]!.resolve(null);
      this.queue[at] = wish;
    } else this.queue.push(wish);
    // Those of one moment go together.
    queueMicrotask(() => this.goOn());
  }

  private goOn(): void {
    while (this.underWay < AT_ONCE) {
      const wish = this.queue.shift();
      if (!wish) return;
      this.underWay++;
      const asked = 'request' in wish ? this.ask(wish.request).then(wish.resolve) : this.askTries(wish);
      void asked.then(() => {
        this.underWay--;
        this.goOn();
      });
    }
  }

  /** Paints a try and those that wait next to it on one bitmap. */
  private async askTries(first: Extract<Wish, { cell: unknown }>): Promise<void> {
    const wishes = [first];
    for (let next = this.queue[0]; next && 'cell' in next && wishes.length < TRIES_AT_ONCE; next = this.queue[0]) {
      wishes.push(next);
      this.queue.shift();
    }
    let x = 0;
    const tries = wishes.map(({ cell }) => ({ ...cell, x: (x += cell.width) - cell.width }));
    this.triesUnderWay++;
    const reply = await this.ask({ kind: 'tries', tries });
    this.triesUnderWay--;
    const last = this.triesUnderWay === 0 && !this.queue.some((w) => 'cell' in w);
    const bitmap = 'bitmap' in reply ? reply.bitmap : null;
    let wanted = wishes.length;
    for (const [i, { resolve, density }] of wishes.entries()) {
      const { x, width, height } = tries[i]!;
      const release = (): void => {
        if (--wanted === 0) bitmap?.close();
      };
      resolve(bitmap && { bitmap, x, width, height, density, last, release });
    }
  }

  /** The frame painted to fit a rectangle of device pixels; null when the same owner has asked for another since. */
  paintTry(owner: object, key: string, frame: Frame, to: TryWish): Promise<Piece | null> {
    const { density = 1, ...rest } = to;
    return new Promise((resolve) =>
      this.askLater({ owner, cell: { key, frame, cut: false, whole: false, ...rest }, density, resolve }),
    );
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
      const request = { kind: 'kept', key, frames: part } as const;
      const reply = await new Promise<Reply | null>((resolve) => this.askLater({ owner: this, request, resolve }));
      if (!reply || !('shares' in reply) || round !== this.keptRound) return null;
      shares.push(...reply.shares);
    }
    return shares;
  }

  /** How much of what matters one frame keeps, 0..1; null while that is not known. */
  async share(key: string, frame: Frame): Promise<number | null> {
    const request = { kind: 'kept', key, frames: [frame] } as const;
    const reply = await new Promise<Reply | null>((resolve) => this.askLater({ owner: frame, request, resolve }));
    return reply && 'shares' in reply ? reply.shares[0]! : null;
  }

  /** Every shape with the placement that keeps most of these marks. */
  async rank(key: string, frame: Frame, size: Size, keep: readonly KeepMark[]): Promise<Ranking[]> {
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
