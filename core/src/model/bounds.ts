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
  path: { text: 400_000, numbers: 120_000, value: 10_000, subject: 60_000 },
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
  Number.isFinite(value) ? Math.min(MAX_LENGTH, Math.max(-MAX_LENGTH, value)) : 0;
const MAX_LENGTH = 1e9;
