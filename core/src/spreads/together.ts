import type { Box, Size } from '../model/frame';
import { column } from './column';
import { grid } from './grid';
import { row } from './row';

/** Ways to arrange pictures that come to a page together. */
export const TOGETHER = ['grid', 'row', 'column'] as const;
export type Together = (typeof TOGETHER)[number];
const WAYS = { grid, row, column };

/** Air between pictures that come together, in points; and the share of a page that they take at most. Our own choice. */
const GAP = 12;
const MOST = 0.9;

/**
 * Pictures that come together, about a point: all of them on the page as far as it has room for them, and none larger than it would be alone.
 * @param sizes as they would be alone, in points
 * @returns their boxes, in the same order
 */
export function together(kind: Together, sizes: readonly Size[], page: Size, about: { x: number; y: number }): Box[] {
  const boxes = sizes.length < 2 ? sizes.map((s) => ({ x: 0, y: 0, ...s })) : asLarge(kind, sizes, page);
  const width = Math.max(...boxes.map((b) => b.x + b.width));
  const height = Math.max(...boxes.map((b) => b.y + b.height));
  const within = (at: number, size: number, most: number): number =>
    Math.min(Math.max(at - size / 2, 0), Math.max(0, most - size));
  const [left, top] = [within(about.x, width, page.width), within(about.y, height, page.height)];
  return boxes.map((b) => ({ ...b, x: b.x + left, y: b.y + top }));
}

/** In less room, until none is too large: their gaps stay. */
function asLarge(kind: Together, sizes: readonly Size[], page: Size): Box[] {
  const ratios = sizes.map((s) => s.width / s.height);
  const gap = { x: GAP, y: GAP };
  const within = (k: number): Box[] =>
    WAYS[kind].boxes(ratios, { width: MOST * page.width * k, height: MOST * page.height * k, gap });
  const times = (boxes: readonly Box[]): number => Math.min(...boxes.map((b, i) => sizes[i]!.width / b.width));
  let [low, high] = [0, 1];
  if (times(within(1)) < 1)
    for (let i = 0; i < 60; i++) {
      const k = (low + high) / 2;
      if (times(within(k)) < 1) high = k;
      else low = k;
    }
  const boxes = within(high);
  const [x, y] = [Math.min(...boxes.map((b) => b.x)), Math.min(...boxes.map((b) => b.y))];
  return boxes.map((b) => ({ ...b, x: b.x - x, y: b.y - y }));
}
