import {
  addedId,
  applyAll,
  changesOf,
  documentOfPictures,
  FINISHES,
  FULL_SEAT,
  itemIdOf,
  layAround,
  layFinish,
  resolveTies,
  solidOutline,
  withChanges,
  withFrame,
  type AroundPart,
  type FileContent,
  type Finish,
  type Operation,
  type PictureItem,
} from '@gable/core';
import type { Express } from 'express';
import request from 'supertest';
import { OwnFinish } from '../src/db/models';
import { testServer, upload } from './support/server';
import { framesOf, saveOf, type ToldWork } from './support/entries';
import { readFileSync } from 'node:fs';

interface Told {
  id: string;
  finish: Finish;
  shipped: boolean;
}
let app: Express;
let close: () => Promise<void>;
beforeAll(async () => {
  ({ app, close } = await testServer());
  await OwnFinish.destroy({ where: {} });
});
afterAll(() => close());

const RUN = { font: 'Georgia', size: 12, weight: 700, italic: false, underline: false };
const INK = { kind: 'solid' as const, colour: '#22302f', opacity: 1 };
const list = async (): Promise<Told[]> =>
  ((await request(app).get('/api/finishes').expect(200)).body as { finishes: Told[] }).finishes;
const mine: Finish = {
  name: 'Kiln door!',
  shape: { name: 'round-arch', knobs: {} },
  outline: solidOutline(2, '#552200'),
};

test('those that ship are there from the start, as they came', async () => {
  expect(await list()).toEqual(FINISHES.map((f) => ({ ...f, shipped: true })));
});

test('one’s own is kept under an id made of its name, changed, and removed', async () => {
  const made = (await request(app).post('/api/finishes').send({ finish: mine }).expect(201)).body as Told;
  expect(made).toEqual({ id: 'kiln-door', finish: mine, shipped: false });
  const twin = (await request(app).post('/api/finishes').send({ finish: mine }).expect(201)).body as Told;
  expect(twin.id).toBe('kiln-door-2');
  const wider = { ...mine, outline: solidOutline(5, '#552200') };
  await request(app).put('/api/finishes/kiln-door').send({ finish: wider }).expect(200);
  expect((await list()).find((f) => f.id === 'kiln-door')!.finish).toEqual(wider);
  await request(app).delete('/api/finishes/kiln-door').expect(204);
  await request(app).delete('/api/finishes/kiln-door-2').expect(204);
  expect(await list()).toHaveLength(FINISHES.length);
  await request(app).put('/api/finishes/kiln-door').send({ finish: wider }).expect(404);
});

test('a shipped one can be changed and removed, and brought back as it came', async () => {
  const id = FINISHES[0]!.id;
  await request(app).put(`/api/finishes/${id}`).send({ finish: mine }).expect(200);
  expect((await list())[0]).toEqual({ id, finish: mine, shipped: true });
  await request(app).delete(`/api/finishes/${id}`).expect(204);
  expect((await list()).map((f) => f.id)).not.toContain(id);
  await request(app).post('/api/finishes/shipped').expect(200);
  expect((await list())[0]).toEqual({ ...FINISHES[0], shipped: true });
});

test.each([
  ['no finish', {}],
  ['a placement, which no finish has', { finish: { ...mine, placement: {} } }],
  ['a ratio and a size', { finish: { name: 'x', ratio: 1, size: { width: 1, height: 1 } } }],
])('%s is refused', async (_, body) => {
  await request(app).post('/api/finishes').send(body).expect(400);
});

test('what is said of a work stays with it, without a new revision; an entry can be about many frames', async () => {
  const handbook = readFileSync('demo/files/season-handbook.docx');
  const w = (await upload(app, handbook).expect(201)).body as ToldWork;
  const marks = { deliberate: ['size:1,2'], finish: 'round-portrait' };
  await request(app).put(`/api/works/${w.id}/marks`).send(marks).expect(200);
  expect((await request(app).get(`/api/works/${w.id}`).expect(200)).body).toMatchObject({ marks, revision: 1 });
  await request(app).put(`/api/works/${w.id}/marks`).send({ colour: 'red' }).expect(400);
  const frames = Object.fromEntries([1, 2, 3].map((n) => [n, { ...w.pictures[n - 1]!.frame, alt: `number ${n}` }]));
  await request(app)
    .post(`/api/works/${w.id}/entries`)
    .send(saveOf(w, frames, { name: 'texts' }))
    .expect(200);
  const { body } = await request(app).get(`/api/works/${w.id}/history`).expect(200);
  const set = (n: number, value: string): object => ({ op: 'set', id: `p${n}`, path: 'alt', value });
  expect(body).toMatchObject({
    more: false,
    entries: [
      {
        name: 'texts',
        operations: [1, 2, 3].map((n) => set(n, `number ${n}`)),
        inverse: [3, 2, 1].map((n) => set(n, w.pictures[n - 1]!.frame.alt)),
      },
    ],
  });
});

