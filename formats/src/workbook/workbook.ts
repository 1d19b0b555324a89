import { GableError, toEmu, type Box, type ItemId, type PageItem } from '@gable/core';
import { ancestor, child, descend, type Element } from '../xml/located';
import type { Splice } from '../xml/splice';
import { cellSheet, MAX_GRID_LINES, type Cell } from '../codec/cells';
import { MAX_PAGE_ITEMS, type Opened, type Sheet } from '../codec/contract';
import { readCells, Shared } from './cells';
import { collect } from '../drawingml/free-walk';
import { Grid, type Marker } from './grid';
import { NS } from '../ooxml/names';
import { openOoxml } from '../ooxml/open';
import { removal } from '../ooxml/remove-picture';
import type { Found } from '../ooxml/found';
import { relatedId, themeOf, type Package } from '../ooxml/package';
import { drawnItem, readItems, type ItemReader } from '../drawingml/read-items';
import { firstPicture, freeSiteOf } from '../drawingml/read-picture';
import type { Anchor, Site } from '../drawingml/site';
import type { Theme } from '../drawingml/colour';
import { integer, measure } from '../drawingml/values';

/**
 * Opens a workbook (ISO/IEC 29500-1 §18) and finds the pictures that lie on its sheets, sheet by sheet.
 * @param main name of the main part
 */
export function openWorkbook(pack: Package, main: string): Opened {
  const related = pack.relationships(main);
  const sheets = (child(pack.part(main).root, 'sheets')?.children ?? []).map((s) => ({
    name: s.attributes['name'] ?? '',
    part: related.find((r) => !r.external && r.id === relatedId(s))?.target,
  }));
  const found: Found[] = [];
  const seen = new Set<string>();
  /** Drawings of the sheets, by number. */
  const drawings = new Map<number, { part: string; grid: () => Grid }[]>();
  sheets.forEach(({ name, part: sheet }, i) => {
    if (!sheet || !pack.entry(sheet)) return;
    for (const r of pack.relationships(sheet)) {
      if (r.kind !== 'drawing' || r.external || !pack.entry(r.target) || seen.has(r.target)) continue;
      seen.add(r.target);
      let grid: Grid | null = null;
      const gridOnce = (): Grid => (grid ??= new Grid(pack.text(sheet)));
      drawings.set(i + 1, [...(drawings.get(i + 1) ?? []), { part: r.target, grid: gridOnce }]);
      found.push(
        ...collect(pack.part(r.target).root, {
          part: r.target,
          place: 'sheet',
          page: i + 1,
          near: name,
          site(pic) {
            const e = anchorAbove(pic);
            if (!e) return null;
            const anchor = anchorOf(e, pic, gridOnce);
            // An anchor holds one object (§20.5.2.33); it follows the first where there are more.
            return { anchor: firstPicture(e) === pic ? anchor : { ...anchor, write: () => undefined } };
          },
        }),
      );
    }
  });
  const theme = themeOf(pack, main);
  const shared = new Shared(pack, main, theme);
  const left = { count: MAX_PAGE_ITEMS };
  const elements = new Map<ItemId, Element>();
  const numbers = new Map(found.flatMap(({ site, twins }, i) => [site, ...twins].map(({ pic }) => [pic, i + 1])));
  const sheetOf = (part: string | undefined, page: number): Sheet => {
    let text = '<worksheet/>';
    let cells: Cell[] = [];
    try {
      if (part && pack.entry(part)) text = pack.text(part);
      cells = readCells(text, shared);
    } catch (error) {
      // Cells that cannot be read are no reason not to show the pictures.
      if (!(error instanceof GableError)) throw error;
    }
    const grid = new Grid(text);
    const boxOf = (item: PageItem): Box[] => {
      const box = 'picture' in item ? found[item.picture - 1]!.site.anchor?.box : item.at.box;
      return box ? [box] : [];
    };
    const items = (drawings.get(page) ?? []).flatMap(({ part: drawing, grid: cells }, i) =>
      itemsOn(pack.part(drawing).root, {
        part: drawing,
        grid: cells,
        theme,
        told: { numbers, name: `sheet${page}${i ? `-${i + 1}` : ''}`, left, elements },
      }),
    );
    const edges = { x: grid.edges('x', MAX_GRID_LINES), y: grid.edges('y', MAX_GRID_LINES) };
    const shown = cells.slice(0, Math.max(0, left.count));
    left.count -= shown.length;
    return cellSheet(`sheet${page}`, { cells: shown, edges, items, boxes: items.flatMap(boxOf) });
  };
  const file = openOoxml({
    format: 'xlsx',
    pack,
    main,
    found,
    pages: Math.max(1, sheets.length),
    theme,
    readPages: () => ({ sheets: sheets.map(({ part }, i) => sheetOf(part, i + 1)) }),
  });
  return Object.assign(file, { remove: removal(pack, main, found) });
}

