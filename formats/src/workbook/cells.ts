import { format, isDateFormat } from 'numfmt';
import { SaxesParser, type SaxesTagPlain } from 'saxes';
import { channels, type Mark } from '@gable/core';
import { MAX_COLUMNS, MAX_ROWS, type Cell } from '../codec/cells';
import { child, type Element } from '../xml/located';
import type { Theme } from '../drawingml/colour';
import type { Package } from '../ooxml/package';

/** How the cells of a style look (ISO/IEC 29500-1 §18.8.10, cellXfs). */
interface Look {
  pattern: string;
  fill: string | null;
  colour: string;
  size: number;
  align: 'left' | 'center' | 'right' | null;
  letters: NonNullable<Cell['look']>;
}

const DEFAULT_LOOK: Look = { pattern: 'General', fill: null, colour: '#000000', size: 11, align: null, letters: {} };

/** Number formats that have a number and no pattern in the file (ISO/IEC 29500-1 §18.8.30, numFmt). */
const BUILT_IN: Readonly<Record<number, string>> = {
  1: '0',
  2: '0.00',
  3: '#,##0',
  4: '#,##0.00',
  9: '0%',
  10: '0.00%',
  11: '0.00E+00',
  12: '# ?/?',
  13: '# ??/??',
  14: 'yyyy-mm-dd',
  15: 'd-mmm-yy',
  16: 'd-mmm',
  17: 'mmm-yy',
  18: 'h:mm AM/PM',
  19: 'h:mm:ss AM/PM',
  20: 'h:mm',
  21: 'h:mm:ss',
  22: 'yyyy-mm-dd h:mm',
  37: '#,##0 ;(#,##0)',
  38: '#,##0 ;[Red](#,##0)',
  39: '#,##0.00;(#,##0.00)',
  40: '#,##0.00;[Red](#,##0.00)',
  45: 'mm:ss',
  46: '[h]:mm:ss',
  47: 'mmss.0',
  48: '##0.0E+0',
  49: '@',
};

/** Theme colours by their number: light and dark change places (common practice; §18.8.3 has them as `clrScheme` does). */
const THEMED = ['lt1', 'dk1', 'lt2', 'dk2', 'accent1', 'accent2', 'accent3', 'accent4', 'accent5', 'accent6'];

function colourOf(e: Element | undefined, theme: () => Theme): string | null {
  const a = e?.attributes;
  if (!a) return null;
  const rgb = /^(?:[0-9a-f]{2})?([0-9a-f]{6})$/i.exec(a['rgb'] ?? '')?.[1];
  const base = rgb ? `#${rgb.toLowerCase()}` : theme().colours.get(THEMED[Number(a['theme'] ?? NaN)] ?? '');
  if (!base) return null;
  const tint = Number(a['tint'] ?? 0) || 0;
  if (tint === 0) return base;
  // Towards white or black by so much of the way (§18.8.3, near enough to the way by lightness).
  const mixed = channels(base).map((v) => Math.round(tint < 0 ? v * (1 + tint) : v + (255 - v) * tint));
  return `#${mixed.map((v) => Math.min(255, Math.max(0, v)).toString(16).padStart(2, '0')).join('')}`;
}

/** The looks that cells refer to by number. */
function looksOf(root: Element | undefined, theme: () => Theme): Look[] {
  const patterns = new Map<number, string>();
  for (const f of child(root, 'numFmts')?.children ?? [])
    patterns.set(Number(f.attributes['numFmtId']), f.attributes['formatCode'] ?? 'General');
  const fonts = child(root, 'fonts')?.children ?? [];
  const fills = child(root, 'fills')?.children ?? [];
  const borders = child(root, 'borders')?.children ?? [];
  return (child(root, 'cellXfs')?.children ?? []).map((xf): Look => {
    const a = xf.attributes;
    const id = Number(a['numFmtId'] ?? 0);
    const font = fonts[Number(a['fontId'] ?? 0)];
    const fill = child(fills[Number(a['fillId'] ?? 0)], 'patternFill');
    const across = child(xf, 'alignment')?.attributes['horizontal'];
    return {
      pattern: patterns.get(id) ?? BUILT_IN[id] ?? 'General',
      fill: fill?.attributes['patternType'] === 'solid' ? colourOf(child(fill, 'fgColor'), theme) : null,
      colour: colourOf(child(font, 'color'), theme) ?? DEFAULT_LOOK.colour,
      size: Number(child(font, 'sz')?.attributes['val'] ?? DEFAULT_LOOK.size) || DEFAULT_LOOK.size,
      letters: { ...lettersOf(font), ...edgesOf(borders[Number(a['borderId'] ?? 0)], theme) },
      align:
        across === 'center' || across === 'centerContinuous'
          ? 'center'
          : across === 'right'
            ? 'right'
            : across === 'left'
              ? 'left'
              : null,
    };
  });
}

