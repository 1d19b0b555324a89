/** Works that are looked at, and changed, together. The zip is read by `fflate`. */
import type { LoggedEntry, LoggedHistory } from '@gable/contract';
import { historyOf, NO_CHANGES, undoing, withShape, type Frame, type PlacedPicture } from '@gable/core';
import { openFile } from '@gable/formats';
import type { Express } from 'express';
import { unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import request from 'supertest';
import { Work } from '../src/db/models';
import type { AppContext } from '../src/context';
import { JobRunner } from '../src/exports/runner';
import { fileOfJob, testServer, upload, jobUntil } from './support/server';
import { entryOf, framesOf, saveOf, type ToldWork } from './support/entries';

const handbook = readFileSync('demo/files/season-handbook.docx');
const talk = readFileSync('demo/files/open-day-talk.pptx');

let context: AppContext;
let app: Express;
let close: () => Promise<void>;

interface Told extends ToldWork {
  format: string;
  pictures: (PlacedPicture & {
    file: string;
    member: { id: string; n: number };
    media: { data: string } | null;
  })[];
}

beforeAll(async () => {
  ({ context, app, close } = await testServer());
});
beforeEach(() => Work.destroy({ where: {} }));
afterAll(() => close());

const post = (w: Told, body: object): request.Test => request(app).post(`/api/works/${w.id}/entries`).send(body);
const save = (w: Told, ...of: [Record<string, Frame>, { name?: string }?]): request.Test => post(w, saveOf(w, ...of));
const look = async (id: string): Promise<Told> => (await request(app).get(`/api/works/${id}`).expect(200)).body as Told;

async function folder(): Promise<{ folder: Told; works: [Told, Told] }> {
  const works = [
    (await upload(app, handbook, 'Handbook.docx').expect(201)).body as Told,
    (await upload(app, talk, 'Talk.pptx').expect(201)).body as Told,
  ] as [Told, Told];
  const made = await request(app)
    .post('/api/works/folders')
    .send({ name: 'Spring', works: works.map((w) => w.id) })
    .expect(201);
  return { folder: made.body as Told, works };
}

/** The picture as a circle. */
const round = (p: Told['pictures'][number]): Frame => withShape(p.frame, { name: 'circle', knobs: {} }, p.size);

test('its pictures are those of its works, numbered through, each from its own file', async () => {
  const { folder: f, works } = await folder();
  const [a, b] = works.map((w) => w.pictures.length) as [number, number];
  expect(f.pictures.map((p) => p.n)).toEqual(Array.from({ length: a + b }, (_, i) => i + 1));
  expect(f.pictures[a]).toMatchObject({ file: 'Talk.pptx', member: { id: works[1].id, n: 1 }, frame: { n: a + 1 } });
  const proxy = async (id: string, n: number): Promise<Buffer> =>
    (await request(app).get(`/api/works/${id}/pictures/${n}/proxy?side=64`).expect(200)).body as Buffer;
  expect((await proxy(f.id, a + 2)).equals(await proxy(works[1].id, 2))).toBe(true);
  await request(app)
    .get(`/api/works/${f.id}/pictures/${a + 2}/framed?side=64`)
    .expect(200);
  // Its own row holds none of it.
  expect((await Work.findByPk(f.id))!.opened.pictures).toEqual([]);
});

test('the same picture in two files is known as one', async () => {
  const works = [];
  for (const name of ['A.docx', 'B.docx'])
    works.push(((await upload(app, handbook, name).expect(201)).body as Told).id);
  const f = (await request(app).post('/api/works/folders').send({ name: 'Two', works }).expect(201)).body as Told;
  const half = f.pictures.length / 2;
  for (const p of f.pictures.slice(0, half)) expect(f.pictures[p.n - 1 + half]!.media?.data).toBe(p.media?.data);
});

test('what is done to it is done to its works, and can be taken back there', async () => {
  const { folder: f, works } = await folder();
  const [first, last] = [f.pictures[0]!, f.pictures.at(-1)!];
  const frames = { [first.n]: round(first), [last.n]: round(last) };
  const { body } = await save(f, frames, { name: 'all round' }).expect(200);
  const now = await look(f.id);
  expect(body).toEqual({ revision: now.revision, others: [] });
  expect(framesOf(now)).toEqual(frames);
  const talkNow = await look(works[1].id);
  expect(framesOf(talkNow)[String(last.member.n)]).toEqual({ ...round(last), n: last.member.n });
  const log = (await request(app).get(`/api/works/${works[1].id}/history`).expect(200)).body as LoggedHistory;
  expect(log.entries.map((e) => e.name)).toEqual(['all round']);
  expect(log.entries[0]!.operations.every((o) => 'id' in o && o.id === `p${last.member.n}`)).toBe(true);
  expect((await Work.findByPk(f.id))!.changes).toEqual(NO_CHANGES);
  // Its own history is theirs, as one step: taken back in the folder, it is taken back there.
  const { entries } = (await request(app).get(`/api/works/${f.id}/history`).expect(200)).body as LoggedHistory;
  const { past } = historyOf(entries);
  expect(past.map((s) => s.name)).toEqual(['all round']);
  const { inverse, ...undo } = undoing(past[0]!, 'back');
  void inverse;
  await post(f, { base: now.revision, entries: [undo] }).expect(200);
  expect(framesOf(await look(f.id))).toEqual({});
  const back = (await request(app).get(`/api/works/${works[0].id}/history`).expect(200)).body as LoggedHistory;
  expect(historyOf(back.entries)).toMatchObject({ past: [], future: [{ name: 'all round' }] });
});

test('what is done to a work on its own joins what is done to the folder, unless it is about the same', async () => {
  const { folder: f, works } = await folder();
  const p = works[0].pictures[0]!;
  await save(works[0], { 1: round(p) }, { name: 'alone' }).expect(200);
  const other = f.pictures.at(-1)!;
  const { body } = await save(f, { [other.n]: round(other) }).expect(200);
  expect(body).toMatchObject({ others: [{ name: 'alone' }] });
  const { operations } = (body as { others: LoggedEntry[] }).others[0]!;
  expect(operations.map((o) => 'id' in o && o.id)).toEqual(operations.map(() => `${works[0].id}.p1`));
  expect(Object.keys(framesOf(await look(f.id)))).toEqual(['1', String(other.n)]);
  const { body: refused } = await save(f, {
    1: { ...f.pictures[0]!.frame, shape: { name: 'heart', knobs: {} } },
  }).expect(409);
  expect(refused).toMatchObject({ code: 'stale-revision' });
  expect(framesOf(await look(works[0].id))['1']).toMatchObject({ shape: { name: 'circle' } });
});

test('what is in none of its works is refused', async () => {
  const { folder: f, works } = await folder();
  const entry = entryOf(f, { 1: round(f.pictures[0]!) });
  for (const id of ['p1', `${works[0].id}.p99`, '3f0e3c52-6a39-4d9c-9b6e-000000000000.p1'])
    await post(f, {
      base: f.revision,
      entries: [{ ...entry, operations: [{ op: 'set', id, path: 'alt', value: 'x' }] }],
    }).expect(404);
});

test('it is handed over as its files, each with its frames', async () => {
  const { folder: f } = await folder();
  const last = f.pictures.at(-1)!;
  await save(f, { [last.n]: round(last) }).expect(200);
  await request(app).post(`/api/works/${f.id}/jobs`).send({ kind: 'proof' }).expect(422);
  const job = (await request(app).post(`/api/works/${f.id}/jobs`).send({ kind: 'hand-over' }).expect(201)).body as {
    id: string;
  };
  const runner = new JobRunner(context);
  runner.start();
  await jobUntil(context, job.id, ({ state }) => state === 'done');
  await runner.stop();
  const zip = unzipSync(await fileOfJob(app, job.id));
  expect(Object.keys(zip)).toEqual(['Handbook.docx', 'Talk.pptx']);
  expect(Buffer.from(zip['Handbook.docx']!).equals(handbook)).toBe(true);
  expect(openFile(zip['Talk.pptx']!).pictures.at(-1)!.frame.shape.name).toBe('circle');
});

test('a work that goes leaves its folder; a folder of one is none', async () => {
  const { folder: f, works } = await folder();
  const third = ((await upload(app, handbook, 'Third.docx').expect(201)).body as Told).id;
  const both = (
    await request(app)
      .post('/api/works/folders')
      .send({ name: 'Three', works: [...works.map((w) => w.id), third] })
      .expect(201)
  ).body as Told;
  await request(app).delete(`/api/works/${works[0].id}`).expect(204);
  await request(app).get(`/api/works/${f.id}`).expect(404);
  expect((await look(both.id)).pictures[0]!.file).toBe('Talk.pptx');
  const row = await request(app)
    .post('/api/works/pictures')
    .send({ pictures: [null] })
    .expect(201);
  await request(app)
    .post('/api/works/folders')
    .send({ name: 'No file', works: [third, (row.body as Told).id] })
    .expect(409);
});
