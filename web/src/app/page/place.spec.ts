import type { Document } from '@gable/core';
import { workOf } from '../../testing/works';
import { blocksOf, columnName, lineAt, markBetween, positionsAt, sizeAt, slotFor } from './place';

const at = (
  y: number,
  words: string,
  height = 20,
): { x: number; y: number; width: number; height: number; words: string } => ({
  x: 100,
  y,
  width: 400,
  height,
  words,
});

test('blocks of the layout are found in the file by their words, parted ones and those in capitals too', () => {
  const file = ['Dear all', '', 'A long paragraph that a page parts in the middle', 'Tram 4Bus 12', 'End'];
  expect(
    blocksOf(['DEAR ALL', '', 'A long paragraph that', 'a page parts in the middle', 'Tram 4 Bus 12', 'End'], file),
  ).toEqual([0, 1, 2, 2, 3, 4]);
  // What the layout has and the file has not stands where the one before it does.
  expect(blocksOf(['Dear all', 'A note', 'End'], file)).toEqual([0, 0, 4]);
  expect(blocksOf(['Same', 'Same'], ['Same', 'Same'])).toEqual([0, 1]);
});

test('the place between blocks is the edge that is nearest', () => {
  const laid = { blocks: [at(0, 'one'), at(40, 'two'), { ...at(80, 'gone'), width: 0 }, at(80, 'three')] };
  expect(lineAt(laid, [0, 1, 2, 3], 5)).toMatchObject({ block: 0, below: false });
  expect(lineAt(laid, [0, 1, 2, 3], 27)).toMatchObject({ block: 0, below: true });
  expect(lineAt(laid, [0, 1, 2, 3], 999)).toMatchObject({ block: 3, below: true });
  const mark = markBetween(laid, [0, 1, 2, 3], { block: 3, below: true }, 1);
  expect(mark).toMatchObject({ place: { in: 'text', page: 1, after: 4 }, y: 100, line: true, words: 'Below “three”' });
  expect(lineAt({ blocks: [] }, [], 5)).toBeNull();
});

const sheet = { width: 720, height: 405, background: '#ffffff', items: [] };
const slides = {
  ...workOf([]),
  can: { pages: 'fixed', insert: 'front', margin: false, slim: 'all' },
  sheets: [sheet],
} as const;
const wide = { width: 3000, height: 1500 };

test('on a page a picture comes about the point, several side by side, all within the page', () => {
  expect(sizeAt(slides, { in: 'page', page: 1, x: 0, y: 0 }, wide)).toEqual({
    width: expect.closeTo(432, 6) as number,
    height: expect.closeTo(216, 6) as number,
  });
  const [one] = positionsAt(slides, { in: 'page', page: 1, x: 360, y: 200 }, [wide]);
  expect(one!.box.x + one!.box.width / 2).toBeCloseTo(360, 6);
  expect(one!.box.y + one!.box.height / 2).toBeCloseTo(200, 6);
  const four = positionsAt(slides, { in: 'page', page: 1, x: 700, y: 10 }, [
    wide,
    wide,
    wide,
    { width: 20, height: 20 },
  ]);
  const boxes = four.map((p) => p.box);
  for (const [i, b] of boxes.entries()) {
    expect(b.x).toBeGreaterThanOrEqual(0);
    expect(b.x + b.width).toBeLessThanOrEqual(720.001);
    for (const other of boxes.slice(i + 1)) expect(b.x + b.width <= other.x || b.y + b.height <= other.y).toBe(true);
  }
});

test('in a text one after another, beside it one below the other, on a web page as elements', () => {
  const work = workOf([]);
  expect(positionsAt(work, { in: 'text', page: 1, after: 3, beside: null }, [wide, wide])).toMatchObject([
    { on: 'line', after: 3 },
    { on: 'line', after: 4 },
  ]);
  const beside = positionsAt(work, { in: 'text', page: 1, after: 3, beside: { x: 10, y: 5 } }, [wide, wide]);
  expect(beside).toMatchObject([
    { on: 'anchor', after: 3, box: { x: 0, y: 5 } },
    { on: 'anchor', after: 3 },
  ]);
  expect(beside[1]!.box.y).toBeGreaterThan(beside[0]!.box.y + beside[0]!.box.height);
  const web = { ...work, can: { ...work.can, insert: 'web' } } as const;
  expect(positionsAt(web, { in: 'text', page: 1, after: 0, beside: null }, [wide])).toMatchObject([
    { on: 'element', after: 0 },
  ]);
});

test('cells have names, and pictures stand at them', () => {
  // ECMA-376 Part 1 §18.18.62 (ST_Ref): A, Z, AA, XFD (the 16,384th).
  expect([0, 25, 26, 701, 702, 16383].map(columnName)).toEqual(['A', 'Z', 'AA', 'ZZ', 'AAA', 'XFD']);
  const work = { ...slides, can: { ...slides.can, insert: 'cell' } } as const;
  expect(positionsAt(work, { in: 'cell', page: 1, row: 3, column: 1 }, [wide])).toMatchObject([
    { on: 'cells', cells: { start: { row: 3, column: 1 }, moves: true, sizes: false } },
  ]);
});

test('new pictures come in front of all on a page, and into the story of a text', () => {
  const document = {
    pages: [{ id: 'page1', items: ['a', 'b'] }],
    stories: [
      { id: 's0', kind: 'header' },
      { id: 's1', kind: 'body' },
    ],
  } as unknown as Document;
  expect(slotFor(document, { in: 'page', page: 1, x: 0, y: 0 })).toEqual({ in: { page: 'page1' }, index: 2 });
  expect(slotFor(document, { in: 'text', page: 1, after: 0, beside: null })).toEqual({ in: { story: 's1' }, index: 0 });
});
