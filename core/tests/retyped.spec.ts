/** Words that are typed anew as plain ones keep the looks of the letters that stayed. */
import fc from 'fast-check';
import { retyped, type Text } from '@gable/core';

type Run = Text['paragraphs'][number]['runs'][number];
const LOOKS = ['#111111', '#222222', '#333333'];
const run = (text: string, look: number): Run => ({
  ...{ text, font: '', size: 12, weight: 400, italic: false, underline: false },
  paint: { kind: 'solid', colour: LOOKS[look]!, opacity: 1 },
});
const textOf = (paragraphs: readonly (readonly Run[])[]): Text => ({
  ...{ anchor: 'top', inset: { top: 0, right: 0, bottom: 0, left: 0 } },
  paragraphs: paragraphs.map((runs, i) => ({ align: i % 2 === 0 ? 'start' : 'end', runs: [...runs] })),
});
const plain = ({ paragraphs }: Text): string => paragraphs.map((p) => p.runs.map((r) => r.text).join('')).join('\n');
/** Each letter with the colour that it has. */
const lettersOf = ({ paragraphs }: Text): string[] =>
  paragraphs.flatMap((p, i) => [
    ...(i > 0 ? ['\n'] : []),
    ...p.runs.flatMap((r) => [...r.text].map((l) => l + (r.paint.kind === 'solid' ? r.paint.colour : ''))),
  ]);

const runs = fc
  .array(
    fc.tuple(fc.string({ unit: fc.constantFrom('a', 'b', 'é', '🏺', ' '), minLength: 1, maxLength: 6 }), fc.nat(2)),
    {
      minLength: 1,
      maxLength: 4,
    },
  )
  .map((all) => all.flatMap(([text, look], i) => (i > 0 && all[i - 1]![1] === look ? [] : [run(text, look)])));
const texts = fc.array(runs, { minLength: 1, maxLength: 4 }).map(textOf);

test('unchanged words stay what they are', () => {
  fc.assert(fc.property(texts, (text) => expect(retyped(text, plain(text))).toEqual(text)));
});

test('what is put in anywhere is there, and every other letter keeps its look', () => {
  const put = fc.string({ unit: fc.constantFrom('x', 'y', '\n'), minLength: 1, maxLength: 5 });
  fc.assert(
    fc.property(texts, fc.nat(), put, (text, place, more) => {
      const all = [...plain(text)];
      const at = place % (all.length + 1);
      const next = retyped(text, [...all.slice(0, at), more, ...all.slice(at)].join(''));
      expect(plain(next)).toBe([...all.slice(0, at), more, ...all.slice(at)].join(''));
      const letters = lettersOf(next);
      const was = lettersOf(text);
      expect(letters.slice(0, at)).toEqual(was.slice(0, at));
      expect(letters.slice(at + more.length)).toEqual(was.slice(at));
    }),
  );
});

test('what is taken out is gone, and nothing else', () => {
  fc.assert(
    fc.property(texts, fc.nat(), fc.nat(), (text, a, b) => {
      const all = [...plain(text)];
      const [from, to] = [a, b].map((v) => v % (all.length + 1)).sort((p, q) => p - q) as [number, number];
      const next = retyped(text, [...all.slice(0, from), ...all.slice(to)].join(''));
      expect(plain(next)).toBe([...all.slice(0, from), ...all.slice(to)].join(''));
    }),
  );
});

test('a break within a paragraph stays one; paragraphs keep how they stand', () => {
  const text = textOf([[run('Maren\nHolt', 0)], [run('pot', 1), run('ter', 2)]]);
  expect(retyped(text, 'Maren\nHolt, Fennick\npotter').paragraphs).toEqual([
    { align: 'start', runs: [run('Maren\nHolt, Fennick', 0)] },
    { align: 'end', runs: [run('pot', 1), run('ter', 2)] },
  ]);
  expect(retyped(text, 'Maren\nHolt').paragraphs).toEqual([{ align: 'start', runs: [run('Maren\nHolt', 0)] }]);
  expect(retyped(text, '').paragraphs).toEqual([{ align: 'start', runs: [run('', 0)] }]);
  // New words have the look of the letter before them.
  expect(retyped(text, 'Maren\nHolt\npotXter').paragraphs[1]!.runs).toEqual([run('potX', 1), run('ter', 2)]);
});

test('a line that is typed behind a heading is none; the heading stays one, and so does a second', () => {
  const heading = (words: string, level?: number): Text['paragraphs'][number] => ({
    align: 'start',
    ...(level !== undefined && { level }),
    runs: [
      {
        text: words,
        font: '',
        size: 12,
        weight: 400,
        italic: false,
        underline: false,
        paint: { kind: 'solid', colour: '#000000', opacity: 1 },
      },
    ],
  });
  const text: Text = {
    anchor: 'top',
    inset: { top: 0, right: 0, bottom: 0, left: 0 },
    paragraphs: [heading('One', 2), heading('Two', 3)],
  };
  const levels = (t: Text): (number | undefined)[] => t.paragraphs.map((p) => p.level);
  expect(levels(retyped(text, 'One\nTwo'))).toEqual([2, 3]);
  expect(levels(retyped(text, 'Once\nmore\nTwo'))).toEqual([2, undefined, 3]);
  expect(levels(retyped(text, 'All\nnew'))).toEqual([2, 3]);
});

test('as many lines as before keep their looks, whatever is typed in them', () => {
  const text = textOf([[run('Heading', 0)], [run('A second line', 1)]]);
  const next = retyped(text, 'Come and see\nOpen from ten to nine');
  expect(next.paragraphs.map((p) => p.runs)).toEqual([[run('Come and see', 0)], [run('Open from ten to nine', 1)]]);
});
