import { boundsOfBoxes, toEmu, uprightBounds, type Box, type Item, type ItemId } from '@gable/core';
import { memberOf } from '../codec/arrange';
import { groupItem } from '../codec/page-items';
import { boxBefore, mappingOf } from '../drawingml/group-space';
import { groupText, spaceText } from '../drawingml/group-text';
import { forgetItem } from '../drawingml/item-text';
import { transformText } from '../drawingml/look-text';
import { freeId } from '../ooxml/ids';
import { isStrict, namespaceOf } from '../ooxml/names';
import { child, descend, type Element } from '../xml/located';
import { bindAs } from '../xml/bound';
import { bindingsOf, Splice } from '../xml/splice';
import { anchorAbove, anchored, anchorOf, kindOf, type AnchorKind } from './anchor';
import type { Grid } from './grid';

/** A drawing of a sheet, and what lies in it. */
export interface SheetDrawing {
  root: Element;
  text: string;
  splice: Splice;
  grid: Grid;
  elementOf(id: ItemId): Element | undefined;
  /** As the file has it. */
  itemOf(id: ItemId): Item;
}

/** Has something an anchor for itself alone, so that it can come into a group? */
const isAlone = (e: Element): boolean =>
  /^(pic|sp|cxnSp|graphicFrame)$/.test(e.local) && e.parent !== null && anchorAbove(e) === e.parent;
const isWhole = (e: Element): boolean => e.local === 'grpSp' && e.parent !== null && anchorAbove(e) === e.parent;

/** Must something stay as it is grouped: what other programs read in one of several ways, and what is in a group in a group? */
export const stays = (e: Element): boolean => !(isAlone(e) || isWhole(e) || (e.parent !== null && isWhole(e.parent)));

const CLIENT = 'clientData';
const UPRIGHT = { turn: 0, flip: { horizontal: false, vertical: false } };
const prefixOf = (e: Element): string => e.name.slice(0, e.name.length - e.local.length);

/**
 * Puts what lies over the cells of a sheet together: a group (ISO/IEC 29500-1 §20.5.2.17, grpSp) at the anchor of the front one, tied to
 * the cells as all of them were, or to its first cell where they were tied otherwise. Places in it are told as on the sheet.
 */
export function groupOnSheet(drawing: SheetDrawing, ids: readonly ItemId[]): void {
  const { root, text, splice, grid, elementOf, itemOf } = drawing;
  const all = ids
    .flatMap((id) => {
      const e = elementOf(id);
      return e && isAlone(e) ? [{ e, item: itemOf(id), anchor: e.parent! }] : [];
    })
    .sort((a, b) => a.e.start - b.e.start);
  const front = all.at(-1)?.anchor;
  if (!front || all.length < 2) return;
  const box = boundsOfBoxes(all.map(({ item: { at, turn, flip } }) => uprightBounds({ box: at.box, turn, flip })));
  const inner = all.map(({ e, item }) => placed(text, e, item.at.box)).join('');
  const item = groupItem('group', ids, { box })!;
  const group = groupText(front, { id: freeId(root, 'cNvPr'), item, inner, nvPr: false }, isStrict(root.uri));
  for (const { anchor } of all.slice(0, -1)) splice.replace(anchor, '');
  const x = prefixOf(front);
  const client = alike(all.map(({ anchor }) => clientOf(text, anchor))) ?? `<${x}${CLIENT}/>`;
  const kinds = all.map(({ anchor }) => kindOf(anchor));
  const kind = kinds.every((k) => k.local === kinds[0]!.local && k.editAs === kinds[0]!.editAs) ? kinds[0]! : ONE_CELL;
  splice.replace(front, anchored(kind, { x, declare: bindingsOf(front), box, grid }, group + client));
}

const ONE_CELL: AnchorKind = { local: 'oneCellAnchor' };

/** Takes a plain group apart: all that is in it is tied to the cells as it was, each by itself. */
export function ungroupOnSheet(drawing: SheetDrawing, group: Item): void {
  const { text, splice, grid, elementOf, itemOf } = drawing;
  const element = elementOf(group.id);
  const anchor = element?.parent;
  if (!element || !anchor || group.kind !== 'group' || !isWhole(element)) return;
  const x = prefixOf(anchor);
  const all = group.children.flatMap((id) => {
    const e = elementOf(id);
    return e ? [{ id, e, member: memberOf(element, e) }] : [];
  });
  const apart = all.map(({ id, e, member }) => {
    const { box } = itemOf(id).at;
    const own = new Splice(text);
    bindAs(own, member, [element]);
    // In the group its place may count in another space.
    if (member === e) place(own, e, box);
    const inner = own.rewritten(member) + clientOf(text, anchor);
    return anchored(kindOf(anchor), { x, declare: bindingsOf(anchor), box, grid }, inner);
  });
  splice.replace(anchor, apart.join(''));
}

/** Gives a group the room of what is in it, which stays where it is, and its anchor the place of that. */
export function setRoom({ splice, grid, elementOf }: SheetDrawing, id: ItemId, box: Box): void {
  const e = elementOf(id);
  const xfrm = descend(e, 'grpSpPr', 'xfrm');
  if (!e || !xfrm || !isWhole(e)) return;
  const a = prefixOf(xfrm);
  splice.replace(xfrm, transformText(a, { box, ...UPRIGHT }, spaceText(a, boxBefore(mappingOf(e), box))));
  anchorOf(e.parent!, e, () => grid).write(splice, box);
}

/** A shape as it is written in a group, where its own place counts (§20.1.7.6, xfrm). */
function placed(text: string, e: Element, box: Box): string {
  const splice = new Splice(text);
  bindAs(splice, e, [e.parent!]);
  forgetItem(splice, descend(e, 'nvSpPr', 'cNvPr'));
  place(splice, e, box);
  return splice.rewritten(e);
}

/** Writes where a shape says that it lies. */
function place(splice: Splice, e: Element, box: Box): void {
  const holder = e.local === 'graphicFrame' ? e : child(e, 'spPr');
  const xfrm = child(holder, 'xfrm');
  const [off, ext] = [child(xfrm, 'off'), child(xfrm, 'ext')];
  if (off && ext) {
    splice.attribute(off, 'x', String(toEmu(box.x)));
    splice.attribute(off, 'y', String(toEmu(box.y)));
    splice.attribute(ext, 'cx', String(toEmu(box.width)));
    splice.attribute(ext, 'cy', String(toEmu(box.height)));
  } else if (holder) {
    const own = transformText('a:', { box, ...UPRIGHT });
    const a = namespaceOf('drawing', isStrict(e.uri));
    const xml = own.replace('<a:xfrm', `<a:xfrm xmlns:a="${a}"`);
    if (xfrm) splice.replace(xfrm, xml);
    else if (holder.children[0]) splice.before(holder.children[0], xml);
    else splice.append(holder, xml);
  }
}

/** What other programs keep of an anchor (§20.5.2.3, clientData). */
function clientOf(text: string, anchor: Element): string {
  const client = child(anchor, CLIENT);
  return client ? text.slice(client.start, client.end) : `<${prefixOf(anchor)}${CLIENT}/>`;
}

const alike = (texts: readonly string[]): string | null => (texts.every((t) => t === texts[0]) ? texts[0]! : null);
