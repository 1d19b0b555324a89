import { cut } from '../cut';
import { BOUNDS, pathWithinBounds } from './bounds';
import type { Frame, Size } from './frame';

/** The stored size of a picture, or what stands in for it where the file names none. */
export function boundedPixels({ width, height }: Size): Size {
  const side = (v: number): number => held(v, 1e-3, BOUNDS.pixels, 96);
  return { width: side(width), height: side(height) };
}

const held = (value: number, min: number, max: number, otherwise: number): number =>
  Number.isFinite(value) ? Math.min(max, Math.max(min, value)) : otherwise;
const around = (value: number, most: number): number => held(value, -most, most, 0);

/**
 * A frame as a file brings it along, with every figure inside its bounds: what is beyond becomes the bound, what is no
 * number the value at rest, an outline that is too long a rectangle. A frame inside its bounds comes back as it is.
 */
export function withinBounds(frame: Frame): Frame {
  const { box, placement, shape, outline, shadow, tone } = frame;
  const side = (v: number): number => held(v, BOUNDS.side.min, BOUNDS.side.max, 72);
  const next: Frame = {
    ...frame,
    box: {
      x: around(box.x, BOUNDS.place),
      y: around(box.y, BOUNDS.place),
      width: side(box.width),
      height: side(box.height),
    },
    turn: around(frame.turn, BOUNDS.degrees),
    placement: {
      ...placement,
      aim: {
        u: held(placement.aim.u, -BOUNDS.aim, BOUNDS.aim, 0.5),
        v: held(placement.aim.v, -BOUNDS.aim, BOUNDS.aim, 0.5),
      },
      zoom: held(placement.zoom, BOUNDS.zoom.min, BOUNDS.zoom.max, 1),
      turn: around(placement.turn, BOUNDS.degrees),
      distortion: held(placement.distortion, BOUNDS.distortion.min, BOUNDS.distortion.max, 1),
    },
    shape: shapeWithin(shape),
  };
  next.alt = cut(frame.alt, BOUNDS.alt);
  if (outline) {
    const { min, max } = BOUNDS.weight;
    next.outline = { ...outline, weight: held(outline.weight, min, max, 1) };
    if (outline.gap !== undefined) next.outline.gap = held(outline.gap, 0, max, 0);
    if (outline.paint.kind === 'linear')
      next.outline.paint = { ...outline.paint, angle: around(outline.paint.angle, BOUNDS.degrees) };
  }
  if (shadow)
    next.shadow = {
      ...shadow,
      dx: around(shadow.dx, BOUNDS.shadow),
      dy: around(shadow.dy, BOUNDS.shadow),
      blur: held(shadow.blur, 0, BOUNDS.shadow, 0),
      spread: around(shadow.spread, BOUNDS.shadow),
    };
  if (tone?.softness) next.tone = { ...tone, softness: { blur: held(tone.softness.blur, 0, BOUNDS.blur, 0) } };
  return next;
}

function shapeWithin(shape: Frame['shape']): Frame['shape'] {
  const { drawn } = shape;
  if (drawn && !pathWithinBounds(drawn.path)) return { name: 'rectangle', knobs: {} };
  const knobs = Object.fromEntries(Object.entries(shape.knobs).map(([k, v]) => [k, around(v, BOUNDS.knob)]));
  if (!drawn?.ratio) return { ...shape, knobs };
  return {
    ...shape,
    knobs,
    drawn: { ...drawn, ratio: held(drawn.ratio, BOUNDS.ratio.min, BOUNDS.ratio.max, 1) },
  };
}
