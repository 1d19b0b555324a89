import {
  deriveView,
  equal,
  flatten,
  framePath,
  offsetPath,
  outsideOf,
  overstepPath,
  placementFromCrop,
  shift,
  silhouettePath,
  toEmu,
  transform,
  viewCrop,
  type Crop,
  type Frame,
  type Outline,
  type Path,
  type Size,
} from '@gable/core';
import { foldInnerTransform, refit } from './inner-transform';

/**
 * A line that stays off the edge, or lies outside of it, has no words of its own in office formats. The exact equivalent: one
 * geometry of two paths (ISO/IEC 29500-1 §20.1.9.8, custGeom; ODF 1.2 Part 1 §19.145, enhanced-path), the shape without a
 * line and the line's own way without a fill, in a box that holds both; the crop grows with the box. Two guides, or equations,
 * say how far: `margin` and `reach`.
 */
export interface OffsetOutline {
  /** Of the box round the shape's own, in points. */
  margin: number;
  /** From the edge of the shape to the middle of the line; outside is positive. */
  reach: number;
}

/** A geometry of two paths: what the picture fills, and the way of the line. */
export interface TwoPaths {
  shape: Path;
  line: Path;
  /** How far the line is off the edge; null where that is not all that the two differ in. */
  guides: OffsetOutline | null;
}

/** A frame in the file's own terms. */
export interface NativeFrame {
  frame: Frame;
  paths: TwoPaths | null;
}

/** Does a format without words for a line inside need a way of its own for this one? */
export const offEdge = (frame: Frame): boolean => frame.outline !== null && frame.outline.side !== 'on';

/** Does this line need a way of its own? Inside and touching the edge is `algn="in"`. */
const offsetOf = ({ side, weight, gap = 0 }: Outline, inside: boolean): OffsetOutline | null => {
  if (side === 'outside') return { margin: gap + weight, reach: gap + weight / 2 };
  return side === 'inside' && (gap > 0 || !inside) ? { margin: 0, reach: -gap - weight / 2 } : null;
};

/** A crop of a box, as the crop of a box that is larger by a margin on every side. */
export function expandCrop(crop: Crop, box: Size, margin: number): Crop {
  const u = ((1 - crop.left - crop.right) / box.width) * margin;
  const v = ((1 - crop.top - crop.bottom) / box.height) * margin;
  return { left: crop.left - u, right: crop.right - u, top: crop.top - v, bottom: crop.bottom - v };
}

const expandBox = (box: Frame['box'], margin: number): Frame['box'] => ({
  x: box.x - margin,
  y: box.y - margin,
  width: box.width + 2 * margin,
  height: box.height + 2 * margin,
});

/** An outline that fades as a whole is one whose paint fades: its lines never lie on each other. */
export function plainOutline(outline: Outline): Outline {
  const { opacity = 1, ...plain } = outline;
  if (opacity === 1) return plain;
  const { paint } = plain;
  return {
    ...plain,
    paint:
      paint.kind === 'solid'
        ? { ...paint, opacity: paint.opacity * opacity }
        : { ...paint, stops: paint.stops.map((s) => ({ ...s, opacity: s.opacity * opacity })) },
  };
}

/**
 * @param size of the picture, in pixels
 * @param inside has the format words for a line inside that touches the edge?
 */
export function toNative(asked: Frame, size: Size, inside = true): NativeFrame {
  if (oversteps(asked)) return nativeOverstep(asked, size);
  const next = foldInnerTransform(asked, size);
  if (!next.outline) return { frame: next, paths: null };
  const outline = plainOutline(next.outline);
  const ring = offsetOf(outline, inside);
  if (!ring) return { frame: { ...next, outline }, paths: null };
  const { margin, reach } = ring;
  const crop = viewCrop(deriveView(next.placement, next.box, size));
  const box = expandBox(next.box, margin);
  const { gap, ...line } = outline;
  void gap;
  const shape = framePath(next);
  return {
    frame: {
      ...next,
      box: next.flow === 'inline' ? { ...box, x: next.box.x, y: next.box.y } : box,
      placement: placementFromCrop(expandCrop(crop, next.box, margin), box, size),
      outline: { ...line, side: 'on' },
      // The numbers are part of what the geometry says.
      shape: { ...next.shape, knobs: { ...next.shape.knobs, margin, reach } },
    },
    paths: {
      guides: ring,
      shape: shift(shape, margin, margin),
      line: shift(offsetPath(shape, reach, outline.join), margin, margin),
    },
  };
}

