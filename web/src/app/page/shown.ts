import { signal } from '@angular/core';
import { equal, type Frame } from '@gable/core';
import { firstValueFrom } from 'rxjs';
import type { Asked, Given, Spot } from '../../../page/told';
import type { Api } from '../api/api';
import type { TryCanvas } from '../paint/try-canvas';
import { homeOf } from '../work/work-model';
import type { Work } from '@gable/contract';

/** A frame on a page of a text, as the layout made room for it. */
interface AtRest {
  n: number;
  frame: Frame;
  /** Where it is painted, from the corner of its box on the page, in CSS pixels of the page. */
  at: Spot;
}

/** All of a frame but where it lies. */
const lookOf = ({ box, ...frame }: Frame): string =>
  JSON.stringify({ ...frame, anchor: null, flow: null, width: box.width, height: box.height });

/** Gives the frame without rights the pictures that its pages show themselves: of a web page their data, of a text what is painted. */
export class Shown {
  /** What it has been given under its name. */
  private readonly known = new Set<string>();
  /** What was painted of each picture last. */
  private readonly painted = new Map<number, { key: string; frame: Frame; at: Spot }>();
  /** Frames of a text as its pages show them now. */
  readonly now = signal<ReadonlyMap<number, Frame>>(new Map());

  constructor(
    private readonly api: Api,
    private readonly post: (message: Asked, transfer?: Transferable[]) => void,
  ) {}

  /** The frame has begun anew: it has been given nothing. */
  forget(): void {
    this.known.clear();
    this.painted.clear();
  }

  /** The pages show what they have been given. */
  arrived(): void {
    this.now.set(new Map([...this.painted].map(([n, { frame }]) => [n, frame])));
  }

  /** Pictures to be shown at once when pages are laid out anew. */
  again(work: Work, frames: ReadonlyMap<number, Frame>): Given[] {
    if (work.can.pages === 'web')
      return work.pictures.flatMap(({ n }) => {
        const key = keyOf(work, n);
        return this.known.has(key) ? [{ n, key }] : [];
      });
    return [...this.painted].flatMap(([n, { key, frame, at }]) => {
      const next = frames.get(n);
      return next && lookOf(frame) === lookOf(next) ? [{ n, key, at }] : [];
    });
  }

  /** Gives a web page the data of pictures. */
  async give(id: number, work: Work, numbers: readonly number[]): Promise<void> {
    const given = await Promise.all(
      numbers.map(async (n): Promise<Given[]> => {
        const key = keyOf(work, n);
        if (this.known.has(key)) return [];
        this.known.add(key);
        const home = homeOf(work, n);
        try {
          return [{ n, key, data: await firstValueFrom(this.api.original(home.id, home.n)) }];
        } catch {
          // It stays painted over the page.
          this.known.delete(key);
          return [];
        }
      }),
    );
    if (given.flat().length > 0) this.post({ id, given: given.flat() });
  }

  /** Gives a text what is painted of its frames, each once. */
  paint(id: number, frames: readonly AtRest[], canvases: readonly TryCanvas[]): void {
    for (const { n, frame, at } of frames) {
      const canvas = canvases.find((c) => c.frame().n === n);
      const painted = canvas?.painted();
      const key = `${n} ${painted?.count}`;
      if (!canvas || !painted || !equal(painted.frame, frame) || this.known.has(key)) continue;
      this.known.add(key);
      this.painted.set(n, { key, frame, at });
      void canvas.copy().then((copy) => this.post({ id, given: [{ n, key, painted: copy, at }] }, [copy]));
    }
  }
}

function keyOf(work: Work, n: number): string {
  const home = homeOf(work, n);
  return `${home.id}/${home.n}`;
}
