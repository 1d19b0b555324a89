import {
  documentOfPictures,
  equal,
  GableError,
  itemIdOf,
  withChildren,
  type Box,
  type Document,
  type ItemId,
  type PageItem,
} from '@gable/core';
import { type Cell, MAX_GRID_LINES, cellSheet } from '../codec/cells';
import {
  noSuchPlace,
  type AroundPicture,
  type NewPicture,
  type Opened,
  type PageLocks,
  type Restyling,
  MAX_PAGE_ITEMS,
  type Sheet,
  type Veils,
} from '../codec/contract';
import { withStaying } from '../codec/staying';
import { isLocked } from '../drawingml/locks';
import { collect } from '../drawingml/free-walk';
import { firstPicture } from '../drawingml/read-picture';
import { Additions } from '../ooxml/additions';
import type { Found } from '../ooxml/found';
import { hasLocks, putLocks } from '../ooxml/locks';
import { openOoxml } from '../ooxml/pictures';
import { type Package, relatedId, themeOf } from '../ooxml/package';
import { removal } from '../ooxml/remove-picture';
import { restyleItems } from '../ooxml/restyle-items';
import { child, holds, type Element } from '../xml/located';
import { Splices } from '../xml/splices';
import { anchorAbove, anchorOf } from './anchor';
import { itemOfAnchor, numberOf, putBeside } from './around';
import { takeBeside } from '../ooxml/take-beside';
import { Shared, readCells } from './cells';
import { Grid } from './grid';
import { groupOnSheet, setRoom, stays, ungroupOnSheet, type SheetDrawing } from './groups';
import { fillOnSheet, insertAtCell } from './insert';
import { itemsOn } from './read-items';

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
  const sheetOf = ({ name: sheet, part }: (typeof sheets)[number], page: number): Sheet => {
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
        sheet,
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
  const pictured = new Map(found.map(({ site }, i) => [itemIdOf({ n: i + 1 }), site.pic]));
  const elementOf = (id: ItemId): Element | undefined => pictured.get(id) ?? elements.get(id);
  const is = (id: ItemId, so: (e: Element) => boolean): boolean => {
    const e = elementOf(id);
    return e !== undefined && so(e);
  };
  const locks = (id: ItemId): boolean => is(id, isLocked);
  let document: Document | null = null;
  const documentNow = (): Document => (document ??= documentOfPictures(file.pictures, file));
  const allOn = (page: number): readonly ItemId[] =>
    (documentNow().pages[page - 1]?.items ?? []).flatMap((id) => withChildren(documentNow(), id));
  const file = openOoxml({
    format: 'xlsx',
    pack,
    main,
    found,
    pages: Math.max(1, sheets.length),
    theme,
    readPages: () => ({
      sheets: withStaying(
        sheets.map((s, i) => sheetOf(s, i + 1)),
        { stays: (id) => is(id, stays), isLocked: locks },
      ),
    }),
  });
  const drawnSheets = sheets.map(({ part }, i) => part && { sheet: part, drawing: drawings.get(i + 1)?.[0]?.part });
  const allDrawings = [...drawings.values()].flat();
  const gridOf = (part: string): (() => Grid) => allDrawings.find((d) => d.part === part)!.grid;
  const partOf = (e: Element): string | undefined =>
    allDrawings.find(({ part }) => holds(pack.part(part).root, e))?.part;
  /** The file with its drawings otherwise; each is told by something that lies in it. */
  const regrouped = (changes: readonly { on: ItemId; put(drawing: SheetDrawing): void }[]): Uint8Array => {
    const { items } = documentNow();
    const splices = new Splices((name) => pack.part(name));
    for (const { on, put } of changes) {
      const e = elementOf(on);
      const part = e && partOf(e);
      if (part === undefined) continue;
      const { root, text } = pack.part(part);
      put({ root, text, splice: splices.of(part), grid: gridOf(part)(), elementOf, itemOf: (id) => items[id]! });
    }
    return new Additions(pack, main, splices).write(splices.changed());
  };
  return Object.assign(file, {
    remove: removal(pack, main, found),
    putBeside(around: readonly AroundPicture[], veils: Veils) {
      const names = sheets.map(({ name }) => name);
      return putBeside(
        { pack, main, found },
        { gridOf: (part) => gridOf(part)(), sheets: names, fonts: theme().fonts },
        { around, veils },
      );
    },
    restyle({ items, veils }: Restyling) {
      // Shapes are known once the sheets are read.
      void file.sheets;
      const splices = new Splices((name) => pack.part(name));
      const additions = new Additions(pack, main, splices);
      restyleItems(
        {
          ...{ elements, partOf, fontsOf: () => theme().fonts, splices, additions },
          elsewhere(e, part, { was, now }) {
            const anchor = anchorAbove(e);
            // What a group holds moves within that.
            if (anchor && e.parent === anchor && !equal(was.at, now.at))
              anchorOf(anchor, e, gridOf(part)).write(splices.of(part), now.at.box);
          },
        },
        { items, veils },
      );
      return additions.write(splices.changed());
    },
    hasLocks: hasLocks(
      pack,
      allDrawings.map(({ part }) => part),
    ),
    group: (sets: readonly (readonly ItemId[])[]) =>
      regrouped(sets.map((ids) => ({ on: ids[0] ?? '', put: (drawing: SheetDrawing) => groupOnSheet(drawing, ids) }))),
    ungroup: (groups: readonly ItemId[]) =>
      regrouped(
        groups.map((id) => ({ on: id, put: (drawing: SheetDrawing) => ungroupOnSheet(drawing, drawing.itemOf(id)) })),
      ),
    setRooms: (rooms: ReadonlyMap<ItemId, Box>) =>
      regrouped([...rooms].map(([on, box]) => ({ on, put: (drawing: SheetDrawing) => setRoom(drawing, on, box) }))),
    putLocks: (told: PageLocks) => putLocks({ pack, main }, told, { itemsOn: allOn, elementOf, partOf }),
    takeBeside: () => takeBeside({ pack, main, found }, numberOf, itemOfAnchor),
    insert(picture: NewPicture) {
      const { place } = picture;
      if (place.in !== 'shape') return insertAtCell(pack, main, drawnSheets, found, picture);
      // Shapes are known once the sheets are read.
      void file.sheets;
      const shape = elements.get(place.fills);
      const part = drawings.get(place.page)?.find((d) => shape && holds(pack.part(d.part).root, shape))?.part;
      if (!shape || part === undefined) throw noSuchPlace();
      return fillOnSheet(pack, main, found, { part, shape }, { ...picture, place });
    },
  });
}
