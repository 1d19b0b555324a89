import { clamp, parseSvgPath, transform, type Frame, type Path, type Rect, type Size } from '@gable/core';
import { shapeOfPath } from '../codec/named-shape';
import type { Style } from './box';
import { PIXEL } from '../css/lengths';
import { CORNERS, four, longhands } from '../css/shorthands';
import { lengthIn, split } from '../css/values';

const LABEL = 'Shape of the page';
/** Across and down, in points. */
type Corner = readonly [number, number];

/** Where a word or a length puts something in the room it has (CSS Values 5 §8.1, position). */
export function positionIn(text: string, freeX: number, freeY: number): [number, number] {
  const words = split(text);
  const [a = 'center', b = 'center', c, d] = words;
  // Two edges with a distance from each.
  if (c !== undefined && d !== undefined) {
    const from = (edge: string, distance: string, free: number): number => {
      const v = lengthIn(distance, free) ?? 0;
      return /^(right|bottom)$/.test(edge) ? free - v : v;
    };
    return /^(top|bottom)$/.test(a) ? [from(c, d, freeX), from(a, b, freeY)] : [from(a, b, freeX), from(c, d, freeY)];
  }
  const [x, y] = /^(top|bottom)$/.test(a) || /^(left|right)$/.test(b) ? [b, a] : [a, b];
  const at = (word: string, free: number): number => {
    const named = { left: 0, top: 0, center: 0.5, right: 1, bottom: 1 }[word];
    return named !== undefined ? named * free : (lengthIn(word, free) ?? free / 2);
  };
  return [at(x, freeX), at(y, freeY)];
}

/** An ellipse as the text of a path. */
function ellipse(x: number, y: number, rx: number, ry: number): string {
  return `M${x - rx} ${y}A${rx} ${ry} 0 0 1 ${x} ${y - ry}A${rx} ${ry} 0 0 1 ${x + rx} ${y}A${rx} ${ry} 0 0 1 ${x} ${y + ry}A${rx} ${ry} 0 0 1 ${x - rx} ${y}Z`;
}

/** A box with elliptic corners, from the top left on, clockwise, as the text of a path. */
function rounded({ x, y, width: w, height: h }: Rect, [tl, tr, br, bl]: readonly Corner[]): string {
  const arc = ([rx, ry]: Corner, toX: number, toY: number): string =>
    rx > 0 && ry > 0 ? `A${rx} ${ry} 0 0 1 ${toX} ${toY}` : `L${toX} ${toY}`;
  return (
    `M${x + tl![0]} ${y}L${x + w - tr![0]} ${y}${arc(tr!, x + w, y + tr![1])}L${x + w} ${y + h - br![1]}` +
    `${arc(br!, x + w - br![0], y + h)}L${x + bl![0]} ${y + h}${arc(bl!, x, y + h - bl![1])}L${x} ${y + tl![1]}${arc(tl!, x + tl![0], y)}Z`
  );
}

/** Corners that would run into each other become smaller by the same factor (CSS Backgrounds 3 §4.5). */
function fitting(corners: readonly Corner[], { width, height }: Size): Corner[] {
  const [tl, tr, br, bl] = corners as [Corner, Corner, Corner, Corner];
  const k = Math.min(
    1,
    width / (tl[0] + tr[0] || 1e-9),
    width / (bl[0] + br[0] || 1e-9),
    height / (tl[1] + bl[1] || 1e-9),
    height / (tr[1] + br[1] || 1e-9),
  );
  return corners.map(([rx, ry]) => [rx * k, ry * k]);
}

/** `border-radius` of a box as longhands (CSS Backgrounds 3 §4), in points. @param size what percentages are of */
function cornersOf(style: Style, size: Size, box = size): Corner[] {
  return fitting(
    CORNERS.map((corner): Corner => {
      const [across = '0', down = across] = split(style.get(`border-${corner}-radius`) ?? '0');
      return [Math.max(0, lengthIn(across, size.width) ?? 0), Math.max(0, lengthIn(down, size.height) ?? 0)];
    }),
    box,
  );
}

