import {
  bounds,
  clamp,
  cut,
  itemIdOf,
  multiply,
  type Box,
  type Fill,
  type ForeignItem,
  type FramedItem,
  type ItemId,
  type Matrix,
  type Paint,
  type PageItem,
  type Path,
  type Rect,
  type Text,
} from '@gable/core';
import { NOT_DRAWN, outlineOf, readTransform, svgLength } from '@gable/core/silhouette';
import { MAX_ITEM_CHARS, MAX_PAGE_ITEMS } from '../codec/contract';
import { boxRound, foreignItem, framedItem, groupItem } from '../codec/page-items';
import { cssColour } from '../css/colour';
import { PIXEL } from '../css/lengths';
import { decodeVeil, VEIL_ATTRIBUTE } from '../metadata/veils';
import type { Element } from '../xml/located';
import { itemWritten } from './around';
import { MAX_STEPS } from './clip';
import { SVG, type Drawing } from './drawing';
import { groundOf } from './ground';
import { placeDrawn, scaleOf, strokeOf, wordsOf } from './read-image';
import { outerOf } from './viewport';

/** An element that shows a picture: the picture's number, and its box on the page. */
export type PicturesIn = ReadonlyMap<Element, { n: number; box: Box }>;

/** Letters are so wide, in ems, where nobody measures them: common practice for running text. */
const LETTER = 0.55;
/** Of a line of text: above its baseline, and in all, in ems (common practice). */
const LINE = { above: 0.95, height: 1.2 };

/**
 * What lies in a drawing, from the back to the front: shapes and texts, groups of several, and pictures. What is drawn in
 * other ways is kept, not edited.
 * @returns the items, where each that is no picture stands, and those that Gable has put there and that are as it wrote them
 */
export function itemsIn(
  root: Element,
  drawing: Drawing,
  pictures: PicturesIn,
): { items: PageItem[]; elements: Map<ItemId, Element>; own: ItemId[] } {
  const items: PageItem[] = [];
  const elements = new Map<ItemId, Element>();
  const own: ItemId[] = [];
  // The first is the colour behind it all, whether there is one or not: that is the page's own.
  let count = 1;
  const newId = (): ItemId => `drawing-${++count}`;
  /** @returns the ids of what an element adds to what holds it, and their boxes */
  const visit = (e: Element): { ids: ItemId[]; boxes: Box[] } => {
    const picture = pictures.get(e);
    if (picture) {
      items.push({ picture: picture.n });
      return { ids: [itemIdOf(picture)], boxes: [picture.box] };
    }
    if (NOT_DRAWN.has(e.local) || (e.uri !== SVG && e.uri !== '')) return NOTHING;
    if (e.local === 'g' || e.local === 'a' || e.local === 'svg' || e.local === 'switch') return group(e);
    // Pictures are told however many items there are.
    const item = count < MAX_PAGE_ITEMS ? itemOf(e, drawing, newId) : null;
    if (!item) return NOTHING;
    items.push(item);
    elements.set(item.id, e);
    return { ids: [item.id], boxes: [item.at.box] };
  };
  const group = (e: Element): { ids: ItemId[]; boxes: Box[] } => {
    const written = count < MAX_PAGE_ITEMS ? itemWritten(e, drawing, `drawing-${count + 1}`) : null;
    if (written) {
      newId();
      items.push(written);
      own.push(written.id);
      elements.set(written.id, e);
      return { ids: [written.id], boxes: [written.at.box] };
    }
    const at = items.push({ picture: 0 }) - 1;
    const id = newId();
    const all = e.children.map(visit);
    const [ids, boxes] = [all.flatMap((v) => v.ids), all.flatMap((v) => v.boxes)];
    const box = ids.length > 1 && count < MAX_PAGE_ITEMS ? boxRound(boxes) : null;
    const item = box && groupItem(id, ids, { box, alt: wordsOf(e)?.text.trim() ?? '' });
    items.splice(at, 1, ...(item ? [item] : []));
    if (item) elements.set(id, e);
    return item && box ? { ids: [id], boxes: [box] } : { ids, boxes };
  };
  const ground = groundOf(root, drawing)?.element;
  root.children.forEach((e) => e !== ground && visit(e));
  return { items, elements, own };
}

