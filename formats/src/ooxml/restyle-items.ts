import type { FramedItem, ItemId } from '@gable/core';
import type { Restyling } from '../codec/contract';
import type { Theme } from '../drawingml/colour';
import { namingAt } from '../drawingml/look-text';
import { restyleShape, type Ways } from '../drawingml/restyle';
import type { Element } from '../xml/located';
import type { Splices } from '../xml/splices';
import type { Additions } from './additions';
import { isStrict } from './names';

interface Shapes extends Ways {
  elements: ReadonlyMap<ItemId, Element>;
  /** The part that an element stands in. */
  partOf: (e: Element) => string | undefined;
  fontsOf: (part: string) => Theme['fonts'];
  splices: Splices;
  additions: Additions;
  /** Says elsewhere, too, where a shape lies now, and how it looks. */
  elsewhere?: (e: Element, part: string, change: { was: FramedItem; now: FramedItem }) => void;
}

/** Shapes and words of a package that look otherwise. @throws GableError `cannot-write` where words are others */
export function restyleItems(
  { elements, partOf, fontsOf, splices, additions, elsewhere, ...ways }: Shapes,
  { items, veils }: Pick<Restyling, 'items' | 'veils'>,
): void {
  for (const [id, change] of items) {
    const element = elements.get(id);
    const part = element && partOf(element);
    if (part === undefined) continue;
    const strict = isStrict(element!.uri);
    const veil = veils.get(id);
    const rid = veil && additions.relateTo({ part, strict }, veil);
    const a = { ...namingAt(element!, strict), declare: '', fonts: fontsOf(part) };
    restyleShape(splices.of(part), element!, { ...change, a, rid }, ways);
    elsewhere?.(element!, part, change);
  }
}
