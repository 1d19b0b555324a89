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