const NOTHING = { ids: [], boxes: [] };

function itemOf(e: Element, drawing: Drawing, newId: () => ItemId): FramedItem | ForeignItem | null {
  const to = multiply(outerOf(e, drawing.page), readTransform(e.attributes['transform']));
  if (e.local === 'text') return textItem(e, drawing, to, newId);
  const path = e.local === 'line' ? lineOf(e) : outlineOf(e.local, e.attributes);
  const shown = path && path.length > 0 ? bounds(path) : null;
  if (!shown || !path || !Number.isFinite(shown.width + shown.height)) return null;
  const thin = shown.width <= 0 || shown.height <= 0;
  if (e.local === 'line' || thin) {
    const box = { ...shown, width: Math.max(0.1, shown.width), height: Math.max(0.1, shown.height) };
    return foreignItem({ id: newId(), what: 'connector', box: placeDrawn({ to, shown: box, path: null }).box });
  }
  const style = drawing.looks.of(e);
  const stroke = strokeOf(style);
  const placed = placeDrawn({ to, shown, path: path.length > MAX_STEPS ? null : path });
  if (path.length > MAX_STEPS || stroke === undefined)
    return foreignItem({ id: newId(), what: 'other', box: placed.box, turn: placed.turn });
  const outline = stroke && { ...stroke, weight: clamp(stroke.weight * scaleOf(to) * PIXEL, 0.1, 1584) };
  const look = { ...placed, outline, shadow: null, alt: (wordsOf(e)?.text ?? e.attributes['aria-label'] ?? '').trim() };
  const paint = paintOf(style.get('fill'), Number(style.get('fill-opacity') ?? 1), drawing);
  const veil = decodeVeil(e.parent?.attributes[VEIL_ATTRIBUTE]);
  return framedItem(newId(), look, veil ?? (paint && { kind: 'paint', paint }), null);
}

/** A line from one end to the other (SVG 2 §10.4). */
function lineOf(e: Element): Path {
  const at = (name: string): number => svgLength(e.attributes[name]);
  return [
    { op: 'M', x: at('x1'), y: at('y1') },
    { op: 'L', x: at('x2'), y: at('y2') },
  ];
}