/** The text of a path, with the place of the box in it. */
function clipOf(text: string, { width, height }: Size): string | null {
  const [, name = '', inside = ''] = /^([a-z-]+)\(([\s\S]*)\)/i.exec(text) ?? [];
  const [, size = '', place = ''] = /^([\s\S]*?)(?:(?:^|\s+)at\s+([\s\S]*))?$/.exec(inside.trim())!;
  switch (name.toLowerCase()) {
    case 'circle':
    case 'ellipse': {
      const [x, y] = positionIn(place, width, height);
      const [first = 'closest-side', second = first] = split(size);
      const sides = { x: [Math.abs(x), Math.abs(width - x)], y: [Math.abs(y), Math.abs(height - y)] };
      const radius = (word: string, near: readonly number[], of: number): number | null =>
        word === 'closest-side' ? Math.min(...near) : word === 'farthest-side' ? Math.max(...near) : lengthIn(word, of);
      if (name.toLowerCase() === 'ellipse') {
        const [rx, ry] = [radius(first, sides.x, width), radius(second, sides.y, height)];
        return rx && ry ? ellipse(x, y, rx, ry) : null;
      }
      const r = radius(first, [...sides.x, ...sides.y], Math.hypot(width, height) / Math.SQRT2);
      return r ? ellipse(x, y, r, r) : null;
    }
    case 'inset': {
      const [edges = '', round = ''] = inside.split(/(?:^|\s)round\s/);
      const [t, r, b, l] = four(split(edges));
      const [top, bottom] = [t, b].map((v) => lengthIn(v, height) ?? 0) as [number, number];
      const [right, left] = [r, l].map((v) => lengthIn(v, width) ?? 0) as [number, number];
      const box = { x: left, y: top, width: width - left - right, height: height - top - bottom };
      if (box.width <= 0 || box.height <= 0) return null;
      return rounded(box, cornersOf(new Map(longhands('border-radius', round)), { width, height }, box));
    }
    case 'polygon': {
      const points = split(inside, /,/).filter((p) => !/^(nonzero|evenodd)$/i.test(p));
      const at = points.map((p) => {
        const [x, y] = split(p);
        return [lengthIn(x, width), lengthIn(y, height)];
      });
      const sound = at.length >= 3 && at.every((p) => p.every((v) => v !== null && Number.isFinite(v)));
      return sound ? `M${at.map((p) => p.join(' ')).join('L')}Z` : null;
    }
    case 'path': {
      const [, d] = /["']([^"']*)["']/.exec(inside) ?? [];
      return d ?? null;
    }
    default:
      return null;
  }
}

/** Does a value of `clip-path` cut anything off? */
export const isClipped = (style: Style): boolean => !/^(none)?$/i.test(style.get('clip-path')?.trim() ?? '');

/**
 * The shape of an `<img>`: `clip-path` (CSS Masking 1 §5.1, CSS Shapes 1 §3), else `border-radius`.
 * @param around the box that those are measured in, border and all; from the corner of the picture's own, in points
 */
export function readShape(style: Style, box: Size, around: Rect): Frame['shape'] {
  if (isClipped(style)) {
    const clip = style.get('clip-path')!.trim();
    const path = pathOf(clipOf(clip, around) ?? '');
    if (path.length === 0) return { name: 'rectangle', knobs: {} };
    const k = /^path\(/i.test(clip) ? PIXEL : 1;
    const place = [k / box.width, 0, 0, k / box.height, around.x / box.width, around.y / box.height] as const;
    return shapeOfPath(transform(path, place), box, LABEL);
  }
  // Inside of the border the corners are smaller by what lies round the picture (CSS Backgrounds 3 §4.2).
  const less = [
    [-around.x, -around.y],
    [around.x + around.width - box.width, -around.y],
    [around.x + around.width - box.width, around.y + around.height - box.height],
    [-around.x, around.y + around.height - box.height],
  ] as const;
  const corners = cornersOf(style, around).map(([rx, ry], i): Corner => [
    Math.max(0, rx - less[i]![0]),
    Math.max(0, ry - less[i]![1]),
  ]);
  const [[rx, ry]] = corners as [Corner];
  if (corners.every(([a, b]) => a === 0 || b === 0)) return { name: 'rectangle', knobs: {} };
  const even = corners.every(([a, b]) => Math.abs(a - rx) < 1e-6 && Math.abs(b - ry) < 1e-6);
  const shortest = Math.min(box.width, box.height);
  if (even && Math.abs(rx - ry) < 1e-6 && rx < Math.max(box.width, box.height) / 2 - 1e-6)
    return { name: 'rounded', knobs: { radius: clamp(rx / shortest, 0, 0.5) } };
  const path = pathOf(rounded({ x: 0, y: 0, ...box }, corners));
  return shapeOfPath(transform(path, [1 / box.width, 0, 0, 1 / box.height, 0, 0]), box, LABEL);
}

/** Nonsense is no shape. */
function pathOf(text: string): Path {
  try {
    return parseSvgPath(text);
  } catch {
    return [];
  }
}
