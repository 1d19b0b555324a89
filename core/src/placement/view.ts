import { cosSin } from '../geometry/numeric';
import type { Point } from '../geometry/path';
import { applyTo, invert, type Matrix } from '../geometry/transform';
import type { Placement, Size } from '../model/frame';

/**
 * Where the picture lies. `matrix` takes stored pixels to points in the box ([a b c d e f] as in SVG 2 §8.4); `corners`
 * are the box's corners in shares of the picture (top left, top right, bottom right, bottom left).
 */
export interface View {
  corners: [Point, Point, Point, Point];
  matrix: Matrix;
  /** Points per pixel, across and down the picture. */
  scale: { x: number; y: number };
  /** The placement as it is really shown, after clamping. */
  placement: Placement;
}

/** Shares of the picture hidden on each side; negative where the box reaches beyond the picture. */
export interface Crop {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Width and height of the turned box along the picture's own axes. */
export function turnedBox(box: Size, turn: number): Size {
  const [c, s] = cosSin(turn).map(Math.abs) as [number, number];
  return { width: box.width * c + box.height * s, height: box.width * s + box.height * c };
}

/** Points per pixel (down) at which the picture just covers the box. */
export function coverScale(placement: Pick<Placement, 'turn' | 'distortion'>, box: Size, picture: Size): number {
  const t = turnedBox(box, placement.turn);
  return Math.max(t.width / (picture.width * placement.distortion), t.height / picture.height);
}

/** The zoom at which all of the picture just fits into the box. */
export function containZoom(placement: Pick<Placement, 'turn' | 'distortion'>, box: Size, picture: Size): number {
  const w = picture.width * placement.distortion;
  const [c, s] = cosSin(placement.turn).map(Math.abs) as [number, number];
  const across = w * c + picture.height * s;
  const down = w * s + picture.height * c;
  return Math.min(box.width / across, box.height / down) / coverScale(placement, box, picture);
}

/**
 * What the box shows. `cover` never shows a gap: zoom is held at 1 or more and the aim inside. `contain` and `tile` take
 * zoom and aim as they are. `stretch` lays the whole picture into the box. What was asked stays in the placement;
 * clamping happens only here.
 * @param box size in points
 * @param picture size in pixels, as stored
 */
export function deriveView(asked: Placement, box: Size, picture: Size): View {
  const p: Placement = { ...asked, aim: { ...asked.aim } };
  const t = turnedBox(box, p.turn);
  if (p.fit === 'stretch') {
    p.distortion = (t.width * picture.height) / (t.height * picture.width);
    p.zoom = 1;
    p.aim = { u: 0.5, v: 0.5 };
  }
  if (p.fit === 'cover') p.zoom = Math.max(1, p.zoom);
  const sy = coverScale(p, box, picture) * p.zoom;
  const sx = sy * p.distortion;
  if (p.fit === 'cover') {
    p.aim.u = hold(p.aim.u, t.width / (2 * sx * picture.width));
    p.aim.v = hold(p.aim.v, t.height / (2 * sy * picture.height));
  }
  const [cos, sin] = cosSin(p.turn);
  const m = p.mirror ? -1 : 1;
  const a = cos * sx * m;
  const b = sin * sx * m;
  const c = -sin * sy;
  const d = cos * sy;
  const ax = p.aim.u * picture.width;
  const ay = p.aim.v * picture.height;
  const e = box.width / 2 - (a * ax + c * ay);
  const f = box.height / 2 - (b * ax + d * ay);
  const matrix: Matrix = [a, b, c, d, e, f];
  const inverse = (x: number, y: number): Point => {
    const at = ontoPicture(matrix, { x, y }, picture);
    return { x: at.u, y: at.v };
  };
  return {
    corners: [inverse(0, 0), inverse(box.width, 0), inverse(box.width, box.height), inverse(0, box.height)],
    matrix,
    scale: { x: sx, y: sy },
    placement: p,
  };
}

/** The point of the picture, in shares of it, that lies at a point of the box. @param matrix of the view */
export function ontoPicture(matrix: Matrix, at: Point, picture: Size): { u: number; v: number } {
  const p = applyTo(invert(matrix), at);
  return { u: p.x / picture.width, v: p.y / picture.height };
}

/** A distance in the box as a distance in shares of the picture. @param matrix of the view */
export function alongPicture([a, b, c, d]: Matrix, by: Point, picture: Size): { u: number; v: number } {
  return ontoPicture([a, b, c, d, 0, 0], by, picture);
}

/** Where a point of the picture, in shares of it, lies in the box. @param matrix of the view */
export const ontoBox = (matrix: Matrix, at: { u: number; v: number }, picture: Size): Point =>
  applyTo(matrix, { x: at.u * picture.width, y: at.v * picture.height });

/** The aim along one axis, held so that `half` the view fits on both sides. */
function hold(aim: number, half: number): number {
  return half >= 0.5 ? 0.5 : Math.min(1 - half, Math.max(half, aim));
}

/** The crop of a view that is not turned. A mirrored picture's left is its own left, not the box's. */
export function viewCrop(view: View): Crop {
  const us = view.corners.map((c) => c.x);
  const vs = view.corners.map((c) => c.y);
  return { left: Math.min(...us), top: Math.min(...vs), right: 1 - Math.max(...us), bottom: 1 - Math.max(...vs) };
}

/**
 * The placement that shows exactly this crop in this box, a crop that distorts included.
 * @throws RangeError when nothing of the picture is left
 */
export function placementFromCrop(crop: Crop, box: Size, picture: Size): Placement {
  const u = 1 - crop.left - crop.right;
  const v = 1 - crop.top - crop.bottom;
  if (!(u > 0) || !(v > 0)) throw new RangeError(`The crop leaves nothing of the picture (${u} × ${v}).`);
  const sx = box.width / (u * picture.width);
  const sy = box.height / (v * picture.height);
  const inside = Math.min(crop.left, crop.top, crop.right, crop.bottom) >= -1e-9;
  return {
    fit: inside ? 'cover' : 'contain',
    aim: { u: crop.left + u / 2, v: crop.top + v / 2 },
    zoom: 1 / Math.max(u, v),
    turn: 0,
    mirror: false,
    distortion: sx / sy,
  };
}
