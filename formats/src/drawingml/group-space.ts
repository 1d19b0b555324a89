import type { Box } from '@gable/core';
import { child, descend, type Element } from '../xml/located';
import { integer, measure } from './values';

/** How the groups round an element map its coordinates to the slide. In points. */
export function mappingInto(element: Element): { x: number; y: number; k: { x: number; y: number } } {
  const out = { x: 0, y: 0, k: { x: 1, y: 1 } };
  for (let e = element.parent; e; e = e.parent) {
    if (e.local !== 'grpSp') continue;
    const own = mappingOf(e);
    for (const axis of ['x', 'y'] as const) {
      out[axis] = own[axis] + out[axis] * own.k[axis];
      out.k[axis] *= own.k[axis];
    }
  }
  return out;
}

/** A box of the slide as it counts in the groups round an element. In points. */
export function boxWithin(element: Element, box: Box): Box {
  const outer = mappingInto(element);
  return {
    x: (box.x - outer.x) / outer.k.x,
    y: (box.y - outer.y) / outer.k.y,
    width: box.width / outer.k.x,
    height: box.height / outer.k.y,
  };
}

/** What is in a group, in the units of what the group is in: first times `k`, then moved. */
export function mappingOf(group: Element): { x: number; y: number; k: { x: number; y: number } } {
  const xfrm = descend(group, 'grpSpPr', 'xfrm');
  const at = (name: string, key: string): number => measure(child(xfrm, name)?.attributes[key]) ?? 0;
  const ratio = (key: string): number => {
    const [outer, inner] = [
      integer(child(xfrm, 'ext')?.attributes[key]),
      integer(child(xfrm, 'chExt')?.attributes[key]),
    ];
    return outer > 0 && inner > 0 ? outer / inner : 1;
  };
  const k = { x: ratio('cx'), y: ratio('cy') };
  return { x: at('off', 'x') - at('chOff', 'x') * k.x, y: at('off', 'y') - at('chOff', 'y') * k.y, k };
}
