import { LRUCache } from 'lru-cache';
import { MAX_REPEATS } from '../model/bounds';
import type { Box, Frame, Seat, ShapeChoice, Size } from '../model/frame';
import { flatten, type Path, type Point, type Rect } from '../geometry/path';
import { fromPolygons, intersection } from '../geometry/polygons';
import { parseSvgPath } from '../geometry/svg-path';
import { shift, transform } from '../geometry/transform';
import { drawGeometry, silhouetteOf } from '../presets/geometry';
import { presetGeometry } from '../presets/index';
import { ARROWS } from './arrows';
import { BANNERS } from './banners';
import { CORNERS, rectangle, rounded, square } from './corners';
import { heart, NATURE } from './nature';
import { diamond, hexagon, POLYGONS } from './polygons';
import { ROUGH } from './rough';
import { circle, ellipse, ROUND } from './round';
import type { Knobs, Shape } from './shape';
import { SIGNS } from './signs';
import { SPEECH } from './speech';
import { STARS } from './stars';
import { WINDOWS } from './windows';

/** Every shape, in the order in which it is offered: first those most asked for, the circle before all; then by family. */
export const SHAPES: readonly Shape[] = [
  circle,
  rounded,
  ellipse,
  square,
  rectangle,
  hexagon,
  diamond,
  heart,
  ...ROUND,
  ...CORNERS,
  ...POLYGONS,
  ...WINDOWS,
  ...ARROWS,
  ...STARS,
  ...SPEECH,
  ...NATURE,
  ...SIGNS,
  ...BANNERS,
  ...ROUGH,
];

const byName = new Map(SHAPES.map((s) => [s.name, s]));

/** @returns the named shape of ours, or undefined */
export const findShape = (name: string): Shape | undefined => byName.get(name);

/** What the name of a preset shape is written behind, where Gable has no name of its own for it. */
export const PRESET_PREFIX = 'preset:';

/**
 * The shape a choice stands for: one of ours, a preset of the standard (`preset:…`, its knobs being the adjust values), or
 * an outline drawn elsewhere (silhouette, letter, custom geometry) that the choice brings with it.
 * @returns undefined where nothing is known but the name; such a shape is drawn as its box
 */
export function shapeOf(choice: ShapeChoice): Shape | undefined {
  const { name, drawn } = choice;
  const own = byName.get(name);
  if (own) return own;
  const base = { name, family: 'signs' as const, knobs: [], preset: null };
  if (drawn) {
    const outline = outlines.memo(drawn.path);
    return {
      ...base,
      label: drawn.label,
      locked: drawn.ratio,
      path: (w, h) => transform(outline, [w, 0, 0, h, 0, 0]),
    };
  }
  const preset = name.startsWith(PRESET_PREFIX) ? name.slice(PRESET_PREFIX.length) : null;
  const geometry = preset === null ? undefined : presetGeometry(preset);
  if (!geometry) return undefined;
  return {
    ...base,
    label: preset!,
    locked: null,
    path: (w, h, knobs) => silhouetteOf(drawGeometry(geometry, w, h, knobs)),
    preset: { name: preset!, toAdjust: (knobs) => ({ ...knobs }), fromAdjust: (adjust) => ({ ...adjust }) },
  };
}

/** Outlines that were read: the same text is asked for at every painting. */
const outlines = new LRUCache<string, Path>({ max: 64, memoMethod: (text) => parseSvgPath(text) });

/** The knobs of a shape at rest. */
export const defaultKnobs = (shape: Shape): Knobs => Object.fromEntries(shape.knobs.map((k) => [k.name, k.default]));

const COLUMN = { left: 0, centre: 0.5, right: 1 } as const;
const ROW = { top: 0, centre: 0.5, bottom: 1 } as const;

/** Where an anchor lies, in shares of the free space across and down. */
export function anchorShares(anchor: Seat['anchor']): [number, number] {
  const [row, column] = anchor.includes('-')
    ? (anchor.split('-') as ['top' | 'bottom', 'left' | 'right'])
    : anchor === 'top' || anchor === 'bottom'
      ? ([anchor, 'centre'] as const)
      : (['centre', anchor as 'left' | 'centre' | 'right'] as const);
  return [COLUMN[column], ROW[row]];
}

/** The part of the box the shape takes: all of it, or the largest rectangle of the shape's own ratio at its anchor. */
export function seatRect(box: Size, seat: Seat, ratio: number | null): Rect {
  if (seat.fit === 'fill' || ratio === null) return { x: 0, y: 0, width: box.width, height: box.height };
  const width = Math.min(box.width, box.height * ratio);
  const height = width / ratio;
  const [across, down] = anchorShares(seat.anchor);
  return { x: (box.width - width) * across, y: (box.height - height) * down, width, height };
}

/** Where a shape that keeps its ratio lies in its box; null for one that takes all of it. */
export function seatOf({ box, seat, shape }: Pick<Frame, 'box' | 'seat' | 'shape'>): Rect | null {
  const ratio = shapeOf(shape)?.locked ?? null;
  return seat.fit === 'fill' || ratio === null ? null : seatRect(box, seat, ratio);
}

/**
 * The outline of a frame in its box (points, origin at the box's top left). A shape of which only the name is known is
 * drawn as its box.
 */
export function framePath(frame: { box: Pick<Box, 'width' | 'height'>; seat: Seat; shape: ShapeChoice }): Path {
  const { box, seat } = frame;
  const shape = shapeOf(frame.shape) ?? rectangle;
  const r = seatRect(box, seat, shape.locked);
  const knobs = { ...defaultKnobs(shape), ...frame.shape.knobs };
  const one = shift(shape.path(r.width, r.height, knobs), r.x, r.y);
  if (!seat.repeat || seat.fit === 'fill') return one;
  if ((box.width / r.width) * (box.height / r.height) > MAX_REPEATS) return one;
  return repeated(one, r, box);
}

/** The first place at or before the box's edge from which copies of a length run over it. */
const first = (at: number, length: number): number => {
  const rest = at % length;
  return rest > 1e-6 ? rest - length : rest;
};

/** Copies beside and below each other, as a repeated mask has them: those at the edges of the box are cut there. */
function repeated(one: Path, r: Rect, box: Size): Path {
  const path: Path[number][] = [];
  const edge: Point[][] = [];
  for (let y = first(r.y, r.height); y < box.height - 1e-6; y += r.height)
    for (let x = first(r.x, r.width); x < box.width - 1e-6; x += r.width) {
      const copy = shift(one, x - r.x, y - r.y);
      const whole = x > -1e-6 && y > -1e-6 && x + r.width < box.width + 1e-6 && y + r.height < box.height + 1e-6;
      if (whole) path.push(...copy);
      else edge.push(...flatten(copy, Math.max(r.width, r.height) / 2000));
    }
  const { width, height } = box;
  const inside = [
    { x: 0, y: 0 },
    { x: width, y: 0 },
    { x: width, y: height },
    { x: 0, y: height },
  ];
  return edge.length === 0 ? path : [...path, ...fromPolygons(intersection(edge, [inside]))];
}
