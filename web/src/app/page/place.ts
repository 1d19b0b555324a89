import { roomFor, sizeWithin, type Document, type Position, type Size, type Slot } from '@gable/core';
import type { Work } from '@gable/contract';
import type { Laid } from '../../../page/told';

/** A place for a picture: a point on a page of a fixed size, a cell, or a line between blocks of a text. Lengths in points. */
export type Place =
  | { in: 'page'; page: number; x: number; y: number }
  | { in: 'cell'; page: number; row: number; column: number }
  | { in: 'text'; page: number; after: number; beside: { x: number; y: number } | null };

/** Where a place is shown, in CSS pixels of the page as it is laid out, and what it is called. */
export interface Mark {
  place: Place;
  x: number;
  y: number;
  width: number;
  height: number;
  /** A line between blocks, and no box. */
  line: boolean;
  words: string;
}

const plain = (words: string): string => words.replace(/\s+/g, ' ').trim();

/**
 * Which block of the file each block of the layout shows, by their words: a layout may leave some out, and part others.
 * @returns a place in the file's list for each; that of the one before where none is found
 */
export function blocksOf(laid: readonly string[], file: readonly string[]): number[] {
  // A layout may put spaces between words of its own, and set all in capitals.
  const bare = (text: string): string => text.replace(/\s+/g, '').toLowerCase();
  const words = file.map(bare);
  let next = 0;
  return laid.map((text) => {
    const said = bare(text);
    for (let at = next; at < Math.min(words.length, next + FARTHEST); at++) {
      const same = words[at] === said;
      // A paragraph that a page parts begins like its block, and goes on in it.
      const part = said.length > 12 && words[at]!.includes(said);
      if (!same && !part) continue;
      next = same ? at + 1 : at;
      return at;
    }
    return Math.max(0, next - 1);
  });
}
const FARTHEST = 60;

const shorten = (words: string): string => (words.length > 32 ? `${words.slice(0, 30).trimEnd()} …` : words);

/** The place between blocks of a text that is nearest to a height on the laid out pages; null where nothing is laid out. */
export function lineAt(
  { blocks }: Pick<Laid, 'blocks'>,
  counts: readonly number[],
  y: number,
): { block: number; below: boolean } | null {
  let best: { block: number; below: boolean; far: number } | null = null;
  for (const [block, b] of blocks.entries()) {
    if (b.width === 0 || counts[block] === undefined) continue;
    for (const below of [false, true]) {
      const far = Math.abs(y - (below ? b.y + b.height : b.y));
      // Of an edge that two share, the one above has it.
      if (!best || far < best.far || (far === best.far && below)) best = { block, below, far };
    }
  }
  return best;
}

/** A place between blocks, as it is shown. @param block of the layout, and whether it is below it */
export function markBetween(
  { blocks }: Pick<Laid, 'blocks'>,
  counts: readonly number[],
  { block, below }: { block: number; below: boolean },
  page: number,
): Mark {
  const b = blocks[block]!;
  const after = counts[block]! + (below ? 1 : 0);
  const words = shorten(plain(b.words));
  return {
    place: { in: 'text', page, after, beside: null },
    x: b.x,
    y: below ? b.y + b.height : b.y,
    width: Math.max(60, b.width),
    height: 0,
    line: true,
    words: words ? `${below ? 'Below' : 'Above'} “${words}”` : below ? 'Below the empty line' : 'Above the empty line',
  };
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

/** How large a picture is put in. */
export function sizeAt(work: Pick<Work, 'can' | 'sheets'>, place: Place, pixels: Size): Size {
  const kind = work.can.insert ?? 'page';
  return sizeWithin(pixels, roomFor(kind, place.in === 'page' ? work.sheets?.[place.page - 1] : undefined));
}

/** Air between pictures that are put in together, in points. */
const GAP = 12;

/**
 * The places of pictures that are put in together: one after another in a text, side by side in rows about the point on a
 * page.
 */
export function positionsAt(work: Pick<Work, 'can' | 'sheets'>, place: Place, pictures: readonly Size[]): Position[] {
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
    const { after, beside } = place;
    if (work.can.insert === 'web') return sizes.map((_, i) => ({ on: 'element', box: box(i, 0, 0), after: after + i }));
    if (!beside) return sizes.map((_, i) => ({ on: 'line', box: box(i, 0, 0), after: after + i }));
    return sizes.map((size, i) => ({
      on: 'anchor',
      box: box(i, Math.max(0, beside.x - size.width / 2), beside.y + i * (size.height + GAP)),
      after,
    }));
  }
  const page = work.sheets![place.page - 1]!;
  const columns = Math.ceil(Math.sqrt(pictures.length));
  const k =
    columns === 1 ? 1 : Math.min(1, (0.9 * page.width) / columns / Math.max(...sizes.map((s) => s.width + GAP)));
  const cell = {
    width: Math.max(...sizes.map((s) => s.width * k)) + GAP,
    height: Math.max(...sizes.map((s) => s.height * k)) + GAP,
  };
  const rows = Math.ceil(pictures.length / columns);
  const within = (value: number, size: number, most: number): number =>
    Math.min(Math.max(value, 0), Math.max(0, most - size));
  const left = within(place.x - (cell.width * columns) / 2, cell.width * columns, page.width);
  const top = within(place.y - (cell.height * rows) / 2, cell.height * rows, page.height);
  return sizes.map(({ width, height }, i): Position => {
    const [column, row] = [i % columns, Math.floor(i / columns)];
    const x = left + cell.width * column + (cell.width - width * k) / 2;
    const y = top + cell.height * row + (cell.height - height * k) / 2;
    return { on: 'page', box: { x, y, width: width * k, height: height * k } };
  });
}
/** Rows between pictures that are put into a sheet together. */
const ROWS_APART = 12;

/** The name of a column of a sheet: A, B, … Z, AA. */
export function columnName(column: number): string {
  const rest = String.fromCharCode(65 + (column % 26));
  return column < 26 ? rest : columnName(Math.floor(column / 26) - 1) + rest;
}
