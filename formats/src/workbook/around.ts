import { cellNamed, nameOfCell, type FramedItem } from '@gable/core';
import { noPicture, noSuchPlace, type AroundPicture, type Veils } from '../codec/contract';
import type { Theme } from '../drawingml/colour';
import { namingAt } from '../drawingml/look-text';
import { itemIn, propertiesText } from '../drawingml/item-text';
import { shapeText } from '../drawingml/shape-text';
import { encodeBeside, type BesideItem } from '../metadata/items';
import { Additions } from '../ooxml/additions';
import type { Found } from '../ooxml/found';
import { freeId } from '../ooxml/ids';
import { isStrict } from '../ooxml/names';
import type { Package } from '../ooxml/package';
import { descend, type Element } from '../xml/located';
import { escapeXml } from '../xml/splice';
import { Splices } from '../xml/splices';
import { anchorAbove, anchored } from './anchor';
import type { Grid } from './grid';

/**
 * Puts words and blocks beside the pictures of sheets: shapes that are tied to the cell they begin in, right before and behind the
 * anchors of their pictures.
 * @param gridOf the cells beneath a drawing
 * @param sheets their names in their order
 */
export function putBeside(
  { pack, main, found }: { pack: Package; main: string; found: readonly Found[] },
  { gridOf, sheets, fonts }: { gridOf: (drawing: string) => Grid; sheets: readonly string[]; fonts: Theme['fonts'] },
  { around, veils }: { around: readonly AroundPicture[]; veils: Veils },
): Uint8Array {
  const splices = new Splices((name) => pack.part(name));
  const additions = new Additions(pack, main, splices);
  const free = new Map<string, number>();
  for (const { n, before, behind } of around) {
    const { site, where } = found[n - 1] ?? noPicture(n, found.length);
    const sheet = sheets[(where.page ?? 1) - 1] ?? '';
    const anchor = anchorAbove(site.pic);
    if (!anchor) throw noSuchPlace();
    const { root } = pack.part(site.part);
    let id = free.get(site.part) ?? freeId(root, 'cNvPr');
    const own = [...before, ...behind];
    // The picture that a veil comes to is made anew by whoever makes it.
    const known = !own.some((i) => veils.has(i.id));
    const of = numberOf(site) ?? '';
    const all = (items: readonly FramedItem[], side: BesideItem['side']): string =>
      items
        .map((item) => {
          const veil = veils.get(item.id);
          const rid = veil && additions.relateTo({ part: site.part, strict: isStrict(anchor.uri) }, veil);
          const told = known ? encodeBeside(item, own, { of, side }) : '';
          return atCell(anchor, item, { id: id++, rid, told, sheet, fonts, grid: gridOf(site.part) });
        })
        .join('');
    const splice = splices.of(site.part);
    splice.before(anchor, all(before, 'before'));
    splice.at(anchor.end, all(behind, 'behind'));
    free.set(site.part, id);
  }
  return additions.write(splices.changed());
}

/** The number of a picture's drawing (§20.1.2.2.8, cNvPr). */
export const numberOf = ({ pic }: Found['site']): string | undefined =>
  (descend(pic, 'nvPicPr', 'cNvPr') ?? descend(pic, 'nvSpPr', 'cNvPr'))?.attributes['id'];

/** What an anchor holds that was put beside a picture; null for any other. */
export const itemOfAnchor = (e: Element): BesideItem | null =>
  e.local === 'oneCellAnchor' ? itemIn(descend(e, 'sp', 'nvSpPr', 'cNvPr')) : null;

/** The cell whose content a shape shows, as a formula (§20.5.2.29, textlink). @param sheet that it lies on */
function linkTo(cell: string | undefined, sheet: string): string {
  const name = cell === undefined ? null : cellNamed(cell);
  return name ? nameOfCell({ ...name, sheet: name.sheet ?? sheet }, true) : (cell ?? '');
}

/** A shape with its words (ISO/IEC 29500-1 §20.5.2.29, sp) at a cell (§20.5.2.24, oneCellAnchor). */
function atCell(
  beside: Element,
  item: FramedItem,
  {
    id,
    rid,
    told,
    sheet,
    fonts,
    grid,
  }: { id: number; rid: string | undefined; told: string; sheet: string; fonts: Theme['fonts']; grid: Grid },
): string {
  const x = beside.name.slice(0, beside.name.length - beside.local.length);
  const { declare, ...naming } = namingAt(beside, isStrict(beside.uri));
  const { box, named, isBox, look, words } = shapeText(item, { id, rid, a: { ...naming, declare: '', fonts } });
  const body = words === '' ? '' : `<${x}txBody>${words}</${x}txBody>`;
  return anchored(
    { local: 'oneCellAnchor' },
    { x, declare, box, grid },
    `<${x}sp macro="" textlink="${escapeXml(linkTo(item.text?.cell, sheet))}"><${x}nvSpPr>${propertiesText(`${x}cNvPr`, named, told, naming.name)}<${x}cNvSpPr${isBox}/></${x}nvSpPr>` +
      `<${x}spPr>${look}</${x}spPr>${body}</${x}sp><${x}clientData/>`,
  );
}
