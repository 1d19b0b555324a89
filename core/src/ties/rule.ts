import type { FramedItem, Tie } from '../model/document';
import type { Box, ShapeChoice, Size } from '../model/frame';

/** What something follows, as it is drawn on its page. In points. */
export interface Target {
  /** The upright rectangle round all that is drawn of it, but for its shadow. */
  drawn: Box;
  /** The same without its line, and without rings round it. */
  bare(): Box;
  /** Its own box, and how its shape sits in that. */
  box: Box;
  shape: ShapeChoice;
  seat: FramedItem['seat'];
  turn: number;
  page: Size;
}

/** What a rule makes of an item: its box, and its shape where that follows, too. */
export interface Followed {
  box: Box;
  shape?: ShapeChoice;
  seat?: FramedItem['seat'];
  turn?: number;
}

/** How one kind of tie makes a box. @param own the item as it is, whose size counts where the rule says none */
export type Rule = (target: Target, own: FramedItem, tie: Tie) => Followed;

export const grownBy = ({ x, y, width, height }: Box, by: number): Box => ({
  x: x - by,
  y: y - by,
  width: Math.max(0.1, width + 2 * by),
  height: Math.max(0.1, height + 2 * by),
});

/** How high an item is that is so wide: its own height, or by the ratio that its outline insists on. */
export const heightFor = ({ at, shape }: FramedItem, width: number): number =>
  shape.name === 'outlines' && shape.drawn?.ratio ? width / shape.drawn.ratio : at.box.height;

/** Where a stretch begins that is aligned to another. */
export const alignedAt = (from: number, room: number, size: number, align: Tie['align'] = 'centre'): number =>
  align === 'start' ? from : align === 'end' ? from + room - size : from + (room - size) / 2;
