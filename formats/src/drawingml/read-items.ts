import { cut, itemIdOf, type Box, type ForeignItem, type ItemId, type Mark, type PageItem } from '@gable/core';
import { MAX_ITEM_CHARS } from '../codec/contract';
import { foreignItem, groupItem } from '../codec/page-items';
import { NS } from '../ooxml/names';
import { child, descend, type Element } from '../xml/located';
import { readColour, type Theme } from './colour';
import { isPicture, readLook } from './read-picture';
import { readShapeItem } from './read-shape';
import type { Site } from './site';
import { integer, measure } from './values';

/** How a part tells what lies in it. */
export interface ItemReader {
  /** Numbers of its pictures, by their elements. */
  numbers: ReadonlyMap<Element, number>;
  /** Begins the names of its items. */
  name: string;
  /** How many may still be told. */
  left: { count: number };
  /** Is told where each item stands. */
  elements: Map<ItemId, Element>;
  /** Is this passed over, with all that is in it? */
  skips?(e: Element): boolean;
  /** Null for what is no item itself, but may hold some. */
  itemOf(e: Element, id: ItemId): PageItem | null;
  /** Items in an item that is no group: what stands in its words. */
  within?(e: Element): readonly Element[];
  /** The site of a group; null where groups are taken apart. */
  groupSite(e: Element): Site | null;
  theme: () => Theme;
}

const isGroup = (e: Element): boolean => e.local === 'grpSp' || e.local === 'wgp';

/**
 * Shapes, texts, pictures and groups below some elements, in their order. What is not edited (charts, tables, connectors) is
 * there as well.
 */
export function readItems(roots: readonly Element[], reader: ItemReader): PageItem[] {
  const { numbers, name, left, elements } = reader;
  const items: PageItem[] = [];
  let count = 0;
  const holders = new Set<Element>();
  for (const picture of numbers.keys())
    for (let at: Element | null = picture; at && !holders.has(at); at = at.parent) holders.add(at);
  /** @returns the ids of what an element adds to what holds it */
  const visit = (e: Element): ItemId[] => {
    if (e.local === 'AlternateContent' && NS.compatibility.has(e.uri)) {
      // Of a picture that stands in both branches one is known; of anything else the first is what was meant.
      const branch = e.children.find((b) => holders.has(b)) ?? e.children[0];
      return branch?.children.flatMap(visit) ?? [];
    }
    const picture = numbers.get(e);
    if (picture !== undefined) {
      count++;
      items.push({ picture });
      return [itemIdOf({ n: picture })];
    }
    if (reader.skips?.(e)) return [];
    // Pictures are told however many items there are.
    if (left.count <= 0) return e.children.flatMap(visit);
    const site = isGroup(e) ? reader.groupSite(e) : null;
    if (site) return group(e, site);
    const id = `${name}-${count + 1}`;
    const item = reader.itemOf(e, id);
    if (!item) return e.children.flatMap(visit);
    items.push(item);
    elements.set(id, e);
    count++;
    left.count--;
    return [id, ...(reader.within?.(e) ?? []).flatMap(visit)];
  };
  const group = (e: Element, site: Site): ItemId[] => {
    const id = `${name}-${++count}`;
    const at = items.push({ picture: 0 }) - 1;
    left.count--;
    const children = e.children.flatMap(visit);
    const item = children.length > 0 ? groupOf(e, { id, children, site, theme: reader.theme }) : null;
    items.splice(at, 1, ...(item ? [item] : []));
    if (item) elements.set(id, e);
    return item ? [id] : children;
  };
  roots.forEach((e) => visit(e));
  return items;
}

/** A group as it lies on its part (ISO/IEC 29500-1 §20.1.2.2.20, grpSp); null where it says no size, or none that can be. */
function groupOf(
  e: Element,
  { id, children, site, theme }: { id: string; children: readonly ItemId[]; site: Site; theme: () => Theme },
): PageItem | null {
  if (!descend(site.spPr, 'xfrm', 'ext')) return null;
  const { box, turn, flip } = readLook(site, theme);
  return groupItem(id, children, { box, turn, flip, alt: descend(e, 'nvGrpSpPr', 'cNvPr')?.attributes['descr'] ?? '' });
}

