import { toEmu, type Box } from '@gable/core';
import type { Anchor } from '../drawingml/site';
import { integer, measure } from '../drawingml/values';
import { NS } from '../ooxml/names';
import { type Element, ancestor, child, descend } from '../xml/located';
import { escapeXml, type Splice } from '../xml/splice';
import { type Grid, type Marker } from './grid';

export const anchorAbove = (e: Element): Element | undefined =>
  ancestor(e, (a) => /^(twoCell|oneCell|absolute)Anchor$/.test(a.local) && NS.sheetDrawing.has(a.uri));

const AXES = [
  ['x', 'col', 'cx', 'width'],
  ['y', 'row', 'cy', 'height'],
] as const;

/** How what is anchored follows the cells: tied to one, to two, or to none. */
export type AnchorKind = Pick<Element, 'local'> & { editAs?: string | undefined };

export const kindOf = ({ local, attributes }: Element): AnchorKind => ({ local, editAs: attributes['editAs'] });

/** A cell that an anchor is tied to (§20.5.2.15, from; §20.5.2.32, to). */
export const markerText = (x: string, name: 'from' | 'to', column: Marker, row: Marker): string =>
  `<${x}${name}><${x}col>${column.cell}</${x}col><${x}colOff>${column.offset}</${x}colOff>` +
  `<${x}row>${row.cell}</${x}row><${x}rowOff>${row.offset}</${x}rowOff></${x}${name}>`;

/** An anchor with what it holds. @param box in points from the sheet's edge */
export function anchored(
  { local, editAs }: AnchorKind,
  { x, declare = '', box, grid }: { x: string; declare?: string; box: Box; grid: Grid },
  inner: string,
): string {
  const marker = (name: 'from' | 'to', at: { x: number; y: number }): string =>
    markerText(x, name, grid.marker('x', Math.max(0, at.x)), grid.marker('y', Math.max(0, at.y)));
  const extent = `<${x}ext cx="${toEmu(box.width)}" cy="${toEmu(box.height)}"/>`;
  const end = { x: box.x + box.width, y: box.y + box.height };
  const place =
    local === 'twoCellAnchor'
      ? marker('from', box) + marker('to', end)
      : local === 'absoluteAnchor'
        ? `<${x}pos x="${toEmu(box.x)}" y="${toEmu(box.y)}"/>${extent}`
        : marker('from', box) + extent;
  const edit = local === 'twoCellAnchor' && editAs !== undefined ? ` editAs="${escapeXml(editAs)}"` : '';
  return `<${x}${local}${declare}${edit}>${place}${inner}</${x}${local}>`;
}

/** The size a picture had when it was saved may differ so much from what our columns' widths make of it. */
const ROUNDED = 0.04;

/** `xdr:twoCellAnchor` (§20.5.2.33), `xdr:oneCellAnchor` (§20.5.2.24) or `xdr:absoluteAnchor` (§20.5.2.1). */
export function anchorOf(e: Element, pic: Element, grid: () => Grid): Anchor {
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
