/** Words and blocks round pictures of works: kept with the work, found in the file that is handed over, and gone when they are undone. */
import {
  addedId,
  applyAll,
  documentOfPictures,
  drawnBox,
  equal,
  FULL_SEAT,
  itemIdOf,
  plainWords,
  tieAsItStands,
  withChanges,
  type Document,
  type FileContent,
  type FramedItem,
  type Operation,
  type PageItem,
} from '@gable/core';
import { openFile } from '@gable/formats';
import type { Express } from 'express';
import { strFromU8, unzipSync } from 'fflate';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import request from 'supertest';
import type { ToldWork } from './support/entries';
import { LogEntry, Work } from '../src/db/models';
import { renamedIn } from '../src/works/item-names';
import { withPiece } from '../../formats/tests/support/pieces';
import { fileOfWork, testServer, upload } from './support/server';

let app: Express;
let close: () => Promise<void>;
beforeAll(async () => {
  ({ app, close } = await testServer());
});
afterAll(() => close());

const talk = new Uint8Array(readFileSync('demo/files/open-day-talk.pptx'));
const opened = async (bytes = talk, name = 'Talk.pptx'): Promise<ToldWork> =>
  (await upload(app, bytes, name).expect(201)).body as ToldWork;
const now = async ({ id }: ToldWork): Promise<ToldWork> =>
  (await request(app).get(`/api/works/${id}`).expect(200)).body as ToldWork;
const documentOf = (work: ToldWork): Document =>
  withChanges(documentOfPictures(work.pictures, work as FileContent), work.changes);

const save = async (work: ToldWork, operations: readonly Operation[], expected = 200): Promise<request.Response> => {
  const { revision } = await now(work);
  const entry = { id: randomUUID(), name: 'put round', operations };
  return request(app)
    .post(`/api/works/${work.id}/entries`)
    .send({ base: revision, entries: [entry] })
    .expect(expected);
};

/** A block behind a picture. */
function ringOf(to: string, id = addedId(randomUUID())): { item: FramedItem } {
  return {
    item: {
      ...{ kind: 'framed', id, at: { on: 'page', box: { x: 0, y: 0, width: 10, height: 10 } }, turn: 0, opacity: 1 },
      ...{ flip: { horizontal: false, vertical: false }, alt: '', shape: { name: 'rectangle', knobs: {} } },
      ...{ seat: FULL_SEAT, outline: null, shadow: null, text: null, tie: { to, as: 'behind', gap: 6 } },
      fill: { kind: 'paint', paint: { kind: 'solid', colour: '#b5482a', opacity: 1 } },
    },
  };
}

/** One round the first picture, and its page. */
function ring(work: ToldWork, id = addedId(randomUUID())): { item: FramedItem; page: string; add: Operation } {
  const document = documentOf(work);
  const [first] = work.pictures;
  const to = itemIdOf(first!);
  const page = document.pages.find((p) => p.items.includes(to))!;
  const { item } = ringOf(to, id);
  return { item, page: page.id, add: { op: 'add', item, slot: { in: { page: page.id }, index: 0 } } };
}

test('what is put round a picture is kept, follows it, and is in the file at its place', async () => {
  const work = await opened();
  const { item, page, add } = ring(work);
  await save(work, [add]);
  const to = item.tie!.to;
  const box = { x: 100, y: 120, width: 200, height: 90 };
  await save(work, [{ op: 'set', id: to, path: 'at', value: { on: 'page', box } }]);
  const after = documentOf(await now(work));
  expect(after.items[item.id]!.at.box).toEqual({ x: 94, y: 114, width: 212, height: 102 });
  const file = openFile(new Uint8Array(await fileOfWork(app, work.id)));
  const at = after.pages.findIndex((p) => p.id === page);
  const [lowest] = file.document.pages[at]!.items;
  expect(file.document.items[lowest!]).toMatchObject({ fill: item.fill, at: { box: after.items[item.id]!.at.box } });
  // Undone, the file is the one that came but for the frame.
  await save(work, [{ op: 'remove', id: item.id }]);
  await save(work, [{ op: 'set', id: to, path: 'at', value: documentOf(work).items[to]!.at }]);
  expect(Buffer.compare(await fileOfWork(app, work.id), Buffer.from(talk))).toBe(0);
});

