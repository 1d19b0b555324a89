import {
  equal,
  GableError,
  itemsOf,
  withChildren,
  type Document,
  type Holder,
  type ItemId,
  type PictureItem,
} from '@gable/core';
import { arrangePart, refuseOtherHolders, type Holding } from '../codec/arrange';
import type { Arrangement, ReplacementImage } from '../codec/contract';
import type { Element } from '../xml/located';
import { Splice } from '../xml/splice';
import { fillShape } from './fill';
import type { Part } from './found';
import { frameAlone, frameText, isBehindShapes } from './insert';
import { is, Names, writeLength } from './names';
import type { Site } from './site';
import type { StyleWriter } from './write-frame';

/** A presentation or a drawing whose items are arranged. */
export interface Pages {
  parts: ReadonlyMap<string, Part>;
  /** Elements that hold items: pages by the order of the document's, masters by the ids of its layers. */
  pages: readonly Element[];
  masters: ReadonlyMap<string, Element>;
  elementOf(id: ItemId): Element | undefined;
  /** A shape as a picture may fill it. */
  siteOf(e: Element): Site;
  styles: StyleWriter;
  store(image: ReplacementImage): string;
  /** A name for a drawing that no other has. */
  newName(): string;
  /** Changes of a part beside those of its order, and what puts new styles among them. */
  spliceOf(part: string): Splice;
  flush(): void;
}

/**
 * Puts what lies on pages into another order, takes items out and puts new pictures in, at any height or in the place of a shape. What
 * is in a group stays in it; what lies on a page can come together in a new one. Connectors let go of what is gone (ODF 1.2 Part 1 §19.140, draw:end-shape; §19.237, draw:start-shape).
 * @returns the text of each part that is another now
 * @throws GableError `cannot-write`
 */
export function arrangeItems(into: Pages, { from, to, fills, imageOf }: Arrangement): Map<string, string> {
  refuseOtherHolders({ from, to, fills });
  const { parts, elementOf, styles } = into;
  const filled = new Set(fills.values());
  const create = (part: string, container: Element, id: ItemId): string => {
    const { alt, at } = to.items[id] as PictureItem;
    const href = into.store(imageOf(id));
    const target = fills.get(id);
    if (target !== undefined) {
      const site = into.siteOf(elementOf(target)!);
      return filledText(parts.get(part)!.text, site, { href, alt, styles });
    }
    const n = new Names(container);
    const spot = ` ${n.of('svg:x')}="${writeLength(at.box.x)}" ${n.of('svg:y')}="${writeLength(at.box.y)}"`;
    return frameText(n, { href, alt, name: into.newName() }, at.box, spot);
  };
  const within = (document: Document, holder: Holder): ItemId[] =>
    itemsOf(document, holder).flatMap((id) => withChildren(document, id));
  const planned = [...parts].map(([part, { text, root }]) => {
    const holders = holdersIn(into, part, to);
    const before = holders.flatMap(({ holder }) => within(from, holder));
    letGo(
      into.spliceOf(part),
      root,
      before.filter((id) => !to.items[id] && !filled.has(id)).map((id) => elementOf(id)!),
    );
    const made = new Map(
      holders.flatMap(({ container, holder }) =>
        within(to, holder).flatMap((id) =>
          from.items[id] || to.items[id]!.kind === 'group' ? [] : [[id, create(part, container, id)] as const],
        ),
      ),
    );
    const holdings = holders.map(({ container, holder }): Holding => {
      const lists = { was: itemsOf(from, holder), is: itemsOf(to, holder) };
      const last = container.children.find(isBehindShapes);
      return { container, last, before: withoutHeld(container, lists, elementOf), after: lists.is };
    });
    const elements = new Map(before.map((id) => [id, elementOf(id)!] as const));
    return { part, text, root, made, holdings, elements };
  });
  // What was made has styles of its own.
  into.flush();
  const out = new Map<string, string>();
  for (const { part, text, root, made, holdings, elements } of planned) {
    const removed = (id: ItemId): Element => frameAlone(elements.get(id)!);
    const changes = into.spliceOf(part).changes();
    const g = new Names(root).of('draw:g');
    const created = (id: ItemId, inner: string): string => made.get(id) ?? `<${g}>${inner}</${g}>`;
    const arranged = { text, from, to, elements, create: created, removed, within: changes };
    const next = arrangePart(arranged, holdings);
    if (next !== text) out.set(part, next);
  }
  return out;
}

