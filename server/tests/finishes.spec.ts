import { FINISHES, layFinish, solidOutline, type Finish } from '@gable/core';
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
