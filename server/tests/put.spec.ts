/** Pictures put into files of works and taken out of them: what opening the file anew finds, and its very bytes, tell. */
import {
  documentOfPictures,
  isPictureItem,
  newPicture,
  ON_PAGE,
  solidOutline,
  withChanges,
  withShape,
  type Document,
  type FileContent,
  type Operation,
  type PictureItem,
  type Position,
} from '@gable/core';
import { openFile } from '@gable/formats';

import type { Express } from 'express';
import mammoth from 'mammoth';
import { createHash, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import request from 'supertest';
import { createApp } from '../src/app';
import type { AppContext } from '../src/context';
import { Blob } from '../src/db/models';
import { entryOf, framesOf, type ToldWork } from './support/entries';
import { strFromU8, unzipSync } from 'fflate';
import { anchored, buildDocument } from '../../formats/tests/support/build';
import { buildDeck } from '../../formats/tests/support/deck';
import { fileOfWork, tasksWith, testServer, upload } from './support/server';

let context: AppContext;
let app: Express;
let close: () => Promise<void>;
let mark: PictureItem['fill']['source'] & { from: 'kept' };
beforeAll(async () => {
  ({ context, app, close } = await testServer());
  const { body } = await request(app)
    .post('/api/pictures?name=mark.png')
    .set('Content-Type', 'application/octet-stream')
    .send(readFileSync('demo/files/pictures/logo.png'));
  const { sha256, name, type, size } = body as {
    sha256: string;
    name: string;
    type: string;
    size: { width: number; height: number };
  };
  mark = { from: 'kept', sha256, name, type, size, orientation: 1 };
});
afterAll(() => close());

interface Told extends ToldWork {
  next: number;
}

const opened = async (bytes: Uint8Array, name?: string): Promise<Told> =>
  (await upload(app, bytes, name).expect(201)).body as Told;
const now = async ({ id }: Told): Promise<Told> =>
  (await request(app).get(`/api/works/${id}`).expect(200)).body as Told;
const documentOf = (work: Told): Document =>
  withChanges(documentOfPictures(work.pictures, work as FileContent), work.changes);

async function done(work: Told, operations: readonly Operation[]): Promise<Told> {
  const entry = { id: randomUUID(), name: 'done', operations };
  await request(app)
    .post(`/api/works/${work.id}/entries`)
    .send({ base: work.revision, entries: [entry] })
    .expect(200);
  return now(work);
}

/** What adds the mark to a work. */
const adding = (work: Told, at: Position, holder = 'story1', index = 0): Operation => {
  const { from, ...source } = mark;
  void from;
  const item = newPicture(`p${work.next}`, at, source, 'Our mark');
  return { op: 'add', item, slot: { in: holder.startsWith('page') ? { page: holder } : { story: holder }, index } };
};
const inText = (after: number): Position => ({ on: 'line', box: { x: 0, y: 0, width: 60, height: 60 }, after });

const handbook = readFileSync('demo/files/season-handbook.docx');
const paragraphs = ['one', 'two', 'three'].map((t) => `<w:p><w:r><w:t>${t}</w:t></w:r></w:p>`).join('');

test('a picture goes between paragraphs of a letter without any; all out again, it is the very same file', async () => {
  const letter = Buffer.from(await buildDocument({ body: paragraphs }));
  const work = await opened(letter);
  expect(work.pictures).toEqual([]);
  const first = await done(work, [adding(work, inText(1))]);
  const second = await done(first, [adding(first, inText(1))]);
  expect([first, second].map((w) => w.pictures.map((p) => p.n))).toEqual([[1], [2, 1]]);
  const { value } = await mammoth.convertToHtml({ buffer: await fileOfWork(app, work.id) });
  expect(
    value
      .replace(/<img[^>]*>/g, '*')
      .replace(/<[^>]*>/g, ' ')
      .replace(/\s+/g, ' ')
      .trim(),
  ).toBe('one * * two three');
  // The first goes: what came behind it stays where it is.
  await done(second, [{ op: 'remove', id: 'p1' }]);
  const left = openFile(await fileOfWork(app, work.id));
  expect(left.pictures).toHaveLength(1);
  // It comes back by what took it away, to where it was.
  const log = async (): Promise<readonly { inverse: Operation[] }[]> =>
    (
      (await request(app).get(`/api/works/${work.id}/history`).expect(200)).body as {
        entries: { inverse: Operation[] }[];
      }
    ).entries;
  const back = await done(await now(work), (await log()).at(-1)!.inverse);
  expect(back.pictures.map((p) => p.n)).toEqual([2, 1]);
  await done(back, [{ op: 'remove', id: 'p1' }]);
  await done(await now(work), [{ op: 'remove', id: 'p2' }]);
  expect((await fileOfWork(app, work.id)).equals(letter)).toBe(true);
});

test('one that goes with another paragraph keeps to it when others come, and its copy goes with it', async () => {
  const letter = Buffer.from(await buildDocument({ body: anchored() + paragraphs }));
  const work = await opened(letter);
  const paragraph = { block: 3, words: 'three' };
  const at = { ...documentOf(work).items['p1']!.at, paragraph };
  const tied = await done(work, [{ op: 'set', id: 'p1', path: 'at', value: at }]);
  const holders = async (): Promise<string[]> => {
    const xml = strFromU8(unzipSync(new Uint8Array(await fileOfWork(app, work.id)))['word/document.xml']!);
    return xml
      .split('</w:p>')
      .filter((p) => p.includes('<wp:anchor'))
      .map((p) => p.replace(/<[^>]*>/g, ''));
  };
  expect(await holders()).toEqual([expect.stringContaining('three')]);
  // A paragraph comes before it; then a copy beside it.
  const more = await done(tied, [adding(tied, inText(1))]);
  expect(await holders()).toEqual([expect.stringContaining('three')]);
  await done(more, [adding(more, { ...at, beside: 'p1' } as Position)]);
  const both = (await holders()).filter((p) => p.includes('three'));
  expect(both).toHaveLength(1);
  expect(documentOf(await now(work)).items[`p${more.next}`]!.at).toMatchObject({ paragraph });
});

test('framed as any other; neighbours keep their numbers, and what was done to them', async () => {
  const work = await opened(handbook, 'Handbook.docx');
  const count = work.pictures.length;
  const circled = (w: Told, n: number): object => {
    const { frame, size } = w.pictures.find((p) => p.n === n)!;
    return { ...withShape(frame, { name: 'circle', knobs: {} }, size), outline: solidOutline(3, '#ffffff') };
  };
  await request(app)
    .post(`/api/works/${work.id}/entries`)
    .send({ base: work.revision, entries: [entryOf(work, { 4: circled(work, 4) } as never)] })
    .expect(200);
  const framed = await now(work);
  const put = await done(framed, [adding(framed, inText(2))]);
  expect(put.pictures[0]!.n).toBe(count + 1);
  expect(Object.keys(framesOf(put))).toEqual(['4']);
  const both = entryOf(put, { ...framesOf(put), [count + 1]: circled(put, count + 1) } as never);
  await request(app)
    .post(`/api/works/${work.id}/entries`)
    .send({ base: put.revision, entries: [both] })
    .expect(200);
  const file = openFile(await fileOfWork(app, work.id));
  const circles = file.pictures.filter((p) => p.frame.shape.name === 'circle').map((p) => p.n);
  // The fourth is the fifth now, behind the new one; the seventh came as one.
  expect(circles).toEqual([1, 5, 7]);
  // Its data are there once.
  expect(file.pictures[0]!.media!.pixels).toEqual(mark.size);
  const fidelity = await request(app)
    .post(`/api/works/${work.id}/fidelity`)
    .send({ frames: [framesOf(await now(work))[count + 1]] })
    .expect(200);
  expect((fidelity.body as { fidelity: unknown[] }).fidelity).toMatchObject([{ n: count + 1, fidelity: 'native' }]);
  for (const at of [
    `pictures/${count + 1}/proxy?side=256`,
    'pictures/17/proxy?side=256',
    `pictures/${count + 1}/framed?side=240`,
  ])
    await request(app).get(`/api/works/${work.id}/${at}`).expect(200);
});

test('a picture of the file goes and comes back as it was', async () => {
  const work = await opened(handbook, 'Handbook.docx');
  const document = documentOf(work);
  const p4 = document.items['p4']! as PictureItem;
  const without = await done(work, [{ op: 'remove', id: 'p4' }]);
  expect(without.pictures.map((p) => p.n)).toEqual(work.pictures.map((p) => p.n).filter((n) => n !== 4));
  expect(openFile(await fileOfWork(app, work.id)).pictures).toHaveLength(work.pictures.length - 1);
  const slot = { in: { story: document.stories[0]!.id }, index: 0 };
  const back = await done(without, [{ op: 'add', item: p4, slot }]);
  expect(back.pictures).toEqual(work.pictures);
  expect((await fileOfWork(app, work.id)).equals(handbook)).toBe(true);
});

test('into the header of every page, in the same work; undone by its inverse', async () => {
  const work = await opened(handbook, 'Handbook.docx');
  const at: Position = {
    on: 'margin',
    box: { x: 0, y: 0, width: 60, height: 40 },
    into: 'header',
    pages: 'all',
    align: 'right',
    gap: 12,
  };
  const put = await done(work, [adding(work, at)]);
  const added = put.pictures.find((p) => p.n === work.next)!;
  expect(added).toMatchObject({
    where: { place: 'header' },
    frame: { alt: 'Our mark', box: { width: 60, height: 40 } },
  });
  const { entries } = (await request(app).get(`/api/works/${work.id}/history`).expect(200)).body as {
    entries: { inverse: Operation[] }[];
  };
  await done(put, entries.at(-1)!.inverse);
  expect((await fileOfWork(app, work.id)).equals(handbook)).toBe(true);
  const talk = await opened(readFileSync('demo/files/open-day-talk.pptx'), 't.pptx');
  const entry = { id: randomUUID(), name: 'done', operations: [adding(talk, at, 'page1')] };
  const refused = await request(app)
    .post(`/api/works/${talk.id}/entries`)
    .send({ base: talk.revision, entries: [entry] });
  expect(refused.body).toMatchObject({ code: 'cannot-write' });
  expect(await now(talk)).toEqual(talk);
});

test('on a slide, in front of all; files in between are not kept', async () => {
  const talk = readFileSync('demo/files/open-day-talk.pptx');
  const work = await opened(talk, 'Talk.pptx');
  const blobs = await Blob.count();
  const at = (x: number): Position => ({ on: 'page', box: { x, y: 30, width: 90, height: 60 } });
  const front = (w: Told): number => documentOf(w).pages[1]!.items.length;
  const first = await done(work, [adding(work, at(20), 'page2', front(work))]);
  const second = await done(first, [adding(first, at(150), 'page2', front(first))]);
  expect(await Blob.count()).toBe(blobs + 1);
  const slide = documentOf(second).pages[1]!.items.map((id) => documentOf(second).items[id]!);
  expect(
    slide
      .filter(isPictureItem)
      .slice(-2)
      .map((i) => i.at.box.x),
  ).toEqual([20, 150]);
  await done(second, [{ op: 'remove', id: `p${work.next}` }]);
  expect(openFile(await fileOfWork(app, work.id)).pictures).toHaveLength(work.pictures.length + 1);
  await done(await now(work), [{ op: 'remove', id: `p${work.next + 1}` }]);
  expect((await fileOfWork(app, work.id)).equals(talk)).toBe(true);
  expect(await Blob.count()).toBe(blobs);
});

test('a work from nothing is one empty page; a copy of a picture is framed like it', async () => {
  const made = await request(app).post('/api/works/new').send({ kind: 'slides', page: '4:3' }).expect(201);
  const work = made.body as Told & { name: string; sheets: { width: number; height: number }[] };
  // 10 by 7.5 inches (common practice).
  expect([work.name, work.sheets.map((s) => [s.width, s.height])]).toEqual(['New slides', [[720, 540]]]);
  const at: Position = { on: 'page', box: { x: 20, y: 30, width: 90, height: 60 } };
  const put = await done(work, [adding(work, at, 'page1', 0)]);
  const { frame, size } = put.pictures[0]!;
  const round = entryOf(put, { 1: withShape(frame, { name: 'circle', knobs: {} }, size) });
  await request(app)
    .post(`/api/works/${work.id}/entries`)
    .send({ base: put.revision, entries: [round] })
    .expect(200);
  const framed = await now(work);
  const item = documentOf(framed).items['p1'] as PictureItem;
  const copy = { ...item, id: 'p2', at: { ...item.at, box: { ...item.at.box, x: 200 } } } as PictureItem;
  await done(framed, [{ op: 'add', item: copy, slot: { in: { page: 'page1' }, index: 1 } }]);
  const file = openFile(await fileOfWork(app, work.id));
  expect(file.pictures.map((p) => [p.frame.shape.name, Math.round(p.frame.box.x)])).toEqual([
    ['circle', Math.round(item.at.box.x)],
    ['circle', 200],
  ]);
  const wrong = await request(app).post('/api/works/new').send({ kind: 'graphic', page: 'huge' });
  expect(wrong.body).toMatchObject({ code: 'bad-size' });
});

test('a row of pictures becomes a page: all as they are framed, beside each other, handed over as a file', async () => {
  const pictures = [mark.sha256, null, mark.sha256, mark.sha256];
  const made = await request(app).post('/api/works/pictures').send({ name: 'Marks', pictures }).expect(201);
  const row = made.body as Told;
  const { frame, size } = row.pictures[0]!;
  const round = { ...withShape(frame, { name: 'circle', knobs: {} }, size), outline: solidOutline(6, '#b5482a') };
  await request(app)
    .post(`/api/works/${row.id}/entries`)
    .send({ base: row.revision, entries: [entryOf(row, { 1: round })] })
    .expect(200);
  const wish = { kind: 'slides', page: '16:9', of: row.id };
  const paged = (await request(app).post('/api/works/new').send(wish).expect(201)).body as Told & { name: string };
  expect([paged.name, paged.next]).toEqual(['Marks', 5]);
  const file = openFile(await fileOfWork(app, paged.id));
  const boxes = file.pictures.map((p) => p.frame.box);
  expect(file.pictures.map((p) => p.frame.shape.name)).toEqual(['circle', 'rectangle', 'rectangle']);
  expect(file.pictures[0]!.frame.outline).toMatchObject(solidOutline(6, '#b5482a'));
  // At their ratios, none over another, within the page of 960 by 540 points.
  for (const [i, b] of boxes.entries()) {
    expect(b.width / b.height).toBeCloseTo(i === 0 ? 1 : mark.size.width / mark.size.height, 2);
    expect(Math.min(b.x, b.y, 960 - b.x - b.width, 540 - b.y - b.height)).toBeGreaterThan(10);
    for (const other of boxes.slice(0, i))
      expect(
        b.x >= other.x + other.width ||
          other.x >= b.x + b.width ||
          b.y >= other.y + other.height ||
          other.y >= b.y + b.height,
      ).toBe(true);
  }
  // One alone is as large as the page has room for it; the row is as it was.
  const one = await request(app)
    .post('/api/works/pictures')
    .send({ pictures: [mark.sha256] });
  const alone = await request(app)
    .post('/api/works/new')
    .send({ ...wish, of: (one.body as Told).id });
  const { box } = openFile(await fileOfWork(app, (alone.body as Told).id)).pictures[0]!.frame;
  expect(box.x + box.width / 2).toBeCloseTo(480, 1);
  expect(Math.max(box.width / 960, box.height / 540)).toBeGreaterThan(0.8);
  expect((await now(row)).pictures).toHaveLength(4);
  const empty = await request(app)
    .post('/api/works/pictures')
    .send({ pictures: [null] });
  const none = await request(app)
    .post('/api/works/new')
    .send({ ...wish, of: (empty.body as Told).id });
  expect(none.body).toMatchObject({ code: 'no-pictures' });
  const count = await request(app).get('/api/works');
  const has = await request(app)
    .post('/api/works/new')
    .send({ ...wish, of: paged.id });
  expect(has.body).toMatchObject({ code: 'has-file' });
  expect(((await request(app).get('/api/works')).body as { works: [] }).works).toHaveLength(
    (count.body as { works: [] }).works.length,
  );
});

test('into a shape of a slide: its look stays, framed further; out it is the very same file, back in it is there again', async () => {
  const shape =
    '<p:sp><p:nvSpPr><p:cNvPr id="9" name="Round"/><p:cNvSpPr/><p:nvPr/></p:nvSpPr><p:spPr><a:xfrm><a:off x="1270000" y="1270000"/><a:ext cx="1270000" cy="1270000"/></a:xfrm><a:prstGeom prst="ellipse"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="b5482a"/></a:solidFill></p:spPr><p:txBody><a:bodyPr/><a:p><a:r><a:t>Anna</a:t></a:r></a:p></p:txBody></p:sp>';
  const deck = Buffer.from(await buildDeck([shape]));
  const work = await opened(deck, 'deck.pptx');
  const box = { x: 100, y: 100, width: 100, height: 100 };
  const put = adding(work, { on: 'page', box, fills: true }, 'page1') as Operation & { op: 'add' };
  const first = await done(work, [put]);
  expect(first.pictures).toMatchObject([{ n: 1, frame: { shape: { name: 'circle' }, box }, words: { anchor: 'top' } }]);
  const moved = await done(first, [
    { op: 'set', id: 'p1', path: 'at', value: { on: 'page', box: { ...box, x: 300 } } },
  ]);
  const file = openFile(await fileOfWork(app, work.id));
  expect(file.pictures[0]!.frame.box.x).toBe(300);
  const out = await done(moved, [{ op: 'remove', id: 'p1' }]);
  expect(out.pictures).toEqual([]);
  expect((await fileOfWork(app, work.id)).equals(deck)).toBe(true);
  // Undone: in the shape again, where that was moved to.
  const { body } = await request(app).get(`/api/works/${work.id}/history`).expect(200);
  const { inverse } = (body as { entries: { inverse: Operation[] }[] }).entries.at(-1)!;
  const again = await done(out, inverse);
  expect(again.pictures[0]!.frame.shape.name).toBe('circle');
  expect(openFile(await fileOfWork(app, work.id)).pictures[0]).toMatchObject({ frame: { box: { x: 300 } }, words: {} });
});

test('in a cell, and among the letters of a paragraph', async () => {
  const table = '<w:tbl><w:tr><w:tc><w:p/></w:tc></w:tr></w:tbl>';
  const letter = Buffer.from(await buildDocument({ body: paragraphs + table }));
  const work = await opened(letter);
  const inCell = await done(work, [adding(work, { ...inText(1), within: 0, letters: 0 } as Position)]);
  const both = await done(inCell, [adding(inCell, { ...inText(2), letters: 1 } as Position)]);
  const { value } = await mammoth.convertToHtml({ buffer: await fileOfWork(app, work.id) });
  expect(value.replace(/<img[^>]*>/g, '*')).toBe(
    '<p>one</p><p>t*wo</p><p>three</p><table><tr><td><p>*</p></td></tr></table>',
  );
  const { body } = await request(app).get(`/api/works/${work.id}/blocks`).expect(200);
  expect((body as { blocks: unknown[] }).blocks.at(-1)).toEqual({ words: ' ', in: 'cell', within: 0 });
  await done(both, [
    { op: 'remove', id: 'p2' },
    { op: 'remove', id: 'p1' },
  ]);
  expect((await fileOfWork(app, work.id)).equals(letter)).toBe(true);
});

describe('slides', () => {
  const talk = readFileSync('demo/files/open-day-talk.pptx');
  const pageAdd = (work: Told, index: number, like: { page: string; copy: boolean }): Operation => ({
    op: 'page-add',
    page: { ...documentOf(work).pages[0]!, id: `page${20 + index}`, items: [], layers: [] },
    index,
    like,
  });
  const inverseOf = async (work: Told): Promise<Operation[]> => {
    const { body } = await request(app).get(`/api/works/${work.id}/history`).expect(200);
    return (body as { entries: { inverse: Operation[] }[] }).entries.at(-1)!.inverse;
  };
  const placesOf = ({ pictures }: Told): [number, number | null][] => pictures.map((p) => [p.n, p.where.page]);

  test('one is copied, its picture framed on the copy; all of it undone, it is the very same file', async () => {
    const work = await opened(talk, 'talk.pptx');
    const count = work.sheets!.length;
    const on2 = work.pictures.filter((p) => p.where.page === 2);
    const copied = await done(work, [pageAdd(work, 2, { page: 'page2', copy: true })]);
    expect(copied.sheets).toHaveLength(count + 1);
    const fresh = copied.pictures.filter((p) => p.where.page === 3);
    expect(fresh.map((p) => p.n)).toEqual(on2.map((_, i) => work.next + i));
    const { shape } = withShape(fresh[0]!.frame, { name: 'circle', knobs: {} }, fresh[0]!.size);
    const framed = await done(copied, [{ op: 'set', id: `p${fresh[0]!.n}`, path: 'shape', value: shape }]);
    const file = openFile(await fileOfWork(app, work.id));
    expect(file.pictures.filter((p) => p.where.page === 3)[0]!.frame.shape.name).toBe('circle');
    expect(file.pictures.filter((p) => p.where.page === 2)[0]!.frame.shape).toEqual(on2[0]!.frame.shape);
    const back = await done(framed, await inverseOf(framed));
    const gone = await done(back, [{ op: 'page-remove', id: 'page22' }]);
    expect(placesOf(gone)).toEqual(placesOf(work));
    expect((await fileOfWork(app, work.id)).equals(talk)).toBe(true);
  });

  test('one with a framed picture goes, and comes back as it was; one moves to the front', async () => {
    const work = await opened(talk, 'talk.pptx');
    const [first] = work.pictures.filter((p) => p.where.page === 1);
    const framed = await done(work, [{ op: 'set', id: `p${first!.n}`, path: 'alt', value: 'On the first' }]);
    const without = await done(framed, [{ op: 'page-remove', id: 'page1' }]);
    expect(without.pictures.some((p) => p.n === first!.n)).toBe(false);
    expect(without.sheets).toHaveLength(work.sheets!.length - 1);
    const back = await done(without, await inverseOf(without));
    expect(placesOf(back)).toEqual(placesOf(work));
    expect(framesOf(back)[first!.n]!.alt).toBe('On the first');
    const last = documentOf(back).pages.at(-1)!.id;
    const moved = await done(back, [{ op: 'page-move', id: last, index: 0 }]);
    expect(documentOf(moved).pages[0]!.id).toBe(last);
    const turned = openFile(await fileOfWork(app, work.id));
    expect(turned.pictures.find((p) => p.frame.alt === 'On the first')!.where.page).toBe(2);
    const inFront = documentOf(moved).pages.find((p) => p.id === 'page1')!.items.length;
    // A picture goes onto the slide that is meant, wherever that is now.
    const put = await done(moved, [
      adding(moved, { on: 'page', box: { x: 5, y: 6, width: 40, height: 40 } }, 'page1', inFront),
    ]);
    expect(put.pictures.find((p) => p.n === moved.next)!.where.page).toBe(2);
    // Numbers that are no places any more follow their pictures.
    const copied = await done(put, [pageAdd(put, 1, { page: last, copy: true })]);
    const alts = (told: Told): [number, string][] =>
      told.pictures.filter((p) => put.pictures.some((q) => q.n === p.n)).map((p) => [p.n, p.frame.alt]);
    expect(alts(copied)).toEqual(alts(put));
    const less = await done(copied, [{ op: 'page-remove', id: 'page21' }]);
    expect(placesOf(less)).toEqual(placesOf(put));
    const out = await done(less, [{ op: 'remove', id: `p${moved.next}` }]);
    const home = await done(out, [{ op: 'page-move', id: last, index: work.sheets!.length - 1 }]);
    await done(home, [{ op: 'set', id: `p${first!.n}`, path: 'alt', value: first!.frame.alt }]);
    expect((await fileOfWork(app, work.id)).equals(talk)).toBe(true);
  });

  test('the pictures of a copy keep their numbers and frames, whatever is undone; deleted and undone, it is there again', async () => {
    const work = await opened(talk, 'talk.pptx');
    const copied = await done(work, [pageAdd(work, 2, { page: 'page2', copy: true })]);
    const [first, second] = copied.pictures.filter((p) => p.where.page === 3).map((p) => p.n);
    const framed = await done(copied, [{ op: 'set', id: `p${first!}`, path: 'alt', value: 'Of the copy' }]);
    const at: Position = { on: 'page', box: { x: 5, y: 6, width: 40, height: 40 } };
    const put = await done(framed, [adding(framed, at, 'page1', documentOf(framed).pages[0]!.items.length)]);
    const undone = await done(put, [{ op: 'remove', id: `p${framed.next}` }]);
    expect(placesOf(undone)).toEqual(placesOf(framed));
    expect(framesOf(undone)[first!]!.alt).toBe('Of the copy');
    const less = await done(undone, [{ op: 'remove', id: `p${second!}` }]);
    const without = await done(less, [{ op: 'page-remove', id: 'page22' }]);
    expect(placesOf(without)).toEqual(placesOf(work));
    const back = await done(without, await inverseOf(without));
    expect(placesOf(back)).toEqual(placesOf(less));
    expect(framesOf(back)[first!]!.alt).toBe('Of the copy');
    expect(openFile(await fileOfWork(app, work.id)).pictures.some((p) => p.frame.alt === 'Of the copy')).toBe(true);
  });

  test('an empty one comes, and gets a picture; the last one cannot go; texts have no slides', async () => {
    const work = await opened(Buffer.from(await buildDeck([''])), 'one.pptx');
    const two = await done(work, [pageAdd(work, 1, { page: 'page1', copy: false })]);
    const put = await done(two, [adding(two, { on: 'page', box: { x: 5, y: 6, width: 40, height: 40 } }, 'page21')]);
    expect(placesOf(put)).toEqual([[1, 2]]);
    const refuse = (told: Told, operations: Operation[], status: number, code: string): Promise<unknown> =>
      request(app)
        .post(`/api/works/${told.id}/entries`)
        .send({ base: told.revision, entries: [{ id: randomUUID(), name: 'x', operations }] })
        .expect(status)
        .then(({ body }) => expect((body as { code: string }).code).toBe(code));
    await refuse(
      put,
      [
        { op: 'page-remove', id: 'page1' },
        { op: 'page-remove', id: 'page21' },
      ],
      422,
      'cannot-write',
    );
    const text = await opened(Buffer.from(await buildDocument({ body: paragraphs })));
    const page = { ...documentOf(put).pages[0]!, id: 'x', items: [], layers: [] };
    await refuse(text, [{ op: 'page-add', page, index: 0, like: { page: 'x', copy: false } }], 409, 'bad-operation');
  });
});

test('a file that is read while a picture is put in is read anew, and no fault', async () => {
  const work = await opened(Buffer.from(await buildDocument({ body: paragraphs })));
  const first = await done(work, [adding(work, inText(1))]);
  let asked = 0;
  const slow = createApp({
    ...context,
    tasks: tasksWith(context.tasks, {
      save: async (input, watch, real) => {
        asked++;
        // Before the file is read, another picture comes, and the file of before is gone.
        if (asked === 1) await done(first, [adding(first, inText(1))]);
        return real.run('save', input, watch);
      },
    }),
  });
  const { body } = await request(slow).get(`/api/works/${work.id}/file`).responseType('blob').expect(200);
  expect(openFile(new Uint8Array(body as Buffer)).pictures).toHaveLength(2);
  expect(asked).toBe(2);
});

test('the data of a picture of a file are kept as they are, for a frame of another work', async () => {
  const work = await opened(handbook);
  const { body } = await request(app).post(`/api/works/${work.id}/pictures/2/keep`).expect(201);
  const bytes = openFile(handbook).pictureBytes(2);
  expect(body).toMatchObject({ sha256: createHash('sha256').update(bytes).digest('hex'), kind: 'own' });
  await request(app).post(`/api/works/${work.id}/pictures/999/keep`).expect(404);
});

test('a copy stands right behind its picture, framed like it, in the text and beside it; and is undone', async () => {
  const work = await opened(handbook, 'Handbook.docx');
  const document = documentOf(work);
  const copied = (n: number, id: string): Operation => {
    const item = document.items[`p${n}`] as PictureItem;
    const story = document.stories.find((s) => s.items.includes(item.id))!;
    const at = { on: item.at.on, box: item.at.box, beside: item.id } as Position;
    return { op: 'add', item: { ...item, id, at }, slot: { in: { story: story.id }, index: 0 } };
  };
  const lying = work.pictures.find((p) => p.frame.flow === 'floating' && p.where.place === 'body')!;
  const round = entryOf(work, {
    4: withShape(work.pictures[3]!.frame, { name: 'circle', knobs: {} }, work.pictures[3]!.size),
  });
  await request(app)
    .post(`/api/works/${work.id}/entries`)
    .send({ base: work.revision, entries: [round] })
    .expect(200);
  const framed = await now(work);
  const like = { ...copied(4, `p${work.next}`) } as Operation & { op: 'add' };
  like.item = { ...documentOf(framed).items['p4']!, id: `p${work.next}`, at: like.item.at };
  const once = await done(framed, [like]);
  const twice = await done(once, [copied(lying.n, `p${work.next + 1}`)]);
  const file = openFile(await fileOfWork(app, work.id));
  expect(file.pictures).toHaveLength(work.pictures.length + 2);
  const [first, copy] = file.pictures.filter((p) => p.frame.shape.name === 'circle');
  expect(copy!.n).toBe(first!.n + 1);
  expect(copy!.where).toEqual(first!.where);
  expect(copy!.frame).toMatchObject({ flow: first!.frame.flow, placement: first!.frame.placement });
  expect(twice.pictures.filter((p) => p.frame.flow === 'floating')).toHaveLength(
    1 + work.pictures.filter((p) => p.frame.flow === 'floating').length,
  );
  await done(twice, [{ op: 'remove', id: `p${work.next + 1}` }]);
  await done(await now(work), [{ op: 'remove', id: `p${work.next}` }]);
  expect(openFile(await fileOfWork(app, work.id)).pictures).toHaveLength(work.pictures.length);
});

test('a picture of the text goes into the headers, with its frame, and comes back by the inverse', async () => {
  const work = await opened(handbook, 'Handbook.docx');
  const document = documentOf(work);
  const item = document.items['p4'] as PictureItem;
  const anchor = { ...ON_PAGE, align: { x: 'right' as const } };
  const at: Position = {
    on: 'margin',
    box: { ...item.at.box, x: 400, y: 30 },
    into: 'header',
    pages: 'all',
    align: 'left',
    gap: null,
    anchor,
  };
  const slot = { in: { story: document.stories[0]!.id }, index: 0 };
  const added: Operation = {
    op: 'add',
    item: { ...item, id: `p${work.next}`, at, outline: solidOutline(2, '#334455') },
    slot,
  };
  const put = await done(work, [added, { op: 'remove', id: 'p4' }]);
  expect(put.pictures.some((p) => p.n === 4)).toBe(false);
  const there = openFile(await fileOfWork(app, work.id)).pictures.filter((p) => p.frame.outline?.weight === 2);
  expect(there.length).toBeGreaterThan(0);
  for (const { where, frame } of there) {
    expect(where.place).toBe('header');
    expect(frame.anchor).toEqual(anchor);
    expect(frame.box.y).toBeCloseTo(30, 3);
    expect(frame.alt).toBe(item.alt);
  }
  const { entries } = (await request(app).get(`/api/works/${work.id}/history`).expect(200)).body as {
    entries: { inverse: Operation[] }[];
  };
  await done(put, entries.at(-1)!.inverse);
  expect((await fileOfWork(app, work.id)).equals(handbook)).toBe(true);
});

test('a picture of the file that was moved and sized, deleted and brought back, is where it was moved to', async () => {
  const work = await opened(handbook, 'Handbook.docx');
  const [one] = work.pictures.filter((p) => p.frame.flow === 'floating' && p.where.place === 'body');
  const box = { ...one!.frame.box, x: one!.frame.box.x - 30, y: 44, width: 90, height: 90 };
  const moved = { ...one!.frame, box, anchor: { ...ON_PAGE, behind: true } };
  await request(app)
    .post(`/api/works/${work.id}/entries`)
    .send({ base: work.revision, entries: [entryOf(work, { [one!.n]: moved })] })
    .expect(200);
  const framed = await now(work);
  const item = documentOf(framed).items[`p${one!.n}`]!;
  const slot = { in: { story: documentOf(work).stories[0]!.id }, index: 99 };
  const gone = await done(framed, [{ op: 'remove', id: item.id }]);
  await done(gone, [{ op: 'add', item, slot }]);
  const again = openFile(await fileOfWork(app, work.id)).pictures.find((p) => p.frame.anchor?.behind)!;
  expect(again.frame.anchor).toEqual(moved.anchor);
  for (const key of ['x', 'y', 'width', 'height'] as const) expect(again.frame.box[key]).toBeCloseTo(box[key], 3);
});
