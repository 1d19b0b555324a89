import { SaxesParser } from 'saxes';
import { fromEmu, toEmu } from '@gable/core';

/** Pixels of the widest digit of a workbook's usual font at 11 pt (common practice): the unit of column widths. */
const DIGIT = 7;
const PIXEL = 9_525;
/** A column that nobody sized is 64 pixels wide, a row 15 pt high (common practice). */
const COLUMN = 64 * PIXEL;
const ROW = 15 * 12_700;

/** A column width in characters as EMU: whole pixels of the usual digit (ISO/IEC 29500-1 §18.3.1.13, col). */
const columnWidth = (characters: number): number =>
  Math.trunc(((256 * characters + Math.trunc(128 / DIGIT)) / 256) * DIGIT) * PIXEL;

interface Sizes {
  usual: number;
  /** Sizes that differ, by number from 0. */
  own: Map<number, number>;
}

/** A place in a sheet: cell and offset in it, in EMU (§20.5.2.15, from). */
export interface Marker {
  cell: number;
  offset: number;
}

/** The columns and rows of a sheet, in EMU from its top left corner. */
export class Grid {
  private readonly columns: Sizes = { usual: COLUMN, own: new Map() };
  private readonly rows: Sizes = { usual: ROW, own: new Map() };

  /** @param text a worksheet part; its cells are passed over */
  constructor(text: string) {
    const parser = new SaxesParser({ xmlns: false });
    parser.on('error', () => undefined);
    parser.on('opentag', ({ name, attributes: a }) => {
      const local = name.slice(name.indexOf(':') + 1);
      const hidden = a['hidden'] === '1' || a['hidden'] === 'true';
      if (local === 'sheetFormatPr') {
        if (a['defaultColWidth']) this.columns.usual = columnWidth(Number(a['defaultColWidth'])) || COLUMN;
        if (a['defaultRowHeight']) this.rows.usual = toEmu(Number(a['defaultRowHeight'])) || ROW;
        if (a['zeroHeight'] === '1') this.rows.usual = 0;
      } else if (local === 'col') {
        const width = hidden ? 0 : a['width'] ? columnWidth(Number(a['width'])) : this.columns.usual;
        // A range may name all columns there can be.
        const last = Math.min(Number(a['max']), 16_384);
        for (let i = Number(a['min']); i <= last; i++) this.columns.own.set(i - 1, width);
      } else if (local === 'row' && a['r'] && (a['ht'] || hidden))
        this.rows.own.set(Number(a['r']) - 1, hidden ? 0 : toEmu(Number(a['ht'])));
    });
    parser.write(text).close();
  }

  /** Points from the sheet's edge. */
  at(axis: 'x' | 'y', { cell, offset }: Marker): number {
    const { usual, own } = axis === 'x' ? this.columns : this.rows;
    let sum = 0;
    for (const [i, size] of own) if (i < cell) sum += size - usual;
    const size = own.get(cell) ?? usual;
    // An offset beyond its cell ends with it.
    return fromEmu(cell * usual + sum + Math.min(Math.max(0, offset), size));
  }

  /** Where the first `count` columns or rows begin, and where the last of them ends, in points. */
  edges(axis: 'x' | 'y', count: number): number[] {
    const { usual, own } = axis === 'x' ? this.columns : this.rows;
    const out = [0];
    for (let cell = 0, sum = 0; cell < count; cell++) out.push(fromEmu((sum += own.get(cell) ?? usual)));
    return out;
  }

  /** The cell in which a place lies. @param points from the sheet's edge; less than 0 is the edge itself */
  marker(axis: 'x' | 'y', points: number): Marker {
    const { usual, own } = axis === 'x' ? this.columns : this.rows;
    let left = Math.max(0, toEmu(points));
    const last = axis === 'x' ? 16_383 : 1_048_575;
    for (let cell = 0; cell < last; cell++) {
      const size = own.get(cell) ?? usual;
      if (left < size) return { cell, offset: left };
      left -= size;
    }
    return { cell: last, offset: 0 };
  }
}
