import {
  applyAll,
  equal,
  GableError,
  groundOf,
  isAdded,
  isPictureItem,
  ON_PAGE,
  stackOf,
  type Box,
  type Document,
  type Holder,
  type Operation,
  type FramedItem,
  type ItemId,
  type Position,
  restylesGround,
} from '@gable/core';
import { CAPABILITIES, type Format } from '../codec/capabilities';
import type { PagePlan, Source } from '../codec/contract';
import { openFile } from '../codec/source';
import { BLANKS } from './index';

/** A file that has only pictures, and what it is to be as: to be written by `file.write(document, images)`. */
export interface Drawn {
  file: Source;
  document: Document;
}

/**
 * The pages of a file that has nothing but pictures, as a new file of another format: the pictures as they are, at their places
 * on the page as far as the format has such, on a web page one below another; and what was added round them, where it takes that.
 * @param document as it is now; its pictures are known by their data
 * @param only one of its pages, from 1
 * @throws GableError `cannot-write` for a format without new files, or for several pages in one that has a single page
 */
export function drawnAs(format: Format, document: Document, only?: number): Drawn {
  const pages = document.pages.filter((_, i) => only === undefined || i + 1 === only);
  const blank = BLANKS[format];
  if (!blank || !pages[0]) throw unmakeable(format, 'A new file');
  const { insert, turns, restyles } = CAPABILITIES[format];
  if (format === 'svg' && pages.length > 1) throw unmakeable(format, 'More than one page');
  const behindAll = groundOf(pages[0]);
  const ground = behindAll === '#ffffff' ? null : behindAll;
  let file = openFile(blank({ size: pages[0].size, ground, pages: pages.length }));
  if (turns && pages.length > 1) {
    const plan = pages.map((_, i): PagePlan => ({ page: 1, as: i === 0 ? 'itself' : 'blank' }));
    file = openFile(file.withPages!(plan).bytes);
  }
  let behind = 0;
  const operations = pages.flatMap((page, i): Operation[] => {
    const pictures = stackOf(document, page).flatMap(({ item, box, turn, flip }): FramedItem[] =>
      isPictureItem(item) || (isAdded(item.id) && item.kind === 'framed')
        ? [{ ...(insert === 'web' ? item : withoutTie(item)), at: { ...item.at, box } as Position, turn, flip }]
        : [],
    );
    const byId = new Map(pictures.map((p) => [p.id, p]));
    /** The picture that something follows, or that lies next beneath it. */
    const leaderOf = (item: FramedItem): FramedItem | undefined => {
      let to: FramedItem | undefined = item;
      for (let i = 0; to && !isPictureItem(to) && i < pictures.length; i++) to = byId.get(to.tie?.to ?? '');
      const below = pictures.slice(0, pictures.indexOf(item)).findLast(isPictureItem);
      return to ?? below ?? pictures.find(isPictureItem);
    };
    const own = file.document.pages[i];
    const story = file.document.stories.find((s) => s.kind === 'body')?.id ?? file.document.stories[0]?.id;
    const holder: Holder = own ? { page: own.id } : { story: story! };
    // One below another where there is no place on the page.
    const placeOnPage = (item: FramedItem): Box => (leaderOf(item) ?? item).at.box;
    const inOrder =
      insert === 'web'
        ? pictures.toSorted((a, b) => {
            const [p, q] = [placeOnPage(a), placeOnPage(b)];
            return p.y - q.y || p.x - q.x;
          })
        : pictures;
    const first = own ? own.items.length : behind;
    behind += inOrder.length;
    const placeOf = (item: FramedItem, index: number): Position => {
      const at = placeIn(insert, item, i);
      if (!isAdded(item.id) || (at.on !== 'anchor' && at.on !== 'element')) return at;
      const { after, ...place } = at;
      void after;
      if (place.on === 'element') {
        const leader = leaderOf(item);
        const { x = 0, y = 0 } = leader?.at.box ?? {};
        const { box } = item.at;
        return { ...place, box: { ...box, x: box.x - x, y: box.y - y }, ...(leader && { beside: leader.id }) };
      }
      // In a text it stands beside a picture of its page.
      const beside = (inOrder.slice(0, index).findLast(isPictureItem) ?? inOrder.find(isPictureItem))?.id;
      return { ...place, ...(beside !== undefined && { beside }) };
    };
    const other = own && !equal(page.ground, pages[0]!.ground) && restylesGround(restyles) ? page.ground : null;
    const grounds: Operation[] = other ? [{ op: 'page-set', id: own!.id, path: 'ground', value: other }] : [];
    const adds = inOrder.map((item, index): Operation => ({
      op: 'add',
      item: { ...item, at: placeOf(item, index) },
      slot: { in: holder, index: first + index },
    }));
    // What it follows is there by then.
    const ties = own ? inOrder.flatMap(({ id }): Operation[] => tieOf(document, byId, id)) : [];
    return [...grounds, ...adds, ...ties];
  });
  return { file, document: applyAll(file.document, operations).document };
}

/** What an item follows, where that is on its page, too. */
function tieOf({ items }: Document, onPage: ReadonlyMap<ItemId, unknown>, id: ItemId): Operation[] {
  const tie = items[id]?.tie;
  return tie && onPage.has(tie.to) ? [{ op: 'set', id, path: 'tie', value: tie }] : [];
}

/** All stands where it is: what it follows may come later. */
function withoutTie(item: FramedItem): FramedItem {
  const { tie, ...rest } = item;
  void tie;
  return rest;
}

function placeIn(insert: (typeof CAPABILITIES)[Format]['insert'], { at: { box } }: FramedItem, page: number): Position {
  if (insert === 'text') return { on: 'anchor', box, after: page + 1, anchor: ON_PAGE };
  if (insert === 'web') return { on: 'element', box: { ...box, x: 0, y: 0 }, after: 0 };
  return { on: 'page', box };
}

const unmakeable = (format: Format, what: string): GableError =>
  new GableError('cannot-write', `${what} cannot be written as .${format}.`, 'Choose another kind of file.');
