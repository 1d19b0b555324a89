import { NO_CHANGES, withShape } from '@gable/core';
import type { Express } from 'express';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { QueryTypes } from 'sequelize';
import request from 'supertest';
import type { AppContext } from '../src/context';
import { Picture, Work, WorkVersion } from '../src/db/models';
import { REGRET, sweep, VERSION_DAYS, VERSIONS } from '../src/works/removal';
import { JobRunner } from '../src/exports/runner';
import { testServer, upload, jobUntil } from './support/server';
import { saveOf, type ToldWork } from './support/entries';

const handbook = readFileSync('demo/files/season-handbook.docx');
const teapot = readFileSync('demo/files/pictures/teapot.jpg');

let context: AppContext;
let app: Express;
let close: () => Promise<void>;
beforeAll(async () => ({ context, app, close } = await testServer()));
beforeEach(() => context.sequelize.query('TRUNCATE works, pictures, blobs CASCADE'));
afterAll(() => close());

type Opened = ToldWork;
const opened = async (bytes = handbook, name = 'Handbook.docx'): Promise<Opened> =>
  (await upload(app, bytes, name).expect(201)).body as Opened;
const kept = async (bytes: Buffer): Promise<{ sha256: string; size: { width: number; height: number } }> =>
  (await request(app).post('/api/pictures?name=x.jpg').set('Content-Type', 'image/jpeg').send(bytes).expect(201))
    .body as { sha256: string; size: { width: number; height: number } };

/** How many rows hold a text, or bytes, in any table: what a query could find. */
async function rowsWith(needle: string): Promise<number> {
  const tables = await context.sequelize.query<{ name: string }>(
    `SELECT table_name AS name FROM information_schema.tables WHERE table_schema = 'public' AND table_type = 'BASE TABLE'`,
    { type: QueryTypes.SELECT },
  );
  let found = 0;
  for (const { name } of tables) {
    const [row] = await context.sequelize.query<{ n: string }>(
      `SELECT count(*) AS n FROM "${name}" t WHERE t::text LIKE $1 OR position($2 IN t::text) > 0`,
      { bind: [`%${needle}%`, Buffer.from(needle).toString('hex')], type: QueryTypes.SELECT },
    );
    found += Number(row!.n);
  }
  return found;
}

test('a removed work is gone from everything, and comes back for ten minutes', async () => {
  const w = await opened();
  await request(app).delete(`/api/works/${w.id}`).expect(204);
  await request(app).get(`/api/works/${w.id}`).expect(404);
  await request(app).get(`/api/works/${w.id}/file`).expect(404);
  await request(app).delete(`/api/works/${w.id}`).expect(404);
  expect((await request(app).get('/api/works').expect(200)).body).toMatchObject({ works: [] });
  await sweep(context, Date.now() + REGRET - 5000);
  const back = await request(app).post(`/api/works/${w.id}/restore`).expect(200);
  expect(back.body).toMatchObject({ id: w.id, pictures: expect.any(Array) as unknown });
  await request(app).get(`/api/works/${w.id}`).expect(200);
  await request(app).post(`/api/works/${w.id}/restore`).expect(404);
});

test('after that no query finds a word or a byte of it', async () => {
  const word = 'Wolkenkuckucksheim';
  const w = await opened(handbook, `${word}.docx`);
  const p = w.pictures[1]!;
  const frame = { ...withShape(p.frame, { name: 'circle', knobs: {} }, p.size), alt: word };
  const save = (): request.Test =>
    request(app)
      .post(`/api/works/${w.id}/entries`)
      .send(saveOf(w, { 2: frame }, { name: word }));
  await save().expect(200);
  // Set aside in a conflict, and handed over.
  await save().expect(409);
  const runner = new JobRunner(context);
  runner.start();
  const job = (await request(app).post(`/api/works/${w.id}/jobs`).send({ kind: 'hand-over' }).expect(201)).body as {
    id: string;
  };
  await jobUntil(context, job.id, ({ state }) => state === 'done');
  await runner.stop();
  const digest = createHash('sha256').update(handbook).digest('hex');
  expect(await rowsWith(word)).toBeGreaterThan(3);
  expect(await rowsWith(digest)).toBeGreaterThan(1);
  await request(app).delete(`/api/works/${w.id}`).expect(204);
  await sweep(context, Date.now() + REGRET);
  expect([
    await rowsWith(word),
    await rowsWith(digest),
    await rowsWith(w.id),
    await rowsWith('word/document.xml'),
  ]).toEqual([0, 0, 0, 0]);
});

test('a picture that was put away stays while a work shows it, or could by redoing, and goes with the last of them', async () => {
  const picture = await kept(teapot);
  const row = { pictures: [picture.sha256] };
  const w = (await request(app).post('/api/works/pictures').send(row).expect(201)).body as Opened;
  await request(app).delete(`/api/pictures/${picture.sha256}`).expect(204);
  await request(app).get(`/api/works/${w.id}/pictures/1/proxy?side=64`).expect(200);
  // Put away and brought again: one picture all the same.
  expect(await kept(teapot)).toEqual(expect.objectContaining({ sha256: picture.sha256 }));
  await request(app).delete(`/api/pictures/${picture.sha256}`).expect(204);
  await request(app).delete(`/api/works/${w.id}`).expect(204);
  await sweep(context, Date.now() + REGRET);
  expect(await Picture.count()).toBe(0);
  expect(await rowsWith(picture.sha256)).toBe(0);
});

test('a frame that shows a picture nobody has is refused, and nothing is saved', async () => {
  const w = await opened();
  const source = { sha256: 'ab'.repeat(32), name: 'x', type: 'png', size: { width: 9, height: 9 }, orientation: 1 };
  const frame = { ...w.pictures[0]!.frame, source };
  const save = saveOf(w, { 1: frame });
  const refused = await request(app).post(`/api/works/${w.id}/entries`).send(save).expect(422);
  expect(refused.body).toMatchObject({ code: 'missing-picture' });
  expect((await Work.findByPk(w.id))!.changes).toEqual(NO_CHANGES);
});

test('versions are kept for thirty days, and a hundred of them', async () => {
  const w = await opened();
  const at = (days: number): Date => new Date(Date.now() - days * 24 * 3600_000);
  const version = (createdAt: Date): object => ({
    workId: w.id,
    reason: 'stale',
    revision: 1,
    changes: NO_CHANGES,
    createdAt,
  });
  await WorkVersion.bulkCreate([
    ...Array.from({ length: VERSIONS + 7 }, (_, i) => version(at(i / 100))),
    version(at(VERSION_DAYS + 1)),
  ] as never);
  await sweep(context);
  expect(await WorkVersion.count()).toBe(VERSIONS);
  const oldest = (await WorkVersion.min('createdAt')) as unknown as Date;
  expect(new Date(oldest).getTime()).toBeGreaterThan(at(VERSIONS / 100).getTime());
});

test('a work that comes back is in its folder again', async () => {
  const [a, b] = [await opened(), await opened(handbook, 'Other.docx')];
  const folder = (
    await request(app)
      .post('/api/works/folders')
      .send({ name: 'F', works: [a.id, b.id] })
      .expect(201)
  ).body as { id: string };
  await request(app).delete(`/api/works/${a.id}`).expect(204);
  // A folder of one is none.
  await request(app).get(`/api/works/${folder.id}`).expect(404);
  await request(app).post(`/api/works/${a.id}/restore`).expect(200);
  const again = (await request(app).get(`/api/works/${folder.id}`).expect(200)).body as Opened;
  expect(again.pictures).toHaveLength(36);
});
