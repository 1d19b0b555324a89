import {
  applyTo,
  frameMatrix,
  invert,
  plainWords,
  roomFor,
  sizeWithin,
  targetsOf,
  type Box,
  type Document,
  type Placed,
  type Point,
  type Position,
  type Size,
  type Slot,
  together,
  type Together,
} from '@gable/core';
import type { Block, Work } from '@gable/contract';
import type { Caret, Laid, LaidBlock, Spot } from '../../../page/told';

/** CSS pixels in a point. */
export const PX = 4 / 3;

/** A box in another unit. */
export const scaledBy = ({ x, y, width, height }: Box, k: number): Box => ({
  ...{ x: x * k, y: y * k, width: width * k, height: height * k },
});

/** A place for a picture: a point on a page of a fixed size, a cell, or a line between blocks of a text. Lengths in points. */
export type Place =
  | { in: 'page'; page: number; x: number; y: number; fills: Box | null }
  | { in: 'cell'; page: number; row: number; column: number }
  | {
      in: 'text';
      page: number;
      after: number;
      /** The cell that it is in. */
      within: number | null;
      /** In the last block, behind so many of its letters. */
      letters: number | null;
      /** What there is room for, where that is not the width of the text. */
      room: Size | null;
      beside: { x: number; y: number } | null;
      /** Of a web page: in the last block, behind all that is in it. */
      inside?: true;
    };

/** How a picture goes into a text: between its blocks, among the letters of one, into one, or beside it. */
export type TextWay = 'between' | 'among' | 'inside' | 'beside';

/** Where a place is shown, in CSS pixels of the page as it is laid out, and what it is called. */
export interface Mark {
  place: Place;
  x: number;
  y: number;
  width: number;
  height: number;
  /** A line between blocks, one between letters, or the box that the picture takes. */
  form: 'line' | 'caret' | 'box';
  /** Of a box, in degrees. */
  turn?: number;
  /** The boxes of several pictures, within it. */
  boxes?: readonly Box[];
  words: string;
}

const plain = (words: string): string => words.replace(/\s+/g, ' ').trim();

/** Where a block stands among those of its text or its cell. */
export interface Count {
  within: number | null;
  /** How many stand before it. */
  before: number;
}

/** Where each block of a file stands among those of its text or its cell. */
export function countsOf(file: readonly Block[]): Count[] {
  const before = new Map<number | null, number>();
  return file.map(({ within }): Count => {
    const so = before.get(within) ?? 0;
    before.set(within, so + 1);
    return { within, before: so };
  });
}

/**
 * Which block of a web page each block of its layout shows, by their words: a layout may leave some out, and part others.
 * @returns where each stands; where none is found, that of the one before
 */
export function blocksOf(laid: readonly Pick<LaidBlock, 'words'>[], file: readonly Block[]): Count[] {
  // A layout may put spaces between words of its own, and set all in capitals.
  const bare = (text: string): string => text.replace(/\s+/g, '').toLowerCase();
  const words = file.map((b) => bare(b.words));
  const counts = countsOf(file);
  let next = 0;
  let last: Count = { within: null, before: 0 };
  return laid.map(({ words: text }) => {
    const said = bare(text);
    for (let at = next; at < Math.min(words.length, next + FARTHEST); at++) {
      const same = words[at] === said;
      // A paragraph that a page parts begins like its block, and goes on in it.
      const part = said.length > 12 && words[at]!.includes(said);
      if (!same && !part) continue;
      next = same ? at + 1 : at;
      last = counts[at]!;
      return last;
    }
    return last;
  });
}
const FARTHEST = 60;

const shorten = (words: string): string => (words.length > 32 ? `${words.slice(0, 30).trimEnd()} …` : words);

const holds = (b: Spot, { x, y }: Point): boolean => x >= b.x && x <= b.x + b.width && y >= b.y && y <= b.y + b.height;

/**
 * The place between blocks of a text that is nearest to a point of the laid out pages: in the cell that it is in, or in the
 * text itself; null where nothing is laid out.
 */
export function lineAt(
  { blocks }: Pick<Laid, 'blocks'>,
  counts: readonly (Count | null)[],
  at: Point,
): { block: number; below: boolean } | null {
  const cell = blocks.findLastIndex((b, i) => b.cell && counts[i] && holds(b.cell, at));
  const within = cell < 0 ? null : counts[cell]!.within;
  let best: { block: number; below: boolean; far: number } | null = null;
  for (const [block, b] of blocks.entries()) {
    if (b.width === 0 || counts[block]?.within !== within) continue;
    for (const below of b.goesOn ? [true] : [false, true]) {
      const far = Math.abs(at.y - (below ? b.y + b.height : b.y));
      // Of an edge that two share, the one above has it.
      if (!best || far < best.far || (far === best.far && below)) best = { block, below, far };
    }
  }
  return best;
}

