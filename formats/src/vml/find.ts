import { type Box, POINTS, type Unit } from '@gable/core';
import type { Site } from '../drawingml/site';
import { integer } from '../drawingml/values';
import { NS, isStrict } from '../ooxml/names';
import { type Element, child, attributeOf } from '../xml/located';

/**
 * Pictures in the older drawing markup, VML (ISO/IEC 29500-4 §14.1): read and shown as they are, and turned into DrawingML
 * when they are framed, since VML cannot crop to a shape.
 */
const VML = 'urn:schemas-microsoft-com:vml';

export interface Legacy {
  /** `w:pict`, all of which is replaced. */
  pict: Element;
  shape: Element;
  image: Element;
  /** The coordinates of the groups it is in; null for a picture that stands alone. */
  group: Units | null;
}

/** Units of a group's coordinates in points, and where they count from (ISO/IEC 29500-4 §14.1.2.7, group). */
interface Units {
  scale: { x: number; y: number };
  origin: { x: number; y: number };
}

/** The pictures of a `w:pict`: one that stands alone, or those in its groups; none of text boxes. */
export function legaciesOf(pict: Element): Legacy[] {
  if (pict.local !== 'pict' || !NS.word.has(pict.uri)) return [];
  const shapes = pict.children.filter((c) => c.uri === VML && c.local !== 'shapetype');
  const [shape] = shapes;
  if (!shape || shapes.length > 1) return [];
  if (shape.local === 'group') return grouped(pict, shape, null);
  const image = child(shape, 'imagedata');
  return !image || child(shape, 'textbox') ? [] : [{ pict, shape, image, group: null }];
}

function grouped(pict: Element, group: Element, outer: Units | null): Legacy[] {
  const units = unitsOf(group, outer);
  if (!units) return [];
  return group.children.flatMap((shape): Legacy[] => {
    if (shape.uri !== VML) return [];
    if (shape.local === 'group') return grouped(pict, shape, units);
    const image =
      /^(shape|rect)$/.test(shape.local) && !child(shape, 'textbox') ? child(shape, 'imagedata') : undefined;
    return image ? [{ pict, shape, image, group: units }] : [];
  });
}

/** What a group's coordinates are; null for a group without a size. */
function unitsOf(group: Element, outer: Units | null): Units | null {
  const pair = (name: string, usual: number): [number, number] => {
    const [x, y] = (group.attributes[name] ?? '').split(',').map((v) => Number(v.trim() || usual));
    return [Number.isFinite(x) ? x! : usual, Number.isFinite(y) ? y! : usual];
  };
  const [width, height] = pair('coordsize', 1000);
  const [left, top] = pair('coordorigin', 0);
  const box = boxIn(group, outer);
  const scale = { x: box.width / width, y: box.height / height };
  if (!(scale.x > 0) || !(scale.y > 0)) return null;
  return { scale, origin: { x: box.x - left * scale.x, y: box.y - top * scale.y } };
}

/** A shape's box in points, from what its group counts from; lengths of its own where it is in none. */
export function boxIn(shape: Element, group: Units | null): Box {
  const style = styleOf(shape);
  if (!group) {
    const floating = style.get('position') === 'absolute';
    return {
      x: floating ? lengthOf(style.get('margin-left')) : 0,
      y: floating ? lengthOf(style.get('margin-top')) : 0,
      width: lengthOf(style.get('width')),
      height: lengthOf(style.get('height')),
    };
  }
  const { scale, origin } = group;
  const units = (name: string): number => integer(style.get(name));
  return {
    x: origin.x + units('left') * scale.x,
    y: origin.y + units('top') * scale.y,
    width: units('width') * scale.x,
    height: units('height') * scale.y,
  };
}

/** Where a picture's data and surroundings are told from; it is never written to. */
export const legacySite = ({ pict, shape, image, group }: Legacy, part: string): Site & { holder: Element } => ({
  part,
  pic: shape,
  holder: pict,
  spPr: undefined,
  // The relationship's id is an attribute of the image, as it is of a blip.
  blipFill: { ...shape, children: [{ ...image, local: 'blip', attributes: { 'r:embed': idOf(image) ?? '' } }] },
  group: group && { x: 1, y: 1 },
  strict: isStrict(pict.uri),
});

export const idOf = (image: Element): string | undefined => attributeOf(image, 'id') ?? attributeOf(image, 'relid');

/** Declarations of a VML `style` attribute (ISO/IEC 29500-4 §14.1.2.19). */
export function styleOf(e: Element): Map<string, string> {
  const pairs = (e.attributes['style'] ?? '').split(';').map((d) => d.split(':').map((v) => v.trim()));
  return new Map(pairs.flatMap(([k, v]) => (k && v ? [[k.toLowerCase(), v] as const] : [])));
}

export function lengthOf(text: string | undefined): number {
  const m = /^(-?\d*\.?\d+)(pt|in|cm|mm|px)?$/i.exec(text ?? '');
  // Without a unit a length counts in pixels.
  return m ? Number(m[1]) * POINTS[(m[2]?.toLowerCase() ?? 'px') as Unit] : 0;
}
