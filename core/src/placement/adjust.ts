import { axesMatrix } from '../geometry/frame-matrix';
import { clamp, cosSin } from '../geometry/numeric';
import type { Point } from '../geometry/path';
import { applyTo, invert, type Matrix } from '../geometry/transform';
import type { Frame, Placement, Seat, Size } from '../model/frame';
import { anchorShares } from '../shapes/index';
import { withSize } from './reframe';
import { alongPicture, coverScale, deriveView, viewCrop } from './view';

/** Ratios in use, width over height. √2 is that of ISO 216 papers, golden is (1 + √5) / 2. */
export const RATIOS: readonly { name: string; ratio: number }[] = [
  ...(
    [
      [1, 1],
      [2, 3],
      [3, 2],
      [3, 4],
      [4, 3],
      [4, 5],
      [5, 4],
      [5, 7],
      [7, 5],
      [6, 4],
      [16, 9],
      [9, 16],
      [21, 9],
    ] as const
  ).map(([w, h]) => ({ name: `${w}:${h}`, ratio: w / h })),
  { name: 'A-landscape', ratio: Math.SQRT2 },
  { name: 'A-portrait', ratio: Math.SQRT1_2 },
  { name: 'golden', ratio: (1 + Math.sqrt(5)) / 2 },
];

/** Moves the picture so that its edges, or its middle, meet those of the box: one of nine places. */
export function anchored(frame: Frame, anchor: Seat['anchor'], picture: Size): Frame {
  const { placement, box } = frame;
  const view = deriveView(placement, box, picture);
  const [across, down] = anchorShares(anchor);
  const [c, s] = cosSin(placement.turn);
  const width = view.scale.x * picture.width;
  const height = view.scale.y * picture.height;
  // The turned picture's own bounds on the page, laid against the box.
  const w = width * Math.abs(c) + height * Math.abs(s);
  const h = width * Math.abs(s) + height * Math.abs(c);
  const x = (box.width - w) * across + w / 2 - box.width / 2;
  const y = (box.height - h) * down + h / 2 - box.height / 2;
  return withPictureOffset(frame, { x, y }, picture);
}

/** Where the middle of the picture lies, in points from the middle of the box: “move the picture under the shape”. */
export function pictureOffset(frame: Frame, picture: Size): Point {
  const [a, b, c, d, e, f] = deriveView(frame.placement, frame.box, picture).matrix;
  return {
    x: (a * picture.width + c * picture.height) / 2 + e - frame.box.width / 2,
    y: (b * picture.width + d * picture.height) / 2 + f - frame.box.height / 2,
  };
}

export function withPictureOffset(frame: Frame, offset: Point, picture: Size): Frame {
  const { placement, box } = frame;
  const view = deriveView(placement, box, picture);
  const aim = alongPicture(view.matrix, { x: -offset.x, y: -offset.y }, picture);
  return { ...frame, placement: { ...placement, zoom: view.placement.zoom, aim: { u: 0.5 + aim.u, v: 0.5 + aim.v } } };
}

/** The part of the picture that the box shows, in stored pixels: “move the shape over the picture”. For pictures not turned. */
export function shownPixels(frame: Frame, picture: Size): { x: number; y: number; width: number; height: number } {
  const crop = viewCrop(deriveView(frame.placement, frame.box, picture));
  return {
    x: crop.left * picture.width,
    y: crop.top * picture.height,
    width: (1 - crop.left - crop.right) * picture.width,
    height: (1 - crop.top - crop.bottom) * picture.height,
  };
}

/** Moves shape and box over a picture that stays where it is on the page. @param dx points to the right @param dy down */
export function slid(frame: Frame, dx: number, dy: number, picture: Size): Frame {
  const { box, placement } = frame;
  // The box's own axes: the frame may be turned on its page.
  const own = applyTo(invert(axesMatrix(frame)), { x: dx, y: dy });
  const view = deriveView(placement, box, picture);
  const step = alongPicture(view.matrix, own, picture);
  const next: Placement = {
    ...placement,
    zoom: view.placement.zoom,
    aim: { u: view.placement.aim.u + step.u, v: view.placement.aim.v + step.v },
  };
  // Where the picture ends the shape stops, and so does its box.
  const held = deriveView(next, box, picture).placement.aim;
  const share = (want: number, got: number, from: number): number =>
    Math.abs(want - from) < 1e-12 ? 1 : (got - from) / (want - from);
  const k = Math.min(share(next.aim.u, held.u, view.placement.aim.u), share(next.aim.v, held.v, view.placement.aim.v));
  return {
    ...frame,
    box: { ...box, x: box.x + dx * k, y: box.y + dy * k },
    placement: {
      ...next,
      aim: { u: view.placement.aim.u + step.u * k, v: view.placement.aim.v + step.v * k },
    },
  };
}

/** A side or corner of the crop, as it is dragged. */
export interface Handle {
  x: -1 | 0 | 1;
  y: -1 | 0 | 1;
}

/** The least side of a box, points. */
const LEAST = 2;

/**
 * Drags a side or corner of the crop: the picture keeps its place and its scale on the page, the opposite side stays. In
 * `cover` the crop ends where the picture does.
 * @param dx points along the box's own width @param dy along its height
 * @param ratio width over height to hold, or null
 */