/** A font as its cells show it (§18.8.22, font). */
function lettersOf(font: Element | undefined): Pick<Mark, 'font' | 'weight' | 'italic'> {
  const name = child(font, 'name')?.attributes['val'];
  const on = (local: string): boolean => {
    const e = child(font, local);
    return e !== undefined && !['0', 'false'].includes(e.attributes['val'] ?? '1');
  };
  return { ...(name && { font: name }), ...(on('b') && { weight: 700 }), ...(on('i') && { italic: true as const }) };
}

/** Weights of lines by their style, in points (§18.18.3, ST_BorderStyle; common practice). */
const LINES: Readonly<Record<string, number>> = {
  hair: 0.25,
  medium: 1.5,
  mediumDashed: 1.5,
  thick: 2.25,
  double: 2.25,
};

/** The lines on the sides of a cell (§18.8.4, border). */
function edgesOf(border: Element | undefined, theme: () => Theme): Pick<Mark, 'edges'> {
  const edges: NonNullable<Mark['edges']> = {};
  for (const [side, names] of [
    ['top', ['top']],
    ['right', ['right', 'end']],
    ['bottom', ['bottom']],
    ['left', ['left', 'start']],
  ] as const) {
    const e = border?.children.find((c) => (names as readonly string[]).includes(c.local));
    const style = e?.attributes['style'] ?? 'none';
    if (style !== 'none')
      edges[side] = { weight: LINES[style] ?? 0.75, colour: colourOf(child(e, 'color'), theme) ?? '#000000' };
  }
  return Object.keys(edges).length > 0 ? { edges } : {};
}

/** What the sheets of a workbook share: looks, and words by number. Read when first asked for. */
export class Shared {
  private looks: Look[] | null = null;
  private words: string[] | null = null;

  constructor(
    private readonly pack: Package,
    private readonly main: string,
    private readonly theme: () => Theme,
  ) {}

  look(n: number): Look {
    const part = this.pack.partFor(this.main, 'styles');
    this.looks ??= looksOf(part ? this.pack.part(part).root : undefined, this.theme);
    return this.looks[n] ?? DEFAULT_LOOK;
  }

  word(n: number): string {
    const part = this.pack.partFor(this.main, 'sharedStrings');
    this.words ??= part ? wordsOf(this.pack.text(part)) : [];
    return this.words[n] ?? '';
  }
}

/** Row 301 and above; the rows that are looked at end there. */
const ROW_BEYOND_LIMIT = /<(?:\w+:)?row\b[^>]*\sr="(?:[4-9]\d\d|3[1-9]\d|30[1-9]|\d{4,})"/;

const localOf = (name: string): string => name.slice(name.indexOf(':') + 1);

/** The shared strings (§18.4.9, sst): their runs joined, without phonetic help. */
function wordsOf(text: string): string[] {
  const out: string[] = [];
  let word = '';
  let inText = false;
  let phonetic = 0;
  const parser = new SaxesParser({ xmlns: false });
  parser.on('error', () => undefined);
  parser.on('opentag', ({ name }) => {
    if (localOf(name) === 'si') word = '';
    if (localOf(name) === 'rPh') phonetic++;
    inText = localOf(name) === 't' && phonetic === 0;
  });
  parser.on('text', (t) => {
    if (inText) word += t;
  });
  parser.on('closetag', ({ name }) => {
    if (localOf(name) === 'rPh') phonetic--;
    if (localOf(name) === 'si') out.push(word);
    inText = false;
  });
  parser.write(text).close();
  return out;
}

