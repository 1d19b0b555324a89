import { bounds, IDENTITY, multiply, type Matrix, type Path, type Rect } from '@gable/core';
import { outlineOf, readTransform, svgLength } from '@gable/core/silhouette';
import { attributeOf, type Element } from '../xml/located';

/** A picture that a shape is filled with, in the shape's own units. */
export interface Filling {
  image: Element;
  /** The way of the shape. */
  path: Path;
  /** The image's viewport. */
  port: Rect;
  /** One tile of the pattern; the first one lies here. */
  tile: Rect;
  /** What is defined for this: the pattern, and the image where that stands elsewhere. */
  definitions: Element[];
}

/** What an address within the drawing points at. */
export function target(text: string | undefined, ids: ReadonlyMap<string, Element>): Element | undefined {
  return ids.get(/^\s*(?:url\(\s*)?["']?#([^"')\s]+)/.exec(text ?? '')?.[1] ?? '');
}

export const hrefOf = (e: Element): string | undefined => e.attributes['href'] ?? attributeOf(e, 'href');

/** The pattern that a shape is filled with. */
export function patternOf(fill: string | undefined, ids: ReadonlyMap<string, Element>): Element | null {
  const pattern = /^\s*url\(/.test(fill ?? '') ? target(fill, ids) : undefined;
  return pattern?.local === 'pattern' ? pattern : null;
}

export function imagesIn(e: Element): Element[] {
  return e.children.flatMap((c) => (c.local === 'image' ? [c] : imagesIn(c)));
}

/**
 * A shape whose fill is a pattern of one upright image and nothing else (SVG 2 §14.3); null for all others. Patterns that
 * take from others, have a `viewBox` or are turned are others.
 */
export function fillingOf(shape: Element, pattern: Element, ids: ReadonlyMap<string, Element>): Filling | null {
  const path = outlineOf(shape.local, shape.attributes);
  if (!path || path.length === 0) return null;
  const box = bounds(path);
  const { attributes: p } = pattern;
  if (!(box.width > 0) || !(box.height > 0) || hrefOf(pattern) !== undefined || p['viewBox']) return null;
  const held = only(pattern, ids);
  if (!held) return null;
  const whole = p['patternUnits'] !== 'userSpaceOnUse';
  const share = (name: string): number => {
    const text = p[name] ?? '0';
    return text.trim().endsWith('%') ? Number.parseFloat(text) / 100 : svgLength(text);
  };
  const tile: Rect = whole
    ? {
        x: box.x + share('x') * box.width,
        y: box.y + share('y') * box.height,
        width: share('width') * box.width,
        height: share('height') * box.height,
      }
    : { x: svgLength(p['x']), y: svgLength(p['y']), width: svgLength(p['width']), height: svgLength(p['height']) };
  const content: Matrix =
    p['patternContentUnits'] === 'objectBoundingBox' ? [box.width, 0, 0, box.height, 0, 0] : IDENTITY;
  const moved = readTransform(p['patternTransform']);
  // What a pattern holds counts from the corner of its tile.
  const inner = multiply(multiply(moved, [1, 0, 0, 1, tile.x, tile.y]), multiply(content, held.matrix));
  if (!isUpright(moved) || !isUpright(inner) || !(tile.width > 0) || !(tile.height > 0)) return null;
  const { attributes: a } = held.image;
  const port = {
    x: svgLength(a['x']),
    y: svgLength(a['y']),
    width: svgLength(a['width']),
    height: svgLength(a['height']),
  };
  if (!(port.width > 0) || !(port.height > 0)) return null;
  return {
    image: held.image,
    path,
    port: placed(inner, port),
    tile: placed(moved, tile),
    definitions: held.beside ? [pattern, held.beside] : [pattern],
  };
}

/** The one image in an element, itself or used from elsewhere; null where there is anything beside it. */
function only(
  e: Element,
  ids: ReadonlyMap<string, Element>,
): { image: Element; matrix: Matrix; beside: Element | null } | null {
  const drawn = e.children.filter((c) => !/^(title|desc|metadata)$/.test(c.local));
  const [child] = drawn;
  if (!child || drawn.length > 1) return null;
  const own = readTransform(child.attributes['transform']);
  if (child.local === 'image') return { image: child, matrix: own, beside: null };
  if (child.local === 'g') {
    const held = only(child, ids);
    return held && { ...held, matrix: multiply(own, held.matrix) };
  }
  const used = child.local === 'use' ? usedImage(child, ids) : null;
  return used && { image: used.image, matrix: multiply(own, used.matrix), beside: used.image };
}

/** The image that a `use` shows, and where that puts it (SVG 2 §5.6). */
export function usedImage(use: Element, ids: ReadonlyMap<string, Element>): { image: Element; matrix: Matrix } | null {
  const image = target(hrefOf(use), ids);
  if (image?.local !== 'image') return null;
  const { attributes: a } = use;
  const at: Matrix = [1, 0, 0, 1, svgLength(a['x']), svgLength(a['y'])];
  return { image, matrix: multiply(at, readTransform(image.attributes['transform'])) };
}

const isUpright = ([a, b, c, d]: Matrix): boolean => a > 0 && d > 0 && Math.abs(b) < 1e-6 * a && Math.abs(c) < 1e-6 * d;

const placed = ([a, , , d, e, f]: Matrix, r: Rect): Rect => ({
  x: a * r.x + e,
  y: d * r.y + f,
  width: a * r.width,
  height: d * r.height,
});
