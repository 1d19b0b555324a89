import {
  equal,
  GableError,
  groupsRound,
  isPictureItem,
  isPlainGroup,
  itemsOf,
  toEmu,
  withChildren,
  type Document,
  type GroupItem,
  type Holder,
  type Item,
  type ItemId,
} from '@gable/core';
import { arrangePart } from '../codec/arrange';
import type { Arrangement } from '../codec/contract';
import type { Theme } from '../drawingml/colour';
import { groupText, spaceText } from '../drawingml/group-text';
import { boxBefore, boxWithin, mappingOf, mappingWithin, type Mapping } from '../drawingml/group-space';
import { measure } from '../drawingml/values';
import { Additions } from '../ooxml/additions';
import { freeId } from '../ooxml/ids';
import { isStrict } from '../ooxml/names';
import { filledShape } from '../drawingml/fill-shape';
import type { Package } from '../ooxml/package';
import { isAnimated } from '../ooxml/remove-picture';
import { letTimingGo } from './timing';
import { child, descend, encodeXml, type Element } from '../xml/located';
import { Splice } from '../xml/splice';
import { Splices } from '../xml/splices';
import { transformText } from '../drawingml/look-text';
import { plainPicture } from './create';

/** The parts of a deck that hold items, and where each of these stands. */
export interface DeckParts {
  pack: Package;
  main: string;
  /** The slides, in the order of the document's pages. */
  slides: readonly string[];
  /** Layouts and masters, by the ids of their layers. */
  layers: ReadonlyMap<string, string>;
  elements: ReadonlyMap<ItemId, Element>;
  /** The theme of a part. */
  theme(part: string): Theme;
}

const refused = (what: string, remedy: string, id: ItemId): GableError =>
  new GableError('cannot-write', what, remedy, { id });

/**
 * Arranges what lies on slides, layouts and masters: removes items, moves them to another height, into groups and out of them,
 * puts new pictures and groups in. Everything that moves is taken along as it is written. Connectors that were glued to what
 * is removed are let go.
 * @throws GableError `cannot-write` for what would change more than its place
 */
export function arrangeSlides(deck: DeckParts, { from, to, fills, imageOf }: Arrangement): Uint8Array {
  const { pack, main } = deck;
  refuseOtherHomes(from, to);
  const splices = new Splices((name) => pack.part(name));
  const additions = new Additions(pack, main, splices);
  const arranged = new Map<string, Uint8Array>();
  for (const { part, holder } of holdersIn(deck, to)) {
    const [before, after] = [withinOf(from, holder), withinOf(to, holder)];
    const touched = after.some((id) => isGroupSet(from.items[id], to.items[id]));
    if (!touched && equal(treeOf(from, holder), treeOf(to, holder))) continue;
    const { text, encoding, root } = pack.part(part);
    const tree = descend(root, 'cSld', 'spTree');
    if (!tree)
      throw refused('This slide has nothing on it that could be arranged.', 'Choose another slide.', after[0] ?? '');
    const place = { root, tree, deck };
    const splice = new Splice(text);
    const stay = new Set(after);
    const filled = new Set(fills.values());
    const gone = before.filter((id) => !stay.has(id) && !filled.has(id));
    gone.forEach((id) => refuseRemoval(id, from, place));
    letGo(splice, root, namesOf(gone, deck.elements));
    for (const id of after) {
      const [was, is] = [from.items[id], to.items[id]!];
      if (isGroupSet(was, is)) setGroup(splice, deck.elements.get(id)!, was as GroupItem, is as GroupItem);
    }
    recount(splice, { from, to }, before, deck.elements);
    let next = freeId(root, 'cNvPr');
    const strict = isStrict(tree.uri);
    const create = (id: ItemId, inner: string): string => {
      const item = to.items[id]!;
      if (item.kind === 'group') return groupText(tree, { id: next++, item, inner, nvPr: true }, strict);
      if (!isPictureItem(item)) throw refused('Only pictures and groups can come.', 'Take this one back.', id);
      const rid = additions.relateTo({ part, strict }, imageOf(id));
      const target = fills.get(id);
      if (target !== undefined) return filledShape(text, deck.elements.get(target)!, { alt: item.alt, rid }, strict);
      return plainPicture(tree, { id: next++, alt: item.alt, rid, box: item.at.box }, strict);
    };
    const last = tree.children.find((c) => c.local === 'extLst');
    const holding = { container: tree, last, before: itemsOf(from, holder), after: itemsOf(to, holder) };
    const items = { text, from, to, elements: deck.elements, create, within: splice.changes() };
    arranged.set(part, encodeXml({ text: arrangePart(items, [holding]), encoding }));
  }
  return additions.write(new Map([...splices.changed(), ...arranged]));
}

