import { inject, Injectable, type OnDestroy, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import type { Frame } from '@gable/core';
import { BehaviorSubject, firstValueFrom } from 'rxjs';
import { Api } from '../api/api';
import { Painter, SMALL } from '../paint/painter';
import type { Seen } from '../paint/protocol';
import * as model from './work-model';

/** Side of the proxy of the picture on the board; there is a small one of every picture for the run. */
export const LARGE = 2048;
/** Milliseconds in which what is seen of small copies is gathered. */
const TOGETHER = 60;
/** So many pictures the server is asked to look into at a time. */
const LOOKS_AT_ONCE = 2;

interface Inside {
  key: string;
  id: string;
  frame: Pick<Frame, 'n' | 'source'>;
}

/** The pictures of an open work: their copies, and what has been found in them. */
@Injectable()
export class Images implements OnDestroy {
  private readonly api = inject(Api);
  private readonly painter = inject(Painter);

  /** Frames whose small copies are still to be fetched. */
  private queue: Frame[] = [];
  /** Pictures in which the server has still to look, and those that it was asked about. */
  private inside: Inside[] = [];
  private readonly asked = new Set<string>();
  private looking = 0;
  /** What was seen and is not told yet. */
  private found: Record<string, Seen> = {};
  private foundAt: ReturnType<typeof setTimeout> | undefined;

  /** What was seen, by the painter's key. */
  readonly seen$ = new BehaviorSubject<Readonly<Record<string, Seen>>>({});
  /** Pictures whose large copies are here and have been looked at, or cannot be had; by the painter's key. */
  private readonly ready$ = new BehaviorSubject<ReadonlySet<string>>(new Set());
  /** The colour of the picture along its rim, and the frame it was looked up for. */
  readonly rim$ = new BehaviorSubject<{ frame: Frame; colour: string | null } | null>(null);

  readonly ready = toSignal(this.ready$, { requireSync: true });
  readonly seen = toSignal(this.seen$, { requireSync: true });
  readonly rim = toSignal(this.rim$, { requireSync: true });

  /** In how many pictures the server has looked, of those that it was asked about. */
  readonly looked = signal({ done: 0, all: 0 });

  /** Is the board hidden by something that fills the screen? Then nothing is painted on it. */
  readonly covered = signal(false);

  /** Fetches a frame's picture, and looks at it. @param side of the copy, in pixels */
  async load(m: model.WorkModel, frame: Frame, side: number): Promise<void> {
    const picture = model.pictureOf(m, frame.n);
    if (model.problemOf(picture, frame)) return;
    const key = model.keyOf(m.work, frame);
    const at = model.homeOf(m.work, frame.n);
    const url = frame.source ? this.api.keptUrl(frame.source.sha256, side) : this.api.proxyUrl(at.id, at.n, side);
    const seen = await this.painter.load(key, url, model.sizeOf(picture, frame), side);
    if (side === LARGE) this.ready$.next(new Set([...this.ready$.value, key]));
    if (!seen) return;
    if (!this.seen$.value[key]) this.find(key, seen, side === LARGE);
    this.lookInside({ key, id: at.id, frame: { ...frame, n: at.n } }, side === LARGE);
  }

  /** Of a thousand pictures several come in each moment: they are told together. */
  private find(key: string, seen: Seen, atOnce: boolean): void {
    this.found[key] = seen;
    if (atOnce) this.tellFound();
    else this.foundAt ??= setTimeout(() => this.tellFound(), TOGETHER);
  }

  /** Asks the server what is in a picture, once; that on the board comes before others. */
  private lookInside(wish: Inside, first: boolean): void {
    const waiting = this.inside.findIndex((w) => w.key === wish.key);
    if (waiting < 0 && this.asked.has(wish.key)) return;
    if (waiting >= 0 && first) this.inside.splice(waiting, 1);
    else if (waiting >= 0) return;
    if (!this.asked.has(wish.key)) this.looked.update(({ done, all }) => ({ done, all: all + 1 }));
    this.asked.add(wish.key);
    if (first) this.inside.unshift(wish);
    else this.inside.push(wish);
    this.lookOn();
  }

  /** Leaves the pictures that wait as their colours say; one that comes to the board is looked into all the same. */
  stopLooking(): void {
    for (const { key } of this.inside) {
      this.asked.delete(key);
      const seen = this.found[key] ?? this.seen$.value[key];
      if (seen) this.find(key, { ...seen, known: true }, false);
    }
    this.looked.update(({ done }) => ({ done, all: done + this.looking }));
    this.inside = [];
  }

  private lookOn(): void {
    while (this.looking < LOOKS_AT_ONCE) {
      const wish = this.inside.shift();
      if (!wish) return;
      this.looking++;
      void this.look(wish).finally(() => {
        this.looking--;
        this.looked.update(({ done, all }) => ({ done: done + 1, all }));
        this.lookOn();
      });
    }
  }

  private async look({ key, id, frame }: Inside): Promise<void> {
    // Without an answer what the colours say has to do.
    const { faces } = await firstValueFrom(this.api.contents(id, frame)).catch(() => ({ faces: [] }));
    const now = faces.length > 0 ? await this.painter.know(key, faces) : null;
    const seen = now ?? this.found[key] ?? this.seen$.value[key];
    if (seen) this.find(key, { ...seen, known: true, faces }, false);
  }

  private tellFound(): void {
    clearTimeout(this.foundAt);
    this.foundAt = undefined;
    this.seen$.next({ ...this.seen$.value, ...this.found });
    this.found = {};
  }

  /** The small copies of all frames, a few at a time, so that the one on the board is not kept waiting. */
  async loadAll(m: model.WorkModel): Promise<void> {
    this.queue = [...model.framesOf(m).values()];
    const next = async (): Promise<void> => {
      for (let f = this.queue.shift(); f !== undefined; f = this.queue.shift()) await this.load(m, f, SMALL);
    };
    await Promise.all([next(), next(), next()]);
  }

  /** The pictures that others have taken the place of: to show frames as they came. */
  async loadAsCame(m: model.WorkModel): Promise<void> {
    const gone = model.changedFrames(m).filter((f) => f.source);
    await Promise.all(gone.map((f) => this.load(m, model.pictureOf(m, f.n).frame, SMALL)));
  }

  /** These are in sight: their copies are fetched before others. */
  sooner(numbers: ReadonlySet<number>): void {
    const [now, later] = [true, false].map((wanted) => this.queue.filter((f) => numbers.has(f.n) === wanted));
    this.queue = [...now!, ...later!];
  }

  ngOnDestroy(): void {
    clearTimeout(this.foundAt);
    this.queue = [];
    this.inside = [];
  }
}

/** Where the picture of a frame is known: in a folder by its own work. */
export function addressOf(m: model.WorkModel, frame: Frame): { id: string; frame: Pick<Frame, 'n' | 'source'> } {
  const home = model.homeOf(m.work, frame.n);
  return { id: home.id, frame: { ...frame, n: home.n } };
}
