import { VEIL_ATTRIBUTE } from '../metadata/veils';
import { ancestor, type Element } from '../xml/located';
import type { Drawing, Place } from './drawing';
import { patternOf, imagesIn, fillingOf, usedImage, hrefOf } from './fills';
import { type Presentation } from './presentation';
import { ownGroup, strokeOf } from './read-image';

export const inGroup = (e: Element): boolean => e.parent?.local === 'g';

export function textIn(e: Element): string {
  const out: string[] = [];
  const visit = (at: Element): void => {
    if (at.local === 'text' || at.local === 'tspan' || (at.local === 'title' && at.parent === e)) out.push(at.text);
    at.children.forEach(visit);
  };
  visit(e);
  return out.join(' ').replace(/\s+/g, ' ').trim();
}

const isOfVeil = (e: Element): boolean => ancestor(e, (a) => a.attributes[VEIL_ATTRIBUTE] !== undefined) !== undefined;

/** An image, a use of one, or a shape that is filled with one. */
export function placeOf(e: Element, { ids, looks, patterned }: Drawing): Place | null {
  // What lies beneath a veil was painted for that.
  if (e.local === 'image') return isOfVeil(e) ? null : { image: e, definitions: [] };
  if (e.local === 'use') return inPlace(e, ids, looks);
  if (!patterned || !DRAWN.test(e.local)) return null;
  const pattern = patternOf(looks.of(e).get('fill'), ids);
  if (!pattern) return null;
  const [first] = imagesIn(pattern);
  // The tiles of a frame of ours.
  if (first && ownGroup(first)) return { image: first, definitions: [] };
  const filled = fillingOf(e, pattern, ids);
  return filled && strokeOf(looks.of(e)) !== undefined ? { image: filled.image, filled, shape: e } : null;
}

/** What has a fill of its own (SVG 2 §10, basic shapes and paths). */
const DRAWN = /^(path|rect|circle|ellipse|line|polyline|polygon)$/;

/** A used image as one that stands where it is used. */
function inPlace(use: Element, ids: ReadonlyMap<string, Element>, looks: Presentation): Place | null {
  const used = usedImage(use, ids);
  if (!used || ['clip-path', 'mask'].some((name) => (looks.of(use).get(name) ?? 'none') !== 'none')) return null;
  const transform = `${use.attributes['transform'] ?? ''} matrix(${used.matrix.join(' ')})`;
  const { x, y, width, height, ...more } = use.attributes;
  const { id, ...own } = used.image.attributes;
  void [x, y, width, height, id];
  const attributes = { ...own, ...more, href: hrefOf(used.image) ?? '', transform };
  const name = `${use.name.slice(0, -use.local.length)}image`;
  const image = { ...use, name, local: 'image', children: used.image.children, attributes };
  return { image, definitions: [used.image] };
}

/** How often a text names an element. */
export const namings = (text: string, id: string | undefined): number =>
  id === undefined ? 1 : text.split(new RegExp(`#${id.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}(?=["')\\s])`)).length - 1;
