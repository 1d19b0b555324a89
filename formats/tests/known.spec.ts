/**
 * Files whose pictures are called otherwise than by their order: everything that is told of them and done to them is compared
 * with the same file opened plainly.
 */
import {
  applyAll,
  equal,
  isPictureItem,
  itemIdOf,
  newPicture,
  type Document,
  type PictureItem,
  type Position,
} from '@gable/core';
import { readFileSync } from 'node:fs';
import { openFile, withFrames, type Known, type ReplacementImage, type Source } from '../src/index';
import { TILE, tileImage } from './support/tile';

let image: ReplacementImage;
beforeAll(async () => {
  image = await tileImage();
});
const box = { x: 40, y: 40, width: 90, height: 60 };

const PLACES: Record<
  string,
  (d: Document) => { at: Position; holder: { page: string } | { story: string }; index: number }
> = {
  'season-handbook.docx': (d) => ({ at: { on: 'line', box, after: 2 }, holder: { story: d.stories[0]!.id }, index: 0 }),
  'open-day-talk.pptx': (d) => ({
    at: { on: 'page', box },
    holder: { page: d.pages[0]!.id },
    index: d.pages[0]!.items.length,
  }),
  'firing-day-board.svg': (d) => ({
    at: { on: 'page', box },
    holder: { page: d.pages[0]!.id },
    index: d.pages[0]!.items.length,
  }),
  'visit-us.zip': (d) => ({ at: { on: 'element', box, after: 1 }, holder: { story: d.stories[0]!.id }, index: 0 }),
};

/** A file with a picture put in, under the number 99. */
function put(name: string): { before: Source; bytes: Uint8Array; known: Known[] } {
  const before = openFile(readFileSync(`demo/files/${name}`));
  const { at, holder, index } = PLACES[name]!(before.document);
  const item = newPicture('p99', at, TILE, 'Tile');
  const { document } = applyAll(before.document, [{ op: 'add', item, slot: { in: holder, index } }]);
  const { bytes, order } = before.arranged(document, new Map([['p99', image]]));
  return {
    before,
    bytes,
    known: order.map((id) => (id === 'p99' ? { n: 99, source: TILE } : { n: Number(id!.slice(1)) })),
  };
}

describe.each(Object.keys(PLACES))('%s', (name) => {
  test('pictures that were there are called as before, and the new one as it was put in', () => {
    const { before, bytes, known } = put(name);
    const file = openFile(bytes, { known });
    expect(file.pictures.map((p) => p.n).sort((a, b) => a - b)).toEqual([...before.pictures.map((p) => p.n), 99]);
    const plain = openFile(bytes);
    const at = known.findIndex((k) => k.n === 99);
    expect(file.pictures[at]!.frame.alt).toBe('Tile');
    // The data are those of the same picture.
    for (const { n } of before.pictures.filter((p) => !p.problem).slice(0, 3))
      expect(Buffer.from(file.pictureBytes(n)).equals(before.pictureBytes(n))).toBe(true);
    expect(Object.keys(file.document.items)).toHaveLength(Object.keys(plain.document.items).length);
    const named = file.document.items['p99'] as PictureItem;
    expect(named.fill.source).toEqual({ from: 'kept', ...TILE });
    const numbers = [...(file.markup?.(1) ?? '').matchAll(/ data-picture="(\d+)"/g)].map((m) => Number(m[1]));
    const order = [...(plain.markup?.(1) ?? '').matchAll(/ data-picture="(\d+)"/g)].map(
      (m) => known[Number(m[1]) - 1]!.n,
    );
    expect(numbers).toEqual(order);
  });

  test('with no difference the very same bytes come; a change is the one of the plain file', () => {
    const { bytes, known } = put(name);
    const file = openFile(bytes, { known });
    expect(file.write(file.document) === bytes).toBe(true);
    const plain = openFile(bytes);
    for (const [i, { n }] of known.entries()) {
      const frame = { ...plain.pictures[i]!.frame, turn: 12 };
      const put = known[i]!.source;
      const next = withFrames(file, [{ ...frame, n, ...(put && { source: put }) }]);
      const want = plain.write(withFrames(plain, [frame]));
      expect(Buffer.from(file.write(next)).equals(want)).toBe(true);
      expect([...file.fidelity(next).keys()]).toEqual([itemIdOf({ n })]);
      if (i > 3) break;
    }
  });

  test('taken out again, no other picture has changed', () => {
    const { before, bytes, known } = put(name);
    const file = openFile(bytes, { known });
    const { document } = applyAll(file.document, [{ op: 'remove', id: 'p99' }]);
    const left = file.arranged(document, new Map());
    const back = openFile(left.bytes, { known: left.order.map((id) => ({ n: Number(id!.slice(1)) })) });
    const frames = (s: Source): object =>
      Object.values(s.document.items)
        .filter(isPictureItem)
        .sort((a, b) => (a.id < b.id ? -1 : 1));
    expect(equal(frames(back), frames(before))).toBe(true);
  });
});

test('another number of pictures is refused', () => {
  expect(() => openFile(readFileSync('demo/files/open-day-talk.pptx'), { known: [{ n: 1 }] })).toThrow('counted');
});