test('frames of works that are not open follow a finish that changes, as a deed of their own', async () => {
  const handbook = readFileSync('demo/files/season-handbook.docx');
  const ids: string[] = [];
  for (const name of ['A.docx', 'B.docx']) {
    const w = (await upload(app, handbook, name).expect(201)).body as ToldWork;
    const laid = w.pictures
      .slice(0, 3)
      .map(({ frame, size }) => ({ ...layFinish(frame, mine, { picture: size }), finish: 'kiln' }));
    // The third has been changed since: it follows no more.
    laid[2] = { ...laid[2]!, outline: solidOutline(1, '#000000') };
    await request(app)
      .post(`/api/works/${w.id}/entries`)
      .send(saveOf(w, Object.fromEntries(laid.map((f) => [f.n, f]))))
      .expect(200);
    ids.push(w.id);
  }
  await OwnFinish.create({ id: 'kiln', finish: mine });
  const wider = { ...mine, outline: solidOutline(5, '#552200') };
  const { body } = await request(app).put('/api/finishes/kiln').send({ finish: wider, open: ids[0] }).expect(200);
  expect(body).toMatchObject({ finish: wider, followed: 1 });
  const weights = async (id: string): Promise<unknown[]> => {
    const w = (await request(app).get(`/api/works/${id}`).expect(200)).body as ToldWork;
    return Object.values(framesOf(w)).map((f) => f.outline?.weight);
  };
  expect(await weights(ids[0]!)).toEqual([2, 2, 1]);
  expect(await weights(ids[1]!)).toEqual([5, 5, 1]);
  const { body: history } = await request(app).get(`/api/works/${ids[1]}/history`).expect(200);
  expect(history).toMatchObject({
    entries: [
      { name: 'changed' },
      { name: 'Kiln door! followed', operations: [1, 2].map((n) => ({ id: `p${n}`, path: 'outline' })) },
    ],
  });
});

test('what a finish puts around its pictures follows, too, where it is as it was laid', async () => {
  const talk = readFileSync('demo/files/open-day-talk.pptx');
  const w = (await upload(app, talk, 'Talk.pptx').expect(201)).body as ToldWork;
  const name: AroundPart = {
    layer: 'front',
    says: 'name',
    item: {
      ...{ kind: 'framed', id: 'part-1', turn: 0, flip: { horizontal: false, vertical: false }, opacity: 1, alt: '' },
      ...{ shape: { name: 'rectangle', knobs: {} }, seat: FULL_SEAT, outline: null, shadow: null, fill: null },
      at: { on: 'page', box: { x: 0, y: 0, width: 90, height: 20 } },
      text: {
        ...{ anchor: 'middle', inset: { top: 0, right: 0, bottom: 0, left: 0 } },
        paragraphs: [{ align: 'centre', runs: [{ ...RUN, text: 'Name', paint: INK }] }],
      },
      tie: { to: 'picture', as: 'beside', side: 'bottom', gap: 4, share: 1 },
    },
  };
  const was: Finish = { name: 'Captioned', shape: { name: 'circle', knobs: {} }, around: [name] };
  await OwnFinish.create({ id: 'captioned', finish: was });
  // As it is laid on the first two portraits of the team.
  const file = documentOfPictures(w.pictures, w as FileContent);
  const laid = w.pictures.slice(1, 3);
  const operations: Operation[] = [];
  let document = file;
  for (const { frame, size, ...picture } of laid) {
    const item = document.items[itemIdOf(picture)] as PictureItem;
    const next = { ...layFinish(frame, was, { picture: size }), finish: 'captioned' };
    const own = [...changesOf(item, withFrame(item, next, size))];
    document = resolveTies(applyAll(document, own).document);
    const round = layAround(document, item.id, was.around, () => addedId(`${item.id}-name`));
    document = resolveTies(applyAll(document, round).document);
    operations.push(...own, ...round);
  }
  await request(app)
    .post(`/api/works/${w.id}/entries`)
    .send({ base: w.revision, entries: [{ id: 'laid', name: 'Captioned applied', operations }] })
    .expect(200);
  const tie = { ...name.item.tie!, gap: 11 };
  const now: Finish = { ...was, around: [{ ...name, item: { ...name.item, tie } }] };
  const { body } = await request(app).put('/api/finishes/captioned').send({ finish: now }).expect(200);
  expect(body).toMatchObject({ followed: 1 });
  const after = (await request(app).get(`/api/works/${w.id}`).expect(200)).body as ToldWork;
  const names = Object.values(withChanges(file, after.changes).items).filter((i) => i.tie?.side === 'bottom');
  expect(names.map((i) => [i.tie!.to, i.tie!.gap]).sort()).toEqual(laid.map((p) => [itemIdOf(p), 11]).sort());
});
