import { trimNumber } from '@gable/core';
import { attributeOf, child, type Element } from '../../xml/located';
import { borderCss } from './border';
import { attributesOf, NOTHING, over, twips, valueOf, type Properties } from './properties';
import { shadeOf } from './run-style';

const n = (v: number): string => trimNumber(v, 3);

/** What the style of a table says of the words in a cell, the weakest first. */
export interface CellStyle {
  paragraph: readonly (Element | undefined)[];
  run: readonly (Element | undefined)[];
}

/** What a table needs of the document it is in. */
export interface TableContext {
  /** The words of a cell. */
  cell(cell: Element, style: CellStyle): string;
  /** A style with those that it is based on, the weakest first. */
  styleChain(id: string | undefined): readonly Element[];
  tablesAtMargin: boolean;
}

const SIDES = ['top', 'right', 'bottom', 'left'] as const;
type Side = (typeof SIDES)[number];
/** Sides by what the markup calls them: newer files say where a line begins and ends. */
const NAMED: Readonly<Record<Side, readonly string[]>> = {
  top: ['top'],
  right: ['end', 'right'],
  bottom: ['bottom'],
  left: ['start', 'left'],
};
const sideOf = (e: Element | undefined, side: Side): Element | undefined =>
  NAMED[side].map((name) => child(e, name)).find((found) => found !== undefined);

/** Where in its table a cell stands. */
interface Place {
  row: number;
  rows: number;
  column: number;
  columns: number;
}

/** A table (ISO/IEC 29500-1 §17.4). @param number among the blocks of the text */
export function tableMarkup(table: Element, number: number | undefined, context: TableContext): string {
  const tblPr = child(table, 'tblPr');
  const chain = context.styleChain(attributeOf(child(tblPr, 'tblStyle'), 'val'));
  const properties = over(
    chain.reduce((all, style) => over(all, child(style, 'tblPr')), NOTHING),
    tblPr,
  );
  const rows = table.children.flatMap(rowsIn);
  const grid = (child(table, 'tblGrid')?.children ?? []).map((c) => twips(attributeOf(c, 'w')) ?? 0);
  const spans = rows.map((row) => cellsOf(row, grid.length));
  const look = lookOf(properties);
  const margins = properties.held['tblCellMar'];
  const margin = (side: Side, usual: number): number => twips(attributeOf(sideOf(margins, side), 'w')) ?? usual;
  const [left, right] = [margin('left', 5.4), margin('right', 5.4)];
  const out: string[] = [];
  const head: string[] = [];
  for (const [r, row] of rows.entries()) {
    const trPr = child(row, 'trPr');
    const height = child(trPr, 'trHeight');
    const least = twips(attributeOf(height, 'val'));
    const exact = attributeOf(height, 'hRule') === 'exact';
    const cells = spans[r]!.map(({ cell, column, span }) => {
      const tcPr = child(cell, 'tcPr');
      const merge = child(tcPr, 'vMerge');
      if (merge && attributeOf(merge, 'val') !== 'restart') return '';
      const down = merge ? heightOf(spans, r, column) : 1;
      const place = { row: r, rows: rows.length, column, columns: Math.max(grid.length, column + span) };
      const parts = conditionsOf(look, place).flatMap((condition) =>
        chain.flatMap((style) =>
          style.children.filter((c) => c.local === 'tblStylePr' && attributeOf(c, 'type') === condition),
        ),
      );
      const styled = [...chain, ...parts].reduce((all, e) => over(all, child(e, 'tcPr')), NOTHING);
      const own = over(styled, tcPr);
      const css = cellCss(own, { properties, place: { ...place, down, span }, left, right, margin });
      const words = context.cell(cell, {
        paragraph: [...chain, ...parts].map((e) => child(e, 'pPr')),
        run: [...chain, ...parts].map((e) => child(e, 'rPr')),
      });
      const size = `${span > 1 ? ` colspan="${span}"` : ''}${down > 1 ? ` rowspan="${down}"` : ''}`;
      return `<td${size} style="${css}">${exact && least ? `<div style="height:${n(least)}pt;overflow:hidden">${words}</div>` : words}</td>`;
    });
    const keeps = child(trPr, 'cantSplit') ? ' data-whole' : '';
    const html = `<tr${keeps}${least ? ` style="height:${n(least)}pt"` : ''}>${cells.join('')}</tr>`;
    (child(trPr, 'tblHeader') && out.length === 0 ? head : out).push(html);
  }
  const width = widthOf(properties, grid);
  const indent = twips(attributeOf(child(tblPr, 'tblInd'), 'w')) ?? 0;
  const jc = valueOf(properties, 'jc');
  const from = indent - (context.tablesAtMargin ? 0 : left);
  const aside =
    jc === 'center'
      ? 'margin:0 auto'
      : jc === 'right' || jc === 'end'
        ? 'margin:0 0 0 auto'
        : `margin:0 0 0 ${n(from)}pt`;
  const columns = grid.map((w) => `<col style="width:${n(w)}pt">`).join('');
  return (
    `<table${number === undefined ? '' : ` data-block="${number}"`} style="${aside};${width}"><colgroup>${columns}</colgroup>` +
    `${head.length > 0 ? `<thead>${head.join('')}</thead>` : ''}<tbody>${out.join('')}</tbody></table>`
  );
}

const rowsIn = (e: Element): Element[] =>
  e.local === 'tr' ? [e] : /^(sdt|sdtContent|customXml|ins)$/.test(e.local) ? e.children.flatMap(rowsIn) : [];
