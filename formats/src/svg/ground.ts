import { GableError, type Paint } from '@gable/core';
import { NOT_DRAWN, svgLength } from '@gable/core/silhouette';
import { cssColour } from '../css/colour';
import type { Element } from '../xml/located';
import type { Splice } from '../xml/splice';
import { SVG, type Drawing } from './drawing';
import { strokeOf } from './read-image';
import { viewBoxOf } from './viewport';

/** The colour behind a drawing: the first thing that is drawn, where that is a plain rectangle as large as the whole. */
export interface Ground {
  element: Element;
  /** `#rrggbb` */
  colour: string;
}

const WORDS = new Set(['title', 'desc', 'style', 'script']);
const isDrawn = (e: Element): boolean =>
  !NOT_DRAWN.has(e.local) && !WORDS.has(e.local) && (e.uri === SVG || e.uri === '');

export function groundOf(root: Element, { looks }: Pick<Drawing, 'looks'>): Ground | null {
  const element = root.children.find(isDrawn);
  if (element?.local !== 'rect') return null;
  const { attributes: a } = element;
  const plain = new Set(['x', 'y', 'width', 'height', 'fill', 'style', 'id', 'class']);
  if (Object.keys(a).some((name) => !plain.has(name)) || element.children.length > 0) return null;
  const style = looks.of(element);
  const colour = cssColour(style.get('fill') ?? '#000');
  const isFaded = ['opacity', 'fill-opacity'].some((name) => Number(style.get(name) ?? 1) !== 1);
  const isHidden = style.get('display') === 'none' || style.get('visibility') === 'hidden';
  if (!colour || colour.opacity !== 1 || isFaded || isHidden || strokeOf(style) !== null) return null;
  if (['clip-path', 'mask', 'filter'].some((name) => (style.get(name) ?? 'none') !== 'none')) return null;
  const [x = 0, y = 0, width = 0, height = 0] = viewBoxOf(root);
  const all = {
    width: width || svgLength(root.attributes['width']),
    height: height || svgLength(root.attributes['height']),
  };
  const from = { x: svgLength(a['x'], all.width), y: svgLength(a['y'], all.height) };
  const covers = (['width', 'height'] as const).every((side) => {
    const start = side === 'width' ? from.x - x : from.y - y;
    return start <= 1e-6 && start + svgLength(a[side], all[side]) >= all[side] - 1e-6;
  });
  return covers && all.width > 0 && all.height > 0 ? { element, colour: colour.colour } : null;
}

/** Gives a drawing another colour behind all of it. @throws GableError `cannot-write` for a gradient */
export function writeGround(splice: Splice, root: Element, was: Ground | null, paint: Paint): void {
  if (paint.kind !== 'solid')
    throw new GableError(
      'cannot-write',
      'A gradient cannot be written behind a drawing.',
      'Choose one colour, or put a block behind the picture.',
      {},
    );
  if (was) {
    // Styles come before attributes (SVG 2 §6.6).
    const style = was.element.attributes['style'];
    const others = (style ?? '').split(';').filter((s) => s.trim() !== '' && !/^\s*fill\s*:/.test(s));
    if (
      style === undefined &&
      was.element.attributes['fill'] !== undefined &&
      was.element.attributes['class'] === undefined
    )
      splice.attribute(was.element, 'fill', paint.colour);
    else splice.attribute(was.element, 'style', [...others, `fill:${paint.colour}`].join(';'));
    return;
  }
  const [x = 0, y = 0] = viewBoxOf(root);
  const prefix = root.name.slice(0, root.name.length - root.local.length);
  const corner = x === 0 && y === 0 ? '' : ` x="${x}" y="${y}"`;
  const rect = `<${prefix}rect${corner} width="100%" height="100%" style="fill:${paint.colour};stroke:none"/>`;
  const first = root.children.find(isDrawn);
  if (first) splice.before(first, rect);
  else splice.append(root, rect);
}