/** A place between blocks, as it is shown. @param block of the layout, and whether it is below it */
export function markBetween(
  { blocks }: Pick<Laid, 'blocks'>,
  counts: readonly (Count | null)[],
  { block, below }: { block: number; below: boolean },
  page: number,
): Mark {
  const b = blocks[block]!;
  const { within, before } = counts[block]!;
  const words = shorten(plain(b.words));
  const room = b.cell && { width: Math.min(b.width, b.cell.width - INSET) / PX, height: roomFor('text').height };
  const place = { in: 'text', page, within, letters: null, room, beside: null } as const;
  // The empty line that an empty cell has is where its picture goes.
  if (b.cell && !words && counts.filter((c) => c?.within === within).length === 1)
    return { place: { ...place, after: before + 1, letters: 0 }, ...b.cell, form: 'box', words: 'Into this cell' };
  return {
    place: { ...place, after: before + (below ? 1 : 0) },
    x: b.x,
    y: below ? b.y + b.height : b.y,
    width: Math.max(60, b.width),
    height: 0,
    form: 'line',
    words: words ? `${below ? 'Below' : 'Above'} “${words}”` : below ? 'Below the empty line' : 'Above the empty line',
  };
}

/** The element of a web page that is at a point, or nearest to it, and takes a picture into it; null where none does. */
export function markInside(
  { blocks }: Pick<Laid, 'blocks'>,
  counts: readonly (Count | null)[],
  at: Point,
  page: number,
): Mark | null {
  const far = (b: Spot): number =>
    Math.hypot(Math.max(b.x - at.x, 0, at.x - b.x - b.width), Math.max(b.y - at.y, 0, at.y - b.y - b.height));
  const open = blocks.flatMap((b, i) => {
    const count = counts[i];
    return b.closed || b.width === 0 || !count ? [] : [{ b, count, far: far(b) }];
  });
  const [nearest] = open.toSorted((a, b) => a.far - b.far || a.b.width * a.b.height - b.b.width * b.b.height);
  if (!nearest) return null;
  const { b, count } = nearest;
  const words = shorten(plain(b.words));
  const place = { in: 'text', page, within: null, letters: null, room: null, beside: null, inside: true } as const;
  const { x, y, width } = b;
  return {
    place: { ...place, after: count.before + 1 },
    ...{ x, y, width, height: Math.max(12, b.height), form: 'box' },
    words: words ? `Into “${words}”` : 'Into the empty element',
  };
}

/** What a cell leaves free on both sides, in CSS pixels (ISO/IEC 29500-1 §17.4.42 and on: 0.08 in each where nothing is said). */
const INSET = 15;

/** A place between letters, as it is shown. */
export function markAmong(
  { block, letters, words, ...spot }: Caret,
  counts: readonly (Count | null)[],
  page: number,
): Mark | null {
  const count = counts[block];
  if (!count) return null;
  const { within, before } = count;
  const room = { ...roomFor('line'), height: spot.height / PX };
  const place = { in: 'text', page, after: before + 1, within, letters, room, beside: null } as const;
  const [left, right] = words.split('|').map(plain) as [string, string];
  const near = left && right ? `Between “${left}” and “${right}”` : right ? `Before “${right}”` : `Behind “${left}”`;
  return { place, ...spot, form: 'caret', words: left || right ? near : 'Into the empty line' };
}

/** The list that a new picture goes into, in front of all that is there. */
export function slotFor(document: Document, place: Place): Slot {
  if (place.in === 'text') {
    const stories = document.stories.filter((s) => s.kind === 'body');
    return { in: { story: stories[place.page - 1]!.id }, index: 0 };
  }
  const page = document.pages[place.page - 1]!;
  return { in: { page: page.id }, index: page.items.length };
}

/** What on a page takes pictures: empty placeholders and painted shapes, from the back to the front. */
export const takersOn = (document: Document, page: number): Placed[] => targetsOf(document, document.pages[page - 1]!);

/** The front one of some shapes at a point. In points. */
export const takerAt = (takers: readonly Placed[], at: Point): Placed | undefined =>
  takers.findLast((t) => {
    const { x, y } = applyTo(invert(frameMatrix(t, [])), at);
    return x >= 0 && y >= 0 && x <= t.box.width && y <= t.box.height;
  });

export const isEmpty = ({ item }: Placed): boolean => item.kind === 'framed' && item.awaits === 'picture';

