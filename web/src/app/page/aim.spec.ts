import type { LaidBlock } from '../../../page/told';
import { workOf } from '../../testing/works';
import { markAt, stepped, type Aim } from './aim';
import type { Mark } from './place';

const block = (y: number, words: string, more: Partial<LaidBlock> = {}): LaidBlock => ({
  ...{ x: 100, y, width: 400, height: 20, words, cell: null },
  ...more,
});
const cell = (x: number): Partial<LaidBlock> => ({ x, width: 200, cell: { x, y: 40, width: 200, height: 20 } });

const text: Aim = {
  work: workOf([]),
  laid: {
    blocks: [
      block(0, 'one'),
      block(40, 'L R', { height: 20 }),
      block(40, 'L', cell(100)),
      block(40, 'R', cell(300)),
      block(80, 'two'),
    ],
  },
  counts: [
    { within: null, before: 0 },
    { within: null, before: 1 },
    { within: 0, before: 0 },
    { within: 1, before: 0 },
    { within: null, before: 2 },
  ],
  page: 1,
  pictures: [{ width: 400, height: 200 }],
  spread: 'grid',
  way: 'between',
  takers: [],
  unit: 'mm',
};
const words = (mark: Mark | { ask: unknown } | null): string | null => (mark && 'words' in mark ? mark.words : null);

test('arrow keys go from line to line of a text, and from cell to cell of a row', () => {
  let mark = markAt(text, { x: 150, y: 0 })!;
  expect(mark.words).toBe('Above “one”');
  const down = (): void => {
    mark = stepped(text, mark, [0, 1], false) as Mark;
  };
  down();
  expect(mark.words).toBe('Below “one”');
  down();
  expect(mark.y).toBe(40);
  const left = markAt(text, { x: 150, y: 45 })!;
  expect([left.words, left.place]).toMatchObject(['Above “L”', { within: 0 }]);
  const right = stepped(text, left, [1, 0], false) as Mark;
  expect([right.words, right.place]).toMatchObject(['Above “R”', { within: 1 }]);
  expect(words(stepped(text, right, [1, 0], false))).toBeNull();
  expect(words(stepped(text, right, [-1, 0], false))).toBe('Above “L”');
});

test('from the lower edge of a cell they go on to the next one', () => {
  const below = markAt(text, { x: 150, y: 59 })!;
  expect(below.words).toBe('Below “L”');
  expect(words(stepped(text, below, [1, 0], false))).toBe('Below “R”');
});

test('several are shown as they will be arranged', () => {
  const { can } = text.work;
  const two: Aim = {
    ...text,
    work: { can: { ...can, insert: 'page' }, sheets: [{ width: 720, height: 540, background: '#ffffff', items: [] }] },
    pictures: [
      { width: 400, height: 200 },
      { width: 300, height: 300 },
    ],
  };
  const [row, column] = (['row', 'column'] as const).map((spread) => markAt({ ...two, spread }, { x: 400, y: 300 })!);
  expect(row!.boxes![0]!.height).toBeCloseTo(row!.boxes![1]!.height, 6);
  expect(row!.boxes![1]!.x).toBeGreaterThan(row!.boxes![0]!.width);
  expect(column!.boxes![0]!.width).toBeCloseTo(column!.boxes![1]!.width, 6);
});

test('in a line they ask the page for the place beside; beside the text they go by millimetres', () => {
  const among: Aim = { ...text, way: 'among' };
  const caret: Mark = {
    ...{ place: { in: 'text', page: 1, after: 1, within: null, letters: 2, room: null, beside: null } },
    ...{ x: 120, y: 2, width: 2, height: 16, form: 'caret', words: '' },
  };
  expect(stepped(among, caret, [1, 0], false)).toEqual({ ask: { x: 130, y: 10 } });
  expect(stepped(among, caret, [0, -1], false)).toEqual({ ask: { x: 121, y: -7 } });
  const beside: Aim = { ...text, way: 'beside' };
  const mark = markAt(beside, { x: 300, y: 85 })!;
  expect(mark.place).toMatchObject({ after: 3, within: null, beside: { y: 3.75 } });
  const next = stepped(beside, mark, [0, 1], true) as Mark;
  // A millimetre is 96 / 25.4 px (CSS Values 4 §6.2).
  expect(next.y - mark.y).toBeCloseTo(96 / 25.4, 6);
});

test('on a web page without anything a picture goes to its beginning, wherever is pointed at', () => {
  const work = workOf([]);
  const empty: Aim = {
    ...text,
    work: { ...work, can: { ...work.can, insert: 'web' } },
    laid: { blocks: [] },
    counts: [],
  };
  expect(markAt(empty, { x: 400, y: 300 })).toMatchObject({
    place: { in: 'text', after: 0 },
    words: 'On the empty page',
  });
});
