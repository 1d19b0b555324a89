import { POINTS, type Placed, type Point, type Size, type Together, type Unit } from '@gable/core';
import type { Work } from '@gable/contract';
import { WINDOW, type Laid } from '../../../page/told';
import { shownLength } from '../ui/numbers';
import {
  columnName,
  lineAt,
  markBetween,
  markInside,
  markOn,
  PX,
  positionsAt,
  sizeAt,
  takerAt,
  type Count,
  type Mark,
  type TextWay,
} from './place';

/** What a place for pictures is looked for in: the page that is seen, and how they are to go there. */
export interface Aim {
  work: Pick<Work, 'can' | 'sheets'>;
  laid: Pick<Laid, 'blocks'> | null;
  /** Where the blocks that are laid out stand in the file. */
  counts: readonly (Count | null)[];
  page: number;
  /** The pictures; one that stands for them where they are not known. */
  pictures: readonly Size[];
  /** How several of them are arranged on a page. */
  spread: Together;
  way: TextWay;
  /** Shapes of the page that take pictures. */
  takers: readonly Placed[];
  unit: Unit;
}

/** The place at a point. @param at in CSS pixels of the page at its own size */
export function markAt(aim: Aim, at: Point): Mark | null {
  const { work, laid, counts, page } = aim;
  const sheet = work.sheets?.[page - 1];
  const taker = sheet && takerAt(aim.takers, { x: at.x / PX, y: at.y / PX });
  if (taker) return markOn(taker, page, PX);
  if (sheet && work.can.insert === 'cell') {
    const { x: xs = [], y: ys = [] } = sheet.lines ?? {};
    const cellOf = (lines: readonly number[], v: number): number =>
      Math.max(
        0,
        lines.findLastIndex((l) => l <= v / PX),
      );
    return markInCell(aim, cellOf(ys, at.y), cellOf(xs, at.x));
  }
  if (sheet) return markOnPage(aim, sheet, at);
  if (laid?.blocks.every((b) => b.width === 0) && work.can.insert === 'web') return markOnEmpty(page);
  const found = laid && lineAt(laid, counts, at);
  if (!laid || !found) return null;
  if (aim.way === 'inside' && work.can.insert === 'web') return markInside(laid, counts, at, page);
  const between = markBetween(laid, counts, found, page);
  return aim.way === 'beside' && work.can.insert === 'text' ? markBeside(aim, laid, at) : between;
}

/** At the beginning of a web page on which nothing stands yet. */
const markOnEmpty = (page: number): Mark => ({
  place: { in: 'text', page, after: 0, within: null, letters: null, room: null, beside: null },
  ...{ x: EDGE, y: EDGE, width: WINDOW.width - 2 * EDGE, height: 0, form: 'line', words: 'On the empty page' },
});
/** From its edges, in CSS pixels. */
const EDGE = 24;

function markOnPage({ work, page, pictures, spread: way, unit }: Aim, sheet: Size, at: Point): Mark {
  const x = Math.min(Math.max(0, at.x / PX), sheet.width);
  const y = Math.min(Math.max(0, at.y / PX), sheet.height);
  const place = { in: 'page', page, x, y, fills: null } as const;
  const boxes = positionsAt(work, place, pictures, { way }).map((p) => p.box);
  const left = Math.min(...boxes.map((b) => b.x));
  const top = Math.min(...boxes.map((b) => b.y));
  const right = Math.max(...boxes.map((b) => b.x + b.width));
  const bottom = Math.max(...boxes.map((b) => b.y + b.height));
  const words = `${shownLength(left, unit)} from the left, ${shownLength(top, unit)} from the top`;
  const box = { x: left * PX, y: top * PX, width: (right - left) * PX, height: (bottom - top) * PX };
  if (boxes.length === 1) return { place, ...box, form: 'box', words };
  const within = boxes.map((b) => ({
    x: (b.x - left) * PX,
    y: (b.y - top) * PX,
    width: b.width * PX,
    height: b.height * PX,
  }));
  return { place, ...box, form: 'box', boxes: within, words };
}

function markInCell({ work, page, pictures: [pixels] }: Aim, row: number, column: number): Mark {
  const { x: xs = [0], y: ys = [0] } = work.sheets?.[page - 1]?.lines ?? {};
  const place = {
    in: 'cell',
    page,
    row: Math.min(row, ys.length - 1),
    column: Math.min(column, xs.length - 1),
  } as const;
  const { width, height } = sizeAt(work, place, pixels!);
  const [x, y] = [(xs[place.column] ?? 0) * PX, (ys[place.row] ?? 0) * PX];
  const words = `Cell ${columnName(place.column)}${place.row + 1}`;
  return { place, x, y, width: width * PX, height: height * PX, form: 'box', words };
}