function holdersIn({ pages, masters }: Pages, part: string, to: Document): { container: Element; holder: Holder }[] {
  if (part === 'content.xml') return to.pages.map(({ id }, i) => ({ container: pages[i]!, holder: { page: id } }));
  return to.layers.flatMap(({ id }) => {
    const container = masters.get(id);
    return container ? [{ container, holder: { layer: id } }] : [];
  });
}

/** A shape as it is written once a picture fills it. */
function filledText(text: string, site: Site, filling: { href: string; alt: string; styles: StyleWriter }): string {
  const splice = new Splice(text);
  fillShape(splice, site, filling);
  return splice.rewritten(site.element);
}

/**
 * What a page has had, without pictures that go with the shape that they stand in, among its words.
 * @throws GableError `cannot-write` for a shape that moves or goes without its pictures
 */
function withoutHeld(
  container: Element,
  { was, is }: Record<'was' | 'is', readonly ItemId[]>,
  elementOf: (id: ItemId) => Element | undefined,
): ItemId[] {
  const held = heldIn(container, was, elementOf);
  if (held.size === 0) return [...was];
  const [before, places] = [new Set(was), new Map(is.map((id, i) => [id, i]))];
  const isOrdered = equal(
    was.filter((id) => places.has(id)),
    is.filter((id) => before.has(id)),
  );
  const gone = new Set<ItemId>();
  for (const [holder, pictures] of held) {
    const left = pictures.filter((id) => places.has(id));
    const at = places.get(holder);
    const together = at === undefined ? left.length === 0 : left.every((id, k) => places.get(id) === at + 1 + k);
    const first = left[0] ?? pictures[0]!;
    if (!together || (at !== undefined && left.length < pictures.length && !isOrdered))
      throw new GableError('cannot-write', 'A picture stands in this text box.', 'Delete the picture first.', {
        id: first,
      });
    if (at === undefined) for (const id of pictures) gone.add(id);
  }
  return was.filter((id) => !gone.has(id));
}

/** Shapes with pictures among their words, and these. */
function heldIn(
  container: Element,
  was: readonly ItemId[],
  elementOf: (id: ItemId) => Element | undefined,
): Map<ItemId, ItemId[]> {
  const ids = new Map(was.map((id) => [elementOf(id), id]));
  const held = new Map<ItemId, ItemId[]>();
  for (const id of was)
    for (let e = elementOf(id)?.parent; e && e !== container; e = e.parent) {
      const holder = ids.get(e);
      if (holder === undefined) continue;
      held.set(holder, [...(held.get(holder) ?? []), id]);
      break;
    }
  return held;
}

/** What connectors and animations call an element. */
const namesOf = (e: Element): string[] => {
  const n = new Names(e);
  return [n.get(e, 'draw:id'), e.attributes['xml:id']].filter((v) => v !== undefined);
};

/** Does an animation move something of these names (ODF 1.2 Part 1 §19.411, smil:targetElement)? */
function isMoved(root: Element, names: ReadonlySet<string>): boolean {
  const visit = (e: Element): boolean =>
    Object.entries(e.attributes).some(([name, v]) => /:targetElement$/.test(name) && names.has(v)) ||
    e.children.some(visit);
  return names.size > 0 && visit(root);
}

/** Must an element stay by itself, and in no group: what an animation moves, and what fills a placeholder? */
export const standsAlone = (root: Element, e: Element): boolean =>
  new Names(e).get(e, 'presentation:class') !== undefined || isMoved(root, new Set(namesOf(e)));

/** @throws GableError `cannot-write` for what an animation moves */
function letGo(splice: Splice, root: Element, gone: readonly Element[]): void {
  const names = new Set(gone.flatMap(namesOf));
  if (names.size === 0) return;
  if (isMoved(root, names))
    throw new GableError(
      'cannot-write',
      'This cannot be removed: an animation moves it.',
      'Remove the animation first.',
      {},
    );
  const visit = (e: Element): void => {
    if (is(e, 'draw', 'connector')) {
      const n = new Names(e);
      for (const end of ['start', 'end'] as const)
        if (names.has(n.get(e, `draw:${end}-shape`) ?? ''))
          for (const name of [`draw:${end}-shape`, `draw:${end}-glue-point`]) splice.attribute(e, n.of(name), null);
    }
    e.children.forEach(visit);
  };
  visit(root);
}
