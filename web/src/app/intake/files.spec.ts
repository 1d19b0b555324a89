import { filesOf, isDocument, isPicture, isTyping } from './files';

const file = (name: string, type = ''): File => new File(['x'], name, { type });

test('documents and pictures are told by name or kind', () => {
  expect([isDocument(file('a.DOCX')), isDocument(file('a.doc')), isPicture(file('a.docx'))]).toEqual([
    true,
    false,
    false,
  ]);
  expect([isPicture(file('a.avif')), isPicture(file('x', 'image/png')), isPicture(file('notes.txt'))]).toEqual([
    true,
    true,
    false,
  ]);
});

test('a dropped folder is read to its end, in the order of names, hidden files left out', async () => {
  const entry = (f: File): object => ({
    isFile: true,
    isDirectory: false,
    name: f.name,
    file: (ok: (f: File) => void) => ok(f),
  });
  const folder = (name: string, parts: object[][]): object => ({
    isFile: false,
    isDirectory: true,
    name,
    createReader: () => ({ readEntries: (ok: (e: object[]) => void) => ok(parts.shift() ?? []) }),
  });
  const inner = folder('zz', [[entry(file('last.png'))]]);
  const top = folder('top', [
    [entry(file('b10.png')), entry(file('.hidden'))],
    [entry(file('b9.png')), inner],
  ]);
  const transfer = {
    items: [{ webkitGetAsEntry: () => top }],
    files: [],
  } as unknown as DataTransfer;
  expect((await filesOf(transfer)).map((f) => f.name)).toEqual(['b9.png', 'b10.png', 'last.png']);
});

test('keys belong to whoever types', () => {
  const input = (type: string): HTMLInputElement => Object.assign(document.createElement('input'), { type });
  expect([input('text'), input('search'), document.createElement('select')].map(isTyping)).toEqual([true, true, true]);
  expect([input('range'), input('checkbox'), document.body, null].map((e) => isTyping(e))).toEqual([
    false,
    false,
    false,
    false,
  ]);
});
