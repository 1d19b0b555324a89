import { PLAIN_FAULTS, solidOutline, type Frame } from '@gable/core';
import { frameOf, pictureOf } from '../../testing/works';
import type { WorkPicture } from '@gable/contract';
import { factsOf } from '../work/facts';
import { familyWords, wishWords } from './family-words';
import { arranged, counted, likeThisOne, linesOf, mendedBy, rowOf, showingSame, type Row } from './survey-model';

const row = (n: number, frame: Partial<Frame> = {}, picture: Partial<WorkPicture> = {}): Row => {
  const p = pictureOf(n, picture);
  const f = frameOf(n, frame);
  return rowOf(p, f, `w/${n}`, factsOf(p, f), p.problem);
};
const at = (page: number, near = ''): Partial<WorkPicture> => ({
  where: { part: 'word/document.xml', place: 'body', table: false, textBox: false, group: false, page, near },
});
const squashed = { placement: { ...frameOf(1).placement, distortion: 0.7 } };
const egg = { shape: { name: 'ellipse', knobs: {} }, box: { x: 0, y: 0, width: 100, height: 104 } };
const rows = [
  row(1, {}, at(1, 'Bowls of last season')),
  row(2, squashed, at(2)),
  row(3, { ...egg, alt: '' }, at(2)),
  row(4, { outline: solidOutline(0.3, '#000000') }, at(3)),
  row(5, {}, { ...at(3), problem: { code: 'broken-picture', message: 'Broken.', remedy: '' } }),
];
const plain = { query: '', only: null, grouping: 'none', order: 'reading' } as const;
const numbers = (groups: ReturnType<typeof arranged>): [string, number[]][] =>
  groups.map((g) => [g.mark, g.rows.map((r) => r.n)]);

test('findings are counted by kind, those that people care most about first', () => {
  expect(counted(rows).map((c) => [c.code, c.rows.map((r) => r.n), c.mendable])).toEqual([
    ['distorted', [2], 1],
    ['egg', [3], 1],
    ['hairline', [4], 1],
    ['no-alt-text', [3], 0],
    ['problem', [5], 0],
  ]);
});

test('grouped, sorted and narrowed', () => {
  expect(numbers(arranged(rows, { ...plain, grouping: 'page' }))).toEqual([
    ['p1', [1]],
    ['p2', [2, 3]],
    ['p3', [4, 5]],
  ]);
  expect(numbers(arranged(rows, { ...plain, grouping: 'shape' }))).toEqual([
    ['Rectangle', [1, 2, 4, 5]],
    ['Ellipse', [3]],
  ]);
  expect(numbers(arranged(rows, { ...plain, order: 'size' }))).toEqual([['', [1, 2, 4, 5, 3]]]);
  expect(numbers(arranged(rows, { ...plain, only: 'egg' }))).toEqual([['', [3]]]);
  expect(numbers(arranged(rows, { ...plain, query: 'season bowls' }))).toEqual([['', [1]]]);
  expect(arranged(rows, { ...plain, query: 'nowhere' })).toEqual([]);
});

test('lines run on through groups; the first of each carries its mark', () => {
  const lines = linesOf(arranged(rows, { ...plain, grouping: 'page' }), 3);
  expect(lines.map((l) => l.cells.map((c) => [c.row.n, c.mark, c.count]))).toEqual([
    [
      [1, 'p1', 1],
      [2, 'p2', 2],
      [3, null, 2],
    ],
    [
      [4, 'p3', 2],
      [5, null, 2],
    ],
  ]);
});

test('all that is plainly wrong is mended at once, and nothing else', () => {
  const both = row(6, { ...squashed, outline: solidOutline(0.3, '#000000') });
  const mended = mendedBy(both, PLAIN_FAULTS);
  expect(mended.placement.distortion).toBe(1);
  expect(mended.outline?.weight).toBeCloseTo(0.75, 9);
  expect(mendedBy(both, new Set(['egg']))).toBe(both.frame);
  expect(mendedBy(rows[0]!, PLAIN_FAULTS)).toBe(rows[0]!.frame);
  expect(mendedBy(rows[2]!, PLAIN_FAULTS).shape.name).toBe('circle');
});

test('others like it: the same kind of shape in nearly the same size', () => {
  const round = (n: number, side: number): Row =>
    row(n, { shape: { name: 'circle', knobs: {} }, box: { x: 0, y: 0, width: side, height: side } });
  expect(likeThisOne([...rows, round(7, 100), round(8, 150)], rows[2]!)).toEqual([3, 7]);
});

test('frames that show the same picture: the same data in the file, or the same kept one', () => {
  const media = { type: 'jpeg', pixels: null, orientation: 1, drawable: true };
  const data = (n: number, name: string | null): Row => row(n, {}, { media: { ...media, data: name } });
  const source = { sha256: 'c'.repeat(64), name: 'Pot', type: 'png', size: { width: 9, height: 6 }, orientation: 1 };
  const all = [data(1, 'a#1'), data(2, 'b#1'), data(3, 'a#1'), data(4, null), data(5, null), row(6, { source })];
  expect(showingSame(all, all[0]!)).toEqual([1, 3]);
  expect(showingSame(all, all[3]!)).toEqual([4]);
  expect(showingSame([...all, row(7, { source })], all[5]!)).toEqual([6, 7]);
});

test('families in words', () => {
  const mm = 72 / 25.4;
  const size = { kind: 'size', size: { width: 32 * mm, height: 32 * mm }, round: true } as const;
  const family = { kind: 'size', members: [1, 2, 3, 4, 5, 6, 7], different: 6, target: size } as const;
  expect(familyWords(family)).toBe('Seven round frames, six sizes');
  expect(wishWords(family)).toBe('Make them all 32 mm circles');
  expect(wishWords({ kind: 'ratio', members: [1, 2], different: 2, target: { kind: 'ratio', ratio: 1.5 } })).toBe(
    'Give them all the ratio 3:2',
  );
});
