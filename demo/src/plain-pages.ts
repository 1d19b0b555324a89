/**
 * Writes the files that wait for a picture: demo/files/letter.docx (a letter without any), quote-slide.pptx (a portrait and words,
 * white on black) and empty-board.odg (a page with nothing on it).
 */
import { addedId, applyAll, newPicture, type FramedItem, type Operation, type Source } from '@gable/core';
import { BLANKS, openFile } from '@gable/formats';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { createHash } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { reduced } from './reduced';

const write = async (name: string, bytes: Uint8Array): Promise<void> => {
  await writeFile(`files/${name}`, bytes);
  console.log(`${name}: ${(bytes.length / 1e3).toFixed(0)} kB`);
};

const A4 = { width: 595.3, height: 841.9 };
const LETTER = [
  'Dear friends of the clayworks,',
  'the kiln is cold again, and its shelves are empty: time to look back on the season, and to ask you for a hand with the next one.',
  'On the first Saturday of the month we open the doors at ten. There will be wheels to try, seconds to buy, and soup.',
  'If you can bring a cake, or carry a table, write to us before Thursday. If you can do neither, come all the same.',
  'With warm regards,',
  'Maren Holt',
];

async function letter(): Promise<void> {
  const parts = unzipSync(BLANKS.docx!({ size: A4, ground: null }));
  const spacing = (before: number): string => `<w:pPr><w:spacing w:before="${before}" w:after="160"/></w:pPr>`;
  const body = LETTER.map(
    (text, i) =>
      `<w:p>${spacing(i === 0 ? 1400 : 0)}<w:r><w:rPr><w:sz w:val="22"/></w:rPr><w:t>${text}</w:t></w:r></w:p>`,
  ).join('');
  const document = strFromU8(parts['word/document.xml']!).replace('<w:p/>', body);
  await write(
    'letter.docx',
    zipSync({ ...parts, 'word/document.xml': strToU8(document) }, { mtime: new Date(2026, 0, 1) }),
  );
}

async function quoteSlide(): Promise<void> {
  const slide = { width: 960, height: 540 };
  const file = openFile(BLANKS.pptx!({ size: slide, ground: '#000000' }));
  const bytes = await reduced('portrait-maren', 640);
  const { width, height } = await sharp(bytes).metadata();
  const source: Source = {
    ...{ sha256: createHash('sha256').update(bytes).digest('hex'), name: 'portrait-maren.jpg', type: 'jpeg' },
    ...{ size: { width: width!, height: height! }, orientation: 1 },
  };
  const at = { on: 'page' as const, box: { x: 60, y: 150, width: (240 * width!) / height!, height: 240 } };
  const portrait = newPicture('portrait', at, source, 'Maren Holt');
  const run = { font: 'Calibri', weight: 400, italic: false, underline: false };
  const ink = { kind: 'solid' as const, colour: '#ffffff', opacity: 1 };
  const words: FramedItem = {
    ...portrait,
    ...{
      id: addedId('words'),
      fill: null,
      alt: '',
      at: { on: 'page', box: { x: 460, y: 170, width: 440, height: 200 } },
    },
    text: {
      anchor: 'middle',
      inset: { top: 3.6, right: 7.2, bottom: 3.6, left: 7.2 },
      paragraphs: [
        {
          align: 'start',
          runs: [{ ...run, text: 'Clay remembers every touch, so touch it kindly.', size: 32, paint: ink }],
        },
        { align: 'start', runs: [{ ...run, text: 'Maren Holt', size: 18, weight: 700, paint: ink }] },
      ],
    },
  };
  const page = file.document.pages[0]!.id;
  const add = (item: FramedItem, index: number): Operation => ({ op: 'add', item, slot: { in: { page }, index } });
  const { document } = applyAll(file.document, [add(portrait, 0), add(words, 1)]);
  await write(
    'quote-slide.pptx',
    file.write(document, new Map([['portrait', { bytes, type: 'jpeg', size: source.size }]])),
  );
}

await letter();
await quoteSlide();
await write('empty-board.odg', BLANKS.odg!({ size: { width: A4.height, height: A4.width }, ground: '#f4f0e7' }));