test('it stands where it was when its picture is taken out, and is tied again when that comes back', async () => {
  const work = await opened();
  const { item, add } = ring(work);
  await save(work, [add]);
  const stood = documentOf(await now(work)).items[item.id]!.at.box;
  const remove: Operation = { op: 'remove', id: item.tie!.to };
  const { inverse } = applyAll(documentOf(await now(work)), [remove]);
  await save(work, [remove]);
  const alone = documentOf(await now(work)).items[item.id]!;
  expect(alone.at.box).toEqual(stood);
  expect(alone.tie).toBeUndefined();
  expect(openFile(new Uint8Array(await fileOfWork(app, work.id))).document.pages.flatMap((p) => p.items).length).toBe(
    openFile(talk).document.pages.flatMap((p) => p.items).length,
  );
  await save(work, inverse);
  expect(documentOf(await now(work)).items[item.id]!.tie).toEqual(item.tie);
});

test('it goes with its picture in one step, and both come back', async () => {
  const work = await opened();
  const { item, add } = ring(work);
  await save(work, [add]);
  const both: Operation[] = [
    { op: 'remove', id: item.id },
    { op: 'remove', id: item.tie!.to },
  ];
  const { inverse } = applyAll(documentOf(await now(work)), both);
  await save(work, both);
  expect(documentOf(await now(work)).items[item.id]).toBeUndefined();
  await save(work, inverse);
  expect(documentOf(await now(work)).items[item.id]!.tie).toEqual(item.tie);
});

test('a page goes with what was put on it, and comes back with it', async () => {
  const work = await opened();
  const { item, page, add } = ring(work);
  await save(work, [add]);
  const { inverse } = applyAll(documentOf(await now(work)), [{ op: 'page-remove', id: page }]);
  await save(work, [{ op: 'page-remove', id: page }]);
  expect(documentOf(await now(work)).items[item.id]).toBeUndefined();
  await save(work, inverse);
  expect(documentOf(await now(work)).items[item.id]).toMatchObject({ tie: item.tie });
});

test('refused: where the kind of file has none, and what is no item of its own', async () => {
  const document = await opened(new Uint8Array(readFileSync('demo/files/season-handbook.docx')), 'Book.docx');
  const { item } = ring(await opened());
  const { tie, ...loose } = item;
  void tie;
  const story = documentOf(document).stories[0]!.id;
  await save(document, [{ op: 'add', item: loose, slot: { in: { story }, index: 0 } }], 409);
  const work = await opened();
  const shape = Object.values(documentOf(work).items).find((i) => i.kind === 'framed' && !i.id.startsWith('p'))!;
  await save(work, [{ op: 'set', id: shape.id, path: 'alt', value: 'A' }], 409);
});

describe('a text', () => {
  const handbook = new Uint8Array(readFileSync('demo/files/season-handbook.docx'));

  test('has what stands beside a picture in its file, and is laid out with it', async () => {
    const work = await opened(handbook, 'Handbook.docx');
    const document = documentOf(work);
    const to = 'p6';
    const story = document.stories.find((s) => s.items.includes(to))!;
    const { item } = ringOf(to);
    const at = { on: 'anchor' as const, box: item.at.box, beside: to };
    const index = story.items.indexOf(to);
    await save(work, [{ op: 'add', item: { ...item, at }, slot: { in: { story: story.id }, index } }]);
    const after = documentOf(await now(work));
    const picture = after.items[to]!;
    expect(after.items[item.id]!.at.box).toMatchObject({
      x: expect.closeTo(drawnBox(picture).x - 6, 3) as number,
      width: expect.closeTo(drawnBox(picture).width + 12, 3) as number,
    });
    const file = openFile(new Uint8Array(await fileOfWork(app, work.id)));
    const blocks = (d: Document): number =>
      Object.values(d.items).filter((i) => i.kind === 'framed' && i.fill?.kind === 'paint').length;
    expect(blocks(file.document)).toBe(blocks(openFile(handbook).document) + 1);
    const { items, orders } = (await now(work)).changes;
    const wish = { frames: [], added: { version: 2, items, orders } };
    const laid = await request(app).post(`/api/works/${work.id}/pages`).send(wish).expect(200);
    expect((laid.body as Buffer).toString()).toContain(`data-added="${item.id}"`);
    await save(work, [{ op: 'remove', id: item.id }]);
    expect(Buffer.compare(await fileOfWork(app, work.id), Buffer.from(handbook))).toBe(0);
  });
});

