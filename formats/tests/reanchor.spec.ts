/**
 * Pictures beside a text that are tied to another paragraph: they stand before its words, as they were written, and nothing else
 * changes (ISO/IEC 29500-1 §20.4.2.3: an anchor is tied to the paragraph that its run is in; ODF 1.2 Part 1 §19.753, text:anchor-type).
 */
import { withFrame, type Document as Doc, type PictureItem, type Paragraph as Tied } from '@gable/core';
import { Document, ImageRun, Packer, Paragraph, TextRun } from 'docx';
import { strFromU8, unzipSync } from 'fflate';
import { openFile, type Source } from '../src/index';
import { png } from './support/build';
import { buildOpen } from './support/open';

const xml = (bytes: Uint8Array, name: string): string => strFromU8(unzipSync(bytes)[name]!);
const paragraphsOf = (text: string, name: string): string[] =>
  text.match(new RegExp(`<${name}(?: [^>]*)?/>|<${name}[ >].*?</${name}>`, 'gs')) ?? [];

/** Three paragraphs; two pictures are tied to the first one, the second of these is 40 × 40. */
async function written(): Promise<Uint8Array> {
  const image = async (side: number): Promise<ImageRun> =>
    new ImageRun({
      type: 'png',
      data: await png(side, side),
      transformation: { width: side, height: side },
      floating: { horizontalPosition: { offset: 12_700 }, verticalPosition: { offset: 12_700 } },
    });
  const children = [
    new Paragraph({ children: [await image(80), await image(40), new TextRun('One')] }),
    new Paragraph({ children: [new TextRun('Two')] }),
    new Paragraph({ children: [await image(60), new TextRun('Three')] }),
  ];
  return new Uint8Array(await Packer.toBuffer(new Document({ sections: [{ children }] })));
}

function tied(file: Source, id: string, paragraph: Tied): Doc {
  const item = file.document.items[id] as PictureItem;
  const { frame, size } = file.pictures.find((p) => `p${p.n}` === id)!;
  return {
    ...file.document,
    items: { ...file.document.items, [id]: withFrame(item, { ...frame, paragraph }, size) },
  };
}

describe('a document', () => {
  test('has the picture in front of the words of its new paragraph, and is otherwise the same', async () => {
    const file = openFile(await written());
    const before = paragraphsOf(xml(file.write(file.document), 'word/document.xml'), 'w:p');
    const { bytes, order } = file.arranged(tied(file, 'p1', { block: 2, words: 'Three' }), new Map());
    const after = paragraphsOf(xml(bytes, 'word/document.xml'), 'w:p');
    const run = /<w:r><w:drawing>.*?<\/w:drawing><\/w:r>/s.exec(before[0]!)![0];
    expect(after[0]).toBe(before[0]!.replace(run, ''));
    expect(after[1]).toBe(before[1]);
    // Behind what is tied to it already.
    expect(after[2]).toBe(before[2]!.replace('<w:r><w:t', `${run}<w:r><w:t`));
    expect(order).toEqual(['p2', 'p3', 'p1']);
    const again = openFile(bytes);
    expect(again.pictures.map((p) => p.frame.box.width)).toEqual([30, 45, 60]);
    const [was, is] = [unzipSync(file.write(file.document)), unzipSync(bytes)];
    expect(Object.keys(is).filter((n) => strFromU8(is[n]!) !== strFromU8(was[n]!))).toEqual(['word/document.xml']);
  });

  test('knows the paragraph by its words when others came before it, and leaves the picture where there is none', async () => {
    const file = openFile(await written());
    const there = file.arranged(tied(file, 'p1', { block: 0, words: 'Two' }), new Map());
    expect(there.order).toEqual(['p2', 'p1', 'p3']);
    const nowhere = file.arranged(tied(file, 'p1', { block: 1, words: 'Gone' }), new Map());
    expect(nowhere.order).toEqual(['p1', 'p2', 'p3']);
    expect(nowhere.bytes).toEqual(file.write(file.document));
    // In its own it stays in its place.
    expect(file.write(tied(file, 'p2', { block: 0, words: 'One' }))).toEqual(file.write(file.document));
  });

  test('is framed and tied at once', async () => {
    const file = openFile(await written());
    const next = tied(file, 'p3', { block: 0, words: 'One' });
    const item = next.items['p3'] as PictureItem;
    const bytes = file.write({
      ...next,
      items: { ...next.items, p3: { ...item, at: { ...item.at, box: { ...item.at.box, x: 33 } } } },
    });
    const frame = openFile(bytes).pictures[2]!.frame;
    expect(frame.box).toMatchObject({ x: 33, width: 45 });
    expect(paragraphsOf(xml(bytes, 'word/document.xml'), 'w:p')[0]).toMatch(/drawing.*drawing.*drawing.*One/s);
  });
});

describe('an OpenDocument text', () => {
  const frame = (name: string, width: number): string =>
    `<draw:frame draw:name="${name}" text:anchor-type="paragraph" svg:x="1cm" svg:y="1cm" svg:width="${width}cm" svg:height="1cm">` +
    `<draw:image xlink:href="Pictures/a.png"/></draw:frame>`;
  const text = `<text:p>${frame('a', 1)}${frame('b', 2)}One</text:p><text:p/><text:p>${frame('c', 3)}Three</text:p>`;

  test('has the frame at the beginning of its new paragraph', async () => {
    const file = openFile(await buildOpen({ kind: 'text', body: text }));
    const { bytes, order } = file.arranged(tied(file, 'p2', { block: 2, words: 'Three' }), new Map());
    expect(xml(bytes, 'content.xml')).toContain(
      `<text:p>${frame('a', 1)}One</text:p><text:p/><text:p>${frame('c', 3)}${frame('b', 2)}Three</text:p>`,
    );
    expect(order).toEqual(['p1', 'p3', 'p2']);
    const empty = file.arranged(tied(file, 'p3', { block: 1, words: '' }), new Map());
    expect(xml(empty.bytes, 'content.xml')).toContain(`<text:p>${frame('c', 3)}</text:p><text:p>Three</text:p>`);
  });
});