function holdersIn({ slides, layers }: DeckParts, to: Document): { part: string; holder: Holder }[] {
  return [
    ...to.pages.map(({ id }, i) => ({ part: slides[i]!, holder: { page: id } })),
    ...to.layers.flatMap(({ id }) => {
      const part = layers.get(id);
      return part === undefined ? [] : [{ part, holder: { layer: id } }];
    }),
  ];
}

/** All that a page or a layer holds, groups before their members. */
const withinOf = (document: Document, holder: Holder): ItemId[] =>
  itemsOf(document, holder).flatMap((id) => withChildren(document, id));

/** The order of a page's items, groups with their members. */
function treeOf(document: Document, holder: Holder): unknown {
  const visit = (id: ItemId): unknown => {
    const item = document.items[id];
    return item?.kind === 'group' ? [id, item.children.map(visit)] : id;
  };
  return itemsOf(document, holder).map(visit);
}

/** Relationships and colours are each slide's own: items stay on theirs. */
function refuseOtherHomes(from: Document, to: Document): void {
  const homes = (document: Document): Map<ItemId, string> => {
    const home = new Map<ItemId, string>();
    for (const { id } of document.pages) for (const item of withinOf(document, { page: id })) home.set(item, id);
    for (const { id } of document.layers) for (const item of withinOf(document, { layer: id })) home.set(item, id);
    return home;
  };
  const [was, is] = [homes(from), homes(to)];
  for (const [id, home] of is)
    if (was.has(id) && was.get(id) !== home)
      throw refused('This cannot move to another slide.', 'Move it on its own slide.', id);
}

interface Place {
  root: Element;
  tree: Element;
  deck: DeckParts;
}

function refuseRemoval(id: ItemId, from: Document, { root, deck }: Place): void {
  const element = deck.elements.get(id);
  if (!element) throw refused('This cannot be removed.', 'Leave it.', id);
  const item = from.items[id]!;
  if (isPictureItem(item) && descend(element, 'txBody', 'p', 'r'))
    throw refused('This picture cannot be removed: its shape holds words.', 'Remove the words first.', id);
  for (const name of namesOf([id], deck.elements))
    if (isAnimated(root, name))
      throw refused('This cannot be removed: an animation moves it.', 'Remove the animation first.', id);
}

/** Ids of drawings (§20.1.2.2.8, cNvPr) of items. */
function namesOf(items: readonly ItemId[], elements: ReadonlyMap<ItemId, Element>): Set<string> {
  const names = new Set<string>();
  for (const item of items) {
    const element = elements.get(item);
    const named = ['nvPicPr', 'nvSpPr', 'nvGrpSpPr', 'nvCxnSpPr', 'nvGraphicFramePr']
      .map((nv) => descend(element, nv, 'cNvPr'))
      .find((e) => e !== undefined);
    const id = named?.attributes['id'];
    if (id !== undefined) names.add(id);
  }
  return names;
}

/** Connectors lose their hold on what is gone, and nothing of it plays any more (§20.1.2.2.36, stCxn; §20.1.2.2.13, endCxn). */
function letGo(splice: Splice, root: Element, names: ReadonlySet<string>): void {
  if (names.size === 0) return;
  letTimingGo(splice, root, names);
  const visit = (e: Element): void => {
    if ((e.local === 'stCxn' || e.local === 'endCxn') && names.has(e.attributes['id'] ?? '')) splice.replace(e, '');
    else e.children.forEach(visit);
  };
  visit(root);
}

