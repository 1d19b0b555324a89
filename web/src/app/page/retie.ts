import { paragraphWords, type Box, type Frame, type Paragraph, type Point } from '@gable/core';
import type { Block } from '@gable/contract';
import type { LaidBlock, PageSpot, PictureOnPage } from '../../../page/told';
import { countsOf, PX } from './place';

/** Pages of a text, as they are laid out, and its blocks as the file tells them. In CSS pixels. */
export interface LaidText {
  blocks: readonly LaidBlock[];
  pages: readonly PageSpot[];
  file: readonly Block[];
}

/** A paragraph that something on the pages can be tied to. */
export interface Tie {
  paragraph: Paragraph;
  spot: LaidBlock;
}

/** From a stretch to another: nothing where they meet. */
const gap = (a: number, sizeA: number, b: number, sizeB: number): number =>
  Math.max(0, b - (a + sizeA), a - (b + sizeB));

/** The page that the middle of something is on, or nearest to. */
export function pageAt({ pages }: Pick<LaidText, 'pages'>, box: Box): PageSpot | undefined {
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  const far = (p: PageSpot): number => gap(x, 0, p.x, p.width) + gap(y, 0, p.y, p.height);
  return pages.reduce<PageSpot | undefined>((best, p) => (best && far(best) <= far(p) ? best : p), undefined);
}

/** The paragraph of the same page that is nearest to where something begins; null where the page has none. */
export function nearestParagraph({ blocks, pages, file }: LaidText, box: Box): Tie | null {
  const page = pageAt({ pages }, box);
  if (!page) return null;
  const counts = countsOf(file);
  let best: (Tie & { far: number }) | null = null;
  for (const [i, spot] of blocks.entries()) {
    const count = counts[i];
    if (!count || count.within !== null || spot.closed || spot.goesOn || spot.width === 0) continue;
    if (pageAt({ pages }, { ...spot, height: Math.min(spot.height, 2) }) !== page) continue;
    const far = gap(box.y, 0, spot.y, spot.height) + gap(box.x, box.width, spot.x, spot.width);
    if (best && far >= best.far) continue;
    best = { far, spot, paragraph: { block: count.before, words: paragraphWords(file[i]!.words) } };
  }
  return best && { paragraph: best.paragraph, spot: best.spot };
}

/** Where the paragraph of a picture begins. */
const ownParagraph = ({ x, y, inParagraph }: PictureOnPage): Point => ({ x: x - inParagraph.x, y: y - inParagraph.y });

/** Is a paragraph the one that a picture stands in as it is laid out? */
export function isOwn(told: PictureOnPage, { spot }: Tie): boolean {
  const own = ownParagraph(told);
  return Math.abs(own.x - spot.x) < 1 && Math.abs(own.y - spot.y) < 1;
}

/**
 * A frame beside a text tied to another paragraph, and still where it is on the pages. What it counts from comes with it, unless it
 * is aligned by that.
 * @param at its corner, in CSS pixels
 */
export function retied(
  frame: Frame,
  { paragraph, spot }: Tie,
  at: Point,
  { pages, told }: { pages: readonly PageSpot[]; told: PictureOnPage },
): Frame {
  const { anchor } = frame;
  const from = pageAt({ pages }, { ...ownParagraph(told), width: 0, height: 0 });
  const to = pageAt({ pages }, { ...spot, height: Math.min(spot.height, 2) });
  if (!anchor || !to) return frame;
  const { x: across, y: down } = anchor.from;
  const { x, y } = frame.box;
  const box = {
    ...frame.box,
    x:
      across === 'column'
        ? (at.x - columnAt(to, spot).x) / PX
        : across === 'character'
          ? (at.x - spot.x) / PX
          : x - (to.x - (from ?? to).x) / PX,
    y: down === 'paragraph' || down === 'line' ? (at.y - spot.y) / PX : y - (to.y - (from ?? to).y) / PX,
  };
  if (anchor.align?.x) box.x = x;
  if (anchor.align?.y) box.y = y;
  return { ...frame, box, paragraph };
}

/** The column of a page that a paragraph stands in; all of the page where that tells none. */
function columnAt(page: PageSpot, { x }: Box): Point {
  const columns = (page.columns ?? []).map((c) => ({ ...c, x: page.x + c.x }));
  return columns.findLast((c) => c.x <= x + 1) ?? columns[0] ?? page;
}