describe('exported', () => {
  const exported = async (work: ToldWork, wish: object, expected = 200): Promise<Buffer> => {
    const { body } = await request(app)
      .post(`/api/works/${work.id}/export`)
      .send(wish)
      .responseType('blob')
      .expect(expected);
    return body as Buffer;
  };
  const pixelsOf = async (
    bytes: Buffer,
  ): Promise<{ width: number; height: number; at(x: number, y: number): number[] }> => {
    const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    const at = (x: number, y: number): number[] => [
      ...data.subarray((y * info.width + x) * 4, (y * info.width + x) * 4 + 4),
    ];
    return { width: info.width, height: info.height, at };
  };

  test('a picture with its ring is as large as both, and clear where neither is', async () => {
    const work = await opened();
    const { item, add } = ring(work);
    const round = { ...item, shape: { name: 'ellipse', knobs: {} } };
    await save(work, [{ ...(add as Extract<Operation, { op: 'add' }>), item: round }]);
    const { box } = documentOf(await now(work)).items[item.id]!.at;
    const { n } = work.pictures[0]!;
    const image = await pixelsOf(await exported(work, { what: 'piece', n, format: 'png', width: 400 }));
    expect(image.width).toBe(400);
    expect(image.height).toBeCloseTo((400 * box.height) / box.width, -1);
    expect(image.at(0, 0)[3]).toBe(0);
    // Its block shows between the edge of the ellipse and the picture.
    expect(image.at(1, Math.round(image.height / 2)).slice(0, 3)).toEqual([0xb5, 0x48, 0x2a]);
    const svg = (await exported(work, { what: 'piece', n, format: 'svg' })).toString();
    expect(svg).toMatch(/<svg[^>]*viewBox/);
    expect(svg).toContain('#b5482a');
    expect(svg).toContain('<image');
    const none = work.pictures.at(-1)!.n;
    await exported(work, { what: 'piece', n: none, format: 'png' }, 422);
  });

  test('a page has its own size, and its ground where nothing lies', async () => {
    const work = await opened();
    const { sheets } = openFile(talk);
    const image = await pixelsOf(await exported(work, { what: 'page', page: 2, format: 'png', width: 960 }));
    expect([image.width, image.height]).toEqual([960, Math.round((960 * sheets[1]!.height) / sheets[1]!.width)]);
    expect(
      `#${image
        .at(1, 1)
        .slice(0, 3)
        .map((v) => v.toString(16).padStart(2, '0'))
        .join('')}`,
    ).toBe(sheets[1]!.background);
    await exported(work, { what: 'page', page: 99, format: 'png' }, 422);
    await exported(work, { what: 'page', page: 1, format: 'svg' }, 400);
  });
});