/** What graphic frames hold, by the last word of its address (§20.1.2.2.16, graphicData). */
const GRAPHICS: Readonly<Record<string, [ForeignItem['what'], string]>> = {
  chart: ['chart', 'Chart'],
  chartex: ['chart', 'Chart'],
  table: ['table', 'Table'],
  diagram: ['diagram', 'Diagram'],
  ole: ['object', 'Object'],
};

/** What a drawn item is read with. */
interface DrawnWith {
  id: ItemId;
  theme: () => Theme;
  title?: boolean;
  /** Styles by levels that its words take after. */
  lists?: readonly Element[];
}

/**
 * A shape with its words, or what is kept and not edited; null for a picture, and for what is neither.
 * @param title is it a title, whose letters are larger where their size is not said?
 */
export function drawnItem(e: Element, site: Site, { id, theme, title = false, lists }: DrawnWith): PageItem | null {
  if (e.local === 'sp') return isPicture(e) ? null : readShapeItem(site, id, { theme, title, lists });
  if (e.local === 'cxnSp') {
    const { box, turn } = readLook(site, theme);
    return foreignItem({ id, what: 'connector', box, turn });
  }
  if (e.local !== 'graphicFrame') return null;
  // Its place is its own (§19.3.1.21, graphicFrame), not its shape's.
  const { box, turn } = readLook({ ...site, spPr: e }, theme);
  return graphicItem(descend(e, 'graphic', 'graphicData'), { id, box, turn, theme });
}

/** A chart, a table, a diagram, an object. */
export function graphicItem(
  data: Element | undefined,
  { id, box, turn, theme }: { id: ItemId; box: Box; turn: number; theme: () => Theme },
): PageItem {
  const [what, label] = GRAPHICS[data?.attributes['uri']?.split('/').at(-1) ?? ''] ?? (['other', 'Object'] as const);
  const table = what === 'table' ? child(data, 'tbl') : undefined;
  return foreignItem({ id, what, box, turn, ...(table ? { preview: cellsOf(table, box, theme) } : { label }) });
}

/** The cells of a table with their words (§21.1.3.13, tbl), roughly. */
function cellsOf(table: Element, box: Box, theme: () => Theme): Mark[] {
  const widths = (child(table, 'tblGrid')?.children ?? []).map((c) => measure(c.attributes['w']) ?? 0);
  const rows = table.children.filter((c) => c.local === 'tr');
  const heights = rows.map((row) => measure(row.attributes['h']) ?? 0);
  // A row that says no height is as high as its words need: all are given the same.
  const even = heights.some((h) => h <= 0) ? box.height / rows.length : null;
  const marks: Mark[] = [];
  let y = box.y;
  for (const [r, row] of rows.entries()) {
    const height = even ?? heights[r]!;
    let x = box.x;
    const cells = row.children.filter((c) => c.local === 'tc');
    for (const [i, cell] of cells.entries()) {
      const span = integer(cell.attributes['gridSpan'], 1);
      const width = widths.slice(i, i + span).reduce((sum, v) => sum + v, 0);
      const fill = descend(cell, 'tcPr', 'solidFill');
      const run = firstOf(child(cell, 'txBody'), 'rPr');
      const covered = cell.attributes['hMerge'] === '1' || cell.attributes['vMerge'] === '1';
      if (!covered && width > 0 && height > 0)
        marks.push({
          box: { x, y, width, height },
          turn: 0,
          fill: (fill && readColour(fill, theme)?.colour) ?? null,
          text: cut(linesOf(child(cell, 'txBody')).join('\n'), MAX_ITEM_CHARS),
          size: integer(run?.attributes['sz'], 1800) / 100,
          colour: '#22302f',
          align: 'left',
        });
      x += widths[i] ?? 0;
    }
    y += height;
  }
  return marks;
}

function firstOf(e: Element | undefined, local: string): Element | undefined {
  for (const c of e?.children ?? []) {
    const found = c.local === local ? c : firstOf(c, local);
    if (found) return found;
  }
  return undefined;
}

function linesOf(e: Element | undefined): string[] {
  if (!e) return [];
  if (e.local === 'p') {
    const flat = (at: Element): string =>
      at.local === 't' ? at.text : at.local === 'br' ? '\n' : at.children.map(flat).join('');
    return [flat(e).trimEnd()];
  }
  return e.children.flatMap(linesOf);
}