/** A cell's name as numbers from 0 (§18.18.7, ST_CellRef); null for none. */
export function cellOf(name: string | undefined): { column: number; row: number } | null {
  const m = /^\$?([A-Z]{1,3})\$?(\d{1,7})$/.exec(name ?? '');
  if (!m) return null;
  const column = [...m[1]!].reduce((n, c) => n * 26 + c.charCodeAt(0) - 64, 0) - 1;
  return { column, row: Number(m[2]) - 1 };
}

/** The cells of a worksheet (§18.3.1.4, c) in its first columns and rows, and those that are one with others. */
export function readCells(text: string, shared: Shared): Cell[] {
  const cells: Cell[] = [];
  const byPlace = new Map<string, Cell>();
  let open: { place: { column: number; row: number }; type: string; look: Look } | null = null;
  let value = '';
  let words = '';
  let within = '';
  const parser = new SaxesParser({ xmlns: false });
  parser.on('error', () => undefined);
  const merge = (tag: SaxesTagPlain): void => {
    const [from, to] = (tag.attributes['ref'] ?? '').split(':').map(cellOf);
    const cell = from && byPlace.get(`${from.column} ${from.row}`);
    if (!cell || !to) return;
    cell.columns = Math.max(1, Math.min(MAX_COLUMNS, to.column) - cell.column + 1);
    cell.rows = Math.max(1, Math.min(MAX_ROWS, to.row) - cell.row + 1);
  };
  parser.on('opentag', (tag) => {
    const local = localOf(tag.name);
    within = local;
    if (local === 'c') {
      const place = cellOf(tag.attributes['r']);
      const near = place && place.column < MAX_COLUMNS && place.row < MAX_ROWS;
      open = near
        ? { place, type: tag.attributes['t'] ?? 'n', look: shared.look(Number(tag.attributes['s'] ?? 0)) }
        : null;
      value = '';
      words = '';
    } else if (local === 'mergeCell') merge(tag);
  });
  parser.on('text', (t) => {
    if (open && within === 'v') value += t;
    if (open && within === 't') words += t;
  });
  parser.on('closetag', ({ name }) => {
    within = '';
    if (localOf(name) !== 'c' || !open) return;
    const { place, type, look } = open;
    const number = type === 'n' && value !== '';
    const text =
      type === 's'
        ? shared.word(Number(value))
        : type === 'inlineStr'
          ? words
          : number
            ? shown(look.pattern, Number(value))
            : type === 'b'
              ? value === '1'
                ? 'TRUE'
                : 'FALSE'
              : value;
    if (text !== '' || look.fill || look.letters.edges) {
      const align = look.align ?? (number ? 'right' : type === 'b' || type === 'e' ? 'center' : 'left');
      const cell: Cell = {
        ...place,
        columns: 1,
        rows: 1,
        text,
        fill: look.fill,
        colour: look.colour,
        size: look.size,
        align,
        ...(Object.keys(look.letters).length > 0 && { look: look.letters }),
      };
      cells.push(cell);
      byPlace.set(`${place.column} ${place.row}`, cell);
    }
    open = null;
  });
  // Rows come in their order: those beyond are not gone through.
  const end = text.search(ROW_BEYOND_LIMIT);
  const rest = text.lastIndexOf('</', text.lastIndexOf('sheetData>'));
  if (end >= 0 && rest > end) parser.write(text.slice(0, end)).write(text.slice(rest)).close();
  else parser.write(text).close();
  return cells;
}

/** A number as its format shows it; plainly where the format is one that nobody understands. */
function shown(pattern: string, value: number): string {
  if (pattern === 'General' && Number.isFinite(value)) return String(Number(value.toPrecision(10)));
  try {
    return format(pattern, value, { throws: true, dateErrorThrows: isDateFormat(pattern) });
  } catch {
    return String(value);
  }
}
