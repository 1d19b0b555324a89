/**
 * What Gable put beside the pictures of a text or a sheet is taken out of it again and edited as before, where writing it gives the very same file:
 * every piece, on pictures in a line and beside the text. Where the file was changed elsewhere, it stays what the file says.
 */
import { equal, PIECES, withChanges, type FramedItem } from '@gable/core';
import ExcelJS from 'exceljs';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { lifted, openFile } from '../src/index';
import { added, withPiece } from './support/pieces';

const bytes = new Uint8Array(readFileSync('demo/files/season-handbook.docx'));
const bare = ({ id, tie, at, ...item }: FramedItem): unknown => [void id, tie && { ...tie, to: '' }, at, item];
const partsOf = (file: Uint8Array): Record<string, string> =>
  Object.fromEntries(
    Object.entries(unzipSync(file)).map(([name, data]) => [name, Buffer.from(data).toString('latin1')]),
  );

describe.each([
  ['in a line', 1],
  ['beside the text', 6],
] as const)('a picture %s', (_, n) => {
  test.each(PIECES.map((p) => p.name).filter((name) => name !== 'figure-panel'))('%s', (name) => {
    const file = openFile(bytes);
    const next = withPiece(file, n, name);
    const out = file.write(next);
    const { bytes: left, changes } = lifted(out)!;
    // Without it the text is what it was.
    expect(partsOf(left)['word/document.xml']).toBe(partsOf(bytes)['word/document.xml']);
    const again = openFile(left);
    const document = withChanges(again.document, changes);
    const [was, now] = [added(next), added(document)];
    const story = document.stories.find((s) => s.items.includes(`p${n}`))!;
    const order = next.stories.find((s) => s.items.includes(`p${n}`))!.items;
    const [first, second] = [
      was.toSorted((a, b) => order.indexOf(a.id) - order.indexOf(b.id)),
      now.toSorted((a, b) => story.items.indexOf(a.id) - story.items.indexOf(b.id)),
    ];
    expect(second).toHaveLength(first.length);
    for (const [i, item] of second.entries()) expect(equal(bare(item), bare(first[i]!), 1e-6)).toBe(true);
    expect(partsOf(again.write(document))).toEqual(partsOf(out));
  });
});

describe('a picture of a sheet', () => {
  const workbook = async (): Promise<Uint8Array> => {
    const book = new ExcelJS.Workbook();
    const image = book.addImage({ buffer: readFileSync('demo/files/pictures/logo.png') as never, extension: 'png' });
    book.addWorksheet('Kiln').addImage(image, { tl: { col: 2, row: 4 }, ext: { width: 240, height: 160 } });
    return new Uint8Array((await book.xlsx.writeBuffer()) as ArrayBuffer);
  };

  test.each(PIECES.map((p) => p.name).filter((name) => name !== 'figure-panel'))('%s', async (name) => {
    const bytes = await workbook();
    const file = openFile(bytes);
    const next = withPiece(file, 1, name);
    const out = file.write(next);
    const { bytes: left, changes } = lifted(out)!;
    expect(partsOf(left)).toEqual(partsOf(bytes));
    const again = openFile(left);
    const document = withChanges(again.document, changes);
    const all = (d: typeof document): unknown[] =>
      d.pages[0]!.items.flatMap((id) => (id.startsWith('add-') ? [bare(d.items[id] as FramedItem)] : []));
    expect(all(document)).toHaveLength(added(next).length);
    expect(equal(all(document), all(next), 1e-6)).toBe(true);
    expect(partsOf(again.write(document))).toEqual(partsOf(out));
  });
});

describe.each([
  ['a text of OpenDocument', 'odfpy.odt'],
  ['a sheet of OpenDocument', 'odfpy.ods'],
] as const)('a picture of %s', (_, name) => {
  const file = openFile(new Uint8Array(readFileSync(`formats/tests/fixtures/${name}`)));

  test.each(PIECES.map((p) => p.name).filter((piece) => piece !== 'figure-panel'))('%s', (piece) => {
    const next = withPiece(file, 1, piece);
    const out = file.write(next);
    const { bytes: left, changes } = lifted(out)!;
    const again = openFile(left);
    expect(again.document).toEqual(file.document);
    const document = withChanges(again.document, changes);
    const all = (d: typeof document): unknown[] =>
      [...d.pages, ...d.stories].flatMap(({ items }) =>
        items.flatMap((id) => (id.startsWith('add-') ? [bare(d.items[id] as FramedItem)] : [])),
      );
    expect(all(document)).toHaveLength(added(next).length);
    expect(equal(all(document), all(next), 1e-6)).toBe(true);
    expect(partsOf(again.write(document))).toEqual(partsOf(out));
  });
});

describe('changed in another program', () => {
  const file = openFile(bytes);
  const out = file.write(withPiece(file, 6, 'name-below'));
  const changed = (change: (xml: string) => string): Uint8Array => {
    const xml = strFromU8(unzipSync(out)['word/document.xml']!);
    expect(change(xml)).not.toBe(xml);
    return zipSync({ ...unzipSync(out), 'word/document.xml': strToU8(change(xml)) });
  };

  test.each<[string, (xml: string) => string]>([
    ['its words', (xml) => xml.replaceAll('Maren Holt<', 'Maren Hold<')],
    ['its place', (xml) => xml.replace('<wp:posOffset>1922800<', '<wp:posOffset>1935500<')],
    ['what is known of it', (xml) => xml.replace(/"side":"behind"/, '"side":"aside"')],
  ])('%s: it is whatever the text says', (_, change) => {
    expect(lifted(changed(change))).toBeNull();
  });

  test('the text around it: it is known still, and stands in that text', () => {
    const { bytes: left, changes } = lifted(
      changed((xml) => xml.replace('>Season handbook<', '>Now: Season handbook<')),
    )!;
    expect(partsOf(left)['word/document.xml']).toContain('Now: ');
    expect(Object.values(changes.items)).toHaveLength(1);
  });

  test('files without anything of it have nothing to lift', () => {
    expect(lifted(bytes)).toBeNull();
    expect(lifted(new Uint8Array(readFileSync('demo/files/open-day-talk.pptx')))).toBeNull();
  });
});
