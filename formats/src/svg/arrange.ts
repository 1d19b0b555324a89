import { itemsOf, slotsOf, withChildren, type ItemId, type Matrix, type PictureItem } from '@gable/core';
import { arrangePart, refuseOtherHolders } from '../codec/arrange';
import type { Arrangement } from '../codec/contract';
import type { Element } from '../xml/located';
import { Splice } from '../xml/splice';
import { plainImage } from './create';
import { outerOf } from './viewport';

/** A drawing, and where its items stand. */
export interface DrawnItems {
  text: string;
  root: Element;
  page: Matrix;
  elements: ReadonlyMap<ItemId, Element>;
  /** What is defined for a picture's sake alone. */
  definitionsOf(id: ItemId): readonly Element[];
}

/**
 * Puts what is in a drawing into another order, takes items out, and puts new pictures among those of the outermost element.
 * What is in a group stays in it: it counts and looks as the group has it (SVG 2 §5.2, §6.6). A new one comes into a group only
 * in the place of a shape that stands there; what lies on the page can come together in a new one.
 * @throws GableError `cannot-write`
 */
export function arrangeDrawing(
  { text, root, page, elements, definitionsOf }: DrawnItems,
  { from, to, fills, imageOf }: Arrangement,
): string {
  const holder = { page: to.pages[0]!.id };
  refuseOtherHolders({ from, to, fills });
  const splice = new Splice(text);
  const ids = itemsOf(from, holder).flatMap((id) => withChildren(from, id));
  for (const id of ids) if (!to.items[id]) for (const e of definitionsOf(id)) splice.replace(e, '');
  const slots = slotsOf(to);
  const prefix = root.name.slice(0, root.name.length - root.local.length);
  const create = (id: ItemId, inner: string): string => {
    if (to.items[id]!.kind === 'group') return `<${prefix}g>${inner}</${prefix}g>`;
    const item = to.items[id] as PictureItem;
    const instead = 'group' in slots.get(id)!.in ? elements.get(fills.get(id)!) : undefined;
    const units = instead ? outerOf(instead, page) : page;
    return plainImage(root, units, { image: imageOf(id), alt: item.alt }, item.at.box);
  };
  const part = {
    text,
    from,
    to,
    elements,
    create,
    within: splice.changes(),
    removed: (id: ItemId) => elements.get(id)!,
  };
  return arrangePart(part, [{ container: root, before: itemsOf(from, holder), after: itemsOf(to, holder) }]);
}
