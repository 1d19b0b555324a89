/** Fonts of the author's own: what they say of themselves, and words that are set in them. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { setIn } from '@gable/core';
import { fontFile, plainFont, registerOwnFont } from '@gable/render';
import { createCanvas } from '@napi-rs/canvas';
import { madeFont } from '../../core/tests/made-font';

const shipped = (name: string): Uint8Array =>
  readFileSync(createRequire(import.meta.url).resolve(`@fontsource/${name}`));

test.each([
  ['carlito', 'Carlito', 1.2207],
  ['arimo', 'Arimo', 1.1499],
  ['cousine', 'Cousine', 1.1328],
])(
  'a WOFF2 file is unpacked: %s has its name and the height of its lines, as is known of it',
  async (file, family, line) => {
    const { facts, bytes } = await plainFont(shipped(`${file}/files/${file}-latin-700-italic.woff2`));
    expect(facts).toMatchObject({ family, weight: 700, italic: true });
    expect(facts.line).toBeCloseTo(line, 2);
    // sfnt version 1.0 (OpenType 1.9, Table directory).
    expect([...bytes.subarray(0, 4)]).toEqual([0, 1, 0, 0]);
    expect(setIn(family).line).toBeCloseTo(line, 2);
  },
);

test('several at once, packed and unpacked, are each what they are alone', async () => {
  const files = ['carlito', 'arimo', 'cousine'].map((f) => shipped(`${f}/files/${f}-latin-400-normal.woff2`));
  const alone: Buffer[] = [];
  for (const file of files) alone.push(Buffer.from((await plainFont(file)).bytes));
  const together = await Promise.all(files.map((file) => plainFont(file)));
  expect(together.map(({ bytes }, i) => Buffer.compare(bytes, alone[i]!))).toEqual([0, 0, 0]);
  expect(together.map(({ facts }) => facts.family)).toEqual(['Carlito', 'Arimo', 'Cousine']);
  const packed = await Promise.all(together.map((font) => fontFile(font, true)));
  const again: string[] = [];
  for (const { packed: bytes } of packed) again.push((await plainFont(bytes!)).facts.family);
  expect(again).toEqual(['Carlito', 'Arimo', 'Cousine']);
});

test.each([
  [0, true],
  [2, false],
  [4, false],
  [8, true],
  // Installable, but of bitmaps alone (OpenType 1.9, OS/2: fsType).
  [0x200, false],
])('usage %i: may it be put into files? %s', async (usage, embeds) => {
  expect((await plainFont(madeFont('Fennick Hand', { usage }))).facts.embeds).toBe(embeds);
});

test('what is no font is refused in words', async () => {
  const woff2 = shipped('carlito/files/carlito-latin-400-normal.woff2');
  for (const bytes of [
    new Uint8Array(),
    Buffer.from('no font'),
    woff2.subarray(0, 400),
    Buffer.from('ttcf\0\u0001\0\0'),
  ])
    await expect(plainFont(bytes)).rejects.toMatchObject({ code: 'bad-font', remedy: expect.stringContaining('.ttf') });
});

test('letters are set in it, at its widths; its lines are as high as it says', async () => {
  const { bytes, facts } = await plainFont(madeFont('Fennick Boxes', { wide: 850 }));
  expect(facts).toMatchObject({ family: 'Fennick Boxes', weight: 400, italic: false });
  expect(facts.line).toBeCloseTo(1.2, 6);
  expect(setIn('Fennick Boxes').approximate).toBe(true);
  registerOwnFont(bytes, { ...facts, line: 1.5 });
  expect(setIn('Fennick Boxes')).toMatchObject({ approximate: false, line: 1.5 });
  const context = createCanvas(10, 10).getContext('2d');
  context.font = `40px ${setIn('Fennick Boxes').css}`;
  expect(context.measureText('Holt').width).toBeCloseTo(4 * 0.85 * 40, 1);
});
