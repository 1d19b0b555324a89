import type { Element } from '../xml/located';

/** An id that no element of this name has, below a root: those of drawings are numbers (ISO/IEC 29500-1 §20.1.2.2.8, §20.4.2.5). */
export function freeId(root: Element, local: 'cNvPr' | 'docPr'): number {
  let most = 0;
  const visit = (e: Element): void => {
    if (e.local === local) most = Math.max(most, Number(e.attributes['id']) || 0);
    e.children.forEach(visit);
  };
  visit(root);
  return most + 1;
}

/** Where drawings beside a text begin to be counted from the back (common practice). */
const FIRST_HEIGHT = 251_658_240;
const MOST_HEIGHT = 2 ** 32 - 1;

/**
 * How far in front a drawing beside a text lies, before all others of its part (ISO/IEC 29500-1 §20.4.2.3, relativeHeight).
 * @param at any element of the part
 * @param nth of several that come at once, from 1
 */
export function frontHeight(at: Element, nth = 1): number {
  let most = FIRST_HEIGHT;
  const visit = (e: Element): void => {
    if (e.local === 'anchor') most = Math.max(most, Number(e.attributes['relativeHeight']) || 0);
    e.children.forEach(visit);
  };
  let root = at;
  while (root.parent) root = root.parent;
  visit(root);
  return Math.min(MOST_HEIGHT, most + nth);
}
