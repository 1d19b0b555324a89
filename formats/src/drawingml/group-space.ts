import type { Box } from '@gable/core';
import { child, descend, type Element } from '../xml/located';
import { integer, measure } from './values';

/** What is first scaled by `k` and then moved. In points. */
export interface Mapping {
  x: number;
  y: number;
  k: { x: number; y: number };
}

/** How the groups round an element map its coordinates to the slide. */
export function mappingInto(element: Element): Mapping {
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
  return boxBefore(mappingInto(element), box);
}

/** The box that is mapped to this one. In points. */
export const boxBefore = ({ x, y, k }: Mapping, box: Box): Box => ({
  x: (box.x - x) / k.x,
  y: (box.y - y) / k.y,
  width: box.width / k.x,
  height: box.height / k.y,
});

/** How a group maps what is in it to the slide. */
export function mappingWithin(group: Element): Mapping {
  const [own, outer] = [mappingOf(group), mappingInto(group)];
  const on = (axis: 'x' | 'y'): number => outer[axis] + own[axis] * outer.k[axis];
  return { x: on('x'), y: on('y'), k: { x: own.k.x * outer.k.x, y: own.k.y * outer.k.y } };
}

/** How a group maps what is in it to what the group is in. */
export function mappingOf(group: Element): Mapping {
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
