import { fromEmu, toEmu } from '@gable/core';
import { noSuchPage, noSuchPlace, type NewPicture, type NewPlace } from '../codec/contract';
import { filledShape } from '../drawingml/fill-shape';
import { Additions, relationshipBase } from '../ooxml/additions';
import type { Found } from '../ooxml/found';
import { freeId } from '../ooxml/ids';
import { isStrict, namespaceOf } from '../ooxml/names';
import type { Package } from '../ooxml/package';
import { prefixFor, type Element } from '../xml/located';
import { escapeXml } from '../xml/splice';
import { Splices } from '../xml/splices';
import { markerText } from './anchor';
import { Grid } from './grid';

/** Children of a worksheet that come behind its drawing (ISO/IEC 29500-1 §18.3.1.99, CT_Worksheet). */
const BEHIND_DRAWING =
  'legacyDrawing legacyDrawingHF drawingHF picture oleObjects controls webPublishItems tableParts extLst'.split(' ');
const DRAWING_TYPE = 'application/vnd.openxmlformats-officedocument.drawing+xml';

/** A worksheet and its drawing, where it has one. */
export interface DrawnSheet {
  sheet: string;
  drawing: string | undefined;
}

/**
 * Puts a plain picture at a cell of a sheet. A sheet without a drawing gets one, with its relationship and content type.
 * @throws GableError `no-such-page`
 */
export function insertAtCell(
  pack: Package,
  main: string,
  sheets: readonly (DrawnSheet | undefined | '')[],
  found: readonly Found[],
  { image, alt, place }: NewPicture,
): { bytes: Uint8Array; n: number } {
  if (place.in !== 'cell') throw noSuchPlace();
  const on = sheets[place.page - 1];
  if (!on) throw noSuchPage(place.page, sheets.length);
  const splices = new Splices((name) => pack.part(name));
  const additions = new Additions(pack, main, splices);
  const { root } = pack.part(on.sheet);
  const strict = isStrict(root.uri);
  const drawn = on.drawing === undefined ? null : pack.part(on.drawing).root;
  const drawing = on.drawing ?? newDrawing(pack, on.sheet, { additions, splices, root, strict });
  const rid = additions.relateTo({ part: drawing, strict }, image);
  const id = drawn ? freeId(drawn, 'cNvPr') : 1;
  const xml = anchorText({ id, alt, rid, place, grid: new Grid(pack.text(on.sheet)) }, drawn, strict);
  if (drawn) splices.of(drawing).append(drawn, xml);
  else {
    const open = `<xdr:wsDr xmlns:xdr="${namespaceOf('sheetDrawing', strict)}" xmlns:a="${namespaceOf('drawing', strict)}">`;
    const text = `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n${open}${xml}</xdr:wsDr>`;
    additions.entries.set(drawing, new TextEncoder().encode(text));
  }
  const earlier = found.filter(
    ({ where, site }) => (where.page ?? 0) < place.page || (where.page === place.page && site.part === on.drawing),
  );
  return { bytes: additions.write(splices.changed()), n: 1 + earlier.length };
}

/**
 * Fills a shape of a sheet with a picture; its form, line and words stay.
 * @param shape `xdr:sp`
 */
export function fillOnSheet(
  pack: Package,
  main: string,
  found: readonly Found[],
  { part, shape }: { part: string; shape: Element },
  { image, alt, place }: NewPicture & { place: Extract<NewPlace, { in: 'shape' }> },
): { bytes: Uint8Array; n: number } {
  const splices = new Splices((name) => pack.part(name));
  const additions = new Additions(pack, main, splices);
  const { root, text } = pack.part(part);
  const strict = isStrict(root.uri);
  const rid = additions.relateTo({ part, strict }, image);
  splices.of(part).replace(shape, filledShape(text, shape, { alt, rid }, strict));
  const earlier = found.filter(
    ({ where, site }) =>
      (where.page ?? 0) < place.page ||
      (where.page === place.page && (site.part !== part || site.pic.start < shape.start)),
  );
  return { bytes: additions.write(splices.changed()), n: 1 + earlier.length };
}

