import type { Element } from '../../src/xml/located';

/** All elements of this local name, the element itself included. */
export const find = (e: Element, local: string): Element[] => [
  ...(e.local === local ? [e] : []),
  ...e.children.flatMap((c) => find(c, local)),
];
