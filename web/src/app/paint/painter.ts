import { Injectable } from '@angular/core';
import type { Frame, Size, Subject } from '@gable/core';
import { BehaviorSubject } from 'rxjs';
import type { Reply, Request } from './protocol';

type Ask = Request extends infer R ? (R extends { id: number } ? Omit<R, 'id'> : never) : never;

/** Talks to the painting worker; one worker for the whole application. */
@Injectable({ providedIn: 'root' })
export class Painter {
  private readonly worker = new Worker(new URL('./paint.worker', import.meta.url), { type: 'module' });
  private readonly waiting = new Map<number, (reply: Reply) => void>();
  private readonly loads = new Map<string, Promise<Subject | null>>();
  private next = 1;
  /** Counts up whenever another picture can be painted. */
  readonly ready$ = new BehaviorSubject(0);

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
   * Fetches and decodes a picture, once for each address.
   * @returns its subject; null when it cannot be shown
   */
  load(key: string, url: string, size: Size): Promise<Subject | null> {
    let load = this.loads.get(url);
    if (!load) {
      load = this.ask({ kind: 'load', key, url, size }).then((reply) => {
        if (!('subject' in reply)) {
          this.loads.delete(url);
          return null;
        }
        this.ready$.next(this.ready$.value + 1);
        return reply.subject;
      });
      this.loads.set(url, load);
    }
    return load;
  }

  /** The frame painted to fit a rectangle of device pixels. */
  async paintTry(
    key: string,
    frame: Frame,
    width: number,
    height: number,
    margin: number,
  ): Promise<ImageBitmap | null> {
    const reply = await this.ask({ kind: 'try', key, frame, width, height, margin });
    return 'bitmap' in reply ? reply.bitmap : null;
  }

  /** Gives the board's canvas to the worker for good. */
  attach(canvas: HTMLCanvasElement): void {
    const offscreen = canvas.transferControlToOffscreen();
    this.worker.postMessage({ kind: 'attach', canvas: offscreen } satisfies Request, [offscreen]);
  }

  board(request: Omit<Extract<Request, { kind: 'board' }>, 'kind'>): void {
    this.worker.postMessage({ kind: 'board', ...request } satisfies Request);
  }
}
