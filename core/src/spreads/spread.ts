import type { Box, Size } from '../model/frame';
import type { PieceContext, PieceItem } from '../pieces/piece';

/** Where pictures are spread, and how far they stand off each other. Lengths in points. */
export interface Room extends Size {
  gap: { x: number; y: number };
}

/** A way to arrange several pictures: as large as there is room. */
export interface Spread {
  name: string;
  label: string;
  /** What people type who look for it. */
  synonyms: readonly string[];
  /** Does it give all of them boxes of one ratio? Then they are cut to that. */
  even?: true;
  /** It is for just so many pictures. */
  only?: number;
  /** Between pictures, where it is not for the author to say; in points. */
  gap?: number;
  /** What comes to stand around each of them with it, tied to that: then no other titles come below. */
  dress?(context: PieceContext, index: number): PieceItem[];
  /**
   * @param ratios of the pictures, width over height, at least two
   * @returns their boxes in the same order, from the corner of the room
   */
  boxes(ratios: readonly number[], room: Room): Box[];
}

export const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);

/** Boxes about the middle of the room, no larger than it. */
export function centred(boxes: readonly Box[], room: Size): Box[] {
  const [left, top] = [Math.min(...boxes.map((b) => b.x)), Math.min(...boxes.map((b) => b.y))];
  const width = Math.max(...boxes.map((b) => b.x + b.width)) - left;
  const height = Math.max(...boxes.map((b) => b.y + b.height)) - top;
  const [dx, dy] = [(room.width - width) / 2 - left, (room.height - height) / 2 - top];
  return boxes.map((b) => ({ ...b, x: b.x + dx, y: b.y + dy }));
}

/** The largest box of a ratio in the middle of another. */
export function fitted({ x, y, width, height }: Box, ratio: number): Box {
  const w = Math.min(width, height * ratio);
  const h = w / ratio;
  return { x: x + (width - w) / 2, y: y + (height - h) / 2, width: w, height: h };
}

/** The room as it is seen by those who lie on their side. */
export const lying = ({ width, height, gap }: Room): Room => ({
  width: height,
  height: width,
  gap: { x: gap.y, y: gap.x },
});
export const turned = ({ x, y, width, height }: Box): Box => ({ x: y, y: x, width: height, height: width });