const anchorAbove = (e: Element): Element | undefined =>
  ancestor(e, (a) => /^(twoCell|oneCell|absolute)Anchor$/.test(a.local) && NS.sheetDrawing.has(a.uri));

/** What lies over the cells of a sheet: shapes, texts, pictures, groups, and charts, which are kept. */
function itemsOn(
  root: Element,
  {
    part,
    grid,
    theme,
    told,
  }: { part: string; grid: () => Grid; theme: () => Theme; told: Omit<ItemReader, 'theme' | 'itemOf' | 'groupSite'> },
): PageItem[] {
  const siteOf = (e: Element): Site => {
    const anchor = anchorAbove(e);
    return { ...freeSiteOf(e, part), ...(anchor && { anchor: anchorOf(anchor, e, grid) }) };
  };
  return readItems(root.children, {
    ...told,
    theme,
    itemOf: (e, id) => drawnItem(e, siteOf(e), { id, theme }),
    groupSite: (e) => ({ ...siteOf(e), spPr: child(e, 'grpSpPr'), style: undefined }),
  });
}

const AXES = [
  ['x', 'col', 'cx', 'width'],
  ['y', 'row', 'cy', 'height'],
] as const;

/** The size a picture had when it was saved may differ so much from what our columns' widths make of it. */
const ROUNDED = 0.04;

/** `xdr:twoCellAnchor` (§20.5.2.33), `xdr:oneCellAnchor` (§20.5.2.24) or `xdr:absoluteAnchor` (§20.5.2.1). */
function anchorOf(e: Element, pic: Element, grid: () => Grid): Anchor {
  const marker = (of: 'from' | 'to', name: 'col' | 'row'): Marker => {
    const at = child(e, of);
    return {
      cell: integer(child(at, name)?.text.trim()),
      offset: toEmu(measure(child(at, `${name}Off`)?.text.trim()) ?? 0),
    };
  };
  const box = { x: 0, y: 0, width: 72, height: 72 };
  for (const [axis, cell, extent, side] of AXES) {
    if (e.local === 'absoluteAnchor') box[axis] = measure(child(e, 'pos')?.attributes[axis]) ?? 0;
    else box[axis] = grid().at(axis, marker('from', cell));
    const given = measure(child(e, 'ext')?.attributes[extent]);
    if (e.local === 'twoCellAnchor') {
      const spanned = grid().at(axis, marker('to', cell)) - box[axis];
      const noted = measure(descend(pic, 'spPr', 'xfrm', 'ext')?.attributes[extent]) ?? 0;
      // Columns are as wide as the reader's own font makes them: the picture's noted size is the better word.
      const near = noted > 0 && Math.abs(noted - spanned) <= ROUNDED * spanned + 1;
      box[side] = near ? noted : spanned > 0 ? spanned : noted > 0 ? noted : 72;
    } else box[side] = given && given > 0 ? given : 72;
  }

  const prefix = e.name.slice(0, e.name.length - e.local.length);
  const put = (splice: Splice, of: 'from' | 'to', next: Box): void => {
    for (const [axis, name, , side] of AXES) {
      const at = grid().marker(axis, next[axis] + (of === 'to' ? next[side] : 0));
      const [cell, offset] = [child(child(e, of), name), child(child(e, of), `${name}Off`)];
      if (cell) splice.content(cell, String(at.cell));
      if (offset) splice.content(offset, String(at.offset));
    }
  };
  return {
    box,
    write(splice, next) {
      const extent = `<${prefix}ext cx="${toEmu(next.width)}" cy="${toEmu(next.height)}"/>`;
      const resized = toEmu(next.width) !== toEmu(box.width) || toEmu(next.height) !== toEmu(box.height);
      if (e.local === 'absoluteAnchor') {
        const pos = child(e, 'pos');
        for (const axis of ['x', 'y'] as const) if (pos) splice.attribute(pos, axis, String(toEmu(next[axis])));
      } else put(splice, 'from', next);
      const to = child(e, 'to');
      if (e.local !== 'twoCellAnchor') {
        const ext = child(e, 'ext');
        if (ext && resized) splice.replace(ext, extent);
      } else if (!resized) put(splice, 'to', next);
      else if (to) {
        // Tied to two cells its size would follow the reader's columns: tied to one it is exact.
        splice.replace(to, extent);
        splice.retag(e, `<${prefix}oneCellAnchor>`, `</${prefix}oneCellAnchor>`);
      }
    },
  };
}
