/** Words that are typed in place: each letter keeps its own look. */
import type { Text } from '@gable/core';
import { WordsEditor, type Look } from './words-editor';

type Run = Text['paragraphs'][number]['runs'][number];
const run = (text: string, more: Partial<Run> = {}): Run => ({
  ...{ text, font: 'Georgia', size: 20, weight: 400, italic: false, underline: false },
  ...{ paint: { kind: 'solid', colour: '#000000', opacity: 1 }, ...more },
});
const textOf = (...lines: Run[][]): Text => ({
  ...{ anchor: 'top', inset: { top: 0, right: 0, bottom: 0, left: 0 } },
  paragraphs: lines.map((runs) => ({ align: 'centre', spacing: { before: 2, lines: 1 }, runs })),
});

/** An editor, all that it told, and its field. */
function opened(text: Text): {
  editor: WordsEditor;
  field: HTMLElement;
  now: Text;
  marked: (Look | null)[];
  ends: number;
} {
  const field = document.createElement('div');
  document.body.append(field);
  const told = { field, now: text, marked: [] as (Look | null)[], ends: 0 };
  const editor = new WordsEditor(field, text, {
    changed: (next) => (told.now = next),
    marked: (look) => told.marked.push(look),
    done: () => told.ends++,
  });
  return Object.assign(told, { editor });
}
const key = (field: HTMLElement, name: string, more: KeyboardEventInit = {}): void => {
  field.dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true, ...more }));
};
function paste(field: HTMLElement, words: string): void {
  const event = new Event('paste', { bubbles: true, cancelable: true });
  Object.assign(event, { clipboardData: { getData: (type: string) => (type === 'text/plain' ? words : '<b>no</b>') } });
  field.dispatchEvent(event);
}
/** Marks letters of a line, as the author would with the mouse. */
function mark(field: HTMLElement, line: number, from: number, to: number): void {
  const walk = document.createTreeWalker(field.children[line]!, NodeFilter.SHOW_TEXT);
  const ends = [from, to].map((at) => {
    let left = at;
    walk.currentNode = field.children[line]!;
    for (let node = walk.nextNode(); node; node = walk.nextNode()) {
      if (left <= node.textContent!.length) return [node, left] as const;
      left -= node.textContent!.length;
    }
    throw new Error('There are not so many letters.');
  });
  getSelection()!.setBaseAndExtent(ends[0]![0], ends[0]![1], ends[1]![0], ends[1]![1]);
  document.dispatchEvent(new Event('selectionchange'));
}

// Nothing is laid out here.
Object.assign(Range.prototype, {
  getClientRects: () => [],
  getBoundingClientRect: () => document.body.getBoundingClientRect(),
});
afterEach(() => document.body.replaceChildren());

test('words stand there with all their looks, and as they are while nothing is typed', () => {
  const text = textOf([run('Maren ', { weight: 700 }), run('Holt')], [run('wheels\nand kilns', { size: 12 })]);
  const { field, now } = opened(text);
  expect([...field.children].map((p) => p.textContent)).toEqual(['Maren Holt', 'wheelsand kilns']);
  expect(field.querySelector('span')!.style.fontWeight).toBe('700');
  expect(now).toBe(text);
});

test('the marked letters get another look, and no others', () => {
  const told = opened(textOf([run('Maren Holt')], [run('potter', { size: 12 })]));
  mark(told.field, 0, 6, 10);
  expect(told.marked.at(-1)).toMatchObject({ size: 20, weight: 400 });
  told.editor.restyle({ weight: 700 });
  key(told.field, 'i', { ctrlKey: true });
  expect(told.now).toEqual(
    textOf([run('Maren '), run('Holt', { weight: 700, italic: true })], [run('potter', { size: 12 })]),
  );
  key(told.field, 'i', { ctrlKey: true });
  key(told.field, 'b', { ctrlKey: true });
  expect(told.now).toEqual(textOf([run('Maren Holt')], [run('potter', { size: 12 })]));
  key(told.field, 'z', { ctrlKey: true });
  expect(told.now.paragraphs[0]!.runs).toHaveLength(2);
});

test('all letters are marked at first, which is said as none are; a look for all is taken from outside', () => {
  const told = opened(textOf([run('Maren')], [run('potter')]));
  expect(told.marked.every((m) => m === null)).toBe(true);
  told.editor.take(textOf([run('Maren', { size: 30 })], [run('potter', { size: 30 })]));
  expect(told.field.querySelectorAll('span')[1]!.getAttribute('style')).toContain('30px');
  paste(told.field, 'Odd');
  expect(told.now).toEqual(textOf([run('Odd', { size: 30 })]));
});

test('what is pasted is plain, in the look of what stood there; its lines are paragraphs', () => {
  const told = opened(textOf([run('Maren ', { weight: 700 }), run('Holt')]));
  mark(told.field, 0, 0, 5);
  paste(told.field, 'Odd\r\nInes');
  expect(told.now).toEqual(textOf([run('Odd', { weight: 700 })], [run('Ines ', { weight: 700 }), run('Holt')]));
});

test('typed over, a further line has the look of the one that stood there', () => {
  const told = opened(textOf([run('Name', { weight: 700 })], [run('A second line', { size: 12 })]));
  paste(told.field, 'Odd');
  key(told.field, 'Enter');
  paste(told.field, 'glazes');
  expect(told.now).toEqual(textOf([run('Odd', { weight: 700 })], [run('glazes', { size: 12 })]));
  key(told.field, 'Enter');
  paste(told.field, 'since 1998');
  expect(told.now.paragraphs[2]!.runs).toEqual([run('since 1998', { size: 12 })]);
  // Its letters are marked like any others.
  mark(told.field, 1, 0, 3);
  expect(told.marked.at(-1)).toMatchObject({ size: 12, weight: 400 });
  told.editor.restyle({ italic: true });
  expect(told.now.paragraphs[1]!.runs).toEqual([run('gla', { size: 12, italic: true }), run('zes', { size: 12 })]);
});

test('what was typed ahead is as if it were typed', () => {
  const told = opened(textOf([run('Name', { weight: 700 })], [run('A second line', { size: 12 })]));
  told.editor.type('Odd\nglazes');
  expect(told.now).toEqual(textOf([run('Odd', { weight: 700 })], [run('glazes', { size: 12 })]));
});

test('Escape is the end', () => {
  const told = opened(textOf([run('Name')]));
  key(told.field, 'Escape');
  expect(told.ends).toBe(1);
  told.editor.destroy();
});
