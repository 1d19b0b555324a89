import { inject, Injectable } from '@angular/core';
import { fileRoom, groundOf, papersOf, type Changes, type Frame } from '@gable/core';
import { firstValueFrom } from 'rxjs';
import type { Laid, Spot } from '../../../page/told';
import { Api } from '../api/api';
import type { PageShot, ShotPair, Work } from '@gable/contract';
import { Layouter } from './layouter';
import { pictureIn, problemOf, type WorkModel } from '../work/work-model';

/** CSS pixels in a point. */
const PX = 4 / 3;
/** Of a page much higher than wide a part is shown: so many times as high as wide. */
const TALLEST = 1.4;
/** So many pages go into a proof sheet. */
const MAX_PAGES = 40;
const TITLE = 'Pages for the proof sheet';
/** Kinds whose pages are laid out by the browser. */
export const isLaidOut = ({ can }: Work): boolean => can.pages === 'text' || can.pages === 'web';

/** Where the box of a frame lies in the room that a text makes for it, on its pages in pixels. */
export function boxIn({ x, y }: Pick<Spot, 'x' | 'y'>, frame: Frame): { x: number; y: number } {
  const { middle } = fileRoom(frame);
  return { x: x + (middle.x - frame.box.width / 2) * PX, y: y + (middle.y - frame.box.height / 2) * PX };
}

const within = (page: Spot, p: Spot): boolean => {
  const [x, y] = [p.x + p.width / 2, p.y + p.height / 2];
  return x >= page.x - 1 && x <= page.x + page.width + 1 && y >= page.y && y <= page.y + page.height;
};
const pageOf = ({ pages }: Laid, p: Spot): number => pages.findIndex((page) => within(page, p));

/** Pages of texts and web pages for a proof sheet: only a browser can lay them out, so it is done here. */
@Injectable({ providedIn: 'root' })
export class PageShots {
  private readonly api = inject(Api);

  /** Are the pages of such files laid out by the browser? */
  can(work: Work): boolean {
    return isLaidOut(work);
  }

  /** The pages with frames that differ, as they came and as they are; the first forty of them. */
  async take(
    { work, file: was, document }: Pick<WorkModel, 'work' | 'file' | 'document'>,
    changed: readonly Frame[],
    added: Changes | undefined,
  ): Promise<ShotPair[]> {
    const [paperWas, paper] = [was, document].map((d) => groundOf(papersOf(d)[0] ?? { ground: null })) as [
      string,
      string,
    ];
    const web = work.can.pages === 'web';
    const frames = new Map(changed.map((f) => [f.n, f]));
    const numbers = changed.map((f) => pictureIn(work, f.n)!).filter((p) => !problemOf(p, frames.get(p.n)!));
    const files = web ? [...new Set(numbers.map((p) => p.where.page ?? 1))].sort((a, b) => a - b) : [1];
    const [came, now] = [new Layouter(TITLE), new Layouter(TITLE)];
    const out: ShotPair[] = [];
    try {
      for (const file of files) {
        const before = await came.lay(
          await firstValueFrom(this.api.pages(work.id, { frames: [], page: file })),
          paperWas,
        );
        const wish = { frames: [...changed], page: file, whole: true, ...(added && { added }) };
        const after = await now.lay(await firstValueFrom(this.api.pages(work.id, wish)), paper);
        const pairs = new Map<string, { before: number; after: number; n: number }>();
        for (const { n } of numbers) {
          const [b, a] = [before, after].map((laid) => {
            const at = laid.pictures.find((p) => p.n === n);
            return at ? pageOf(laid, at) : -1;
          }) as [number, number];
          if (a >= 0 && b >= 0 && !pairs.has(`${b} ${a}`)) pairs.set(`${b} ${a}`, { before: b, after: a, n });
        }
        for (const pair of [...pairs.values()].sort((p, q) => p.after - q.after)) {
          if (out.length === MAX_PAGES) return out;
          const page = web ? (work.pages > 1 ? `Page ${file}` : 'The page') : `Page ${pair.after + 1}`;
          out.push({
            caption: page,
            before: await this.shot(
              came,
              before,
              pair.before,
              pair.n,
              work.pictures.map((p) => p.frame),
              web,
            ),
            after: await this.shot(
              now,
              after,
              pair.after,
              pair.n,
              work.pictures.map((p) => frames.get(p.n) ?? p.frame),
              web,
            ),
          });
        }
      }
      return out;
    } finally {
      came.close();
      now.close();
    }
  }

  /** @param n the picture that must be in sight on a page that is not shown whole */
  private async shot(
    from: Layouter,
    laid: Laid,
    page: number,
    n: number,
    frames: readonly Frame[],
    web: boolean,
  ): Promise<PageShot> {
    const spot = laid.pages[page]!;
    const height = Math.min(spot.height, TALLEST * spot.width);
    const at = laid.pictures.find((p) => p.n === n)!;
    const top = Math.max(0, Math.min(at.y - spot.y - 0.1 * height, spot.height - height));
    const [png] = await from.shoot([{ page, top, height }]);
    return {
      png: png!.slice(png!.indexOf(',') + 1),
      width: spot.width / PX,
      height: height / PX,
      frames: laid.pictures
        .filter((p) => within({ ...spot, y: spot.y + top, height }, p))
        .map((p) => ({ n: p.n, width: p.width, at: web ? p : boxIn(p, frames[p.n - 1]!) }))
        .map((p) => ({
          n: p.n,
          x: (p.at.x - spot.x) / PX,
          y: (p.at.y - spot.y - top) / PX,
          // Only a web page may give a picture another size than its box has in our count.
          k: web ? p.width / (frames[p.n - 1]!.box.width * PX) || 1 : 1,
        })),
    };
  }
}