/** Does the subject of a frame reach over its edge, as far as a file is concerned? */
export const oversteps = (frame: Frame): boolean => overstepPath(frame) !== null;

/** A gradient runs across the box, which is another one then; a shadow inside would fall from the line, too. */
export const canOverstep = ({ outline, shadow }: Frame): boolean =>
  !outline || (outline.paint.kind === 'solid' && shadow?.kind !== 'inner');

/** Of the polygons that stand for curves in a line that is cut open, in points. */
const TOLERANCE = 0.02;

/**
 * A subject that reaches over the edge: the shape of the file is both together, in a box that holds them, with the picture
 * where it was; the line runs along the shape's edge as far as the subject does not hide it. So the picture is in the file
 * once, whole, and the two are in register by construction.
 */
function nativeOverstep(asked: Frame, size: Size): NativeFrame {
  const { outline } = asked;
  const over = flatten(overstepPath(asked)!, TOLERANCE);
  const reach = outline ? (offsetOf(outline, false)?.reach ?? 0) : 0;
  const line = outline ? outsideOf(offsetPath(framePath(asked), reach, outline.join), over, TOLERANCE) : [];
  // The box holds the line with its weight.
  const extent = outline ? offsetPath(framePath(asked), Math.max(0, reach + outline.weight / 2), outline.join) : [];
  const { frame, map } = refit(asked, size, silhouettePath(asked), extent);
  if (!outline) return { frame, paths: null };
  const { gap, ...plain } = plainOutline(outline);
  void gap;
  return {
    // An open line ends where the subject begins.
    frame: { ...frame, outline: { ...plain, side: 'on', ...(plain.dash === 'solid' && { cap: 'butt' }) } },
    paths: { guides: null, shape: transform(silhouettePath(asked), map), line: transform(line, map) },
  };
}

/**
 * A frame in the file's own terms, with all that has not changed as the file has it: what was read is not written anew.
 * @param read the frame as it was read, and the same in the file's own terms
 */
export function nextNative(
  read: { frame: Frame; native: Frame; size: Size },
  asked: Frame,
  inside = true,
): NativeFrame {
  if (equal(read.frame, asked)) return { frame: read.native, paths: null };
  const next = toNative(asked, read.size, inside);
  // Another picture is placed anew.
  if (!equal(read.frame.source, asked.source)) return next;
  const before = toNative(read.frame, read.size, inside).frame;
  const frame = { ...next.frame };
  const keep = <K extends keyof Frame>(key: K): void => {
    if (equal(before[key], frame[key])) frame[key] = read.native[key];
  };
  for (const key of ['shape', 'placement', 'outline', 'shadow', 'box'] as const) keep(key);
  return { ...next, frame };
}

/**
 * The frame that the file's one stands for.
 * @param shape in the inner box
 * @param crop of the file's box
 */
export function fromNative(frame: Frame, ring: OffsetOutline, shape: Frame['shape'], crop: Crop, size: Size): Frame {
  const { margin, reach } = ring;
  const box = expandBox(frame.box, -margin);
  const { outline } = frame;
  const gap = Math.abs(reach) - (outline?.weight ?? 0) / 2;
  return {
    ...frame,
    box: frame.flow === 'inline' ? { ...box, x: frame.box.x, y: frame.box.y } : box,
    shape,
    placement: placementFromCrop(expandCrop(crop, frame.box, -margin), box, size),
    outline: outline && {
      ...outline,
      side: reach > 0 ? 'outside' : 'inside',
      ...(gap > 1e-3 ? { gap: toEmu(gap) / 12_700 } : {}),
    },
  };
}