/** Names a part for the drawing of a sheet, and refers to it. */
function newDrawing(
  pack: Package,
  sheet: string,
  { additions, splices, root, strict }: { additions: Additions; splices: Splices; root: Element; strict: boolean },
): string {
  let i = 1;
  const folder = sheet.replace(/worksheets\/[^/]*$|[^/]*$/, 'drawings/');
  while (pack.entry(`${folder}drawing${i}.xml`)) i++;
  const name = `${folder}drawing${i}.xml`;
  const rid = additions.relatePart(sheet, name, 'drawing', strict);
  const uri = relationshipBase(strict);
  const bound = prefixFor(root, uri);
  const r = bound ? `${bound}:` : 'r:';
  const prefix = root.name.slice(0, root.name.length - root.local.length);
  const declare = bound ? '' : ` xmlns:r="${uri}"`;
  splices.of(sheet).slot(root, [], BEHIND_DRAWING, `<${prefix}drawing${declare} ${r}id="${rid}"/>`);
  const types = pack.part('[Content_Types].xml').root;
  const p = types.name.slice(0, types.name.length - types.local.length);
  splices.of('[Content_Types].xml').append(types, `<${p}Override PartName="/${name}" ContentType="${DRAWING_TYPE}"/>`);
  return name;
}

interface Anchored {
  id: number;
  alt: string;
  rid: string;
  place: Extract<NewPicture['place'], { in: 'cell' }>;
  grid: Grid;
}

/**
 * A picture tied to the cell it begins in (§20.5.2.24, oneCellAnchor), to that and the one it ends in (§20.5.2.33), or to
 * none (`editAs="absolute"`).
 */
function anchorText({ id, alt, rid, place, grid }: Anchored, drawn: Element | null, strict: boolean): string {
  const bound = drawn ? prefixFor(drawn, namespaceOf('sheetDrawing', strict)) : 'xdr';
  const x = bound === null ? 'xdr:' : bound === '' ? '' : `${bound}:`;
  const declare = bound === null ? ` xmlns:xdr="${namespaceOf('sheetDrawing', strict)}"` : '';
  const { row, column, dx, dy, size, follows } = place;
  const [cx, cy] = [toEmu(size.width), toEmu(size.height)];
  const from = { column: { cell: column, offset: toEmu(dx) }, row: { cell: row, offset: toEmu(dy) } };
  const start = { x: grid.at('x', from.column), y: grid.at('y', from.row) };
  const [toX, toY] = [grid.marker('x', start.x + fromEmu(cx)), grid.marker('y', start.y + fromEmu(cy))];
  const names = `xmlns:a="${namespaceOf('drawing', strict)}" xmlns:r="${relationshipBase(strict)}"`;
  const pic =
    `<${x}pic ${names}><${x}nvPicPr><${x}cNvPr id="${id}" name="Picture ${id}" descr="${escapeXml(alt)}"/><${x}cNvPicPr><a:picLocks noChangeAspect="1"/></${x}cNvPicPr></${x}nvPicPr>` +
    `<${x}blipFill><a:blip r:embed="${escapeXml(rid)}"/><a:stretch><a:fillRect/></a:stretch></${x}blipFill>` +
    `<${x}spPr><a:xfrm><a:off x="${toEmu(start.x)}" y="${toEmu(start.y)}"/><a:ext cx="${cx}" cy="${cy}"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></${x}spPr></${x}pic><${x}clientData/>`;
  if (follows === 'place')
    return `<${x}oneCellAnchor${declare}>${markerText(x, 'from', from.column, from.row)}<${x}ext cx="${cx}" cy="${cy}"/>${pic}</${x}oneCellAnchor>`;
  const edit = follows === 'nothing' ? ' editAs="absolute"' : '';
  return `<${x}twoCellAnchor${declare}${edit}>${markerText(x, 'from', from.column, from.row)}${markerText(x, 'to', toX, toY)}${pic}</${x}twoCellAnchor>`;
}
