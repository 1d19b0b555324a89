import { meets } from '../geometry/measure';
import { clamp } from '../geometry/numeric';
import {
  isAdded,
  papersOf,
  type Document,
  type FramedItem,
  type ItemId,
  type Page,
  type Paper,
} from '../model/document';
import type { Box, Paint, Size } from '../model/frame';
import { isPictureItem, type PictureItem } from '../model/frame-item';
import type { Operation } from '../model/operations';
import { groupsRound, spaceOf, stackOf } from '../model/stack';
import { withChildren } from '../model/tree';
import { placedIn } from '../geometry/frame-matrix';
import { boxInText, PAPER } from '../ties/in-text';
import { drawnBox } from '../ties/index';
import { leadsTo } from './document';
import type { PieceContext, PieceItem } from './piece';

/** A font that is at hand nearly everywhere, for pages without words. */
const FONT = 'Calibri';
/** So many colours of the pages are offered. */
const MOST_COLOURS = 12;

/** What is known of a picture beside its document. */
interface Known
  extends Pick<PieceContext, 'words' | 'newId'>, Partial<Pick<PieceContext, 'letters' | 'along' | 'sections'>> {
  /** Colours of the picture. */
  palette?: readonly string[];
  /** Where a picture lies on its page, where its box does not say it: in a text that is laid out, in a cell of a sheet. In points. */
  laid?: Laid | undefined;
}

/** Where a picture was laid out, in points, and what that tells of its surroundings. */
export interface Laid {
  page: Size;
  box: Box;
  /** `#rrggbb` behind it. */
  ground?: string;
  /** The fonts of words there that name none: a list of families for CSS. */
  font?: string;
  /** From the edges of the page to the column that it stands in, where the page says none. */
  margins?: { left: number; right: number };
}

/** Can something be tied to a picture? In a text not to what is in a group, or in a box of words. */
export const takesPieces = ({ flows }: Document, where: { group: boolean; textBox: boolean }): boolean =>
  !flows || !(where.group || where.textBox);

/** About what a web page is seen in, where none has laid it out: a window of 1180 × 800 CSS pixels. */
const SCREEN: Paper = { ...{ width: 885, height: 600 }, margins: { top: 0, right: 0, bottom: 0, left: 0 } };

/**
 * What pieces round a picture are made of; null where there can be none: it lies neither on a page of a fixed size nor in a text.
 * @param document with all that is tied where its rule has it
 */
export function pieceContext(
  document: Document,
  id: ItemId,
  { palette = [], laid, ...known }: Known,
): PieceContext | null {
  const item = document.items[id];
  if (!item || !isPictureItem(item)) return null;
  const more = { letters: null, along: null, ...known };
  const colours = [...coloursOf(document), ...palette];
  const font = fontOf(document) ?? FONT;
  const story = document.stories.find((s) => s.items.includes(id));
  if (story && isInText(item)) {
    const paper = item.at.on === 'element' ? SCREEN : (story.page ?? PAPER);
    const margins = { ...paper.margins, ...laid?.margins };
    const behind = papersOf(document)[0];
    const { width, height } = laid?.page ?? paper;
    const box = laid?.box ?? guessed(item, paper);
    const page: Page = {
      ...{ id: story.id, size: { width, height }, ground: behind?.ground ?? null, layers: [], items: [id] },
      // What stands out into a margin has the whole paper.
      margins: {
        ...{ top: 0, bottom: 0, left: box.x < margins.left - 1 ? 0 : margins.left },
        right: box.x + box.width > width - margins.right + 1 ? 0 : margins.right,
      },
    };
    const picture: PictureItem = { ...item, at: { on: 'page', box } };
    const ground = laid?.ground ?? groundOf(page);
    const own = { picture, drawn: drawnBox(picture), page, flows: true, ground, others: [] };
    // Words on a web page are set in its own fonts.
    return { ...own, colours, font: item.at.on === 'element' ? '' : font, ...more };
  }
  const page = document.pages.find((p) => holderOn(document, p, id) !== undefined);
  if (!page) return null;
  const spaces = (groupsRound(document).get(id) ?? []).map(spaceOf);
  const placed = placedIn({ box: item.at.box, turn: item.turn, flip: item.flip }, spaces);
  const box = laid?.box ?? placed.box;
  return {
    // As it lies on the page, whatever groups it is in.
    picture: { ...item, ...placed, at: { on: 'page', box } },
    ...{ drawn: drawnBox(item, { ...placed, box }), page, flows: false, ground: groundOf(page) },
    others: stackOf(document, page)
      .map((p) => (p.item.id === id ? null : drawnBox(p.item, p)))
      .filter((b): b is Box => b !== null && !meets(b, box)),
    ...{ colours, font },
    ...more,
  };
}

/** Does it stand in a text, where others can stand beside it? */
const isInText = ({ at }: PictureItem): boolean => at.on === 'line' || at.on === 'anchor' || at.on === 'element';

