import type { FramedItem } from '@gable/core';
import type { PageSpot } from '../../../page/told';
import { besideText } from './beside-text';

/** A4 at 96 pixels to the inch, one below the other. */
const spot = (y: number, columns: PageSpot['columns']): PageSpot => ({
  ...{ x: 20, y, width: 794, height: 1123 },
  ...(columns && { columns }),
});
const pages = [
  spot(10, [
    { x: 96, y: 96, width: 280, height: 931 },
    { x: 418, y: 96, width: 280, height: 931 },
  ]),
  spot(1153, undefined),
];
const item = (id: string, more: Partial<FramedItem> = {}): FramedItem =>
  ({ id, kind: 'framed', turn: 0, flip: { horizontal: false, vertical: false }, ...more }) as FramedItem;
const at = (x: number, y: number) => ({ x, y, width: 100, height: 50 });

test('each lies on the page that its middle is on; what is locked, or on none, is left out', () => {
  const { all } = besideText(
    [
      { item: item('a'), box: at(200, 100), turn: 0 },
      // Its upper edge hangs over from the page before.
      { item: item('b'), box: at(200, 850), turn: 0 },
      { item: item('c', { locked: true }), box: at(300, 100), turn: 0 },
      { item: item('d'), box: at(200, -200), turn: 0 },
    ],
    pages,
  );
  expect(all.map(({ item: { id }, page }) => [id, page])).toEqual([
    ['a', 0],
    ['b', 1],
  ]);
});

test('the margins lie round all columns; a page without any has its own edges', () => {
  const [first, second] = besideText([], pages).pages;
  // 72 points are 96 pixels (CSS Values 4 §6.2).
  expect(first).toEqual({
    box: { x: 15, y: 7.5, width: 595.5, height: 842.25 },
    margins: { x: 87, y: 79.5, width: 451.5, height: 698.25 },
  });
  expect(second!.margins).toEqual(second!.box);
});

test('a turned one is brought in line by the upright box round it', () => {
  const [{ bounds } = { bounds: null }] = besideText([{ item: item('a'), box: at(200, 100), turn: 90 }], pages).all;
  const { x, y, width, height } = bounds!;
  expect([x, y, width, height].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([225, 75, 50, 100]);
});
