import { emptyDocument, newPicture, type Box, type Document, type FramedItem } from '@gable/core';
import type { Block } from '@gable/contract';
import type { LaidBlock } from '../../../page/told';
import { workOf } from '../../testing/works';
import {
  blocksOf,
  columnName,
  countsOf,
  isEmpty,
  lineAt,
  markAmong,
  markBetween,
  markOn,
  positionsAt,
  sizeAt,
  slotFor,
  takerAt,
  takersOn,
  type Count,
} from './place';

const at = (y: number, words: string, height = 20): LaidBlock => ({
  cell: null,
  x: 100,
  y,
  width: 400,
  height,
  words,
});

const inFile = (...words: string[]): Block[] => words.map((w) => ({ words: w, in: 'text', within: null }));
const laidOut = (...words: string[]): { words: string }[] => words.map((w) => ({ words: w }));
const inText = (...before: number[]): Count[] => before.map((n) => ({ within: null, before: n }));

test('blocks of the layout are found in the file by their words, parted ones and those in capitals too', () => {
  const file = inFile('Dear all', '', 'A long paragraph that a page parts in the middle', 'Tram 4Bus 12', 'End');
  expect(
    blocksOf(
      laidOut('DEAR ALL', '', 'A long paragraph that', 'a page parts in the middle', 'Tram 4 Bus 12', 'End'),
      file,
    ),
  ).toEqual(inText(0, 1, 2, 2, 3, 4));
  // What the layout has and the file has not stands where the one before it does.
  expect(blocksOf(laidOut('Dear all', 'A note', 'End'), file)).toEqual(inText(0, 0, 4));
  expect(blocksOf(laidOut('Same', 'Same'), inFile('Same', 'Same'))).toEqual(inText(0, 1));
});

test('blocks of cells and text boxes have a count of their own', () => {
  const file: Block[] = [
    ...inFile('Left Right'),
    { words: 'Left', in: 'cell', within: 0 },
    { words: 'Under it', in: 'cell', within: 0 },
    { words: 'Aside', in: 'box', within: 2 },
    ...inFile('End'),
  ];
  expect(countsOf(file)).toEqual([
    { within: null, before: 0 },
    { within: 0, before: 0 },
    { within: 0, before: 1 },
    { within: 2, before: 0 },
    { within: null, before: 1 },
  ]);
});

test('the place between blocks is the edge that is nearest, in the cell that the point is in', () => {
  const laid = { blocks: [at(0, 'one'), at(40, 'two'), { ...at(80, 'gone'), width: 0 }, at(80, 'three')] };
  const counts = inText(0, 1, 2, 3);
  const near = (y: number): ReturnType<typeof lineAt> => lineAt(laid, counts, { x: 0, y });
  expect(near(5)).toMatchObject({ block: 0, below: false });
  expect(near(27)).toMatchObject({ block: 0, below: true });
  expect(near(999)).toMatchObject({ block: 3, below: true });
  const mark = markBetween(laid, counts, { block: 3, below: true }, 1);
  expect(mark).toMatchObject({
    place: { in: 'text', page: 1, after: 4, within: null },
    y: 100,
    form: 'line',
    words: 'Below “three”',
  });
  expect(lineAt({ blocks: [] }, [], { x: 0, y: 5 })).toBeNull();
  const cell = (x: number): LaidBlock['cell'] => ({ x, y: 120, width: 100, height: 60 });
  const table = {
    blocks: [
      { ...at(120, 'Left', 60), x: 0, width: 200 },
      { ...at(120, 'Left'), x: 0, width: 100, cell: cell(0) },
      { ...at(120, ''), x: 100, width: 100, cell: cell(100) },
    ],
  };
  const inTable = [...inText(0), { within: 0, before: 0 }, { within: 1, before: 0 }];
  const below = lineAt(table, inTable, { x: 50, y: 175 })!;
  expect(markBetween(table, inTable, below, 1)).toMatchObject({ place: { after: 1, within: 0, letters: null } });
  const empty = lineAt(table, inTable, { x: 150, y: 175 })!;
  expect(markBetween(table, inTable, empty, 1)).toMatchObject({
    ...{ ...cell(100), form: 'box', words: 'Into this cell' },
    place: { after: 1, within: 1, letters: 0 },
  });
  // Beside the table it is the text again.
  expect(lineAt(table, inTable, { x: 500, y: 175 })).toMatchObject({ block: 0, below: true });
});

test('the place between letters is told by the words on both sides', () => {
  const caret = { x: 5, y: 6, width: 2, height: 14, block: 1, letters: 7, words: 'your bowls |are ready' };
  expect(markAmong(caret, inText(0, 4), 1)).toMatchObject({
    ...{ form: 'caret', words: 'Between “your bowls” and “are ready”' },
    place: { after: 5, letters: 7, within: null },
  });
  expect(markAmong(caret, [null], 1)).toBeNull();
});

