import type { Document, FramedItem, ItemId, Page } from '../model/document';
import { boundsOfBoxes } from '../geometry/measure';
import { isAdded } from '../model/document';
import type { Box, Frame, Size } from '../model/frame';
import { isPictureItem, withFrame, type PictureItem } from '../model/frame-item';
import { applyAll, type Operation } from '../model/operations';
import { stackOf } from '../model/stack';
import type { Subject } from '../model/subject';
import { pieceContext, puttingPiece } from '../pieces/context';
import { nameBelow } from '../pieces/name-below';
import { heightOfWords, WAITING } from '../pieces/piece';
import { withRatio, withSize } from '../placement/reframe';
import { shapeOf } from '../shapes/index';
import { isBand } from '../ties/behind';
import { drawnBox, resolveTies } from '../ties/index';
import { fitted, type Spread } from './spread';

/** To the edge of a page that says no margins, as a share of its shorter side. */
const MARGIN = 0.06;
export const marginOf = ({ size }: Pick<Page, 'size'>): number =>
  Math.round(Math.min(size.width, size.height) * MARGIN);

/** A picture that takes so much of its page lies behind the others, and stays. */
const WHOLE = 0.8;

/** What is known of a picture that is arranged. */
export interface Arranged {
  frame: Frame;
  /** Of the picture, in pixels. */
  size: Size;
  subject?: Subject | undefined;
}

export interface SpreadWish {
  spread: Spread;
  /** Between pictures, with what stands around them, and to the edge of the page; in points. */
  gap: number;
  margin: number;
  /** Where they are arranged; on what is free of the page where nothing is said. */
  room?: Box;
  pictures: ReadonlyMap<ItemId, Arranged>;
  /** What those have as a title below them that have no words yet; null for none. */
  titles: { of(id: ItemId): string } | null;
  /** Names what comes to stand around them. */
  newId(): ItemId;
}

/** The pictures of a page that can be arranged, in its order; those in groups, and one behind all of the page, stay. */
export const spreadable = (document: Document, page: Page): PictureItem[] =>
  page.items.flatMap((id) => {
    const item = document.items[id];
    if (!item || !isPictureItem(item) || item.at.on !== 'page' || item.locked) return [];
    const { width, height } = item.at.box;
    return width * height < WHOLE * page.size.width * page.size.height ? [item] : [];
  });

/**
 * The pictures of a page arranged, each with room for what stands around it.
 * @param document with all that is tied where its rule has it
 * @returns their frames, and what puts around them what comes with the arrangement, and titles below
 */
export function spreading(
  document: Document,
  page: Page,
  wish: SpreadWish,
): { frames: ReadonlyMap<ItemId, Frame>; around: Operation[] } {
  const items = spreadable(document, page).filter(({ id }) => wish.pictures.has(id));
  if (items.length === 0) return { frames: new Map(), around: [] };
  const plain = framesIn(document, page, { ...wish, items, below: 0 });
  if (wish.spread.dress) {
    // The second time there is room for what comes with it.
    const first = dressing(document, { ...wish, frames: plain, items });
    const frames = framesIn(first.document, page, { ...wish, items, below: 0 });
    return { frames, around: dressing(document, { ...wish, frames, items }).operations };
  }
  const untitled = wish.titles ? items.filter(({ id }) => !hasWords(document, id)) : [];
  if (untitled.length === 0) return { frames: plain, around: [] };
  // Titles are as large as suits the narrowest picture; the second time there is room for them.
  const first = titled(document, page, { ...wish, frames: plain, items: untitled });
  const frames = framesIn(document, page, { ...wish, items, below: first.height });
  return { frames, around: titled(document, page, { ...wish, frames, items: untitled, like: first }).operations };
}

