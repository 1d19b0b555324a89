/** Words that fit their box and their shape, measured in a font whose letters are all alike (0.5 em), so that widths can be told by hand. */
import fc from 'fast-check';
import {
  fittedWords,
  FULL_SEAT,
  lettersIn,
  lettersOf,
  linesOf,
  wordsOutside,
  type FramedItem,
  type Text,
} from '@gable/core';

const context = {
  font: '',
  measureText: (text: string) => ({ width: text.length * 0.5 * Number(/([\d.]+)px/.exec(context.font)![1]) }),
};
const run = (text: string, size: number): Text['paragraphs'][number]['runs'][number] => ({
  ...{ text, font: '', size, weight: 400, italic: false, underline: false },
  paint: { kind: 'solid', colour: '#000000', opacity: 1 },
});
const textOf = (lines: readonly [string, number][], inset = 0): Text => ({
  ...{ anchor: 'middle', inset: { top: inset, right: inset, bottom: inset, left: inset } },
  paragraphs: lines.map(([text, size]) => ({ align: 'centre', runs: [run(text, size)] })),
});
const sizes = (text: Text): number[] => text.paragraphs.flatMap((p) => p.runs.map((r) => r.size));
const tall = (text: Text, width: number): number =>
  linesOf(context, text, width - text.inset.left - text.inset.right).reduce((sum, l) => sum + l.height + l.above, 0);

/** Of the widest line, without the space that it ends with. */
const wide = (text: Text, width: number): number =>
  Math.max(
    ...linesOf(context, text, width - text.inset.left - text.inset.right).map((l) => {
      const words = l.pieces.map((p) => p.text).join('');
      return (l.width * words.trimEnd().length) / Math.max(1, words.length);
    }),
  );

test('one word: as wide as its room, or as high', () => {
  // Four letters of 0.5 em in 100 pt with 10 pt on each side: 40 pt, and its line 48.
  expect(sizes(fittedWords(context, textOf([['Kiln', 12]], 10), { width: 100, height: 200 }))[0]).toBeCloseTo(40.2, 0);
  // A line is 1.2 em high: 24 pt have 20.
  expect(sizes(fittedWords(context, textOf([['Kiln', 12]]), { width: 1000, height: 24 }))).toEqual([20]);
});

test('they fit, keep their relation, and a tenth more does not fit', () => {
  const words = fc.array(
    fc.tuple(fc.stringMatching(/^[a-z]{1,9}( [a-z]{1,9}){0,6}$/), fc.constantFrom(10, 14, 20, 32)),
    {
      minLength: 1,
      maxLength: 3,
    },
  );
  const side = fc.integer({ min: 40, max: 600 });
  fc.assert(
    fc.property(words, side, side, (lines, width, height) => {
      const text = textOf(lines, 4);
      const fitted = fittedWords(context, text, { width, height });
      const now = sizes(fitted);
      const was = sizes(text);
      fc.pre(Math.min(...now) > 4);
      expect(tall(fitted, width)).toBeLessThanOrEqual(height - 8 + 1e-9);
      expect(wide(fitted, width)).toBeLessThanOrEqual(width - 8 + 0.5);
      for (const [i, size] of now.entries()) expect(size / now[0]!).toBeCloseTo(was[i]! / was[0]!, 1);
      const more = textOf(
        lines.map(([t], i) => [t, now[i]! * 1.1]),
        4,
      );
      expect(tall(more, width) <= height - 8 && wide(more, width) <= width - 8 + 0.5).toBe(false);
    }),
  );
});

const itemOf = (text: Text, more: Partial<FramedItem> = {}): FramedItem => ({
  ...{ kind: 'framed', id: 'add-a', at: { on: 'page', box: { x: 5, y: 5, width: 100, height: 100 } }, turn: 0 },
  ...{ flip: { horizontal: false, vertical: false }, opacity: 1, alt: '', shape: { name: 'rectangle', knobs: {} } },
  ...{ seat: FULL_SEAT, outline: null, shadow: null, text, tie: undefined },
  fill: { kind: 'paint', paint: { kind: 'solid', colour: '#ffffff', opacity: 1 } },
  ...more,
});

test('letters stand in the middle of their line, at the height of their font', () => {
  const [line] = lettersOf(context, itemOf(textOf([['Kiln', 20]])));
  // Four letters of 10 pt; the line of 24 pt begins at 38, its baseline lies 0.79 of it below.
  expect(line!.x).toBeCloseTo(30, 6);
  expect(line!.width).toBeCloseTo(40, 6);
  expect(line!.y + 0.7 * 20).toBeCloseTo(38 + 0.79 * 24, 6);
});

test('all letters of an item lie on its page where its lines do', () => {
  const of = (align: 'start' | 'centre' | 'end'): ReturnType<typeof lettersIn> => {
    const text = textOf(
      [
        ['Kiln', 20],
        ['Ki', 20],
      ],
      4,
    );
    return lettersIn(context, itemOf({ ...text, paragraphs: text.paragraphs.map((p) => ({ ...p, align })) }));
  };
  // The longer line has four letters of 10 pt, in 92 pt from 9 on; two lines of 24 pt in the middle of 100.
  expect(of('start')).toMatchObject({ x: 9, width: 40 });
  expect(of('centre').x).toBeCloseTo(35, 6);
  expect(of('end').x).toBeCloseTo(61, 6);
  const { y, height } = of('centre');
  expect([y, height]).toEqual([expect.closeTo(5 + 26 + 0.79 * 24 - 14, 6), expect.closeTo(24 + 18, 6)]);
  expect(lettersIn(context, itemOf(textOf([['', 20]])))).toMatchObject({
    width: 0,
    height: expect.any(Number) as number,
  });
});

test('what sticks out of its shape is told as a share; without a shape that is seen nothing does', () => {
  const long = textOf([['Kilnkilnki', 20]]);
  expect(wordsOutside(context, itemOf(long))).toBe(0);
  // Half as wide again as its box: a third of it is outside.
  const wide = textOf([['Kilnkilnkilnkil', 20]]);
  expect(wordsOutside(context, itemOf(wide))).toBeCloseTo(1 / 3, 1);
  expect(wordsOutside(context, itemOf(wide, { fill: null }))).toBe(0);
  // In a circle a line at the top has less room than at the middle (Pythagoras: 20 pt below the top there are 80 of 100).
  const circle = { shape: { name: 'circle', knobs: {} } };
  const fits = itemOf(textOf([['Kiln', 20]]), circle);
  expect(wordsOutside(context, fits)).toBe(0);
  const { at, ...rest } = itemOf({ ...textOf([['Kilnkil', 20]]), anchor: 'top' }, circle);
  const placed = { ...rest, at, text: { ...rest.text!, inset: { top: -14, right: 0, bottom: 0, left: 0 } } };
  expect(wordsOutside(context, placed)).toBeGreaterThan(0.05);
});