/** A colour, or a gradient across the shape (SVG 2 §14.2); of others the first colour. */
function paintOf(fill = '#000', opacity: number, { ids }: Drawing): Paint | null {
  if (fill === 'none') return null;
  const gradient = ids.get(/url\(\s*["']?#([^"')]+)/.exec(fill)?.[1] ?? '');
  const stops = (gradient?.children ?? [])
    .filter((c) => c.local === 'stop')
    .flatMap((s) => {
      const said = (name: string): string | undefined =>
        new RegExp(`(?:^|;)\\s*${name}\\s*:\\s*([^;]+)`).exec(s.attributes['style'] ?? '')?.[1] ?? s.attributes[name];
      const colour = cssColour(said('stop-color') ?? '#000');
      const at = /%/.test(s.attributes['offset'] ?? '')
        ? parseFloat(s.attributes['offset']!) / 100
        : Number(s.attributes['offset'] ?? 0);
      const own = Number(said('stop-opacity') ?? 1);
      return colour
        ? [{ at: clamp(at || 0, 0, 1), colour: colour.colour, opacity: clamp(colour.opacity * own, 0, 1) }]
        : [];
    });
  if (stops.length >= 2 && gradient?.local === 'radialGradient') return { kind: 'radial', stops: stops.slice(0, 10) };
  if (stops.length >= 2) {
    const share = (name: string, usual: number): number => {
      const v = gradient!.attributes[name];
      return v === undefined ? usual : /%/.test(v) ? parseFloat(v) / 100 : Number(v) || 0;
    };
    const [dx, dy] = [share('x2', 1) - share('x1', 0), share('y2', 0) - share('y1', 0)];
    return { kind: 'linear', angle: (Math.atan2(dy, dx) * 180) / Math.PI, stops: stops.slice(0, 10) };
  }
  const colour = cssColour(fill.replace(/^url\([^)]*\)\s*/, '') || '#000');
  return colour && { kind: 'solid', colour: colour.colour, opacity: clamp(colour.opacity * (opacity || 0), 0, 1) };
}

const ANCHORS = { start: 'start', middle: 'centre', end: 'end' } as const;

/** A text as a box about its lines; how wide they are is estimated. */
function textItem(e: Element, drawing: Drawing, to: Matrix, newId: () => ItemId): FramedItem | ForeignItem | null {
  const lines = linesOf(e);
  const words = cut(lines.join('\n'), MAX_ITEM_CHARS);
  if (words.trim() === '') return null;
  // Where all words stand in parts of it, the first of these says what they look like.
  const said = e.text.trim() === '' ? (e.children.find((c) => c.local === 'tspan') ?? e) : e;
  const property = (name: string): string | undefined => {
    for (let at: Element | null = said; at; at = at.parent) {
      const value = drawing.looks.of(at).get(name);
      if (value !== undefined) return value;
    }
    return undefined;
  };
  const size = svgLength(property('font-size')) || 16;
  const anchor = ANCHORS[property('text-anchor') as keyof typeof ANCHORS] ?? 'start';
  const wide = Math.max(...lines.map((l) => l.length)) * LETTER * size;
  const first = e.children.find((c) => c.local === 'tspan' && c.attributes['x'] !== undefined);
  const at = (name: 'x' | 'y'): number => svgLength(e.attributes[name] ?? first?.attributes[name]);
  const shown: Rect = {
    x: at('x') - (anchor === 'centre' ? wide / 2 : anchor === 'end' ? wide : 0),
    y: at('y') - LINE.above * size,
    width: wide,
    height: lines.length * LINE.height * size,
  };
  const weight = property('font-weight') ?? 'normal';
  const fill: Fill | null = null;
  const run = {
    font: (property('font-family') ?? '').split(',')[0]!.replace(/["']/g, '').trim(),
    size: clamp(size * scaleOf(to) * PIXEL, 1, 4000),
    weight: weight === 'bold' ? 700 : clamp(Math.round(Number(weight)) || 400, 1, 1000),
    italic: /italic|oblique/.test(property('font-style') ?? ''),
    underline: /underline/.test(property('text-decoration') ?? ''),
    paint: paintOf(property('fill'), Number(property('fill-opacity') ?? 1), drawing) ?? INK,
  };
  const text: Text = {
    paragraphs: words.split('\n').map((line) => ({ align: anchor, runs: line ? [{ ...run, text: line }] : [] })),
    anchor: 'top',
    inset: { top: 0, right: 0, bottom: 0, left: 0 },
  };
  const look = { ...placeDrawn({ to, shown, path: null }), outline: null, shadow: null, alt: '' };
  return framedItem(newId(), look, fill, text);
}

const INK: Paint = { kind: 'solid', colour: '#000000', opacity: 1 };

/** Lines of a text: a `tspan` that says where it begins, or how far down, begins one. */
function linesOf(e: Element): string[] {
  const lines = [''];
  const visit = (at: Element): void => {
    if (at !== e && (at.attributes['x'] !== undefined || at.attributes['dy'] !== undefined) && lines.at(-1) !== '')
      lines.push('');
    lines[lines.length - 1] += at.text;
    at.children.filter((c) => c.local === 'tspan' || c.local === 'a' || c.local === 'textPath').forEach(visit);
  };
  visit(e);
  return lines.map((l) => l.replace(/\s+/g, ' ').trim());
}
