import { cut, MAX_ITEMS, type Box, type Mark, type PageItem } from '@gable/core';
import { MAX_ITEM_CHARS, type Sheet } from './contract';
import { foreignItem } from './page-items';

/** A cell of a sheet with something in it: numbers from 0. */
export interface Cell {
  column: number;
  row: number;
  columns: number;
  rows: number;
  text: string;
  fill: string | null;
  colour: string;
  /** Of its letters, in points. */
  size: number;
  align: 'left' | 'center' | 'right';
  /** Of its letters, and the lines on its sides. */
  look?: Pick<Mark, 'font' | 'weight' | 'italic' | 'edges'>;
}

/** Edges of a sheet's first columns and rows (`MAX_GRID_LINES` of each), in points from its corner. */
export interface Edges {
  x: readonly number[];
  y: readonly number[];
}

/** So far cells are looked at: what lies beyond is no page that anybody sees whole. */
export const MAX_COLUMNS = 60;
export const MAX_ROWS = 300;
/** Columns and rows are shown at least so far, and one beyond what is there. */
const LEAST = { columns: 9, rows: 24 };
/** The most lines that are drawn across or down. */
export const MAX_GRID_LINES = 1200;
const INSET = 2;

/**
 * A sheet as far as its cells and what lies over them reach.
 * @param name of its cells as an item
 * @param items what lies over the cells, and their boxes in points
 */
export function cellSheet(
  name: string,
  {
    cells,
    edges,
    items,
    boxes,
  }: { cells: readonly Cell[]; edges: Edges; items: readonly PageItem[]; boxes: readonly Box[] },
): Sheet {
  const until = (least: number, used: number, all: readonly number[], far: number): readonly number[] => {
    let i = Math.max(least, used + 1);
    while (i < all.length - 1 && all[i]! < far + 8) i++;
    return all.slice(0, i + 1);
  };
  const edge = (all: readonly number[], n: number): number => all[Math.min(n, all.length - 1)]!;
  const usedColumns = Math.max(0, ...cells.map((c) => c.column + c.columns));
  const usedRows = Math.max(0, ...cells.map((c) => c.row + c.rows));
  const right = Math.max(0, ...boxes.map((b) => b.x + b.width));
  const bottom = Math.max(0, ...boxes.map((b) => b.y + b.height));
  const x = until(LEAST.columns, usedColumns, edges.x, right);
  const y = until(LEAST.rows, usedRows, edges.y, bottom);
  const filled = new Set(cells.filter((c) => c.text !== '').map((c) => `${c.column} ${c.row}`));
  const fills: Mark[] = [];
  const ruled: Mark[] = [];
  const texts: Mark[] = [];
  for (const c of cells) {
    const box = { x: edge(edges.x, c.column), y: edge(edges.y, c.row), width: 0, height: 0 };
    box.width = edge(edges.x, c.column + c.columns) - box.x;
    box.height = edge(edges.y, c.row + c.rows) - box.y;
    if (box.width <= 0 || box.height <= 0) continue;
    const { edges: lines, ...letters } = c.look ?? {};
    const look = { turn: 0, size: c.size, colour: c.colour, align: c.align, inset: INSET };
    // No lines run through cells that are one.
    const fill = c.fill ?? (c.columns > 1 || c.rows > 1 ? '#ffffff' : null);
    if (fill) fills.push({ ...look, box, fill, text: '' });
    if (lines) ruled.push({ ...look, box, fill: null, text: '', edges: lines });
    if (c.text === '') continue;
    // Words run on over empty cells beside their own.
    let next = c.column + c.columns;
    if (c.align === 'left' && c.columns === 1)
      while (next < Math.min(x.length - 1, c.column + 12) && !filled.has(`${next} ${c.row}`)) next++;
    const width = edge(edges.x, next) - box.x;
    texts.push({ ...look, ...letters, box: { ...box, width }, fill: null, text: cut(c.text, MAX_ITEM_CHARS) });
  }
  const box = { x: 0, y: 0, width: x[x.length - 1]!, height: y[y.length - 1]! };
  return {
    width: x[x.length - 1]!,
    height: y[y.length - 1]!,
    background: '#ffffff',
    items: [
      foreignItem({
        id: `${name}-cells`,
        what: 'table',
        box,
        preview: [...fills, ...ruled, ...texts].slice(-MAX_ITEMS),
      }),
      ...items,
    ],
    lines: { x, y },
  };
}
