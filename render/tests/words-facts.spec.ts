/** How well words of a file can be read, as the server and the command line find it: contrasts by WCAG 2.2 (#767676 on white is 4.54 : 1). */
import {
  addedId,
  applyAll,
  FULL_SEAT,
  isPictureItem,
  newPicture,
  resolveTies,
  type Document,
  type FramedItem,
  type Operation,
  type Rect,
  type WordsFacts,
} from '@gable/core';
import { BLANKS, openFile, type Source } from '@gable/formats';
import { wordsFacts } from '../src/words-facts';
import sharp from 'sharp';

const SIZE = { width: 400, height: 300 };
/** A page with a picture of one colour on the left half of itself, and of another on the right. */
async function page(format: 'pptx' | 'odp', left: string, right: string): Promise<Source> {
  const half = await sharp({ create: { width: 200, height: 300, channels: 3, background: right } })
    .png()
    .toBuffer();
  const picture = await sharp({ create: { ...SIZE, channels: 3, background: left } })
    .composite([{ input: half, left: 200, top: 0 }])
    .png()
    .toBuffer();
  const blank = openFile(BLANKS[format]!({ size: { width: 800, height: 600 }, ground: '#000000' }));
  const source = { sha256: 'a'.repeat(64), name: 'n', type: 'png' as const, size: SIZE, orientation: 1 };
  const item = newPicture('p1', { on: 'page', box: { x: 100, y: 100, ...SIZE } }, source, 'Two halves');
  const slot = { in: { page: blank.document.pages[0]!.id }, index: 0 };
  const { document } = applyAll(blank.document, [{ op: 'add', item, slot }]);
  return openFile(blank.write(document, new Map([['p1', { bytes: picture, type: 'png', size: SIZE }]])));
}
const words = (id: string, text: string, ink: string, more: Partial<FramedItem> = {}): FramedItem => ({
  ...{ kind: 'framed', id: addedId(id), at: { on: 'page', box: { x: 0, y: 0, width: 120, height: 30 } }, turn: 0 },
  ...{ flip: { horizontal: false, vertical: false }, opacity: 1, alt: '', shape: { name: 'rectangle', knobs: {} } },
  ...{ seat: FULL_SEAT, outline: null, shadow: null, fill: null },
  text: {
    ...{ anchor: 'middle', inset: { top: 2, right: 2, bottom: 2, left: 2 } },
    paragraphs: [
      {
        align: 'centre',
        runs: [
          {
            ...{ text, font: 'Arial', size: 12, weight: 400, italic: false, underline: false },
            paint: { kind: 'solid', colour: ink, opacity: 1 },
          },
        ],
      },
    ],
  },
  ...more,
});
/** The file with words over its picture, so far from its middle across. */
function withWords(file: Source, ...all: (FramedItem & { across: number })[]): Source {
  const picture = Object.values(file.document.items).find(isPictureItem)!;
  const holder = file.document.pages[0]!;
  const operations = all.map(({ across, ...item }, i): Operation => {
    const tie = { to: picture.id, as: 'over', gap: 40 * i, along: across, share: 0.3 } as const;
    return { op: 'add', item: { ...item, tie }, slot: { in: { page: holder.id }, index: 1 + i } };
  });
  const next: Document = resolveTies(applyAll(file.document, operations).document);
  return openFile(file.write(next));
}
const facts = async (file: Source, faces: readonly Rect[] = []): Promise<WordsFacts[]> =>
  (
    await wordsFacts(
      file,
      ({ n }) => ({ bytes: file.pictureBytes(n), size: file.pictures[n - 1]!.size }),
      () => faces,
    )
  ).get(1)!;

test.each(['pptx', 'odp'] as const)('by the part of the picture that they lie on, in a file of %s', async (format) => {
  const file = withWords(
    await page(format, '#ffffff', '#767676'),
    { ...words('a', 'Left', '#767676'), across: -100 },
    { ...words('b', 'Right', '#767676'), across: 100 },
    { ...words('c', 'White', '#ffffff'), across: 100 },
  );
  const found = await facts(file);
  expect(found.map((f) => f.words)).toEqual(['Left', 'Right', 'White']);
  expect(found[0]).toMatchObject({ contrast: expect.closeTo(4.54, 2), least: 4.5, face: 0, outside: 0 });
  expect(found[1]!.contrast).toBeCloseTo(1, 2);
  expect(found[2]!.contrast).toBeCloseTo(4.54, 2);
});

test('their own ground counts; a face that they cover is told; words larger than their shape are', async () => {
  const fill = { kind: 'paint', paint: { kind: 'solid', colour: '#000000', opacity: 1 } } as const;
  const file = withWords(
    await page('pptx', '#ffffff', '#ffffff'),
    { ...words('a', 'Ground', '#ffffff', { fill }), across: 0 },
    { ...words('b', 'A very long line of words in a small box. '.repeat(4), '#000000', { fill }), across: 0 },
  );
  const [ground, long] = await facts(file, [{ x: 240, y: 230, width: 120, height: 40 }]);
  // White on black, by its definition.
  expect(ground!.contrast).toBeCloseTo(21, 5);
  expect(ground!.face).toBeGreaterThan(0);
  expect(long!.outside).toBeGreaterThan(0.02);
});

test('without words around pictures there is nothing to tell', async () => {
  const file = await page('pptx', '#ffffff', '#000000');
  expect(
    (
      await wordsFacts(
        file,
        () => ({ bytes: file.pictureBytes(1), size: SIZE }),
        () => [],
      )
    ).size,
  ).toBe(0);
});
