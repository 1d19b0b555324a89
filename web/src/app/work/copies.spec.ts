import {
  applyAll,
  pieceContext,
  PIECES,
  puttingPiece,
  WAITING,
  type FramedItem,
  type PictureItem,
  type Position,
} from '@gable/core';
import { frameOf, pictureOf, workOf } from '../../testing/works';
import { duplicating, duplicatingAll, repeating } from './copies';
import { openModel, type WorkModel } from './work-model';

const NONE = { entries: [], more: false };
const anchor = {
  from: { x: 'page', y: 'page' },
  align: { x: 'right' },
  wrap: 'square',
  behind: false,
  distances: { top: 0, right: 9, bottom: 0, left: 9 },
} as const;

function modelOf(can: object, picture: object, more: object = {}): WorkModel {
  const work = workOf();
  const pictures = [{ ...pictureOf(1), ...picture }];
  return openModel({ ...work, ...more, pictures, can: { ...work.can, ...can } }, NONE);
}
const addedAt = (m: WorkModel): Position | undefined => {
  const [add] = duplicating(m) ?? [];
  return add?.op === 'add' ? (add.item as PictureItem).at : undefined;
};
const inText = {
  where: { part: 'word/document.xml', place: 'body', page: 1, table: false, textBox: false, group: false, near: '' },
};

describe('a copy of a picture', () => {
  test('in a text stands right behind it; beside the text a little off, and is aligned no more', () => {
    const inLine = modelOf({ insert: 'text' }, { ...inText, frame: frameOf(1, { flow: 'inline' }) });
    expect(addedAt(inLine)).toMatchObject({ on: 'line', beside: 'p1' });
    const frame = frameOf(1, { flow: 'floating', anchor });
    const beside = addedAt(modelOf({ insert: 'text' }, { ...inText, frame }));
    expect(beside).toMatchObject({ on: 'anchor', beside: 'p1', anchor: { from: anchor.from } });
    expect(beside).not.toHaveProperty('anchor.align');
    expect(beside!.box.x).toBe(frame.box.x + 14);
    // Of one that goes with another paragraph than in its file, so does the copy.
    const paragraph = { block: 3, words: 'Celadon' };
    const retied = modelOf({ insert: 'text' }, { ...inText, frame: { ...frame, paragraph } });
    expect(addedAt(retied)).toMatchObject({ paragraph });
  });

  test('of a sheet goes to the cell that is there', () => {
    const where = { ...inText.where, part: 'xl/drawings/drawing1.xml', place: 'sheet' };
    const sheets = [
      {
        width: 300,
        height: 200,
        background: '#ffffff',
        items: [{ picture: 1 }],
        lines: { x: [0, 50, 100, 150], y: [0, 20, 40, 60] },
      },
    ];
    const frame = frameOf(1, { flow: 'floating', box: { x: 60, y: 30, width: 40, height: 40 } });
    const at = addedAt(modelOf({ insert: 'cell', pages: 'fixed' }, { where, frame }, { format: 'xlsx', sheets }));
    // 74 and 44 pt: 24 into the second column, 4 into the third row.
    expect(at).toMatchObject({ on: 'cells', cells: { start: { column: 1, row: 2, dx: 24, dy: 4 }, moves: true } });
  });
});

describe('a picture on every page', () => {
  test('only where its place does not depend on the words', () => {
    const from = (x: 'page' | 'character', y: 'page' | 'paragraph', margin = true): WorkModel =>
      modelOf(
        { insert: 'text', margin },
        { ...inText, frame: frameOf(1, { flow: 'floating', anchor: { ...anchor, from: { x, y } } }) },
      );
    expect(repeating(from('page', 'paragraph'))).toBeNull();
    expect(repeating(from('character', 'page'))).toBeNull();
    expect(repeating(from('page', 'page', false))).toBeNull();
    const m = from('page', 'page');
    const operations = repeating(m)!;
    const { document } = applyAll(m.document, operations);
    expect(document.items['p1']).toBeUndefined();
    const [add] = operations;
    expect(add).toMatchObject({ op: 'add', item: { at: { on: 'margin', into: 'header', pages: 'all', gap: null } } });
  });
});

