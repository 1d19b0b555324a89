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

/** Columns and rows that a sheet can have (ISO/IEC 29500-1 §18.3.1.13 and §18.3.1.73, from memory). */
const COLUMNS = 16_384;
const ROWS = 1_048_576;
/** The widest column, in characters, and the highest row, in points (§18.3.1.13, §18.3.1.73, from memory). */
const WIDEST = 255;
const HIGHEST = 409.5;

/** A place in a sheet: cell and offset in it, in EMU (§20.5.2.15, from). */
export interface Marker {
  cell: number;
  offset: number;
}

/** The sizes of columns or rows: one for all, and those that differ. */
class Sizes {
  private readonly own = new Map<number, number>();
  /** Those that differ, in their order, and what all before each of them add to the usual. */
  private sums: { cells: number[]; before: number[] } | null = null;

  constructor(
    public usual: number,
    private readonly count: number,
  ) {}

  set(cell: number, size: number): void {
    if (cell >= 0 && cell < this.count && Number.isFinite(size)) this.own.set(cell, size);
  }

  sizeOf(cell: number): number {
    return this.own.get(cell) ?? this.usual;
  }

  /** Where a cell begins. */
  startOf(cell: number): number {
    const { cells, before } = (this.sums ??= this.sum());
    return cell * this.usual + before[placeOf(cells, cell)]!;
  }

  /** The cell in which a place lies. */
  at(place: number): Marker {
    // Where a cell begins grows with its number: halve the way until it is found.
    let [low, high] = [0, this.count - 1];
    while (low < high) {
      const middle = Math.ceil((low + high) / 2);
      if (this.startOf(middle) <= place) low = middle;
      else high = middle - 1;
    }
    return { cell: low, offset: low === this.count - 1 ? 0 : place - this.startOf(low) };
  }

  held(cell: number): number {
    return Math.min(this.count - 1, Math.max(0, cell));
  }

  private sum(): { cells: number[]; before: number[] } {
    const cells = [...this.own.keys()].sort((a, b) => a - b);
    const before = [0];
    for (const cell of cells) before.push(before[before.length - 1]! + this.own.get(cell)! - this.usual);
    return { cells, before };
  }
}

/** How many of some numbers in order are less than another. */
function placeOf(numbers: readonly number[], than: number): number {
  let [low, high] = [0, numbers.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (numbers[middle]! < than) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The columns and rows of a sheet, in EMU from its top left corner. */
export class Grid {
  private readonly columns = new Sizes(COLUMN, COLUMNS);
  private readonly rows = new Sizes(ROW, ROWS);

  /** @param text a worksheet part; its cells are passed over */
  constructor(text: string) {
    const parser = new SaxesParser({ xmlns: false });
    parser.on('error', () => undefined);
    const width = (said: string): number => columnWidth(Math.min(WIDEST, Math.max(0, Number(said))));
    const height = (said: string): number => toEmu(Math.min(HIGHEST, Math.max(0, Number(said))));
    let sized = 0;
    parser.on('opentag', ({ name, attributes: a }) => {
      const local = name.slice(name.indexOf(':') + 1);
      const hidden = a['hidden'] === '1' || a['hidden'] === 'true';
      if (local === 'sheetFormatPr') {
        if (a['defaultColWidth']) this.columns.usual = width(a['defaultColWidth']) || COLUMN;
        if (a['defaultRowHeight']) this.rows.usual = height(a['defaultRowHeight']) || ROW;
        if (a['zeroHeight'] === '1') this.rows.usual = 0;
      } else if (local === 'col') {
        const size = hidden ? 0 : a['width'] ? width(a['width']) : this.columns.usual;
        // A range may name all columns there can be; ranges do not overlap, so that there are no more than those.
        const last = Math.min(Number(a['max']), COLUMNS);
        for (let i = Math.max(1, Number(a['min'])); i <= last && sized < 4 * COLUMNS; i++, sized++)
          this.columns.set(i - 1, size);
      } else if (local === 'row' && a['r'] && (a['ht'] || hidden))
        this.rows.set(Number(a['r']) - 1, hidden ? 0 : height(a['ht']!));
    });
    parser.write(text).close();
  }

  /** Points from the sheet's edge. */
  at(axis: 'x' | 'y', { cell, offset }: Marker): number {
    const sizes = axis === 'x' ? this.columns : this.rows;
    const held = sizes.held(cell);
    // An offset beyond its cell ends with it.
    return fromEmu(sizes.startOf(held) + Math.min(Math.max(0, offset), sizes.sizeOf(held)));
  }

  /** Where the first `count` columns or rows begin, and where the last of them ends, in points. */
  edges(axis: 'x' | 'y', count: number): number[] {
    const sizes = axis === 'x' ? this.columns : this.rows;
    const out = [0];
    for (let cell = 0, sum = 0; cell < count; cell++) out.push(fromEmu((sum += sizes.sizeOf(cell))));
    return out;
  }

  /** The cell in which a place lies. @param points from the sheet's edge; less than 0 is the edge itself */
  marker(axis: 'x' | 'y', points: number): Marker {
    return (axis === 'x' ? this.columns : this.rows).at(Math.max(0, toEmu(points)));
  }
}
