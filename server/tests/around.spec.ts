/** Words and blocks round pictures of works: kept with the work, found in the file that is handed over, and gone when they are undone. */
import {
  addedId,
  applyAll,
  documentOfPictures,
  FULL_SEAT,
  itemIdOf,
  withChanges,
  type Document,
  type FileContent,
  type FramedItem,
  type Operation,
} from '@gable/core';
import { openFile } from '@gable/formats';
import type { Express } from 'express';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import request from 'supertest';
import type { ToldWork } from './support/entries';
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

/** A ring round the first picture, and its page. */
function ring(work: ToldWork, id = addedId(randomUUID())): { item: FramedItem; page: string; add: Operation } {
  const document = documentOf(work);
  const [first] = work.pictures;
  const to = itemIdOf(first!);
  const page = document.pages.find((p) => p.items.includes(to))!;
  const item: FramedItem = {
    ...{ kind: 'framed', id, at: { on: 'page', box: { x: 0, y: 0, width: 10, height: 10 } }, turn: 0, opacity: 1 },
    ...{ flip: { horizontal: false, vertical: false }, alt: '', shape: { name: 'rectangle', knobs: {} } },
    ...{ seat: FULL_SEAT, outline: null, shadow: null, text: null, tie: { to, as: 'behind', gap: 6 } },
    fill: { kind: 'paint', paint: { kind: 'solid', colour: '#b5482a', opacity: 1 } },
  };
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
  await save(work, [{ op: 'set', id: shape.id, path: 'turn', value: 10 }], 409);
});