test('a copy has what stands around its picture, tied to it in the same way', () => {
  const sheets = [{ width: 300, height: 200, background: '#ffffff', items: [{ picture: 1 }] }];
  const where = { ...inText.where, part: 'ppt/slides/slide1.xml', place: 'slide' };
  const frame = frameOf(1, { flow: 'floating', box: { x: 60, y: 30, width: 40, height: 40 } });
  const m = modelOf({ insert: 'page', pages: 'fixed' }, { where, frame }, { format: 'pptx', sheets });
  let count = 0;
  const newId = (): string => `add-${count++}`;
  const context = pieceContext(m.document, 'p1', { words: WAITING, letters: null, newId })!;
  const made = PIECES.find((p) => p.name === 'quote')!.items(context);
  const ring = PIECES.find((p) => p.name === 'block-behind')!.items(context);
  const put = puttingPiece(m.document, context, [...ring, ...made]);
  const document = applyAll(m.document, put).document;
  const operations = duplicating({ ...m, document })!;
  const next = applyAll(document, operations).document;
  const [was, now] = [next.pages[0]!.items.slice(0, 5), next.pages[0]!.items.slice(5)];
  expect(now).toHaveLength(was.length);
  // The same order, each tied to the one in the same place as before.
  const ties = (ids: readonly string[]): unknown[] =>
    ids.map((id) => {
      const item = next.items[id] as FramedItem;
      return [item.tie && { ...item.tie, to: ids.indexOf(item.tie.to) }, item.text, item.fill?.kind];
    });
  expect(ties(now)).toEqual(ties(was));
});

test('copies of several lie a little off them in their order; what follows one of them follows its copy', () => {
  const block = (id: string, more: object = {}): object => ({
    ...{ kind: 'framed', id, turn: 0, flip: { horizontal: false, vertical: false }, opacity: 1, alt: '' },
    ...{ shape: { name: 'rectangle', knobs: {} }, seat: { fit: 'fill' }, outline: null, shadow: null, text: null },
    ...{ at: { on: 'page', box: { x: 5, y: 6, width: 20, height: 10 } } },
    ...{ fill: { kind: 'paint', paint: { kind: 'solid', colour: '#b5482a', opacity: 1 } }, ...more },
  });
  const tie = { to: 'p1', as: 'beside', side: 'bottom', gap: 3 };
  const sheets = [
    { width: 300, height: 200, background: '#ffffff', items: [block('own'), { picture: 1 }, block('tied', { tie })] },
  ];
  const where = { ...inText.where, part: 'ppt/slides/slide1.xml', place: 'slide' };
  const frame = frameOf(1, { flow: 'floating', box: { x: 60, y: 30, width: 40, height: 40 } });
  const m = modelOf({ insert: 'page', pages: 'fixed' }, { where, frame }, { format: 'pptx', sheets, next: 7 });
  const ring = { op: 'add', item: block('add-ring', { tie: { to: 'p1', as: 'around', gap: 2 } }) } as const;
  const slot = { in: { page: m.document.pages[0]!.id }, index: 2 };
  const { document } = applyAll(m.document, [{ ...ring, slot } as never]);
  const made = duplicatingAll({ ...m, document }, ['tied', 'p1', 'own'])!;
  const next = applyAll(document, made.operations).document;
  const now = next.pages[0]!.items.slice(4).map((id) => next.items[id] as FramedItem);
  expect(made.copies).toEqual([now[0]!.id, 'p7', now[3]!.id]);
  expect(now.map((i) => [i.at.box.x, i.tie?.to])).toEqual([
    [5 + 14, undefined],
    [60 + 14, undefined],
    [expect.any(Number), 'p7'],
    [expect.any(Number), 'p7'],
  ]);
  expect(new Set(next.pages[0]!.items).size).toBe(8);
  // Of a web page there are none.
  expect(duplicatingAll(modelOf({ insert: 'web' }, { where, frame }, { sheets }), ['p1'])).toBeNull();
});
