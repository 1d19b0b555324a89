/** The paragraph that a frame goes with, and where it counts from then: by hand. CSS pixels are three quarters of a point. */
import { BESIDE_TEXT, FULL_SEAT, CENTRED, ON_PAGE, type Frame } from '@gable/core';
import type { Block } from '@gable/contract';
import type { LaidBlock } from '../../../page/told';
import { isOwn, nearestParagraph, retied } from './retie';

const pages = [0, 1].map((i) => ({
  ...{ x: 10, y: i * 1000, width: 600, height: 980 },
  columns: [
    { x: 60, y: 60, width: 200, height: 800 },
    { x: 300, y: 60, width: 200, height: 800 },
  ],
}));
const block = (x: number, y: number, more: Partial<LaidBlock> = {}): LaidBlock => ({
  ...{ x, y, width: 200, height: 80, words: 'w', cell: null, ...more },
});
const blocks = [
  block(70, 100),
  block(70, 200, { closed: true }),
  block(80, 210, { cell: { x: 70, y: 200, width: 200, height: 80 } }),
  block(310, 100),
  block(70, 1100, { goesOn: true }),
  block(70, 1200),
];
const file: Block[] = ['One', 'Table', 'Cell', 'Two', 'Three', ' Four\n and more'].map((words, i) => ({
  words,
  in: i === 2 ? 'cell' : 'text',
  within: i === 2 ? 0 : null,
}));
const text = { blocks, pages, file };
const at = (x: number, y: number): { x: number; y: number; width: number; height: number } => ({
  ...{ x, y, width: 100, height: 100 },
});

test('the nearest paragraph of the same page, of those that begin there and stand in no cell', () => {
  expect(nearestParagraph(text, at(80, 220))?.paragraph).toEqual({ block: 0, words: 'One' });
  // In the other column; blocks are counted without those in cells.
  expect(nearestParagraph(text, at(320, 400))?.paragraph).toEqual({ block: 2, words: 'Two' });
  expect(nearestParagraph(text, at(80, 1010))?.paragraph).toEqual({ block: 4, words: 'Four and more' });
  // What hangs over the end of the last page is nearest to that.
  expect(nearestParagraph(text, at(80, 5000))?.paragraph.block).toBe(4);
  expect(nearestParagraph({ ...text, pages: [] }, at(80, 100))).toBeNull();
});

test('its own paragraph is known by where it begins', () => {
  const told = { n: 1, ...at(100, 130), inParagraph: { x: 30, y: 30 } };
  expect(isOwn(told, nearestParagraph(text, at(80, 110))!)).toBe(true);
  expect(isOwn(told, nearestParagraph(text, at(320, 110))!)).toBe(false);
});

describe('a frame that goes with another paragraph stays where it is, and counts from there', () => {
  const frame = (anchor: Frame['anchor'], x: number, y: number): Frame => ({
    ...{ n: 1, flow: 'floating' as const, anchor, box: { x, y, width: 75, height: 75 }, turn: 0, alt: '' },
    ...{ flip: { horizontal: false, vertical: false }, seat: FULL_SEAT, shape: { name: 'rectangle', knobs: {} } },
    ...{ placement: CENTRED, backing: null, outline: null, shadow: null },
  });
  const told = { n: 1, ...at(100, 130), inParagraph: { x: 30, y: 30 } };
  const tie = nearestParagraph(text, at(90, 1230))!;
  const now = (anchor: Frame['anchor']): Frame['box'] =>
    retied(frame(anchor, 5, 6), tie, { x: 90, y: 1230 }, { pages, told }).box;

  test('from column and paragraph', () => {
    // The column begins at 70, the paragraph at 1200.
    expect(now(BESIDE_TEXT)).toMatchObject({ x: 15, y: 22.5 });
    expect(retied(frame(BESIDE_TEXT, 5, 6), tie, at(90, 1230), { pages, told }).paragraph).toEqual(tie.paragraph);
  });
  test('from the page, which is the next one: a thousand pixels further down', () => {
    expect(now(ON_PAGE)).toMatchObject({ x: 5, y: 6 - 750 });
  });
  test('what is aligned stays aligned', () => {
    expect(now({ ...BESIDE_TEXT, align: { x: 'right' } })).toMatchObject({ x: 5, y: 22.5 });
  });
});
