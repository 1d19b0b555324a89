import type { Box, Mark, PageItem } from '@gable/core';
import { cellSheet, MAX_COLUMNS, MAX_GRID_LINES, MAX_ROWS, type Cell } from '../codec/cells';
import { MAX_PAGE_ITEMS, type Sheet } from '../codec/contract';
import type { Element } from '../xml/located';
import { is, lengthOf, Names } from './names';
import { TextStyles } from './text-styles';

/** A column that nobody sized is as wide as this, a row as high, in points (common practice). */
const COLUMN = 64;
const ROW = 12.8;

interface Corner {
  x: number;
  y: number;
}

interface Table {
  element: Element;
  cells: Cell[];
  x: number[];
  y: number[];
}

/** The sheets of a spreadsheet, and where the cells begin that pictures stand in (ODF 1.2 Part 1 §9.1). */
export class Tables {
  private readonly tables: Table[];
  private readonly corners = new Map<Element, Corner>();
  private readonly css: TextStyles;

  /** @param body `office:spreadsheet` @param roots the common part, if any, and the content */
  constructor(body: Element, roots: readonly Element[]) {
    this.css = new TextStyles(roots);
    this.tables = body.children.filter((e) => is(e, 'table', 'table')).map((t) => this.read(t));
  }

  /** Where the cell begins that something stands in; the sheet's corner for what stands in none. */
  cornerOf(e: Element): Corner {
    for (let at: Element | null = e; at; at = at.parent) {
      const corner = this.corners.get(at);
      if (corner) return corner;
    }
    return { x: 0, y: 0 };
  }

  /** @param over what lies over the cells of each sheet, with the boxes of its pictures; in points */
  sheets(over: (sheet: Element, number: number) => { items: PageItem[]; boxes: Box[] }): Sheet[] {
    let left = MAX_PAGE_ITEMS;
    return this.tables.map(({ element, cells, x, y }, i) => {
      const shown = cells.slice(0, left);
      left -= shown.length;
      return cellSheet(`sheet${i + 1}`, { cells: shown, edges: { x, y }, ...over(element, i + 1) });
    });
  }

  private read(table: Element): Table {
    const n = new Names(table);
    const cells: Cell[] = [];
    const [x, y] = [[0], [0]];
    const times = (e: Element, name: string): number => Math.max(1, Number(n.get(e, name) ?? 1) || 1);
    const grow = (edges: number[], size: number, count: number): void => {
      for (let i = 0; i < count && edges.length <= MAX_GRID_LINES; i++) edges.push(edges[edges.length - 1]! + size);
    };
    const columns = (e: Element): void => {
      if (is(e, 'table', 'table-column')) {
        const width = this.css.property(
          'table-column',
          n.get(e, 'table:style-name'),
          'table-column-properties',
          'style:column-width',
        );
        const hidden = n.get(e, 'table:visibility') === 'collapse';
        grow(x, hidden ? 0 : (lengthOf(width) ?? COLUMN), times(e, 'table:number-columns-repeated'));
      } else if (/^table-(columns|header-columns|column-group)$/.test(e.local)) e.children.forEach(columns);
    };
    table.children.forEach(columns);
    grow(x, COLUMN, MAX_GRID_LINES - x.length);
    let row = 0;
    const rows = (e: Element): void => {
      if (is(e, 'table', 'table-row')) {
        const name = n.get(e, 'table:style-name');
        const height = lengthOf(this.css.property('table-row', name, 'table-row-properties', 'style:row-height'));
        const hidden = /collapse|filter/.test(n.get(e, 'table:visibility') ?? '');
        this.row(e, n, row, { x, y: y[Math.min(row, y.length - 1)]! }, cells);
        const count = times(e, 'table:number-rows-repeated');
        grow(y, hidden ? 0 : (height ?? ROW), count);
        row += count;
      } else if (/^table-(rows|header-rows|row-group)$/.test(e.local)) e.children.forEach(rows);
    };
    table.children.forEach(rows);
    grow(y, ROW, MAX_GRID_LINES - y.length);
    return { element: table, cells, x, y };
  }

  private row(e: Element, n: Names, row: number, at: { x: readonly number[]; y: number }, cells: Cell[]): void {
    let column = 0;
    for (const c of e.children) {
      if (!is(c, 'table', 'table-cell', 'covered-table-cell')) continue;
      const number = (name: string): number => Math.max(1, Number(n.get(c, name) ?? 1) || 1);
      this.corners.set(c, { x: at.x[Math.min(column, at.x.length - 1)]!, y: at.y });
      if (column < MAX_COLUMNS && row < MAX_ROWS && c.local === 'table-cell') {
        const style = n.get(c, 'table:style-name');
        const fill = this.colour(style, 'table-cell-properties', 'fo:background-color');
        const text = c.children
          .filter((p) => is(p, 'text', 'p'))
          .map(flat)
          .join('\n');
        const words = (n.get(c, 'office:value-type') ?? 'string') === 'string';
        const across = this.css.property('table-cell', style, 'paragraph-properties', 'fo:text-align');
        const look = this.lookOf(style);
        if (text !== '' || fill || look.edges)
          cells.push({
            column,
            row,
            columns: Math.min(MAX_COLUMNS, number('table:number-columns-spanned')),
            rows: Math.min(MAX_ROWS, number('table:number-rows-spanned')),
            text,
            fill,
            colour: this.colour(style, 'text-properties', 'fo:color') ?? '#000000',
            size: lengthOf(this.css.property('table-cell', style, 'text-properties', 'fo:font-size')) ?? 10,
            ...(Object.keys(look).length > 0 && { look }),
            align: across === 'center' ? 'center' : /end|right/.test(across ?? (words ? '' : 'end')) ? 'right' : 'left',
          });
      }
      column += number('table:number-columns-repeated');
    }
  }

  private lookOf(style: string | undefined): NonNullable<Cell['look']> {
    const said = (held: 'text-properties' | 'table-cell-properties', name: string): string =>
      this.css.property('table-cell', style, held, name) ?? '';
    const edges: NonNullable<Mark['edges']> = {};
    for (const side of ['top', 'right', 'bottom', 'left'] as const) {
      const line = said('table-cell-properties', `fo:border-${side}`) || said('table-cell-properties', 'fo:border');
      const [, weight, colour] = /^([\d.]+\w+) \w+ (#[0-9a-f]{6})$/i.exec(line) ?? [];
      const points = lengthOf(weight);
      if (points && colour) edges[side] = { weight: points, colour: colour.toLowerCase() };
    }
    const weight = said('text-properties', 'fo:font-weight');
    const font = this.css.fontOf(style, 'table-cell');
    return {
      ...(font && { font }),
      ...((weight === 'bold' || Number(weight) >= 600) && { weight: 700 }),
      ...(said('text-properties', 'fo:font-style') === 'italic' && { italic: true as const }),
      ...(Object.keys(edges).length > 0 && { edges }),
    };
  }

  private colour(style: string | undefined, held: string, property: string): string | null {
    const value = this.css.property('table-cell', style, held, property) ?? '';
    return /^#[0-9a-f]{6}$/i.test(value) ? value.toLowerCase() : null;
  }
}

const flat = (e: Element): string =>
  is(e, 'draw', 'frame') || is(e, 'office', 'annotation') ? '' : e.text + e.children.map(flat).join('');
