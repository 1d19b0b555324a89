/** Groups of works made by hand, and locks: kept, in the file, and gone when they are taken back; what is in a group comes and goes as it does on pages. */
import {
  addedId,
  applyAll,
  documentOfPictures,
  grouping,
  groupOf,
  ungrouping,
  withChanges,
  withTied,
  type Document,
  type FileContent,
  type Operation,
} from '@gable/core';
import { openFile, withTiedGrouped } from '@gable/formats';
import type { Express } from 'express';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import request from 'supertest';
import { buildWorkbook, sheetPic } from '../../formats/tests/support/deck';
import { withPiece } from '../../formats/tests/support/pieces';
import type { ToldWork } from './support/entries';
import { fileOfWork, testServer, upload } from './support/server';

let app: Express;
let close: () => Promise<void>;
beforeAll(async () => {
  ({ app, close } = await testServer());
});
afterAll(() => close());

const talk = new Uint8Array(readFileSync('demo/files/open-day-talk.pptx'));
const opened = async (bytes: Uint8Array): Promise<ToldWork> =>
  (await upload(app, bytes, 'Talk.pptx').expect(201)).body as ToldWork;
const now = async ({ id }: ToldWork): Promise<ToldWork> =>
  (await request(app).get(`/api/works/${id}`).expect(200)).body as ToldWork;
const documentOf = async (work: ToldWork): Promise<Document> => {
  const it = await now(work);
  return withChanges(documentOfPictures(it.pictures, it as FileContent), it.changes);
};
const fileNow = async (work: ToldWork): Promise<Buffer> => fileOfWork(app, work.id);

/** How many are in each group of a file, and where all its pictures are. */
function groupsIn(bytes: Uint8Array): { groups: number[]; boxes: number[][] } {
  const { document, pictures } = openFile(new Uint8Array(bytes));
  const groups = Object.values(document.items).flatMap((i) => (i.kind === 'group' ? [i.children.length] : []));
  const boxes = pictures.map(({ frame: { box: b } }) => [b.x, b.y, b.width, b.height]);
  return { groups: groups.sort((a, b) => a - b), boxes: boxes.sort((a, b) => a[0]! - b[0]! || a[1]! - b[1]!) };
}

/** @returns what takes it back */
async function save(work: ToldWork, operations: readonly Operation[], expected = 200): Promise<Operation[]> {
  const { inverse } = applyAll(await documentOf(work), operations);
  const { revision } = await now(work);
  const entry = { id: randomUUID(), name: 'grouped', operations };
  await request(app)
    .post(`/api/works/${work.id}/entries`)
    .send({ base: revision, entries: [entry] })
    .expect(expected);
  return inverse;
}

/** Two portraits of the second slide and the names below them, in a new group. */
async function groupTwo(work: ToldWork): Promise<{ group: string; ids: string[]; inverse: Operation[] }> {
  const document = await documentOf(work);
  const page = document.pages[1]!;
  const [group, ids] = [addedId(randomUUID()), withTied(document, page.items, ['p2', 'p3', 'slide2-s19'])];
  return { group, ids, inverse: await save(work, grouping(document, page.id, ids, group)) };
}

test('pictures and a name of the file come together in a group; taken back, it is the file that came', async () => {
  const work = await opened(talk);
  const { group, ids, inverse } = await groupTwo(work);
  expect(groupOf(await documentOf(work), 'p2')).toMatchObject({ id: group, children: ids });
  const [came, { groups, boxes }] = [groupsIn(talk), groupsIn(await fileNow(work))];
  expect(groups).toEqual([...came.groups, 3].sort((a, b) => a - b));
  expect(boxes).toEqual(came.boxes);
  await save(work, inverse);
  expect(Buffer.compare(await fileNow(work), Buffer.from(talk))).toBe(0);
});

test('a picture in a group is deleted and comes back into it', async () => {
  const work = await opened(talk);
  const { group } = await groupTwo(work);
  const back = await save(work, [{ op: 'remove', id: 'p3' }]);
  expect((await documentOf(work)).items[group]).toMatchObject({ children: ['p2', 'slide2-s19'] });
  const came = groupsIn(talk);
  expect(groupsIn(await fileNow(work)).groups).toEqual([2, ...came.groups]);
  await save(work, back);
  expect((await documentOf(work)).items[group]).toMatchObject({ children: ['p2', 'p3', 'slide2-s19'] });
  expect(groupsIn(await fileNow(work))).toEqual({
    groups: [...came.groups, 3].sort((a, b) => a - b),
    boxes: came.boxes,
  });
});

test('what is put round a picture lies in its group with it, and a page goes and comes with its groups', async () => {
  const work = await opened(talk);
  const plain = await documentOf(work);
  const withName = withPiece(openFile(talk), 2, 'name-below', plain);
  const page = withName.pages[1]!;
  const [added] = page.items.filter((id) => id.startsWith('add-'));
  await save(work, [
    { op: 'add', item: withName.items[added!]!, slot: { in: { page: page.id }, index: page.items.indexOf(added!) } },
  ]);
  const document = await documentOf(work);
  const set = withTied(document, document.pages[1]!.items, ['p2']);
  expect(set).toContain(added);
  await save(work, grouping(document, page.id, set, 'add-together'));
  const lies = (): Promise<Document> => documentOf(work);
  const before = (await lies()).items;
  // The name follows within the group.
  const { box } = before['p2']!.at;
  await save(work, [{ op: 'set', id: 'p2', path: 'at', value: { on: 'group', box: { ...box, x: box.x + 30 } } }]);
  expect((await lies()).items[added!]!.at.box.x).toBeCloseTo(before[added!]!.at.box.x + 30, 6);
  const file = await fileNow(work);
  expect(groupOf(openFile(new Uint8Array(file)).document, 'p2')!.children).toHaveLength(2);
  const back = await save(work, [{ op: 'page-remove', id: page.id }]);
  expect((await lies()).items['add-together']).toBeUndefined();
  await save(work, back);
  expect((await lies()).items['add-together']).toMatchObject({ children: set });
  expect(openFile(new Uint8Array(await fileNow(work))).document.items).toEqual(
    openFile(new Uint8Array(file)).document.items,
  );
});

