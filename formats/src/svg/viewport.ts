import { type Matrix, IDENTITY, type Size, soundMatrix, multiply } from '@gable/core';
import { svgLength, readTransform } from '@gable/core/silhouette';
import type { Sheet } from '../codec/contract';
import { PIXEL } from '../css/lengths';
import type { Element } from '../xml/located';

export const viewBoxOf = (root: Element): number[] =>
  (root.attributes['viewBox'] ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);

/** From user units of the outermost element to CSS pixels (SVG 2 §8.2; the ratio of a `viewBox` is taken as it is). */
export function pageOf(root: Element): Matrix {
  const [x = 0, y = 0, w = 0, h = 0] = viewBoxOf(root);
  if (!(w > 0) || !(h > 0)) return IDENTITY;
  const width = svgLength(root.attributes['width']);
  const height = svgLength(root.attributes['height']);
  const k =
    width > 0 && height > 0 ? Math.min(width / w, height / h) : width > 0 ? width / w : height > 0 ? height / h : 1;
  return [k, 0, 0, k, -x * k, -y * k];
}

/** The page in points: as large as it says, or as its `viewBox`; the usual size of a drawing that says nothing (CSS 2.2 §10.3.2). */
export function sheetOf(root: Element, [k]: Matrix): Sheet {
  const [, , w = 0, h = 0] = viewBoxOf(root);
  const width = svgLength(root.attributes['width']) || w * k || 300;
  const height = svgLength(root.attributes['height']) || h * k || 150;
  return { width: width * PIXEL, height: height * PIXEL, background: '#ffffff', items: [] };
}

/** What percentages of an element are of: the nearest viewport round it (SVG 2 §8.9), in its own units. */
export function viewportOf(e: Element): Size {
  let at = e.parent;
  while (at && at.local !== 'svg') at = at.parent;
  if (!at) return { width: 300, height: 150 };
  const [, , w = 0, h = 0] = viewBoxOf(at);
  if (w > 0 && h > 0) return { width: w, height: h };
  const outer = at.parent ? viewportOf(at) : { width: 300, height: 150 };
  return {
    width: svgLength(at.attributes['width'] ?? '100%', outer.width) || outer.width,
    height: svgLength(at.attributes['height'] ?? '100%', outer.height) || outer.height,
  };
}

/** A length of a style sheet; null for `auto` and what is none. */
export const plainLength = (text: string | undefined): string | null =>
  /^\s*[-+]?[\d.]+/.test(text ?? '') ? text! : null;

/** The matrix from an element's place (its own `transform` not included) to pixels of the page. */
export function outerOf(e: Element, page: Matrix): Matrix {
  const chain: Matrix[] = [];
  for (let p = e.parent; p; p = p.parent) {
    chain.unshift(readTransform(p.attributes['transform']));
    // A drawing inside the drawing moves its content (SVG 2 §8.2); its own `viewBox` is left out of account.
    if (p.local === 'svg' && p.parent) {
      const view = viewportOf(p);
      chain.unshift([
        ...[1, 0, 0, 1],
        svgLength(p.attributes['x'], view.width),
        svgLength(p.attributes['y'], view.height),
      ] as unknown as Matrix);
    }
  }
  return soundMatrix(chain.reduce(multiply, page));
}
