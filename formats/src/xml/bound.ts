import type { Element } from './located';
import type { Splice } from './splice';

/** Binds in an element what some round it bind, the outer ones first: it can stand elsewhere then. */
export function bindAs(splice: Splice, e: Element, around: readonly Element[]): void {
  for (const { attributes } of [...around, e])
    for (const [name, value] of Object.entries(attributes))
      if (name.startsWith('xmlns')) splice.attribute(e, name, value);
}