/** What comes with an arrangement, put around pictures that nothing of it stands around yet. @returns the document with that */
function dressing(
  document: Document,
  { spread, frames, items, pictures, newId }: SpreadWish & Pick<Titling, 'items' | 'frames'>,
): { document: Document; operations: Operation[] } {
  let now = framedAs(document, frames, pictures);
  const operations: Operation[] = [];
  for (const [index, { id }] of items.entries()) {
    const context = pieceContext(now, id, { words: WAITING, newId });
    const made = (context && spread.dress?.(context, index)) ?? [];
    const own = made.filter(
      ({ item }) => !(item.name === undefined ? hasWords(now, id) : hasNamed(now, id, item.name)),
    );
    const put = context ? puttingPiece(now, context, own) : [];
    operations.push(...put);
    now = resolveTies(applyAll(now, put).document);
  }
  return { document: now, operations };
}

/** A document with pictures in other frames, and what follows them. */
function framedAs(document: Document, frames: Titling['frames'], pictures: SpreadWish['pictures']): Document {
  const items = { ...document.items };
  for (const [id, frame] of frames) items[id] = withFrame(items[id] as PictureItem, frame, pictures.get(id)!.size);
  return resolveTies({ ...document, items });
}

const hasNamed = (document: Document, id: ItemId, name: string): boolean =>
  Object.values(document.items).some((i) => i.kind === 'framed' && i.tie?.to === id && i.name === name);
const hasWords = (document: Document, id: ItemId): boolean =>
  Object.values(document.items).some((i) => i.kind === 'framed' && i.tie?.to === id && i.text !== null);

interface Framing extends SpreadWish {
  items: readonly PictureItem[];
  /** Room for titles, in points. */
  below: number;
}

function framesIn(document: Document, page: Page, wish: Framing): Map<ItemId, Frame> {
  const { spread, gap, margin, pictures, items, below } = wish;
  const around = items.map(({ id }) => reachOf(document, id));
  const most = (side: keyof Reach): number => Math.max(...around.map((r) => r[side]));
  const [left, right, top] = [most('left'), most('right'), most('top')];
  const bottom = Math.max(most('bottom'), below);
  const between = spread.gap ?? gap;
  const free = wish.room ?? freeOn(document, page, margin);
  const room = {
    width: Math.max(1, free.width - left - right),
    height: Math.max(1, free.height - top - bottom),
    gap: { x: between + left + right, y: between + top + bottom },
  };
  const own = items.map(({ id }) => pictures.get(id)!);
  const ratios = own.map(({ frame }) => frame.box.width / frame.box.height);
  const boxes = spread.boxes(ratios, room);
  return new Map(
    items.map(({ id }, i) => {
      const { x, y, ...size } = boxes[i]!;
      return [id, boxed(own[i]!, { x: x + free.x + left, y: y + free.y + top, ...size })];
    }),
  );
}

/** Less of a page than this, in its height, holds no pictures: then they lie over what is there. */
const LEAST = 0.3;

/** The highest stretch of a page from side to side that none of its own words and shapes reach into. */
function freeOn(document: Document, page: Page, margin: number): Box {
  const { width, height } = page.size;
  const taken = stackOf(document, page)
    .filter(({ item, box }) => !isPictureItem(item) && !isAdded(item.id) && !item.tie && box.height < WHOLE * height)
    .map(({ box }) => box)
    .sort((a, b) => a.y - b.y);
  const off = margin / 2;
  let best = { y: margin, height: 0 };
  let from = margin;
  for (const { y, height: tall } of [...taken, { y: height - margin + off, height: 0 }]) {
    if (y - off - from > best.height) best = { y: from, height: y - off - from };
    from = Math.max(from, y + tall + off);
  }
  const free = best.height >= LEAST * height ? best : { y: margin, height: height - 2 * margin };
  return { x: margin, width: width - 2 * margin, ...free };
}

