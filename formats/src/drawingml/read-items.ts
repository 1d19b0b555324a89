import { itemIdOf, type Box, type ForeignItem, type ItemId, type PageItem } from '@gable/core';
import { foreignItem, groupItem } from '../codec/page-items';
import { NS } from '../ooxml/names';
import { child, descend, type Element } from '../xml/located';
import type { Theme } from './colour';
import { isPicture, readLook } from './read-picture';
import { readShapeItem } from './read-shape';
import { readTable, type TableWith } from './read-table';
import type { Site } from './site';
import { drawingOf } from './tie-text';

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
  /** The number that its part knows it by, where that stands elsewhere than in itself. */
  numberOf?(e: Element): string | undefined;
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
  const names = new Set<ItemId>();
  /** By its own number, which it keeps whatever comes and goes around it; by its place where it has none. */
  const nameOf = (e: Element): ItemId => {
    const own = `${name}-s${numbered(drawingOf(e)?.attributes['id'] ?? reader.numberOf?.(e)) ?? ''}`;
    return own.endsWith('-s') || names.has(own) ? `${name}-${count + 1}` : own;
  };
  const told = (id: ItemId): void => {
    names.add(id);
    count++;
    left.count--;
  };
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
      items.push({ picture });
      return [itemIdOf({ n: picture })];
    }
    if (reader.skips?.(e)) return [];
    // Pictures are told however many items there are.
    if (left.count <= 0) return e.children.flatMap(visit);
    const site = isGroup(e) ? reader.groupSite(e) : null;
    if (site) return group(e, site);
    const id = nameOf(e);
    const item = reader.itemOf(e, id);
    if (!item) return e.children.flatMap(visit);
    items.push(item);
    elements.set(id, e);
    told(id);
    return [id, ...(reader.within?.(e) ?? []).flatMap(visit)];
  };
  const group = (e: Element, site: Site): ItemId[] => {
    const id = nameOf(e);
    const at = items.push({ picture: 0 }) - 1;
    told(id);
    const children = e.children.flatMap(visit);
    const item = children.length > 0 ? groupOf(e, { id, children, site, theme: reader.theme }) : null;
    items.splice(at, 1, ...(item ? [item] : []));
    if (item) elements.set(id, e);
    return item ? [id] : children;
  };
  roots.forEach((e) => visit(e));
  return items;
}

/** The number of a drawing, which no other of its part should have. */
const numbered = (id: string | undefined): string | undefined =>
  id !== undefined && /^[1-9]\d{0,9}$/.test(id) ? id : undefined;

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
  /** Styles of tables, by their names. */
  styles?: TableWith['styles'];
}

/**
 * A shape with its words, or what is kept and not edited; null for a picture, and for what is neither.
 * @param title is it a title, whose letters are larger where their size is not said?
 */
export function drawnItem(
  e: Element,
  site: Site,
  { id, theme, title = false, lists, styles }: DrawnWith,
): PageItem | null {
  if (e.local === 'sp' && isPicture(e)) return null;
  // A line is a shape or a connector, and drawn alike.
  if (e.local === 'cxnSp' || isLine(site)) {
    const { box, turn, flip, shape, outline } = readLook(site, theme);
    return foreignItem({
      ...{ id, what: 'connector', box, turn, flip },
      look: { shape, outline, paint: null, tips: tipsOf(site) },
    });
  }
  if (e.local === 'sp') return readShapeItem(site, id, { theme, title, lists });
  if (e.local !== 'graphicFrame') return null;
  // Its place is its own (§19.3.1.21, graphicFrame), not its shape's.
  const { box, turn } = readLook({ ...site, spPr: e }, theme);
  return graphicItem(descend(e, 'graphic', 'graphicData'), { id, box, turn, theme, styles, lists: lists ?? [] });
}

const isLine = ({ spPr }: Site): boolean =>
  /^line(Inv)?$|Connector\d$/.test(child(spPr, 'prstGeom')?.attributes['prst'] ?? '');

/** Tips at the ends of a line (§20.1.8.37, headEnd; §20.1.8.57, tailEnd). */
function tipsOf({ spPr }: Site): { start: boolean; end: boolean } {
  const has = (name: string): boolean => (descend(spPr, 'ln', name)?.attributes['type'] ?? 'none') !== 'none';
  return { start: has('headEnd'), end: has('tailEnd') };
}

/** A chart, a table, a diagram, an object. */
export function graphicItem(
  data: Element | undefined,
  { id, box, turn, ...table }: { id: ItemId; box: Box; turn: number } & TableWith,
): PageItem {
  const [what, label] = GRAPHICS[data?.attributes['uri']?.split('/').at(-1) ?? ''] ?? (['other', 'Object'] as const);
  const cells = what === 'table' ? child(data, 'tbl') : undefined;
  return foreignItem({ id, what, box, turn, ...(cells ? { preview: readTable(cells, box, table) } : { label }) });
}
