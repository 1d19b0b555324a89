import type { Box, Size } from '../model/frame';

/** Ways to arrange several pictures on a page. */
export const SPREADS = ['grid', 'row', 'column'] as const;
export type Spread = (typeof SPREADS)[number];

/** Air between pictures that come together, in points; and the share of a page that they take at most. Our own choice. */
const GAP = 12;
const MOST = 0.9;

/**
 * Pictures arranged about a point, all of them on the page as far as it has room for them: side by side and alike in height,
 * one above the other and alike in width, or in rows of cells that are alike.
 * @param sizes as they would be alone, in points
 * @returns their boxes, in the same order
 */
export function spread(kind: Spread, sizes: readonly Size[], page: Size, about: { x: number; y: number }): Box[] {
  const boxes = sizes.length < 2 ? sizes.map((s) => ({ x: 0, y: 0, ...s })) : ARRANGE[kind](sizes, page);
  const width = Math.max(...boxes.map((b) => b.x + b.width));
  const height = Math.max(...boxes.map((b) => b.y + b.height));
  const within = (at: number, size: number, most: number): number =>
    Math.min(Math.max(at - size / 2, 0), Math.max(0, most - size));
  const [left, top] = [within(about.x, width, page.width), within(about.y, height, page.height)];
  return boxes.map((b) => ({ ...b, x: b.x + left, y: b.y + top }));
}

type Arrange = (sizes: readonly Size[], page: Size) => Box[];

const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);

/** Alike in height, as high as the lowest of them. */
const row: Arrange = (sizes, page) => {
  const ratios = sizes.map((s) => s.width / s.height);
  const air = GAP * (sizes.length - 1);
  const most = (MOST * page.width - air) / sum(ratios);
  const height = Math.max(1, Math.min(most, MOST * page.height, ...sizes.map((s) => s.height)));
  let x = 0;
  return ratios.map((ratio) => {
    const width = height * ratio;
    x += width + GAP;
    return { x: x - width - GAP, y: 0, width, height };
  });
};

/** A row that lies on its side. */
const column: Arrange = (sizes, page) => {
  const lying = ({ width, height }: Size): Size => ({ width: height, height: width });
  return row(sizes.map(lying), lying(page)).map((b) => ({ x: b.y, y: b.x, width: b.height, height: b.width }));
};

/** About as many rows as columns; each picture in the middle of its cell. */
const grid: Arrange = (sizes, page) => {
  const columns = Math.ceil(Math.sqrt(sizes.length));
  const rows = Math.ceil(sizes.length / columns);
  const widest = Math.max(...sizes.map((s) => s.width));
  const highest = Math.max(...sizes.map((s) => s.height));
  const room = (whole: number, count: number): number => (MOST * whole - GAP * (count - 1)) / count;
  const k = Math.min(1, room(page.width, columns) / widest, room(page.height, rows) / highest);
  return sizes.map(({ width, height }, i) => ({
    x: (i % columns) * (widest * k + GAP) + ((widest - width) * k) / 2,
    y: Math.floor(i / columns) * (highest * k + GAP) + ((highest - height) * k) / 2,
    width: width * k,
    height: height * k,
  }));
};

const ARRANGE: Readonly<Record<Spread, Arrange>> = { grid, row, column };
