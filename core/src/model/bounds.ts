import { cut } from '../cut';
import type { Frame, Size } from './frame';

/**
 * How far the figures of a frame may reach, so that every sum over them ends. Lengths in points. They hold for what people
 * type, what programs send (the schema of a frame) and what files bring along (`withinBounds`).
 */
export const BOUNDS = {
  /** Sides of a box: 200 m of paper; the least is a hundredth of an EMU's tenth. */
  side: { min: 1e-6, max: 567_000 },
  /** A workbook has 2²⁰ rows, each at most 409.5 pt high (ISO/IEC 29500-1 §18.3.1.73, from memory). */
  place: 430_000_000,
  degrees: 36_000,
  /** In pictures: how far from a picture the middle of its box may lie. */
  aim: 10_000,
  zoom: { min: 1e-6, max: 1000 },
  distortion: { min: 1e-4, max: 10_000 },
  /** Adjust values are 32-bit numbers in the files that have them. */
  knob: 2_147_483_647,
  weight: { min: 1e-3, max: 1584 },
  shadow: 20_000,
  blur: 500,
  /** Stored pixels along a side. */
  pixels: 1_000_000,
  /** Of an outline in a box of 1 × 1: its characters, the numbers in it, and how large those may be. */
  path: { text: 400_000, numbers: 120_000, value: 10_000 },
  /** Characters of an alternative text. */
  alt: 10_000,
  /** Width over height. */
  ratio: { min: 1e-3, max: 1000 },
} as const;

/** Tiles that are painted one by one; copies of a repeated shape. */
export const MAX_TILES = 40_000;
export const MAX_REPEATS = 2_500;

/** Is the outline short enough, and are its numbers of a size that a box of 1 × 1 can ask for? */
export function pathWithinBounds(text: string): boolean {
  if (text.length > BOUNDS.path.text || /nan|infinity|e\+?\d|(?<![\d.])\d{5}/i.test(text)) return false;
  let numbers = 0;
  for (const match of text.matchAll(/\d*\.?\d+/g)) if (match && ++numbers > BOUNDS.path.numbers) return false;
  return true;
}

/** A length as a file writes it, in points or pixels: beyond all sheets it ends, what is no number is none. */
export const boundedLength = (value: number): number =>
  Number.isFinite(value) ? Math.min(MOST_LENGTH, Math.max(-MOST_LENGTH, value)) : 0;
const MOST_LENGTH = 1e9;

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
