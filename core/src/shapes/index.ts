import type { Box, Seat, ShapeChoice, Size } from '../model/frame';
import { shift, type Path, type Rect } from '../geometry/path';
import { rectangle, rounded, square } from './corners';
import { heart } from './nature';
import { diamond, hexagon } from './polygons';
import { circle, ellipse } from './round';
import type { Knobs, Shape } from './shape';

/** Every shape, in the order in which it is offered; the circle first. */
export const SHAPES: readonly Shape[] = [circle, rounded, ellipse, square, rectangle, hexagon, diamond, heart];

const byName = new Map(SHAPES.map((s) => [s.name, s]));

/** @returns the shape of this name, or undefined for a shape that only the opened file knows (`preset:…`, `custom`). */
export const findShape = (name: string): Shape | undefined => byName.get(name);

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

/**
 * The outline of a frame in its box (points, origin at the box's top left). A shape that only the file knows is drawn as
 * its box.
 */
export function framePath(frame: { box: Pick<Box, 'width' | 'height'>; seat: Seat; shape: ShapeChoice }): Path {
  const { box, seat } = frame;
  const shape = findShape(frame.shape.name) ?? rectangle;
  const r = seatRect(box, seat, shape.locked);
  const knobs = { ...defaultKnobs(shape), ...frame.shape.knobs };
  const one = shift(shape.path(r.width, r.height, knobs), r.x, r.y);
  if (!seat.repeat || seat.fit === 'fill') return one;
  const path = [];
  for (let y = r.y % r.height; y + r.height <= box.height + 1e-6; y += r.height)
    for (let x = r.x % r.width; x + r.width <= box.width + 1e-6; x += r.width)
      path.push(...shift(one, x - r.x, y - r.y));
  return path;
}
