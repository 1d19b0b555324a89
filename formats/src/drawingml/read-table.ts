import type { Box, Mark, Text } from '@gable/core';
import { lengthFrom } from '../codec/page-items';
import { child, descend, type Element } from '../xml/located';
import { readColour, type Theme } from './colour';
import { readText } from './read-shape';
import { integer, measure } from './values';

/** What a table is read with. */
export interface TableWith {
  theme: () => Theme;
  /** The styles of the deck, by their names (§20.1.4.2.27, tblStyle). */
  styles?: ((id: string) => Element | undefined) | undefined;
  /** Styles by levels that its words take after. */
  lists: readonly Element[];
}

type Side = 'top' | 'right' | 'bottom' | 'left';
/** Insets of a cell where nothing is said: 0.1 and 0.05 inches (§21.1.3.17, tcPr). */
const INSETS = { marT: 3.6, marR: 7.2, marB: 3.6, marL: 7.2 } as const;
const OWN: Readonly<Record<Side, string>> = { top: 'lnT', right: 'lnR', bottom: 'lnB', left: 'lnL' };

/** The cells of a table with their words, fills and lines (§21.1.3.13, tbl); their own looks before those of the table's style. */
export function readTable(table: Element, box: Box, { theme, styles, lists }: TableWith): Mark[] {
  const properties = child(table, 'tblPr');
  const is = (name: string): boolean => /^(1|true)$/.test(properties?.attributes[name] ?? '');
  const named = child(properties, 'tableStyleId')?.text.trim();
  const style = child(properties, 'tableStyle') ?? (named ? styles?.(named) : undefined);
  const widths = (child(table, 'tblGrid')?.children ?? []).map((c) => measure(c.attributes['w']) ?? 0);
  const rows = table.children.filter((c) => c.local === 'tr');
  const heights = rows.map((row) => measure(row.attributes['h']) ?? 0);
  // A row that says no height is as high as its words need: all are given the same.
  const even = heights.some((h) => h <= 0) ? box.height / rows.length : null;

  /** Parts of the style that hold for a cell, the strongest first (§20.1.4.2.27). */
  const partsFor = (r: number, c: number): Element[] => {
    const [first, left] = [is('firstRow') ? 1 : 0, is('firstCol') ? 1 : 0];
    const names = [
      ...(first && r === 0 ? ['firstRow'] : []),
      ...(is('lastRow') && r === rows.length - 1 ? ['lastRow'] : []),
      ...(left && c === 0 ? ['firstCol'] : []),
      ...(is('lastCol') && c === widths.length - 1 ? ['lastCol'] : []),
      ...(is('bandRow') && r >= first ? [`band${((r - first) % 2) + 1}H`] : []),
      ...(is('bandCol') && c >= left ? [`band${((c - left) % 2) + 1}V`] : []),
      'wholeTbl',
    ];
    return names.flatMap((name) => child(style, name) ?? []);
  };
  const colourIn = (e: Element | undefined): string | null => (e && readColour(e, theme)?.colour) ?? null;

  const marks: Mark[] = [];
  let y = box.y;
  for (const [r, row] of rows.entries()) {
    const height = even ?? heights[r]!;
    const cells = row.children.filter((c) => c.local === 'tc');
    for (const [i, cell] of cells.entries()) {
      const [across, down] = [integer(cell.attributes['gridSpan'], 1), integer(cell.attributes['rowSpan'], 1)];
      const width = lengthFrom(widths, i, across);
      const tall = even === null ? lengthFrom(heights, r, down) : even * down;
      const covered = ['hMerge', 'vMerge'].some((name) => /^(1|true)$/.test(cell.attributes[name] ?? ''));
      if (covered || !(width > 0) || !(tall > 0)) continue;
      const tcPr = child(cell, 'tcPr');
      const parts = partsFor(r, i);
      const edge = (side: Side): { weight: number; colour: string } | null => {
        const inside =
          side === 'top' || side === 'bottom'
            ? (side === 'top' ? r > 0 : r + down < rows.length) && 'insideH'
            : (side === 'left' ? i > 0 : i + across < widths.length) && 'insideV';
        const styled = parts.flatMap((p) => child(descend(p, 'tcStyle', 'tcBdr', inside || side), 'ln') ?? [])[0];
        const line = child(tcPr, OWN[side]) ?? styled;
        const colour = colourIn(child(line, 'solidFill'));
        return colour === null ? null : { weight: Math.max(0.25, measure(line?.attributes['w']) ?? 1), colour };
      };
      const edges = (Object.keys(OWN) as Side[]).flatMap((side) => {
        const line = edge(side);
        return line ? [[side, line] as const] : [];
      });
      const own = tcPr?.children.find((c) => /^(no|solid|grad|patt|blip)Fill$/.test(c.local));
      const fill = own
        ? colourIn(own.local === 'solidFill' ? own : descend(own, 'gsLst', 'gs'))
        : (parts.map((p) => colourIn(descend(p, 'tcStyle', 'fill', 'solidFill'))).find((c) => c !== null) ?? null);
      marks.push({
        ...{ box: { x: box.x + lengthFrom(widths, 0, i), y, width, height: tall }, turn: 0, fill },
        ...{ text: '', size: 18, colour: '#22302f', align: 'left' },
        ...(edges.length > 0 && { edges: Object.fromEntries(edges) }),
        ...wordsOf(cell, tcPr, parts, { theme, lists }),
      });
    }
    y += height;
  }
  return marks;
}

/** The words of a cell, with its insets and where they stand in it. */
function wordsOf(
  cell: Element,
  tcPr: Element | undefined,
  parts: readonly Element[],
  { theme, lists }: Pick<TableWith, 'theme' | 'lists'>,
): { words?: Text } {
  const styles = parts.flatMap((p) => child(p, 'tcTxStyle') ?? []);
  const bold = styles.find((s) => s.attributes['b'] !== undefined)?.attributes['b'] === 'on';
  const colour = styles.find((s) => s.children.some((c) => /Clr$/.test(c.local)));
  const text = readText(child(cell, 'txBody'), { theme, sources: { bodies: [], lists, colour, bold } });
  if (!text) return {};
  const inset = (name: keyof typeof INSETS): number => measure(tcPr?.attributes[name]) ?? INSETS[name];
  const anchor = tcPr?.attributes['anchor'];
  return {
    words: {
      ...text,
      anchor: anchor === 'ctr' ? 'middle' : anchor === 'b' ? 'bottom' : 'top',
      inset: { top: inset('marT'), right: inset('marR'), bottom: inset('marB'), left: inset('marL') },
    },
  };
}
