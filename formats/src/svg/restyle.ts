import {
  equal,
  GableError,
  invert,
  multiply,
  toSvgPath,
  transform,
  trimNumber,
  type FramedItem,
  type Matrix,
  type Paint,
} from '@gable/core';
import { outlineOf, readTransform, svgLength } from '@gable/core/silhouette';
import { otherWords } from '../codec/contract';
import { PIXEL } from '../css/lengths';
import { styleWith, type Declaration } from '../css/rules';
import type { Element } from '../xml/located';
import type { Splice } from '../xml/splice';
import { scaleOf } from './read-image';
import { outerOf } from './viewport';

const n = (v: number): string => trimNumber(v, 4);

/**
 * Writes what of a shape or a text of a drawing looks otherwise: its place, its fill, its line, and how its words look. What is
 * declared in its `style` comes before attributes and style sheets (SVG 2 §6.6).
 * @param page from the drawing's units to pixels of the page
 * @throws GableError `cannot-write` for other words, and for what a text has no place for
 */
export function restyleDrawn(
  splice: Splice,
  e: Element,
  { was, now, page }: { was: FramedItem; now: FramedItem; page: Matrix },
): void {
  const outer = outerOf(e, page);
  const to = multiply(outer, readTransform(e.attributes['transform']));
  const moved = !equal([was.at, was.turn], [now.at, now.turn]);
  const scale = moved && e.local !== 'text' ? resized(splice, e, was, now) : SAME;
  if (moved) splice.attribute(e, 'transform', placedAt(e, { was, now, scale, to, outer }));
  if (e.local === 'text') {
    if (!equal([was.fill, was.outline], [now.fill, now.outline])) throw noBox(now.id);
    restyleWords(splice, e, { was, now, unit: scaleOf(to) * PIXEL });
    return;
  }
  const looks = [
    ...(equal(was.fill, now.fill) ? [] : fillLooks(now)),
    ...(equal(was.outline, now.outline)
      ? []
      : strokeLooks(now, scaleOf(to) * Math.sqrt(scale.stretch.x * scale.stretch.y) * PIXEL)),
  ];
  declare(splice, e, looks);
}

const noBox = (id: string): GableError =>
  new GableError('cannot-write', 'A text of a drawing has no box to fill or to outline.', 'Undo it.', { id });

function oneColour(paint: Paint, id: string): Paint & { kind: 'solid' } {
  if (paint.kind === 'solid') return paint;
  throw new GableError(
    'cannot-write',
    'A gradient cannot be written into a shape that a drawing has itself.',
    'Choose one colour.',
    { id },
  );
}

function fillLooks({ fill, id }: FramedItem): Declaration[] {
  if (fill?.kind !== 'paint') return [['fill', 'none']];
  const { colour, opacity } = oneColour(fill.paint, id);
  return [
    ['fill', colour],
    ['fill-opacity', n(opacity)],
  ];
}

/** @param unit points in a unit of the shape */
function strokeLooks({ outline, id }: FramedItem, unit: number): Declaration[] {
  if (!outline) return [['stroke', 'none']];
  const { colour, opacity } = oneColour(outline.paint, id);
  return [
    ['stroke', colour],
    ['stroke-opacity', n(opacity)],
    ['stroke-width', n(outline.weight / unit)],
  ];
}

/** Says these in the `style` of an element, in the place of what that said of the same. */
function declare(splice: Splice, e: Element, looks: readonly Declaration[]): void {
  if (looks.length === 0) return;
  splice.attribute(e, 'style', styleWith(e.attributes['style'] ?? '', looks));
}

/** How much wider and higher a shape is: in its own units, and beyond that by the matrix of its place. */
interface Scale {
  own: { x: number; y: number };
  stretch: { x: number; y: number };
}
const ONE = { x: 1, y: 1 };
const SAME: Scale = { own: ONE, stretch: ONE };

/** Gives a shape other sides, in its own units about their origin; a circle, which has one radius, is stretched. */
function resized(splice: Splice, e: Element, was: FramedItem, now: FramedItem): Scale {
  const x = now.at.box.width / was.at.box.width;
  const y = now.at.box.height / was.at.box.height;
  if (equal([x, y], [1, 1], 1e-6)) return SAME;
  const own: Scale = { own: { x, y }, stretch: ONE };
  const set = (name: string, k: number): void => {
    const value = e.attributes[name];
    if (value !== undefined) splice.attribute(e, name, n(svgLength(value) * k));
  };
  const across = ['x', 'width', 'rx', 'cx'];
  const down = ['y', 'height', 'ry', 'cy'];
  if (e.local === 'rect' || e.local === 'ellipse' || (e.local === 'circle' && equal(x, y, 1e-6))) {
    for (const name of across) set(name, x);
    for (const name of down) set(name, y);
    set('r', x);
    return own;
  }
  if (e.local === 'circle') return { own: ONE, stretch: { x, y } };
  const path = transform(outlineOf(e.local, e.attributes)!, [x, 0, 0, y, 0, 0]);
  if (e.local === 'path') splice.attribute(e, 'd', toSvgPath(path, 4));
  else {
    const points = path.flatMap((s) => (s.op === 'M' || s.op === 'L' ? [`${n(s.x)},${n(s.y)}`] : []));
    splice.attribute(e, 'points', points.join(' '));
  }
  return own;
}

