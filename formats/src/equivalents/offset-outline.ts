import {
  deriveView,
  framePath,
  offsetPath,
  placementFromCrop,
  shift,
  toEmu,
  viewCrop,
  type Crop,
  type Frame,
  type Outline,
  type Path,
  type Size,
} from '@gable/core';
import { foldInnerTransform } from './inner-transform';

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

/** A frame in the file's own terms. */
export interface NativeFrame {
  frame: Frame;
  offset: (OffsetOutline & { shape: Path; line: Path }) | null;
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
  const next = foldInnerTransform(asked, size);
  if (!next.outline) return { frame: next, offset: null };
  const outline = plainOutline(next.outline);
  const ring = offsetOf(outline, inside);
  if (!ring) return { frame: { ...next, outline }, offset: null };
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
    offset: {
      ...ring,
      shape: shift(shape, margin, margin),
      line: shift(offsetPath(shape, reach, outline.join), margin, margin),
    },
  };
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