describe('words of a deck that look otherwise', () => {
  const titleOf = (d: Document, page: string): FramedItem =>
    d.pages
      .find((p) => p.id === page)!
      .items.map((id) => d.items[id]!)
      .find((i): i is FramedItem => i.kind === 'framed' && i.text !== null)!;
  const inked = ({ text }: FramedItem, colour: string): FramedItem['text'] => ({
    ...text!,
    paragraphs: text!.paragraphs.map((p) => ({
      ...p,
      runs: p.runs.map((r) => ({ ...r, paint: { kind: 'solid' as const, colour, opacity: 1 } })),
    })),
  });
  const inkOf = (item: FramedItem): unknown => item.text!.paragraphs[0]!.runs[0]!.paint;
  const ink = { kind: 'solid', colour: '#b5482a', opacity: 1 };

  test('go with their slide when that is moved, and come back with it; another slide never gets them', async () => {
    const work = await opened();
    const first = documentOf(work);
    const page = first.pages[1]!.id;
    const title = titleOf(first, page);
    await save(work, [
      { op: 'set', id: title.id, path: 'text', value: inked(title, '#b5482a') },
      {
        op: 'page-set',
        id: page,
        path: 'ground',
        value: { kind: 'paint', paint: { kind: 'solid', colour: '#22302f', opacity: 1 } },
      },
    ]);
    await save(work, [{ op: 'page-move', id: page, index: 3 }]);
    const moved = documentOf(await now(work));
    expect(moved.pages[3]!.id).toBe(page);
    expect(inkOf(titleOf(moved, page))).toEqual(ink);
    const others = moved.pages.filter((p) => p.id !== page).map((p) => inkOf(titleOf(moved, p.id)));
    expect(others).not.toContainEqual(ink);
    const file = openFile(new Uint8Array(await fileOfWork(app, work.id)));
    expect(inkOf(titleOf(file.document, file.document.pages[3]!.id))).toEqual(ink);
    expect(file.sheets[3]!.background).toBe('#22302f');
    // Taken out and put back by undo, with all that was said of it.
    const { inverse } = applyAll(moved, [{ op: 'page-remove', id: page }]);
    await save(work, [{ op: 'page-remove', id: page }]);
    await save(work, inverse);
    const back = documentOf(await now(work));
    expect(inkOf(titleOf(back, page))).toEqual(ink);
  });

  test('and so does what was put round pictures of a slide that is moved', async () => {
    const work = await opened();
    const { item, page, add } = ring(work);
    await save(work, [add]);
    await save(work, [{ op: 'page-move', id: page, index: 4 }]);
    const file = openFile(new Uint8Array(await fileOfWork(app, work.id))).document;
    const blocks = file.pages.map((p) =>
      p.items.filter((i) => {
        const own = file.items[i]!;
        return own.kind === 'framed' && equal(own.fill, item.fill);
      }),
    );
    expect(blocks.map((b) => b.length)).toEqual([0, 0, 0, 0, 1]);
  });

  test('stay what they are when a picture in front of them goes, and comes again', async () => {
    const work = await opened();
    const first = documentOf(work);
    const wordsIn = (d: Document): FramedItem[] =>
      Object.values(d.items).filter((i): i is FramedItem => i.kind === 'framed' && i.text !== null);
    const said = ({ text }: FramedItem): string => text!.paragraphs[0]!.runs.map((r) => r.text).join('');
    const name = wordsIn(first).find((i) => said(i) === 'Ines, glazes')!;
    await save(work, [{ op: 'set', id: name.id, path: 'text', value: inked(name, '#b5482a') }]);
    // Nobody else's, and not somewhere else.
    const red = (d: Document): string[] =>
      wordsIn(d)
        .filter((i) => equal(inkOf(i), ink))
        .map(said);
    const inFile = async (): Promise<Document> => openFile(new Uint8Array(await fileOfWork(app, work.id))).document;
    const before = documentOf(await now(work));
    const remove: Operation = { op: 'remove', id: 'p2' };
    const { inverse } = applyAll(before, [remove]);
    await save(work, [remove]);
    expect(red(documentOf(await now(work)))).toEqual(['Ines, glazes']);
    expect(red(await inFile())).toEqual(['Ines, glazes']);
    await save(work, inverse);
    expect(red(documentOf(await now(work)))).toEqual(['Ines, glazes']);
    expect(red(await inFile())).toEqual(['Ines, glazes']);
  });

  test('are deleted, and come back as they looked; what stood on their slide stays byte for byte', async () => {
    const work = await opened();
    const title = titleOf(documentOf(work), documentOf(work).pages[1]!.id);
    await save(work, [{ op: 'set', id: title.id, path: 'text', value: inked(title, '#b5482a') }]);
    const { inverse } = applyAll(documentOf(await now(work)), [{ op: 'remove', id: title.id }]);
    await save(work, [{ op: 'remove', id: title.id }]);
    const slide = 'ppt/slides/slide2.xml';
    const partsOf = (bytes: Uint8Array): Record<string, string> =>
      Object.fromEntries(Object.entries(unzipSync(bytes)).map(([name, part]) => [name, strFromU8(part)]));
    const [was, is] = [partsOf(talk), partsOf(new Uint8Array(await fileOfWork(app, work.id)))];
    expect(Object.keys(is).filter((name) => is[name] !== was[name])).toEqual([slide]);
    const shape = /<p:sp>(?:(?!<\/p:sp>).)*Who shows you round.*?<\/p:sp>/s.exec(was[slide]!)![0];
    expect(is[slide]).toBe(was[slide]!.replace(shape, ''));
    await save(work, inverse);
    const back = documentOf(await now(work));
    expect(inkOf(titleOf(back, back.pages[1]!.id))).toEqual(ink);
    expect(inkOf(titleOf(openFile(new Uint8Array(await fileOfWork(app, work.id))).document, 'page2'))).toEqual(ink);
  });

  test('come forward and go back, as pictures do, and the order is in the file; undone, it is the file that came', async () => {
    const work = await opened();
    const before = documentOf(work);
    const [page] = before.pages.slice(1);
    const order = page!.items;
    const move: Operation = { op: 'move', id: order[0]!, slot: { in: { page: page!.id }, index: order.length - 1 } };
    const { inverse } = applyAll(before, [move]);
    await save(work, [move]);
    const wished = [...order.slice(1), order[0]];
    expect(documentOf(await now(work)).pages[1]!.items).toEqual(wished);
    const file = openFile(new Uint8Array(await fileOfWork(app, work.id)));
    // Shapes bear their own numbers in the file; pictures are counted by place.
    const own = (ids: readonly string[]): string[] => ids.filter((id) => !/^p\d/.test(id));
    expect(own(file.document.pages[1]!.items)).toEqual(own(wished as string[]));
    expect(file.document.pages[1]!.items.at(-1)).toBe(order[0]);
    await save(work, inverse);
    expect(Buffer.compare(await fileOfWork(app, work.id), Buffer.from(talk))).toBe(0);
    // A text has no such order.
    const text = await opened(new Uint8Array(readFileSync('demo/files/season-handbook.docx')), 'Handbook.docx');
    const story = documentOf(text).stories.find((s) => s.items.length > 1)!;
    await save(text, [{ op: 'move', id: story.items[0]!, slot: { in: { story: story.id }, index: 1 } }], 409);
  });

  test('are tied to a picture as they stand, and go along with it in the file; words and looks stay theirs', async () => {
    const work = await opened();
    const first = documentOf(work);
    const words = Object.values(first.items).find(
      (i): i is FramedItem => i.kind === 'framed' && !!i.text && plainWords(i.text) === 'Ines, glazes',
    )!;
    const picture = first.items['p4']!;
    await save(work, [{ op: 'set', id: words.id, path: 'tie', value: tieAsItStands(words, picture) }]);
    // Nothing has moved: beside the words stands what they follow, and the rest is the file that came.
    const slide = (bytes: Uint8Array): string => strFromU8(unzipSync(bytes)['ppt/slides/slide2.xml']!);
    const tied = slide(new Uint8Array(await fileOfWork(app, work.id)));
    expect(tied.replace(/<a:extLst><a:ext uri="[^"]*"><tie[^]*?<\/a:extLst>/, '')).toBe(
      slide(talk).replace(
        /(<p:cNvPr id="\d+" name="[^"]*")\/>(?=<p:cNvSpPr[^>]*>(?:(?!<p:sp>)[^])*?Ines, glazes)/,
        '$1></p:cNvPr>',
      ),
    );
    const { box } = picture.at;
    const at = { on: 'page', box: { ...box, x: box.x + 30, y: box.y - 20 } };
    await save(work, [{ op: 'set', id: 'p4', path: 'at', value: at }]);
    const file = openFile(new Uint8Array(await fileOfWork(app, work.id))).document;
    const now = file.items[words.id] as FramedItem;
    expect(equal(now.text, words.text)).toBe(true);
    expect(now.at.box.x - words.at.box.x).toBeCloseTo(30, 3);
    expect(now.at.box.y - words.at.box.y).toBeCloseTo(-20, 3);
    // Other words are where they were.
    for (const [id, item] of Object.entries(first.items))
      if (id !== words.id && item.kind === 'framed' && item.text) expect(file.items[id]!.at).toEqual(item.at);
  });

  test('kept by a release that called them by their places, they are the same, and can be undone', async () => {
    const work = await opened();
    const title = titleOf(documentOf(work), documentOf(work).pages[1]!.id);
    await save(work, [{ op: 'set', id: title.id, path: 'text', value: inked(title, '#b5482a') }]);
    // As it was stored then.
    const row = await Work.findByPk(work.id, { rejectOnEmpty: true });
    const now1 = await now(work);
    const names = new Map<string, string>();
    for (const [i, { items }] of (row.opened.sheets ?? []).entries())
      for (const [j, item] of (items as readonly PageItem[]).entries())
        if (!('picture' in item)) names.set(item.id, `slide${i + 1}-${j + 1}`);
    expect(names.get(title.id)).not.toBe(title.id);
    const [entry] = await LogEntry.findAll({ where: { workId: work.id } });
    await entry!.update({ entry: renamedIn(entry!.entry, names) });
    const stored = { opened: { ...renamedIn(row.opened, names), reading: 3 }, changes: renamedIn(row.changes, names) };
    await row.update(stored, { silent: true });
    const told = await now(work);
    expect(told.changes).toEqual(now1.changes);
    const { body: history } = await request(app).get(`/api/works/${work.id}/history`).expect(200);
    const [{ inverse }] = (history as { entries: [{ inverse: Operation[] }] }).entries;
    await save(work, inverse);
    expect(Buffer.compare(await fileOfWork(app, work.id), Buffer.from(talk))).toBe(0);
  });

  test('are refused where they say something else', async () => {
    const work = await opened();
    const document = documentOf(work);
    const title = titleOf(document, document.pages[1]!.id);
    const text = { ...title.text!, paragraphs: [{ ...title.text!.paragraphs[0]!, runs: [] }] };
    await save(work, [{ op: 'set', id: title.id, path: 'text', value: text }], 409);
    await save(work, [{ op: 'set', id: title.id, path: 'alt', value: 'Another' }], 409);
  });
});

