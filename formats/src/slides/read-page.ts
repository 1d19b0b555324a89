import { cut, itemIdOf, type Box, type ForeignItem, type ItemId, type Mark, type PageItem } from '@gable/core';
import { MAX_ITEM_CHARS } from '../codec/contract';
import { foreignItem, groupItem } from '../codec/page-items';
import { readColour, type Theme } from '../drawingml/colour';
import { placeholderOf } from '../drawingml/free-walk';
import { freeSiteOf, isPicture, readLook } from '../drawingml/read-picture';
import { readShapeItem } from '../drawingml/read-shape';
import { integer, measure } from '../drawingml/values';
import { NS } from '../ooxml/names';
import { attributeOf, child, descend, type Element } from '../xml/located';

/** A part whose shapes lie on a slide: the master's and the layout's behind its own. */
export interface Layer {
  part: string;
  root: Element;
  theme: () => Theme;
  /** Shape properties that a placeholder takes after, nearest first. */
  takesAfter(e: Element): Element[];
  own: boolean;
}

/**
 * The relationship of the picture behind a slide, and the part that names it (§19.3.1.1, bg): the nearest background counts,
 * the slide's own before its layout's and its master's.
 */
export function backdropOf(layers: readonly Layer[]): { part: string; id: string } | null {
  const nearest = [...layers].reverse().find(({ root }) => descend(root, 'cSld', 'bg'));
  const blip = nearest && descend(nearest.root, 'cSld', 'bg', 'bgPr', 'blipFill', 'blip');
  const id = attributeOf(blip, 'embed');
  return nearest && id !== undefined ? { part: nearest.part, id } : null;
}

/** What lies on a part, from the back to the front. */
export interface PartItems {
  /** Numbers of its pictures, by their elements. */
  numbers: ReadonlyMap<Element, number>;
  /** Begins the names of its items. */
  name: string;
  /** How many may still be told. */
  left: { count: number };
  /** Is told where each item stands. */
  elements: Map<ItemId, Element>;
}

/**
 * The shapes, texts, pictures and groups of a slide, a layout or a master, in their order. What is not edited (charts, tables,
 * connectors) is there as well.
 */
export function itemsOf(layer: Layer, { numbers, name, left, elements }: PartItems): PageItem[] {
  const items: PageItem[] = [];
  let count = 0;
  /** @returns the ids of what an element adds to what holds it */
  const visit = (e: Element): ItemId[] => {
    if (e.local === 'AlternateContent' && NS.compatibility.has(e.uri)) {
      // Of a picture that stands in both branches one is known; of anything else the first is what was meant.
      const branch = e.children.find((b) => [...numbers.keys()].some((p) => within(p, b))) ?? e.children[0];
      return branch?.children.flatMap(visit) ?? [];
    }
    const picture = numbers.get(e);
    if (picture !== undefined) {
      count++;
      items.push({ picture });
      return [itemIdOf({ n: picture })];
    }
    // Placeholders of masters and layouts only say where a slide's own go.
    if (!layer.own && placeholderOf(e)) return [];
    // Pictures are told however many items there are.
    if (left.count <= 0) return e.children.flatMap(visit);
    if (e.local === 'grpSp') return group(e);
    const id = `${name}-${count + 1}`;
    const item = itemOf(e, layer, id);
    if (!item) return e.children.flatMap(visit);
    items.push(item);
    elements.set(id, e);
    count++;
    left.count--;
    return [id];
  };
  const group = (e: Element): ItemId[] => {
    const id = `${name}-${++count}`;
    const at = items.push({ picture: 0 }) - 1;
    left.count--;
    const children = e.children.flatMap(visit);
    const item = children.length > 0 ? groupOf(e, { id, children, layer }) : null;
    items.splice(at, 1, ...(item ? [item] : []));
    if (item) elements.set(id, e);
    return item ? [id] : children;
  };
  descend(layer.root, 'cSld', 'spTree')?.children.forEach(visit);
  return items;
}

/** A group as it lies on its part (§19.3.1.22, grpSp); null where no bounds hold it. */
function groupOf(
  e: Element,
  { id, children, layer: { part, theme } }: { id: string; children: readonly ItemId[]; layer: Layer },
): PageItem | null {
  const spPr = child(e, 'grpSpPr');
  if (!descend(spPr, 'xfrm', 'ext')) return null;
  const { box, turn, flip } = readLook({ ...freeSiteOf(e, part), spPr, style: undefined }, theme);
  return groupItem(id, children, { box, turn, flip, alt: descend(e, 'nvGrpSpPr', 'cNvPr')?.attributes['descr'] ?? '' });
}

const within = (e: Element, outer: Element): boolean => {
  for (let at: Element | null = e; at; at = at.parent) if (at === outer) return true;
  return false;
};

/** What graphic frames hold, by the last word of its address (§20.1.2.2.16, graphicData). */
const GRAPHICS: Readonly<Record<string, [ForeignItem['what'], string]>> = {
  chart: ['chart', 'Chart'],
  chartex: ['chart', 'Chart'],
  table: ['table', 'Table'],
  diagram: ['diagram', 'Diagram'],
  ole: ['object', 'Object'],
};

function itemOf(e: Element, { part, theme, takesAfter }: Layer, id: string): PageItem | null {
  const site = { ...freeSiteOf(e, part), inherited: takesAfter(e) };
  if (e.local === 'sp') {
    if (isPicture(e)) return null;
    const title = /title/i.test(placeholderOf(e)?.attributes['type'] ?? '');
    return readShapeItem(site, id, { theme, title });
  }
  const looks = (): ReturnType<typeof readLook> => readLook(site, theme);
  if (e.local === 'cxnSp') {
    const { box, turn } = looks();
    return foreignItem({ id, what: 'connector', box, turn });
  }
  if (e.local !== 'graphicFrame') return null;
  // Its place is its own (§19.3.1.21, graphicFrame), not its shape's.
  const { box, turn } = readLook({ ...site, spPr: e }, theme);
  const data = descend(e, 'graphic', 'graphicData');
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

/** The colour behind a part; null where it says none. */
export function groundOf({ root, theme }: Layer): string | null {
  const bg = descend(root, 'cSld', 'bg');
  const fill = descend(bg, 'bgPr', 'solidFill') ?? child(bg, 'bgRef');
  const stops = descend(bg, 'bgPr', 'gradFill', 'gsLst')?.children ?? [];
  // Of a gradient its middle: where frames lie is seen on that as well.
  const middle = stops[Math.floor((stops.length - 1) / 2)];
  const of = fill ?? middle;
  return (of && readColour(of, theme)?.colour) ?? null;
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