interface Moved {
  was: FramedItem;
  now: FramedItem;
  scale: Scale;
  /** From its own units to pixels of the page, and from those round it. */
  to: Matrix;
  outer: Matrix;
}

/** The `transform` that puts an element where its item lies now. */
function placedAt(e: Element, { was, now, scale, to, outer }: Moved): string {
  const middle = ({ at: { box } }: FramedItem): { x: number; y: number } => ({
    x: (box.x + box.width / 2) / PIXEL,
    y: (box.y + box.height / 2) / PIXEL,
  });
  const [from, target] = [middle(was), middle(now)];
  const said = e.attributes['transform']?.trim() ?? '';
  const { own, stretch } = scale;
  const isSized = !equal(scale, SAME, 1e-6);
  if (now.turn === was.turn && !isSized) {
    const [a, b, c, d] = invert(outer);
    const [dx, dy] = [target.x - from.x, target.y - from.y];
    return `translate(${n(a * dx + c * dy)} ${n(b * dx + d * dy)})${said ? ` ${said}` : ''}`;
  }
  const angle = ((now.turn - was.turn) * Math.PI) / 180;
  const linear: Matrix = [to[0] * stretch.x, to[1] * stretch.x, to[2] * stretch.y, to[3] * stretch.y, 0, 0];
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const [a, b, c, d] = multiply([cos, sin, -sin, cos, 0, 0], linear);
  // Its middle, in its own units as they are now.
  const [mx, my] = middleIn(to, from);
  const [x, y] = [mx * own.x, my * own.y];
  const placed: Matrix = [a, b, c, d, target.x - a * x - c * y, target.y - b * x - d * y];
  return `matrix(${multiply(invert(outer), placed)
    .map((v) => trimNumber(v, 8))
    .join(' ')})`;
}

function middleIn(to: Matrix, { x, y }: { x: number; y: number }): [number, number] {
  const [a, b, c, d, e, f] = invert(to);
  return [a * x + c * y + e, b * x + d * y + f];
}

/** @param unit points in a unit of the text */
function restyleWords(
  splice: Splice,
  e: Element,
  { was, now, unit }: { was: FramedItem; now: FramedItem; unit: number },
): void {
  if (equal(was.text, now.text)) return;
  const runs = ({ text }: FramedItem): NonNullable<FramedItem['text']>['paragraphs'][number]['runs'] =>
    text?.paragraphs.flatMap((p) => p.runs) ?? [];
  const [before, after] = [runs(was), runs(now)];
  const isSaid = equal(
    before.map((r) => r.text),
    after.map((r) => r.text),
  );
  const aligns = ({ text }: FramedItem): unknown => text?.paragraphs.map((p) => p.align);
  const [old, next] = [before[0], after[0]];
  if (!isSaid || !equal(aligns(was), aligns(now)) || !old || !next) throw otherWords(now.id);
  const family = next.font.replace(/['"\\;]/g, '');
  const looks: Declaration[] = [
    ...(equal(old.paint, next.paint) ? [] : fillLooks({ ...now, fill: { kind: 'paint', paint: next.paint } })),
    ...(old.size === next.size ? [] : [['font-size', `${n(next.size / unit)}px`] as const]),
    ...(old.weight === next.weight ? [] : [['font-weight', String(next.weight)] as const]),
    ...(old.italic === next.italic ? [] : [['font-style', next.italic ? 'italic' : 'normal'] as const]),
    ...(old.underline === next.underline ? [] : [['text-decoration', next.underline ? 'underline' : 'none'] as const]),
    ...(old.font === next.font ? [] : [['font-family', `${family ? `'${family}', ` : ''}sans-serif`] as const]),
  ];
  declare(splice, e, looks);
  const visit = (at: Element): void => {
    // A part of the text that says the same of itself says it anew.
    const own = looks.filter(
      ([name]) =>
        at.attributes[name] !== undefined || new RegExp(`(^|;)\\s*${name}\\s*:`).test(at.attributes['style'] ?? ''),
    );
    declare(splice, at, own);
    at.children.forEach(visit);
  };
  e.children.forEach(visit);
}