/** The frame in another box: as much larger as that is, and where that has another ratio, cut to it about its subject. */
function boxed({ frame, size, subject }: Arranged, box: Box): Frame {
  const locked = shapeOf(frame.shape)?.locked ?? null;
  const own = frame.seat.fit === 'keep' || locked === null ? box : fitted(box, locked);
  const [was, now] = [frame.box.width / frame.box.height, own.width / own.height];
  const cut = Math.abs(was / now - 1) > 1e-6 ? withRatio(frame, now, size, subject) : frame;
  return { ...withSize(cut, own, size, 'zoom'), box: own };
}

/** The box round some pictures with all that stands around them. @param document with all that is tied where its rule has it */
export const roomOf = (document: Document, pictures: readonly ItemId[]): Box =>
  boundsOfBoxes(
    pictures.map((id) => {
      const { x, y, width, height } = (document.items[id] as PictureItem).at.box;
      const { left, right, top, bottom } = reachOf(document, id);
      return { x: x - left, y: y - top, width: width + left + right, height: height + top + bottom };
    }),
  );

interface Reach {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** How far what follows a picture reaches beyond its box, in points; bands to the edge of the page do not count. */
function reachOf(document: Document, id: ItemId): Reach {
  const picture = document.items[id] as PictureItem;
  const { box } = picture.at;
  const reach: Reach = { left: 0, right: 0, top: 0, bottom: 0 };
  const far = (b: Box, upright: boolean): void => {
    reach.top = Math.max(reach.top, box.y - b.y);
    reach.bottom = Math.max(reach.bottom, b.y + b.height - box.y - box.height);
    // Words above and below are as wide as a share of their picture.
    if (!upright) return;
    reach.left = Math.max(reach.left, box.x - b.x);
    reach.right = Math.max(reach.right, b.x + b.width - box.x - box.width);
  };
  far(drawnBox(picture), true);
  for (const { tie, ...item } of Object.values(document.items).filter((i) => i.kind === 'framed')) {
    if (tie?.to !== id || isBand({ tie })) continue;
    const flat = tie.as === 'beside' && tie.side !== 'left' && tie.side !== 'right';
    far(drawnBox(item as FramedItem), !flat);
  }
  return reach;
}

interface Titling extends Pick<SpreadWish, 'pictures' | 'titles' | 'newId'> {
  items: readonly PictureItem[];
  frames: ReadonlyMap<ItemId, Frame>;
  /** The size of their letters and their gap, where these are known. */
  like?: { size: number; gap: number };
}

/** Titles below pictures, all of one size. */
function titled(
  document: Document,
  page: Page,
  { items, frames, pictures, titles, newId, like }: Titling,
): { operations: Operation[]; size: number; gap: number; height: number } {
  let now = framedAs(document, frames, pictures);
  const made = items.map(({ id }) => {
    const words = { ...WAITING, name: titles!.of(id) };
    const context = pieceContext(now, id, { words, newId })!;
    const [piece] = nameBelow.items({ ...context, page: { ...page, size: { ...page.size, height: Infinity } } });
    return { context, piece: piece! };
  });
  const size = like?.size ?? Math.min(...made.map(({ piece }) => piece.item.text!.paragraphs[0]!.runs[0]!.size));
  const gap = like?.gap ?? Math.min(...made.map(({ piece }) => piece.item.tie!.gap));
  const operations: Operation[] = [];
  let height = 0;
  for (const { context, piece } of made) {
    const { text, tie, at } = piece.item;
    const paragraphs = text!.paragraphs.map((p) => ({ ...p, runs: p.runs.map((r) => ({ ...r, size })) }));
    const words = { ...text!, paragraphs };
    const tall = heightOfWords(words, context.drawn.width);
    height = Math.max(height, tall + gap);
    const item: FramedItem = {
      ...piece.item,
      text: words,
      tie: { ...tie!, side: 'bottom', share: 1, gap },
      at: { on: 'page', box: { ...at.box, height: tall } },
    };
    const own = puttingPiece(now, context, [{ item, layer: 'front' }]);
    operations.push(...own);
    now = applyAll(now, own).document;
  }
  return { operations, size, gap, height };
}