test('a group of the file is taken apart, and put together again', async () => {
  const bytes = withTiedGrouped(openFile(talk).write(withPiece(openFile(talk), 3, 'name-below')));
  const work = await opened(bytes);
  const document = await documentOf(work);
  const group = groupOf(document, 'p3')!;
  const inverse = await save(work, ungrouping(document, group.id));
  expect(groupOf(await documentOf(work), 'p3')).toBeNull();
  expect(groupOf(openFile(new Uint8Array(await fileNow(work))).document, 'p3')).toBeNull();
  // Its picture is deleted and comes back, on the page.
  const back = await save(work, [{ op: 'remove', id: 'p3' }]);
  await save(work, back);
  expect((await documentOf(work)).items['p3']!.at.on).toBe('page');
  await save(work, inverse);
  expect(groupOf(await documentOf(work), 'p3')!.children).toHaveLength(group.children.length);
  expect(groupOf(openFile(new Uint8Array(await fileNow(work))).document, 'p3')!.children).toHaveLength(2);
});

test('what is locked is kept with the work and told in its file; let go, it is the file that came', async () => {
  const work = await opened(talk);
  const lock = (id: string): Operation => ({ op: 'set', id, path: 'locked', value: true });
  const back = await save(work, [lock('p3'), lock('slide2-s19')]);
  const there = openFile(new Uint8Array(await fileNow(work))).document;
  expect(Object.values(there.items).flatMap((i) => (i.locked ? i.id : []))).toEqual(
    expect.arrayContaining(['p3', 'slide2-s19']),
  );
  await save(work, back);
  expect(Buffer.compare(await fileNow(work), Buffer.from(talk))).toBe(0);
  // One that is locked in its file is let go.
  const locked = await opened(openFile(talk).write(applyAll(openFile(talk).document, [lock('p2')]).document));
  expect((await documentOf(locked)).items['p2']!.locked).toBe(true);
  await save(locked, [{ op: 'set', id: 'p2', path: 'locked' }]);
  expect(openFile(new Uint8Array(await fileNow(locked))).document.items['p2']!.locked).toBeUndefined();
});

test('what lies over the cells of a workbook comes to a group; a picture of it is deleted and comes back; nothing else comes to another height', async () => {
  const at = (object: string, col: number): string =>
    `<xdr:oneCellAnchor><xdr:from><xdr:col>${col}</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>3</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:from><xdr:ext cx="914400" cy="457200"/>${object}<xdr:clientData/></xdr:oneCellAnchor>`;
  const shape = (id: number): string =>
    `<xdr:sp macro="" textlink=""><xdr:nvSpPr><xdr:cNvPr id="${id}" name="s"/><xdr:cNvSpPr/></xdr:nvSpPr><xdr:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="914400" cy="457200"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></xdr:spPr></xdr:sp>`;
  const bytes = await buildWorkbook(
    at(shape(21), 1) + at(sheetPic('<a:ext cx="914400" cy="457200"/>'), 4) + at(shape(22), 7),
  );
  const work = (await upload(app, bytes, 'Firings.xlsx').expect(201)).body as ToldWork;
  const document = await documentOf(work);
  const page = document.pages[0]!;
  const back = await save(work, grouping(document, page.id, ['sheet1-s21', 'p1'], 'add-g'));
  expect(groupsIn(await fileNow(work)).groups).toEqual([2]);
  const again = await save(work, [{ op: 'remove', id: 'p1' }]);
  expect(groupsIn(await fileNow(work))).toEqual({ groups: [], boxes: [] });
  await save(work, again);
  expect((await documentOf(work)).items['add-g']).toMatchObject({ children: ['sheet1-s21', 'p1'] });
  expect(groupsIn(await fileNow(work)).groups).toEqual([2]);
  await save(work, back);
  expect((await documentOf(work)).items['add-g']).toBeUndefined();
  const move: Operation = { op: 'move', id: 'p1', slot: { in: { page: page.id }, index: 0 } };
  await save(work, [move], 409);
});

test('refused where a kind of file has no groups', async () => {
  const bytes = new TextEncoder().encode('<!doctype html><title>A</title><p>Words</p><img src="data:,">');
  const work = (await upload(app, bytes, 'a.html').expect(201)).body as ToldWork;
  const { stories } = await documentOf(work);
  const box = { x: 0, y: 0, width: 1, height: 1 };
  const flip = { horizontal: false, vertical: false };
  const group = { kind: 'group', id: 'add-g', at: { on: 'page', box }, turn: 0, flip, opacity: 1, alt: '' } as const;
  const item = { ...group, children: [], space: box };
  const { revision } = await now(work);
  const operations = [{ op: 'add', item, slot: { in: { story: stories[0]!.id }, index: 0 } }];
  const { body } = await request(app)
    .post(`/api/works/${work.id}/entries`)
    .send({ base: revision, entries: [{ id: randomUUID(), name: 'grouped', operations }] })
    .expect(409);
  expect(body).toMatchObject({ code: 'bad-operation' });
});