/** Beside the text, tied to the block that it begins at. */
function markBeside(
  { work, counts, pictures: [pixels] }: Aim,
  { blocks }: Pick<Laid, 'blocks'>,
  at: Point,
): Mark | null {
  const ties = (i: number): boolean => blocks[i]!.width > 0 && counts[i]?.within === null;
  const above = blocks.findLastIndex((b, i) => ties(i) && b.y <= at.y);
  const block = above < 0 ? blocks.findIndex((_, i) => ties(i)) : above;
  const [b, count] = [blocks[block], counts[block]];
  if (!b || !count) return null;
  const beside = { x: (at.x - b.x) / PX, y: Math.max(0, (at.y - b.y) / PX) };
  const place = {
    in: 'text',
    page: 1,
    after: count.before + 1,
    within: null,
    letters: null,
    room: null,
    beside,
  } as const;
  const { width, height } = sizeAt(work, place, pixels!);
  const x = b.x + Math.max(0, beside.x - width / 2) * PX;
  const size = { width: width * PX, height: height * PX };
  return { place, x, y: b.y + beside.y * PX, ...size, form: 'box', words: 'Beside the text' };
}

/**
 * The next place in a direction: the next line, the next cell, 5 mm further on a page (with Shift 1 mm).
 * @returns it, or the point where the page has to be asked; null where there is none
 */
export function stepped(
  aim: Aim,
  { place, x, y, width, height }: Mark,
  [dx, dy]: readonly [number, number],
  fine: boolean,
): Mark | { ask: Point } | null {
  if (place.in === 'cell') return markInCell(aim, Math.max(0, place.row + dy), Math.max(0, place.column + dx));
  if (place.in === 'page' || place.beside) {
    const far = (fine ? 1 : 5) * POINTS.mm * PX;
    const from = place.in === 'page' ? { x: place.x * PX, y: place.y * PX } : { x: x + width / 2, y };
    return markAt(aim, { x: from.x + dx * far, y: from.y + dy * far });
  }
  if (aim.way === 'among') {
    // Beyond the edge of its line: one with a picture in it is high.
    const beyond = dy === 0 ? y + height / 2 : dy < 0 ? y - LETTER : y + height + LETTER;
    return { ask: { x: x + width / 2 + dx * LETTER, y: beyond } };
  }
  const { laid, counts, page } = aim;
  if (!laid) return null;
  const inside = place.inside === true;
  const marks = laid.blocks
    .flatMap((b, block) => {
      if (b.width === 0 || !counts[block]) return [];
      if (!inside)
        return (b.goesOn ? [true] : [false, true]).map((below) => markBetween(laid, counts, { block, below }, page));
      return b.closed ? [] : (markInside(laid, counts, middleOf(b), page) ?? []);
    })
    .sort((a, b) => a.y - b.y || a.x - b.x);
  if (dy !== 0) return (dy > 0 ? marks.find((m) => m.y > y + 1) : marks.findLast((m) => m.y < y - 1)) ?? null;
  const beside = marks.filter((m) => (dx > 0 ? m.x > x + 1 : m.x < x - 1) && sameRow(aim, m.place, place));
  const nearest = beside.toSorted(
    (a, b) => Math.abs(a.x - x) - Math.abs(b.x - x) || Math.abs(a.y - y) - Math.abs(b.y - y),
  );
  return nearest[0] ?? null;
}

/** Are two places in cells that stand beside each other? */
function sameRow({ laid, counts }: Aim, ...places: readonly [Mark['place'], Mark['place']]): boolean {
  const [a, b] = places.map((place) => {
    const within = place.in === 'text' ? place.within : null;
    return within === null ? null : laid?.blocks.find((block, i) => block.cell && counts[i]?.within === within)?.cell;
  });
  return !!a && !!b && a !== b && Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y) > ROW;
}

const middleOf = (b: { x: number; y: number; width: number; height: number }): Point => ({
  x: b.x + b.width / 2,
  y: b.y + b.height / 2,
});
/** About the width of a letter, and how far cells of one row stand beside each other at least, in CSS pixels. */
const LETTER = 9;
const ROW = 12;
