import type { Size } from '@gable/core';
import { WINDOW, type Asked, type Boxes, type Laid, type Shown } from '../../../page/told';

/** Pixels of a shot to the CSS pixel: for pages as wide as half a sheet of A4, at 200 to the inch. */
const RATIO = 0.9;
/** Nobody waits longer for a page, in milliseconds. */
const LAYOUT_TIMEOUT_MS = 20_000;

/** A frame without rights that lays out pages out of sight. */
export class Layouter {
  private readonly frame = document.createElement('iframe');
  private readonly waiting = new Map<number, { done: (answer: object) => void; failed: (error: Error) => void }>();
  private readonly ready: Promise<void>;
  private id = 0;
  private readonly hear = (event: MessageEvent): void => this.heard(event);
  private begun: () => void = () => undefined;

  /** @param title what it is for */
  constructor(title: string) {
    this.ready = new Promise((resolve) => (this.begun = resolve));
    window.addEventListener('message', this.hear);
    this.frame.setAttribute('sandbox', 'allow-scripts');
    this.frame.setAttribute('aria-hidden', 'true');
    this.frame.tabIndex = -1;
    this.frame.title = title;
    // Behind all and clear, but in the window: browsers let frames outside it sleep.
    this.frame.style.cssText = `position:fixed;left:0;top:0;z-index:-1;opacity:0;pointer-events:none;border:0;width:${WINDOW.width}px;height:${WINDOW.height}px`;
    this.frame.src = '/page/index.html';
    document.body.append(this.frame);
  }

  private heard({ source, data }: MessageEvent<{ ready?: true; id?: number; failed?: string; more?: boolean }>): void {
    if (source !== this.frame.contentWindow) return;
    if (data.ready) this.begun();
    const asked = this.waiting.get(data.id ?? 0);
    // A long text is told in parts: only all of it is an answer.
    if (!asked || data.more) return;
    this.waiting.delete(data.id!);
    if (data.failed) asked.failed(new Error(data.failed));
    else asked.done(data);
  }

  private ask(message: (id: number) => Asked, transfer: Transferable[] = []): Promise<object> {
    const id = ++this.id;
    return new Promise((done, failed) => {
      this.waiting.set(id, { done, failed });
      setTimeout(() => failed(new Error('The page took too long.')), LAYOUT_TIMEOUT_MS);
      void this.ready.then(() => this.frame.contentWindow?.postMessage(message(id), '*', transfer));
    });
  }

  /** @param paper behind the pages of a text */
  lay(bytes: ArrayBuffer, paper: string): Promise<Laid> {
    void this.ready.then(() => this.frame.contentWindow?.postMessage({ id: 0, paper } satisfies Asked, '*'));
    return this.ask((id) => ({ id, bytes }), [bytes]) as Promise<Laid>;
  }

  /** How large pictures of the page are in a window of another width, and how far down, by their numbers. In CSS pixels. */
  async boxesIn(window: number): Promise<ReadonlyMap<number, Size & { top: number }>> {
    this.frame.style.width = `${window}px`;
    const { boxes } = (await this.ask((id) => ({ id, window }))) as Boxes;
    return new Map(boxes.map(({ n, ...box }) => [n, box]));
  }

  async shoot(parts: Extract<Asked, { shoot: unknown }>['shoot']): Promise<string[]> {
    return ((await this.ask((id) => ({ id, shoot: parts, ratio: RATIO }))) as Shown).shots;
  }

  close(): void {
    window.removeEventListener('message', this.hear);
    this.frame.remove();
  }
}
