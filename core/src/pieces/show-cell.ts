import { GableError } from '../errors';
import { isAdded, type Document, type FramedItem, type ItemId, type Page } from '../model/document';
import { heightOfWords } from './piece';

/** A cell of a workbook; numbers from 0. */
export interface CellName {
  /** Null for the sheet that the name is read on. */
  sheet: string | null;
  column: number;
  row: number;
}

const LETTERS = 26;
/** The last column and row of a sheet (ISO/IEC 29500-1 §18.3.1.4, §18.3.1.73; common practice). */
const MOST = { columns: 16_384, rows: 1_048_576 };
const NAME = /^(?:(?:'((?:[^']|'')+)'|([^'!\s]+))!)?\$?([A-Z]{1,3})\$?([1-9]\d{0,6})$/i;

/** Reads `B4`, `$B$4` or `'Two words'!B4`; null for what is no cell. */
export function cellNamed(text: string): CellName | null {
  const found = NAME.exec(text.trim());
  if (!found) return null;
  const [, quoted, plain, letters, number] = found;
  const column = [...letters!.toUpperCase()].reduce((n, c) => n * LETTERS + c.charCodeAt(0) - 64, 0) - 1;
  const row = Number(number) - 1;
  if (column >= MOST.columns || row >= MOST.rows) return null;
  return { sheet: quoted?.replaceAll("''", "'") ?? plain ?? null, column, row };
}

/** As `cellNamed` reads it. @param fixed with the signs that let it stay what it is wherever it is copied */
export function nameOfCell({ sheet, column, row }: CellName, fixed = false): string {
  let letters = '';
  for (let n = column + 1; n > 0; n = Math.floor((n - 1) / LETTERS))
    letters = String.fromCharCode(65 + ((n - 1) % LETTERS)) + letters;
  const sign = fixed ? '$' : '';
  const own = sheet === null ? '' : `'${sheet.replaceAll("'", "''")}'!`;
  return `${own}${sign}${letters}${sign}${row + 1}`;
}

/** Edges of the columns and rows of a sheet, in points. */
export interface SheetLines {
  x: readonly number[];
  y: readonly number[];
}

/** What stands in a cell of a page of a workbook, as it is shown; empty where that is not known. */
export function wordsInCell({ items }: Document, page: Page, { x, y }: SheetLines, cell: CellName): string {
  if (cell.sheet !== null) return '';
  const [left, top] = [x[cell.column], y[cell.row]];
  const marks = page.items.flatMap((id) => {
    const item = items[id];
    return item?.kind === 'foreign' && item.what === 'table' ? (item.preview ?? []) : [];
  });
  const near = (a: number, b: number | undefined): boolean => b !== undefined && Math.abs(a - b) < 0.01;
  return marks.find((m) => m.text !== '' && near(m.box.x, left) && near(m.box.y, top))?.text ?? '';
}

/**
 * Words that show a cell: their first line is that alone, in its own look; further lines stand below it, as words of their own that
 * follow it.
 * @param cell null lets them be plain words again
 * @param said what stands in the cell; empty leaves the words that are there until the workbook is reckoned anew
 * @throws GableError `bad-cell`
 */
export function showingCell(
  item: FramedItem,
  { cell, said }: { cell: string | null; said: string },
  newId: () => ItemId,
): { item: FramedItem; below: FramedItem | null } {
  const { text } = item;
  if (!text || !isAdded(item.id)) throw new Error('Only words that were added show a cell.');
  if (cell === null) {
    const { cell: was, ...words } = text;
    void was;
    return { item: { ...item, text: words }, below: null };
  }
  const name = cellNamed(cell);
  if (!name)
    throw new GableError('bad-cell', `“${cell}” is not a cell.`, 'Write one such as B4, or Sheet2!B4.', { cell });
  const [first, ...others] = text.paragraphs;
  const run = first!.runs[0]!;
  const shown = said || first!.runs.map((r) => r.text).join('');
  const words = { ...text, cell: nameOfCell(name), paragraphs: [{ ...first!, runs: [{ ...run, text: shown }] }] };
  if (others.length === 0) return { item: { ...item, text: words }, below: null };
  const { box } = item.at;
  // They meet as the lines of one shape do.
  const anchor = text.anchor === 'middle' ? (['bottom', 'top'] as const) : ([text.anchor, text.anchor] as const);
  const figure = { ...words, anchor: anchor[0], inset: { ...text.inset, bottom: 0 } };
  const rest = { ...text, paragraphs: others, anchor: anchor[1], inset: { ...text.inset, top: 0 } };
  const height = Math.min(box.height, heightOfWords(figure, Infinity));
  const under = Math.max(box.height - height, heightOfWords(rest, box.width));
  // In the middle of something both together stay there.
  const middle = item.tie?.as === 'over' && item.tie.side !== 'top' && item.tie.side !== 'bottom';
  const tie = item.tie && middle ? { ...item.tie, gap: item.tie.gap - (box.height - height) / 2 } : item.tie;
  const at = (box: FramedItem['at']['box']): FramedItem['at'] => ({ ...item.at, box }) as FramedItem['at'];
  return {
    item: { ...item, text: figure, ...(tie && { tie }), at: at({ ...box, height }) },
    below: {
      ...{ ...item, id: newId(), text: rest, fill: null, outline: null, shadow: null },
      tie: { to: item.id, as: 'beside', side: 'bottom', gap: 0, share: 1 },
      at: at({ ...box, y: box.y + height, height: under }),
    },
  };
}