test('a letter with a name beside its portrait, opened again: handed back it is the very same file; moved, the name goes along', async () => {
  const handbook = openFile(readFileSync('demo/files/season-handbook.docx'));
  const bytes = handbook.write(withPiece(handbook, 6, 'name-below'));
  const work = await opened(new Uint8Array(bytes), 'letter.docx');
  const words = Object.values(work.changes.items).filter((i) => i.kind === 'framed');
  expect(words.map((i) => [plainWords(i.text), i.tie?.to])).toEqual([['Maren Holt', 'p6']]);
  expect((await fileOfWork(app, work.id)).equals(Buffer.from(bytes))).toBe(true);
  const picture = documentOf(work).items['p6']!;
  const { box } = picture.at;
  const at = { ...picture.at, box: { ...box, x: box.x - 30, y: box.y + 12 } };
  await save(work, [{ op: 'set', id: 'p6', path: 'at', value: at }]);
  const again = await opened(new Uint8Array(await fileOfWork(app, work.id)), 'again.docx');
  const [moved] = Object.values(again.changes.items);
  expect(moved!.at.box.x - words[0]!.at.box.x).toBeCloseTo(-30, 2);
  expect(moved!.at.box.y - words[0]!.at.box.y).toBeCloseTo(12, 2);
  // Deleted it is gone from the file.
  await save(work, [{ op: 'remove', id: words[0]!.id }]);
  expect(strFromU8(unzipSync(await fileOfWork(app, work.id))['word/document.xml']!)).not.toContain('Maren Holt');
});
