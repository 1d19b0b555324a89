import type { Box, Mark } from '@gable/core';
import { lengthFrom } from '../codec/page-items';
import type { Element } from '../xml/located';
import { is, lengthOf, Names } from './names';
import { readWords, type WordStyles } from './words';

/** The most columns and rows that a table on a page is read for. */
const MOST = 500;
const SIDES = ['top', 'right', 'bottom', 'left'] as const;

interface Row {
  style: string | undefined;
  usual: string | undefined;
  cells: readonly Element[];
}

/** The cells of a table on a page with their words, fills and lines (ODF 1.2 Part 1 §9.1); none where it has no columns. */
export function readTable(table: Element, box: Box, words: WordStyles): Mark[] {
  const { text: styles } = words;
  const times = (e: Element, name: string): number =>
    Math.min(MOST, Math.max(1, Number(new Names(e).get(e, name) ?? 1) || 1));
  const columns: { style: string | undefined; usual: string | undefined }[] = [];
  const rows: Row[] = [];
  const visit = (e: Element): void => {
    const names = new Names(e);
    const style = names.get(e, 'table:style-name');
    const usual = names.get(e, 'table:default-cell-style-name');
    if (is(e, 'table', 'table-column'))
      for (let i = times(e, 'table:number-columns-repeated'); i > 0 && columns.length < MOST; i--)
        columns.push({ style, usual });
    else if (is(e, 'table', 'table-row'))
      for (let i = times(e, 'table:number-rows-repeated'); i > 0 && rows.length < MOST; i--)
        rows.push({
          style,
          usual,
          cells: e.children.filter((c) => is(c, 'table', 'table-cell', 'covered-table-cell')),
        });
    else e.children.forEach(visit);
  };
  table.children.forEach(visit);
  if (columns.length === 0 || rows.length === 0) return [];
  const sizes = (
    all: readonly { style: string | undefined }[],
    family: 'table-column' | 'table-row',
    property: string,
    whole: number,
  ): number[] => {
    const said = all.map(
      ({ style }) => lengthOf(styles.property(family, style, `${family}-properties`, property)) ?? 0,
    );
    return said.some((v) => v <= 0) ? said.map(() => whole / all.length) : said;
  };
  const widths = sizes(columns, 'table-column', 'style:column-width', box.width);
  const heights = sizes(rows, 'table-row', 'style:row-height', box.height);

  const marks: Mark[] = [];
  for (const [r, row] of rows.entries()) {
    let i = 0;
    for (const cell of row.cells) {
      const names = new Names(cell);
      const column = i;
      i += times(cell, 'table:number-columns-repeated');
      if (is(cell, 'table', 'covered-table-cell')) continue;
      const style = names.get(cell, 'table:style-name') ?? row.usual ?? columns[column]?.usual;
      const said = (held: string, name: string): string | undefined => styles.property('table-cell', style, held, name);
      const width = lengthFrom(widths, column, times(cell, 'table:number-columns-spanned'));
      const height = lengthFrom(heights, r, times(cell, 'table:number-rows-spanned'));
      if (!(width > 0) || !(height > 0)) continue;
      const edges = SIDES.flatMap((side) => {
        const text =
          said('paragraph-properties', `fo:border-${side}`) ??
          said('paragraph-properties', 'fo:border') ??
          said('table-cell-properties', `fo:border-${side}`) ??
          said('table-cell-properties', 'fo:border') ??
          '';
        const weight = lengthOf(text.split(/\s+/)[0]);
        const colour = /#[0-9a-f]{6}/i.exec(text)?.[0].toLowerCase();
        return weight && colour ? [[side, { weight, colour }] as const] : [];
      });
      const filled = said('graphic-properties', 'draw:fill') ?? 'solid';
      const paint =
        said('graphic-properties', 'draw:fill-color') ?? said('table-cell-properties', 'fo:background-color');
      const text = readWords(cell, { family: 'table-cell', style, boxed: true }, words);
      marks.push({
        ...{
          box: { x: box.x + lengthFrom(widths, 0, column), y: box.y + lengthFrom(heights, 0, r), width, height },
          turn: 0,
        },
        fill: (filled === 'solid' && /^#[0-9a-f]{6}$/i.exec(paint ?? '')?.[0].toLowerCase()) || null,
        ...{ text: '', size: 18, colour: '#22302f', align: 'left' },
        ...(edges.length > 0 && { edges: Object.fromEntries(edges) }),
        ...(text && { words: text }),
      });
    }
  }
  return marks;
}