const sheet = { width: 720, height: 405, background: '#ffffff', items: [] };
const slides = {
  ...workOf([]),
  can: { ...workOf([]).can, pages: 'fixed', insert: 'page', margin: false },
  sheets: [sheet],
} as const;
const wide = { width: 3000, height: 1500 };

test('on a page a picture comes about the point, several side by side, all within the page', () => {
  expect(sizeAt(slides, { in: 'page', page: 1, x: 0, y: 0, fills: null }, wide)).toEqual({
    width: expect.closeTo(432, 6) as number,
    height: expect.closeTo(216, 6) as number,
  });
  const [one] = positionsAt(slides, { in: 'page', page: 1, x: 360, y: 200, fills: null }, [wide]);
  expect(one!.box.x + one!.box.width / 2).toBeCloseTo(360, 6);
  expect(one!.box.y + one!.box.height / 2).toBeCloseTo(200, 6);
  const four = positionsAt(slides, { in: 'page', page: 1, x: 700, y: 10, fills: null }, [
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
  expect(
    positionsAt(work, { in: 'text', page: 1, after: 3, within: null, letters: null, room: null, beside: null }, [
      wide,
      wide,
    ]),
  ).toMatchObject([
    { on: 'line', after: 3 },
    { on: 'line', after: 4 },
  ]);
  const beside = positionsAt(
    work,
    { in: 'text', page: 1, after: 3, within: null, letters: null, room: null, beside: { x: 10, y: 5 } },
    [wide, wide],
  );
  expect(beside).toMatchObject([
    { on: 'anchor', after: 3, box: { x: 0, y: 5 } },
    { on: 'anchor', after: 3 },
  ]);
  expect(beside[1]!.box.y).toBeGreaterThan(beside[0]!.box.y + beside[0]!.box.height);
  const web = { ...work, can: { ...work.can, insert: 'web' } } as const;
  expect(
    positionsAt(web, { in: 'text', page: 1, after: 0, within: null, letters: null, room: null, beside: null }, [wide]),
  ).toMatchObject([{ on: 'element', after: 0 }]);
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
  expect(slotFor(document, { in: 'page', page: 1, x: 0, y: 0, fills: null })).toEqual({
    in: { page: 'page1' },
    index: 2,
  });
  expect(
    slotFor(document, { in: 'text', page: 1, after: 0, within: null, letters: null, room: null, beside: null }),
  ).toEqual({
    in: { story: 's1' },
    index: 0,
  });
});

const shape = (id: string, box: Box, more: Partial<FramedItem> = {}): FramedItem => ({
  ...newPicture(id, { on: 'page', box }, { sha256: '', name: '', type: 'png', size: wide, orientation: 1 }),
  fill: { kind: 'paint', paint: { kind: 'solid', colour: '#b5482a', opacity: 1 } },
  text: null,
  ...more,
});
const box = (x: number, width = 100): Box => ({ x, y: 100, width, height: 100 });

test('shapes take what is put on them: the front one, turned as it is; grounds and mere words do not', () => {
  const items = [
    shape('ground', { x: 0, y: 0, width: 720, height: 405 }),
    shape('gap', box(50), { fill: null, awaits: 'picture' }),
    shape('gap2', box(500), { fill: null, awaits: 'picture' }),
    shape('words', box(350), { fill: null }),
    shape('back', box(200)),
    shape('turned', box(200), { turn: 45 }),
  ];
  const page = {
    ...{ id: 'page1', size: { width: 720, height: 405 }, ground: null, layers: [], items: items.map((i) => i.id) },
    margins: { top: 0, right: 0, bottom: 0, left: 0 },
  };
  const document: Document = {
    ...emptyDocument(),
    pages: [page],
    items: Object.fromEntries(items.map((i) => [i.id, i])),
  };
  const takers = takersOn(document, 1);
  expect(takers.map((t) => t.item.id)).toEqual(['gap', 'gap2', 'back', 'turned']);
  const at = (x: number, y: number): string | undefined => takerAt(takers, { x, y })?.item.id;
  // A corner of the square is not in the one that is turned by half a right angle.
  expect([at(250, 150), at(203, 103), at(60, 110), at(400, 150)]).toEqual(['turned', 'back', 'gap', undefined]);
  const mark = markOn(takers[0]!, 1, 2);
  expect(mark).toMatchObject({ x: 100, width: 200, words: 'Into the empty frame' });
  const placed = positionsAt(slides, mark.place, [wide, wide, wide], {
    empty: takers.filter(isEmpty).map((t) => t.box),
  });
  expect(placed.map((p) => ('fills' in p && p.fills ? p.box.x : null))).toEqual([50, 500, null]);
});
