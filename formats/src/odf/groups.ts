import { memberOf } from '../codec/arrange';
import { ITEM_NAMESPACE } from '../metadata/items';
import { bindAs } from '../xml/bound';
import type { Element } from '../xml/located';
import { Splice } from '../xml/splice';
import { frameAlone } from './insert';
import { is, lengthOf, Names, writeLength } from './names';
import { dropEnds } from './write-frame';

/** The sheets of a spreadsheet, as what lies over their cells is grouped. */
export interface Cells {
  text: string;
  splice: Splice;
  /** Where the places of what stands in an element count from. In points. */
  cornerOf(e: Element): { x: number; y: number };
}

/** Does something stand in a cell, or on its sheet, by itself, so that it can come into a group? */
const isAlone = (e: Element): boolean => !is(e, 'draw', 'g') && isHolder(frameAlone(e).parent);
const isWhole = (e: Element | null): boolean => e !== null && is(e, 'draw', 'g') && isHolder(e.parent);
const isHolder = (e: Element | null): boolean =>
  e !== null && is(e, 'table', 'table-cell', 'covered-table-cell', 'shapes');

/** Must something stay as it is grouped: what stands among words, and what is in a group in a group? */
export const stays = (e: Element): boolean => !(isAlone(e) || isWhole(e) || isWhole(frameAlone(e).parent));

/**
 * Puts what lies over the cells of a sheet together: a group (ODF 1.2 Part 1 §10.3.15, draw:g) where the front one stands. Places in it
 * count from there, and no cell says how large something in it is.
 */
export function groupInCells({ text, splice, cornerOf }: Cells, elements: readonly Element[]): void {
  const all = elements.filter(isAlone).sort((a, b) => a.start - b.start);
  const front = all.at(-1);
  if (!front || all.length < 2) return;
  const to = cornerOf(front);
  const inner = all.map((e) => {
    const [whole, own, at] = [frameAlone(e), new Splice(text), cornerOf(e)];
    shift(own, e, { x: at.x - to.x, y: at.y - to.y });
    dropEnds(own, { element: e, names: new Names(e) });
    for (const name of Object.keys(e.attributes)) if (isTold(e, name)) own.attribute(e, name, null);
    return own.rewritten(whole);
  });
  for (const e of all.slice(0, -1)) splice.replace(frameAlone(e), '');
  const n = new Names(front);
  const height = n.get(front, 'draw:z-index');
  const g = n.of('draw:g');
  const high = height === undefined ? '' : ` ${n.of('draw:z-index')}="${height}"`;
  splice.replace(frameAlone(front), `<${g}${n.declare('draw')}${high}>${inner.join('')}</${g}>`);
}

/** Takes a group apart: all that is in it stands where the group did. */
export function ungroupInCells({ text, splice }: Cells, group: Element, elements: readonly Element[]): void {
  if (!isWhole(group)) return;
  const height = new Names(group).get(group, 'draw:z-index');
  const apart = elements.map((e) => {
    const [member, own, n] = [memberOf(group, e), new Splice(text), new Names(e)];
    bindAs(own, member, [group]);
    if (height !== undefined && n.get(e, 'draw:z-index') === undefined) own.attribute(e, n.of('draw:z-index'), height);
    return own.rewritten(member);
  });
  splice.replace(group, apart.join(''));
}

/** What says of a shape that it was put beside a picture. */
const isTold = (e: Element, name: string): boolean => {
  const [prefix, local] = name.split(':');
  return local === 'item' && bindingOf(e, prefix!) === ITEM_NAMESPACE;
};
const bindingOf = (e: Element | null, prefix: string): string | undefined =>
  e ? (e.attributes[`xmlns:${prefix}`] ?? bindingOf(e.parent, prefix)) : undefined;

const ACROSS = ['svg:x', 'svg:x1', 'svg:x2'];
const DOWN = ['svg:y', 'svg:y1', 'svg:y2'];

/** Moves a shape as it says its place: by that, by its ends, or by where it is put once it is turned (§19.228, draw:transform). */
function shift(splice: Splice, e: Element, by: { x: number; y: number }): void {
  if (by.x === 0 && by.y === 0) return;
  const n = new Names(e);
  const transform = n.get(e, 'draw:transform');
  if (transform !== undefined) {
    const moved = transform.replace(/translate\s*\(\s*(\S+?)(?:[\s,]+(\S+?))?\s*\)/, (_, x: string, y = '0cm') => {
      const [left, top] = [lengthOf(x) ?? 0, lengthOf(y as string) ?? 0];
      return `translate (${writeLength(left + by.x)} ${writeLength(top + by.y)})`;
    });
    splice.attribute(e, n.of('draw:transform'), moved);
    return;
  }
  for (const [names, d] of [
    [ACROSS, by.x],
    [DOWN, by.y],
  ] as const)
    for (const name of names) {
      const value = lengthOf(n.get(e, name));
      if (value !== null) splice.attribute(e, n.of(name), writeLength(value + d));
    }
}