/** Does a group of the file get another place, turn or description? */
const isGroupSet = (was: Item | undefined, is: Item | undefined): boolean =>
  was?.kind === 'group' &&
  is?.kind === 'group' &&
  !(
    equal(was.at.box, is.at.box) &&
    equal(was.turn, is.turn) &&
    equal(was.flip, is.flip) &&
    equal(was.space, is.space) &&
    was.alt === is.alt
  );

/** A group's own place (§20.1.7.5, xfrm): its members follow, since they count in the group's space. */
function setGroup(splice: Splice, element: Element, was: GroupItem, is: GroupItem): void {
  const xfrm = descend(element, 'grpSpPr', 'xfrm')!;
  if (was.alt !== is.alt) {
    const named = descend(element, 'nvGrpSpPr', 'cNvPr');
    if (named) splice.attribute(named, 'descr', is.alt || null);
  }
  const prefix = xfrm.name.slice(0, -'xfrm'.length);
  const box = boxWithin(element, is.at.box);
  if (!equal(was.space, is.space)) {
    // Its room is another: what is in it stays where it is.
    if (!isPlainGroup(was) || !isPlainGroup(is))
      throw refused('The inside of this group cannot be scaled.', 'Scale the group.', is.id);
    const room = spaceText(prefix, boxBefore(mappingOf(element), box));
    splice.replace(xfrm, transformText(prefix, { ...is, box }, room));
    return;
  }
  if (equal(was.at.box, is.at.box) && equal(was.turn, is.turn) && equal(was.flip, is.flip)) return;
  const inner = ['chOff', 'chExt'].map((name) => child(xfrm, name)).map((e) => (e ? splice.source(e) : ''));
  splice.replace(xfrm, transformText(prefix, { ...is, box }, inner.join('')));
}

/** What comes to count otherwise than it did, in a group or out of one, is told where it lies there; pictures are by their frames. */
function recount(
  splice: Splice,
  { from, to }: { from: Document; to: Document },
  ids: readonly ItemId[],
  elements: ReadonlyMap<ItemId, Element>,
): void {
  const groupOf = (document: Document): ((id: ItemId) => ItemId | undefined) => {
    const round = groupsRound(document);
    return (id) => round.get(id)?.[0]?.id;
  };
  const [was, is] = [groupOf(from), groupOf(to)];
  const mapping = (group: ItemId | undefined): Mapping => {
    const element = group === undefined ? undefined : elements.get(group);
    return element ? mappingWithin(element) : { x: 0, y: 0, k: { x: 1, y: 1 } };
  };
  for (const id of ids) {
    const item = to.items[id];
    if (!item || isPictureItem(item) || was(id) === is(id)) continue;
    const [before, after] = [mapping(was(id)), mapping(is(id))];
    if (equal(before, after, 1e-6)) continue;
    const element = elements.get(id)!;
    const xfrm = child(element, 'xfrm') ?? descend(element, 'spPr', 'xfrm') ?? descend(element, 'grpSpPr', 'xfrm');
    if (!xfrm) throw refused('This has no place of its own and cannot leave or enter its group.', 'Leave it.', id);
    for (const [name, keys] of [
      ['off', ['x', 'y']],
      ['ext', ['cx', 'cy']],
    ] as const) {
      const said = child(xfrm, name);
      for (const [i, axis] of (['x', 'y'] as const).entries()) {
        const value = measure(said?.attributes[keys[i]!]);
        if (!said || value === null) continue;
        const length = name === 'ext';
        const onSlide = value * before.k[axis] + (length ? 0 : before[axis]);
        splice.attribute(said, keys[i]!, String(toEmu((onSlide - (length ? 0 : after[axis])) / after.k[axis])));
      }
    }
  }
}