/** About where something in a text lies on its page, until that is laid out. */
function guessed(item: PictureItem, { width, height, margins }: Paper): Box {
  const box = boxInText(item);
  const from = item.at.on === 'anchor' ? item.at.anchor?.from : undefined;
  const x = (from?.x === 'page' ? 0 : margins.left) + box.x;
  const y = from?.y === 'page' ? box.y : from?.y === 'margin' ? margins.top + box.y : height / 4;
  return { ...box, x: clamp(x, 0, Math.max(0, width - box.width)), y };
}

/** What puts a piece round its picture: behind it, and right in front of it. What others follow comes before those. */
export function puttingPiece(
  document: Document,
  { page, picture }: Pick<PieceContext, 'page' | 'picture'>,
  made: readonly PieceItem[],
): Operation[] {
  const story = document.stories.find((s) => s.items.includes(picture.id));
  const holder = story ? { story: story.id } : { page: page.id };
  const at = story ? story.items.indexOf(picture.id) : page.items.indexOf(holderOn(document, page, picture.id)!);
  const on = document.items[picture.id]?.at.on;
  const beside = picture.id;
  const placedAt = ({ box }: FramedItem['at']): FramedItem['at'] => {
    if (on === 'element' || on === 'cells') return { on, box, beside };
    return story ? { on: 'anchor', box, beside } : { on: 'page', box };
  };
  const behind = made.filter((p) => p.layer === 'behind').map((p) => p.item);
  const front = made.filter((p) => p.layer === 'front').map((p) => p.item);
  const placed = new Set<ItemId>();
  const operations: Operation[] = [];
  const add = (item: FramedItem): void => {
    if (placed.has(item.id)) return;
    const leader = made.find((p) => p.item.id === item.tie?.to)?.item;
    if (leader) add(leader);
    const isBehind = behind.includes(item);
    const list = isBehind ? behind : front;
    const before = list.slice(0, list.indexOf(item)).filter((i) => placed.has(i.id)).length;
    const start = isBehind ? at : at + 1 + behind.filter((i) => placed.has(i.id)).length;
    placed.add(item.id);
    operations.push({
      op: 'add',
      item: { ...item, at: placedAt(item.at) },
      slot: { in: holder, index: start + before },
    });
  };
  [...behind, ...front].forEach(add);
  return operations;
}

/** What stands around a picture, as pieces of it, in the order of its list. */
export function piecesAround(document: Document, id: ItemId): PieceItem[] {
  const holder = [...document.pages, ...document.stories].find((h) => h.items.includes(id));
  const at = holder?.items.indexOf(id) ?? -1;
  return (holder?.items ?? []).flatMap((own, i): PieceItem[] => {
    const item = document.items[own];
    return item?.kind === 'framed' && isAdded(own) && leadsTo(document, own, id)
      ? [{ item, layer: i < at ? 'behind' : 'front' }]
      : [];
  });
}

/** The same pieces under other names: put a second time, they are others. */
export function renamedPieces(made: readonly PieceItem[], newId: () => ItemId): PieceItem[] {
  const names = new Map(made.map(({ item }) => [item.id, newId()]));
  return made.map(({ item, layer }) => {
    const { tie } = item;
    const to = tie && names.get(tie.to);
    return { layer, item: { ...item, id: names.get(item.id)!, ...(to !== undefined && { tie: { ...tie!, to } }) } };
  });
}

/** What of a page holds an item: itself, or the group that it is in. */
const holderOn = (document: Document, page: Page, id: ItemId): ItemId | undefined =>
  page.items.find((i) => withChildren(document, i).includes(id));

/** The colour behind a page, or all pages of a text; white where it is none. */
export const groundOf = ({ ground }: Pick<Page, 'ground'>): string =>
  ground?.kind === 'paint' && ground.paint.kind === 'solid' ? ground.paint.colour : '#ffffff';

const inkOf = (paint: Paint | null | undefined): string[] =>
  !paint ? [] : paint.kind === 'solid' ? [paint.colour] : paint.stops.map((s) => s.colour);

/** Colours of what lies on the pages, those most used first. */
export function coloursOf({ items }: Pick<Document, 'items'>): readonly string[] {
  const counts = new Map<string, number>();
  for (const item of Object.values(items)) {
    if (item.kind !== 'framed') continue;
    const { fill, outline, text } = item;
    const inks = [
      ...(fill?.kind === 'paint' ? inkOf(fill.paint) : []),
      ...inkOf(outline?.paint),
      ...(text?.paragraphs ?? []).flatMap((p) => p.runs.flatMap((r) => inkOf(r.paint))),
    ];
    for (const ink of new Set(inks)) counts.set(ink, (counts.get(ink) ?? 0) + 1);
  }
  return [...counts]
    .sort((a, b) => b[1] - a[1])
    .map(([colour]) => colour)
    .slice(0, MOST_COLOURS);
}

/** The font that most words of the pages are set in. */
function fontOf({ items }: Document): string | null {
  const counts = new Map<string, number>();
  for (const item of Object.values(items))
    if (item.kind === 'framed')
      for (const { runs } of item.text?.paragraphs ?? [])
        for (const { font, text } of runs) if (font) counts.set(font, (counts.get(font) ?? 0) + text.length);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
}
