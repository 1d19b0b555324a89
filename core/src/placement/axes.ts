import { flatten, type Point, type Rect } from '../geometry/path';
import type { Frame, Placement, Size } from '../model/frame';
import { cosSin } from '../geometry/numeric';
import { bounds } from '../geometry/measure';
import { merged } from '../geometry/polygons';
import { transform } from '../geometry/transform';
import { framePath } from '../shapes/index';
import { overstepPath, silhouettePath } from './overstep';
import { coverScale } from './view';

/** A frame as far as its shape and the turn of its picture matter. */
export type Framed = Pick<Frame, 'box' | 'seat' | 'shape' | 'placement' | 'overstep'>;

/**
 * A point of the box along the picture's own axes: in points, the middle of the box at the origin, turned back by the
 * picture's turn and mirrored as the picture is.
 */
export function ontoAxes({ box, placement }: Framed, p: Point): Point {
  const [c, s] = cosSin(-placement.turn);
  const m = placement.mirror ? -1 : 1;
  const x = p.x - box.width / 2;
  const y = p.y - box.height / 2;
  return { x: m * (x * c - y * s), y: x * s + y * c };
}

/** The shape seen along the picture's own axes, as polygons. */
export const shapeOnAxes = (frame: Framed, tolerance: number): Point[][] =>
  flatten(framePath(frame), tolerance).map((polygon) => polygon.map((p) => ontoAxes(frame, p)));

/** All that shows of the picture, seen along its own axes: the shape, and a subject that reaches over it. */
export const shownOnAxes = (frame: Framed, tolerance: number): Point[][] =>
  flatten(silhouettePath(frame), tolerance).map((polygon) => polygon.map((p) => ontoAxes(frame, p)));

/** The same for what is marked by boxes: of what lies round a subject that reaches over the edge nothing is missed. */
export function shownRoundOnAxes(frame: Framed, tolerance: number): Point[][] {
  const over = overstepPath(frame);
  if (!over) return shapeOnAxes(frame, tolerance);
  const { x, y, width, height } = bounds(over);
  const round = [
    { x, y },
    { x: x + width, y },
    { x: x + width, y: y + height },
    { x, y: y + height },
  ].map((p) => ontoAxes(frame, p));
  // Either may run the other way once mirrored; together they must add up.
  return merged([...merged(shapeOnAxes(frame, tolerance)), ...merged([round])]);
}

/** The exact bounds of the shape on those axes. */
export function extentOnAxes(frame: Framed): Rect {
  const { box, placement } = frame;
  const [c, s] = cosSin(-placement.turn);
  const m = placement.mirror ? -1 : 1;
  const [x, y] = [box.width / 2, box.height / 2];
  return bounds(transform(framePath(frame), [m * c, s, -m * s, c, -m * (x * c - y * s), -(x * s + y * c)]));
}

/** Points per pixel down the picture at which it just covers a rectangle on its own axes. */
export const coveringScale = (extent: Size, picture: Size, distortion: number): number =>
  Math.max(extent.width / (picture.width * distortion), extent.height / picture.height);

/**
 * A placement by its scale and by where the picture's top left lies on its own axes.
 * @param scale points per pixel, down
 */
export function placedOnAxes(frame: Framed, picture: Size, scale: number, corner: Point): Placement {
  const { placement, box } = frame;
  const aim = {
    u: -corner.x / (picture.width * placement.distortion * scale),
    v: -corner.y / (picture.height * scale),
  };
  const zoom = scale / coverScale(placement, box, picture);
  // Cover holds zoom and aim so that the whole box is filled; a shape that leaves corners of its box free needs less.
  const asked: Placement = { ...placement, aim, zoom, fit: 'cover' };
  return fillsBox(asked, box, picture) ? asked : { ...asked, fit: 'contain' };
}

function fillsBox(p: Placement, box: Size, picture: Size): boolean {
  if (p.zoom < 1 - 1e-9) return false;
  const [c, s] = cosSin(p.turn).map(Math.abs) as [number, number];
  const scale = coverScale(p, box, picture) * p.zoom;
  const halfU = (box.width * c + box.height * s) / (2 * picture.width * p.distortion * scale);
  const halfV = (box.width * s + box.height * c) / (2 * picture.height * scale);
  const inside = (at: number, half: number): boolean => at - half >= -1e-9 && at + half <= 1 + 1e-9;
  return inside(p.aim.u, halfU) && inside(p.aim.v, halfV);
}

/**
 * The least zoom at which no corner of the shape stays empty, and the aim that allows it. A shape that leaves the corners
 * of its box free needs less picture than the box when the picture is turned.
 */
export function leastZoom(frame: Framed, picture: Size): Placement {
  const b = extentOnAxes(frame);
  const scale = coveringScale(b, picture, frame.placement.distortion);
  return placedOnAxes(frame, picture, scale, {
    x: b.x + b.width / 2 - (picture.width * frame.placement.distortion * scale) / 2,
    y: b.y + b.height / 2 - (picture.height * scale) / 2,
  });
}