export function cropped(
  frame: Frame,
  handle: Handle,
  dx: number,
  dy: number,
  picture: Size,
  ratio: number | null,
): Frame {
  const { box, placement } = frame;
  const view = deriveView(placement, box, picture);
  let left = handle.x < 0 ? dx : 0;
  let right = box.width + (handle.x > 0 ? dx : 0);
  let top = handle.y < 0 ? dy : 0;
  let bottom = box.height + (handle.y > 0 ? dy : 0);
  const limit = placement.fit === 'cover' && placement.turn % 360 === 0 ? pictureInBox(view.matrix, picture) : null;
  if (limit) {
    left = Math.max(left, limit.left);
    right = Math.min(right, limit.right);
    top = Math.max(top, limit.top);
    bottom = Math.min(bottom, limit.bottom);
  }
  if (handle.x < 0) left = Math.min(left, right - LEAST);
  else right = Math.max(right, left + LEAST);
  if (handle.y < 0) top = Math.min(top, bottom - LEAST);
  else bottom = Math.max(bottom, top + LEAST);
  if (ratio !== null) {
    let width = right - left;
    let height = bottom - top;
    // A side leads; at a corner the longer pull does.
    if (handle.y === 0 || (handle.x !== 0 && width / height > ratio)) height = width / ratio;
    else width = height * ratio;
    const room = limit
      ? roomFor(handle, limit, { left, right, top, bottom }, box)
      : { width: Infinity, height: Infinity };
    const k = Math.min(1, room.width / width, room.height / height);
    width *= k;
    height *= k;
    [left, right] = spread(handle.x, left, right, width, box.width);
    [top, bottom] = spread(handle.y, top, bottom, height, box.height);
  }
  const size = { width: right - left, height: bottom - top };
  const shift = { x: (left + right) / 2 - box.width / 2, y: (top + bottom) / 2 - box.height / 2 };
  const step = alongPicture(view.matrix, shift, picture);
  const aim = { u: view.placement.aim.u + step.u, v: view.placement.aim.v + step.v };
  const asked = {
    ...placement,
    fit: placement.fit === 'stretch' ? ('cover' as const) : placement.fit,
    distortion: view.placement.distortion,
  };
  const zoom = view.scale.y / coverScale(asked, size, picture);
  const next: Frame = { ...frame, box: { ...box, ...size }, placement: { ...asked, aim, zoom } };
  return withBox(next, frame, shift);
}

/**
 * Drags a corner of the frame: the frame is sized with its picture, the opposite corner stays, or the middle does.
 * @param dx points along the box's own width @param dy along its height
 * @param ratio width over height to hold, or null
 * @param about what stays: the opposite corner or side, or the middle
 */
export function sizedBy(
  frame: Frame,
  handle: Handle,
  dx: number,
  dy: number,
  picture: Size,
  { ratio, about = 'opposite' }: { ratio: number | null; about?: 'opposite' | 'middle' },
): Frame {
  const { box } = frame;
  const both = about === 'middle' ? 2 : 1;
  let width = Math.max(LEAST, box.width + handle.x * dx * both);
  let height = Math.max(LEAST, box.height + handle.y * dy * both);
  if (ratio !== null) {
    if (handle.y === 0 || (handle.x !== 0 && width / height > ratio)) height = width / ratio;
    else width = height * ratio;
  }
  const shift =
    about === 'middle'
      ? { x: 0, y: 0 }
      : { x: (handle.x * (width - box.width)) / 2, y: (handle.y * (height - box.height)) / 2 };
  return withBox(withSize(frame, { width, height }, picture, 'zoom'), frame, shift);
}

/** The frame with its new size about the middle of the old box, moved along its own axes. */
function withBox(sized: Frame, { box, flow, turn, flip }: Frame, shift: Point): Frame {
  const { width, height } = sized.box;
  if (flow !== 'floating') return { ...sized, box: { x: box.x, y: box.y, width, height } };
  const moved = applyTo(axesMatrix({ turn, flip }), shift);
  const middle = { x: box.x + box.width / 2 + moved.x, y: box.y + box.height / 2 + moved.y };
  return { ...sized, box: { x: middle.x - width / 2, y: middle.y - height / 2, width, height } };
}

interface Sides {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** The picture's own sides in the box's space, for a picture that is not turned. */
function pictureInBox(m: Matrix, picture: Size): Sides {
  const xs = [m[4], m[4] + m[0] * picture.width];
  const ys = [m[5], m[5] + m[3] * picture.height];
  return { left: Math.min(...xs), right: Math.max(...xs), top: Math.min(...ys), bottom: Math.max(...ys) };
}

/** How large a crop of held ratio may become before it meets the picture's end. */
function roomFor(handle: Handle, limit: Sides, now: Sides, box: Size): Size {
  const along = (at: -1 | 0 | 1, lo: number, hi: number, a: number, b: number, whole: number): number =>
    at < 0 ? b - lo : at > 0 ? hi - a : 2 * Math.min(whole / 2 - lo, hi - whole / 2);
  return {
    width: along(handle.x, limit.left, limit.right, now.left, now.right, box.width),
    height: along(handle.y, limit.top, limit.bottom, now.top, now.bottom, box.height),
  };
}

/** The side that is not dragged stays; across a side handle the crop grows both ways. */
function spread(at: -1 | 0 | 1, lo: number, hi: number, length: number, whole: number): [number, number] {
  if (at < 0) return [hi - length, hi];
  if (at > 0) return [lo, lo + length];
  const middle = clamp(whole / 2, lo, hi);
  return [middle - length / 2, middle + length / 2];
}