const cellsIn = (e: Element): Element[] =>
  e.local === 'tc' ? [e] : /^(sdt|sdtContent|customXml)$/.test(e.local) ? e.children.flatMap(cellsIn) : [];

interface Spanned {
  cell: Element;
  column: number;
  span: number;
}

function cellsOf(row: Element, columns: number): Spanned[] {
  let column = Number(attributeOf(child(child(row, 'trPr'), 'gridBefore'), 'val') ?? 0) || 0;
  return row.children.flatMap(cellsIn).map((cell) => {
    const span = Math.max(
      1,
      Math.min(Math.max(1, columns), Number(attributeOf(child(child(cell, 'tcPr'), 'gridSpan'), 'val') ?? 1) || 1),
    );
    const at = { cell, column, span };
    column += span;
    return at;
  });
}

/** How many rows a cell goes down (§17.4.84, vMerge). */
function heightOf(rows: readonly (readonly Spanned[])[], row: number, column: number): number {
  let count = 1;
  for (const next of rows.slice(row + 1)) {
    const below = next.find((c) => c.column === column);
    const merge = child(child(below?.cell, 'tcPr'), 'vMerge');
    if (!merge || attributeOf(merge, 'val') === 'restart') break;
    count++;
  }
  return count;
}

function widthOf(properties: Properties, grid: readonly number[]): string {
  const { w, type } = properties.said['tblW'] ?? {};
  if (type === 'pct' && w !== undefined)
    return `width:${n(w.endsWith('%') ? Number.parseFloat(w) : Number(w) / 50)}%;table-layout:fixed`;
  const sum = grid.reduce((a, b) => a + b, 0);
  const own = type === 'dxa' ? (twips(w) ?? 0) : 0;
  const width = own > 0 ? own : sum;
  return width > 0 ? `width:${n(width)}pt;table-layout:fixed` : '';
}

/** Which parts of its style a table shows (§17.4.56, tblLook). */
function lookOf({ said }: Properties): ReadonlySet<string> {
  const look = said['tblLook'] ?? {};
  const bits = Number.parseInt(look['val'] ?? '0', 16) || 0;
  const on = (name: string, bit: number): boolean =>
    look[name] !== undefined ? !['0', 'false', 'off'].includes(look[name]) : (bits & bit) !== 0;
  const out = new Set<string>();
  for (const [name, bit] of [
    ['firstRow', 0x20],
    ['lastRow', 0x40],
    ['firstColumn', 0x80],
    ['lastColumn', 0x100],
  ] as const)
    if (on(name, bit)) out.add(name);
  if (!on('noHBand', 0x200)) out.add('rows');
  if (!on('noVBand', 0x400)) out.add('columns');
  return out;
}

/** The parts of a style that hold for a cell, the weakest first (§17.7.6, conditional formatting). */
function conditionsOf(look: ReadonlySet<string>, { row, rows, column, columns }: Place): string[] {
  const [first, last] = [look.has('firstRow') && row === 0, look.has('lastRow') && row === rows - 1];
  const [start, end] = [look.has('firstColumn') && column === 0, look.has('lastColumn') && column === columns - 1];
  const out = ['wholeTable'];
  if (look.has('columns') && !start && !end)
    out.push((column - (look.has('firstColumn') ? 1 : 0)) % 2 === 0 ? 'band1Vert' : 'band2Vert');
  if (look.has('rows') && !first && !last)
    out.push((row - (look.has('firstRow') ? 1 : 0)) % 2 === 0 ? 'band1Horz' : 'band2Horz');
  if (start) out.push('firstCol');
  if (end) out.push('lastCol');
  if (first) out.push('firstRow');
  if (last) out.push('lastRow');
  if (first && start) out.push('nwCell');
  if (first && end) out.push('neCell');
  if (last && start) out.push('swCell');
  if (last && end) out.push('seCell');
  return out;
}

interface CellPlace {
  properties: Properties;
  place: Place & { down: number; span: number };
  left: number;
  right: number;
  margin: (side: Side, usual: number) => number;
}

function cellCss(cell: Properties, { properties, place, left, right, margin }: CellPlace): string {
  const inner = cell.held['tcMar'];
  const pad = (side: Side, usual: number): string => n(twips(attributeOf(sideOf(inner, side), 'w')) ?? usual);
  const out = [
    `padding:${pad('top', margin('top', 0))}pt ${pad('right', right)}pt ${pad('bottom', margin('bottom', 0))}pt ${pad('left', left)}pt`,
  ];
  const shade = shadeOf(cell.said['shd']);
  if (shade) out.push(`background:${shade}`);
  const align = { center: 'middle', bottom: 'bottom' }[valueOf(cell, 'vAlign') ?? ''];
  if (align) out.push(`vertical-align:${align}`);
  const [own, table] = [cell.held['tcBorders'], properties.held['tblBorders']];
  const isEdge = {
    top: place.row === 0,
    bottom: place.row + place.down >= place.rows,
    left: place.column === 0,
    right: place.column + place.span >= place.columns,
  };
  for (const side of SIDES) {
    const between = side === 'top' || side === 'bottom' ? 'insideH' : 'insideV';
    const said =
      sideOf(own, side) ??
      (isEdge[side] ? undefined : child(own, between)) ??
      (isEdge[side] ? sideOf(table, side) : child(table, between));
    const css = said && borderCss(attributesOf(said));
    if (css) out.push(`border-${side}:${css}`);
  }
  return out.join(';');
}
