import { isAdded, type Document, type Item, type ItemId, type Page } from '../model/document';
import type { Box } from '../model/frame';
import { frameOfBlock, frameOfItem, isPictureItem } from '../model/frame-item';
import { groupsRound, spaceOf, type Placed } from '../model/stack';
import { withChildren } from '../model/tree';
import { placedIn } from '../geometry/frame-matrix';
import { boundsOfBoxes } from '../geometry/measure';
import { paintedBounds } from '../paint/painter';
import { isBand } from '../ties/behind';
import { boxInText } from '../ties/in-text';

/**
 * A picture with all that stands around it as a document of its own: one page, as large as what is drawn of them, without a ground.
 * @param document with all that is tied where its rule has it
 * @returns null where nothing stands around the picture
 */
export function pieceDocument(document: Document, id: ItemId): Document | null {
  const holder = [...document.pages, ...document.stories].find((h) => h.items.some((i) => leadsTo(document, i, id)));
  const ids = holder?.items.filter((i) => leadsTo(document, i, id)) ?? [];
  if (ids.length < 2) return null;
  const groups = groupsRound(document);
  const placed = ids.flatMap((i) => {
    // Of a group that holds the picture, the picture alone.
    const item = document.items[withChildren(document, i).includes(id) ? id : i];
    if (item?.kind !== 'framed') return [];
    const { turn, flip } = item;
    const spaces = (groups.get(item.id) ?? []).map(spaceOf);
    return [{ item, ...placedIn({ box: boxInText(item), turn, flip }, spaces) }];
  });
  // A band of a web page goes as far as there is something before it.
  const before = placed.filter(({ item }) => !isWebBand(item)).map((p) => p.box);
  const left = Math.min(...before.map((b) => b.x));
  const right = Math.max(...before.map((b) => b.x + b.width));
  for (const p of placed)
    if (isWebBand(p.item)) {
      const gap = p.item.tie?.gap ?? 0;
      p.box = { ...p.box, x: left - gap, width: right - left + 2 * gap };
    }
  const { x, y, ...size } = boundsOfBoxes(placed.map(paintedBox));
  const items = placed.map(({ item, box, turn, flip }): Item => {
    const { tie, ...rest } = item;
    void tie;
    return { ...rest, turn, flip, at: { on: 'page', box: { ...box, x: box.x - x, y: box.y - y } } };
  });
  const page: Page = {
    ...{ id: 'piece', size, ground: null, layers: [], items: items.map((i) => i.id) },
    margins: { top: 0, right: 0, bottom: 0, left: 0 },
  };
  return {
    ...document,
    ...{ flows: false, pages: [page], layers: [], stories: [] },
    items: Object.fromEntries(items.map((i) => [i.id, i])),
  };
}

const isWebBand = (item: Item): boolean => item.at.on === 'element' && isBand(item);

/** Is it the picture, what holds it, or does it follow it, or what follows it? */
export function leadsTo(document: Document, from: ItemId, id: ItemId): boolean {
  const item = document.items[from];
  if (item?.kind === 'group') return item.children.some((c) => leadsTo(document, c, id));
  if (from === id) return true;
  if (!item) return false;
  const stands = isAdded(from) && 'beside' in item.at && item.at.beside === id;
  return stands || (item.tie !== undefined && leadsTo(document, item.tie.to, id));
}

/** The upright rectangle round all that is painted of it, its shadow, too. */
function paintedBox({ item, box, turn, flip }: Placed): Box {
  if (item.kind !== 'framed') return box;
  const frame = isPictureItem(item)
    ? { ...frameOfItem(item, 1), box, turn, flip }
    : frameOfBlock(item, { box, turn, flip });
  const b = paintedBounds(frame);
  return { x: box.x + b.x, y: box.y + b.y, width: b.width, height: b.height };
}