/** A shape that takes the picture, as it is shown. @param px CSS pixels in a point */
export function markOn(taker: Placed, page: number, px: number): Mark {
  const { box, turn } = taker;
  const words = taker.item.kind === 'framed' ? shorten(plainWords(taker.item.text)) : '';
  return {
    place: { in: 'page', page, x: box.x + box.width / 2, y: box.y + box.height / 2, fills: box },
    x: box.x * px,
    y: box.y * px,
    width: box.width * px,
    height: box.height * px,
    turn,
    form: 'box',
    words: isEmpty(taker) ? 'Into the empty frame' : words ? `Into “${words}”` : 'Into this shape',
  };
}

/** How large a picture is put in. */
export function sizeAt(work: Pick<Work, 'can' | 'sheets'>, place: Place, pixels: Size): Size {
  if (place.in === 'text' && place.room) return sizeWithin(pixels, place.room);
  const kind = work.can.insert ?? 'page';
  return sizeWithin(pixels, roomFor(kind, place.in === 'page' ? work.sheets?.[place.page - 1] : undefined));
}

/** Air between pictures that are put in together, in points. */
const GAP = 12;

/**
 * The places of pictures that are put in together: one after another in a text, side by side in rows about the point on a
 * page. In a shape the first fills that, the next ones the empty placeholders in their order.
 * @param empty boxes of these
 * @param way how they are arranged on a page
 */
export function positionsAt(
  work: Pick<Work, 'can' | 'sheets'>,
  place: Place,
  pictures: readonly Size[],
  { empty = [], way = 'grid' }: { empty?: readonly Box[]; way?: Together } = {},
): Position[] {
  if (place.in === 'page' && place.fills) {
    const into = [place.fills, ...empty.filter((b) => b !== place.fills)].slice(0, pictures.length);
    const filled = into.map((box): Position => ({ on: 'page', box, fills: true }));
    const lines = work.can.insert === 'cell' ? work.sheets?.[place.page - 1]?.lines : undefined;
    const at = (edges: readonly number[], v: number): number =>
      Math.max(
        0,
        edges.findLastIndex((e) => e <= v),
      );
    const { x, y } = place.fills;
    const rest: Place = lines
      ? { in: 'cell', page: place.page, row: at(lines.y, y), column: at(lines.x, x) }
      : { ...place, fills: null };
    const beside = positionsAt(work, rest, pictures.slice(into.length), { way });
    return [...filled, ...beside];
  }
  if (pictures.length === 0) return [];
  const sizes = pictures.map((p) => sizeAt(work, place, p));
  const box = (i: number, x: number, y: number): Position['box'] => ({ x, y, ...sizes[i]! });
  if (place.in === 'cell') {
    const { row, column } = place;
    return sizes.map((_, i) => {
      const start = { row: row + i * ROWS_APART, column, dx: 0, dy: 0 };
      return { on: 'cells', box: box(i, 0, 0), cells: { start, end: null, moves: true, sizes: false } };
    });
  }
  if (place.in === 'text') {
    const { after, letters, beside } = place;
    const within = place.within === null ? {} : { within: place.within };
    if (work.can.insert === 'web')
      return sizes.map((_, i) =>
        place.inside
          ? { on: 'element', box: box(i, 0, 0), after, inside: true }
          : { on: 'element', box: box(i, 0, 0), after: after + i },
      );
    if (letters !== null) return sizes.map((_, i) => ({ on: 'line', box: box(i, 0, 0), after, letters, ...within }));
    if (!beside) return sizes.map((_, i) => ({ on: 'line', box: box(i, 0, 0), after: after + i, ...within }));
    return sizes.map((size, i) => ({
      on: 'anchor',
      box: box(i, Math.max(0, beside.x - size.width / 2), beside.y + i * (size.height + GAP)),
      after,
      ...within,
    }));
  }
  const page = work.sheets![place.page - 1]!;
  return together(way, sizes, page, place).map((box) => ({ on: 'page', box }));
}
/** A place for a frame that has its size already: about the same point of a page; in a shape it takes the size of that. */
export function sizedLike(at: Position, { width, height }: Size): Position {
  if (at.on === 'page' && at.fills) return at;
  const { x, y, ...was } = at.box;
  const about = at.on === 'page' ? { x: x + (was.width - width) / 2, y: y + (was.height - height) / 2 } : { x, y };
  return { ...at, box: { ...about, width, height } };
}

/** Rows between pictures that are put into a sheet together. */
const ROWS_APART = 12;

/** The name of a column of a sheet: A, B, … Z, AA. */
export function columnName(column: number): string {
  const rest = String.fromCharCode(65 + (column % 26));
  return column < 26 ? rest : columnName(Math.floor(column / 26) - 1) + rest;
}
