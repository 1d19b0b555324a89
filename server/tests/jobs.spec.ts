import { openFile } from '@gable/formats';
import { NO_CHANGES, withShape } from '@gable/core';
import type { Express } from 'express';
import { strFromU8, unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import request from 'supertest';
import { createApp } from '../src/app';
import { Blob, Job, Work } from '../src/db/models';
import type { AppContext } from '../src/context';
import { BEAT, JobRunner, LOOK } from '../src/exports/runner';
import { sweep, REGRET } from '../src/works/removal';
import { TestClock } from './support/clock';
import { fileOfJob, jobUntil, tasksWith, testServer, upload } from './support/server';
import { heldToContract } from './support/contract';
import { saveOf, type ToldWork } from './support/entries';

const handbook = readFileSync('demo/files/season-handbook.docx');

let context: AppContext;
/** It stands still: what servers do here, they do because they were told. */
let clock: TestClock;
let app: Express;
let close: () => Promise<void>;
const servers: JobRunner[] = [];

beforeAll(async () => {
  ({ context, close } = await testServer());
  app = heldToContract(createApp(context));
});
beforeEach(async () => {
  clock = new TestClock();
  await Work.destroy({ where: {} });
  await Blob.destroy({ where: {} });
});
afterEach(async () => {
  await Promise.all(servers.splice(0).map((s) => s.stop()));
});
afterAll(() => close());

/** A server of its own on the same database. */
function server(instead: Parameters<typeof tasksWith>[1] = {}): JobRunner {
  const runner = new JobRunner({ ...context, tasks: tasksWith(context.tasks, instead), clock });
  servers.push(runner);
  runner.start();
  return runner;
}

/** A job that never ends by itself. */
const hang = (signal: AbortSignal): Promise<never> =>
  new Promise((_, no) => {
    const stop = (): void => no(new Error('stopped'));
    if (signal.aborted) stop();
    else signal.addEventListener('abort', stop);
  });

interface Told {
  id: string;
  state: string;
  done: number;
  total: number;
  size: number | null;
  problem: { code: string } | null;
}
/** The handbook with its first eight pictures in circles. */
async function work(): Promise<string> {
  const w = (await upload(app, handbook).expect(201)).body as ToldWork;
  const frames = Object.fromEntries(
    w.pictures.slice(0, 8).map((p) => [p.n, withShape(p.frame, { name: 'circle', knobs: {} }, p.size)]),
  );
  await request(app).post(`/api/works/${w.id}/entries`).send(saveOf(w, frames)).expect(200);
  return w.id;
}
const ask = async (id: string, wish: object = { kind: 'hand-over' }): Promise<Told> =>
  (await request(app).post(`/api/works/${id}/jobs`).send(wish).expect(201)).body as Told;
const look = async (id: string): Promise<Told> => (await request(app).get(`/api/jobs/${id}`).expect(200)).body as Told;
async function over(id: string): Promise<Told> {
  await jobUntil(context, id, ({ state }) => state !== 'waiting' && state !== 'running');
  return look(id);
}
const file = (id: string): Promise<Buffer> => fileOfJob(app, id);

test('handing over is a job: it waits, is done, and its file is what saving gives', async () => {
  const id = await work();
  const job = await ask(id);
  expect(job).toMatchObject({ state: 'waiting', done: 0, total: 8 });
  await request(app).get(`/api/jobs/${job.id}/file`).expect(409);
  server();
  expect(await over(job.id)).toMatchObject({ state: 'done', done: 8, problem: null });
  const shapes = openFile(await file(job.id)).pictures.map((p) => p.frame.shape.name);
  expect(shapes.slice(0, 8)).toEqual(Array(8).fill('circle'));
  // Told again after a reload of the page.
  const { body } = await request(app).get(`/api/works/${id}/jobs`).expect(200);
  expect((body as { jobs: Told[] }).jobs.map((j) => [j.id, j.state])).toEqual([[job.id, 'done']]);
});

test('a file is made smaller on the way, where that was asked for', async () => {
  const id = await work();
  const [plain, small] = [
    await ask(id),
    await ask(id, { kind: 'hand-over', slim: { crop: true, ppi: 150, strip: true } }),
  ];
  server();
  const [a, b] = [await over(plain.id), await over(small.id)];
  expect(a).toMatchObject({ state: 'done', said: null });
  expect(b).toMatchObject({
    state: 'done',
    said: expect.stringMatching(/^hidden parts cut off \d+ pictures/) as string,
  });
  expect(b.size).toBeLessThan(a.size! / 3);
  expect((await file(b.id)).length).toBe(b.size);
  const { body } = await request(app).get(`/api/works/${id}/jobs`).expect(200);
  expect((body as { size: number }).size).toBe(handbook.length);
  for (const slim of [{ crop: true }, { crop: true, ppi: 20, strip: false }])
    await request(app).post(`/api/works/${id}/jobs`).send({ kind: 'hand-over', slim }).expect(400);
});

test('progress comes as events until it is over', async () => {
  const job = await ask(await work());
  server();
  const { text, headers } = await request(app).get(`/api/jobs/${job.id}/events`).expect(200);
  expect(headers['content-type']).toContain('text/event-stream');
  const events = text
    .split('\n\n')
    .filter(Boolean)
    .map((e) => JSON.parse(e.replace(/^data: /, '')) as Told);
  expect(events.at(-1)!.state).toBe('done');
});

test('two servers share the jobs, and none is done twice', async () => {
  const id = await work();
  const by: string[][] = [[], []];
  let meet: () => void;
  const met = new Promise<void>((resolve) => (meet = resolve));
  const both = (mine: string[]): Promise<void> => {
    if (by.every((list) => list.length > 0)) meet();
    return mine.length === 1 ? met : Promise.resolve();
  };
  const jobs = (mine: string[]): Parameters<typeof tasksWith>[1] => ({
    handOver: async (input, watch, real) => {
      mine.push(String(input.changes.items['p1']!.alt));
      // The other has one in hand as well, before either goes on.
      await both(mine);
      return real.run('handOver', input, watch);
    },
  });
  const asked: Told[] = [];
  for (let i = 0; i < 12; i++) {
    const row = await Work.findByPk(id, { rejectOnEmpty: true });
    const p1 = { ...row.changes.items['p1']!, alt: `job ${i}` };
    await row.update({ changes: { ...NO_CHANGES, items: { p1 } } });
    asked.push(await ask(id));
  }
  server(jobs(by[0]!));
  server(jobs(by[1]!));
  for (const job of asked) expect((await over(job.id)).state).toBe('done');
  expect([...by[0]!, ...by[1]!].sort()).toEqual(asked.map((_, i) => `job ${i}`).sort());
  expect(by[0]!.length).toBeGreaterThan(0);
  expect(by[1]!.length).toBeGreaterThan(0);
  expect((await Job.findAll()).map((e) => e.attempts)).toEqual(Array(12).fill(1));
});

test('a job whose server is gone is begun again by another; one that a server let go of is, too', async () => {
  const job = await ask(await work());
  // Taken by a server that was killed: nothing has been heard of it for a minute.
  await Job.update(
    {
      state: 'running',
      server: '00000000-0000-4000-8000-000000000000',
      heardAt: new Date(Date.now() - 60_000),
      attempts: 1,
    },
    { where: { id: job.id } },
  );
  const hanging = server({ handOver: (_input, watch) => hang(watch.signal!) });
  await jobUntil(context, job.id, ({ attempts }) => attempts === 2);
  await hanging.stop();
  expect((await look(job.id)).state).toBe('waiting');
  server();
  expect((await over(job.id)).state).toBe('done');
  expect((await Job.findByPk(job.id))!.attempts).toBe(3);
});

test('a server looks by itself for what others left, and at its next beat lets go of what another has taken', async () => {
  const job = await ask(await work());
  const gone = { state: 'running' as const, server: '00000000-0000-4000-8000-000000000000' };
  await Job.update({ ...gone, heardAt: new Date() }, { where: { id: job.id } });
  const seen: string[] = [];
  let begun: () => void;
  const beginning = new Promise<void>((resolve) => (begun = resolve));
  const first = server({
    handOver: (_input, watch) => {
      seen.push('first');
      begun();
      return hang(watch.signal!).finally(() => seen.push('let go'));
    },
  });
  // Nobody says that a server is gone: a minute later it is found out.
  await Job.update({ heardAt: new Date(Date.now() - 60_000) }, { where: { id: job.id }, silent: true });
  const time = setInterval(() => clock.advance(LOOK), 20);
  await beginning;
  clearInterval(time);
  await Job.update(gone, { where: { id: job.id } });
  clock.advance(BEAT);
  await first.stop();
  expect(seen).toEqual(['first', 'let go']);
  expect((await Job.findByPk(job.id))!.server).toBe(gone.server);
});

test('one that ends its server again and again is given up, with a reason', async () => {
  const job = await ask(await work());
  await Job.update({ attempts: 3 }, { where: { id: job.id } });
  server();
  expect(await over(job.id)).toMatchObject({ state: 'failed', problem: { code: 'gave-up' } });
});

test('cancelled, it stops, and nothing is kept of it', async () => {
  const id = await work();
  const before = await Blob.count();
  const job = await ask(id);
  let begun: () => void;
  const beginning = new Promise<void>((resolve) => (begun = resolve));
  let stopped: () => void;
  const ended = new Promise<void>((resolve) => (stopped = resolve));
  server({
    handOver: (_input, watch) => {
      begun();
      return hang(watch.signal!).finally(() => stopped());
    },
  });
  await beginning;
  await request(app).delete(`/api/jobs/${job.id}`).expect(204);
  await ended;
  expect((await look(job.id)).state).toBe('cancelled');
  expect(await Blob.count()).toBe(before);
  // Taken away altogether.
  await request(app).delete(`/api/jobs/${job.id}`).expect(204);
  await request(app).get(`/api/jobs/${job.id}`).expect(404);
});

test('a fault of the file is told as such; what was made goes with the work', async () => {
  const id = await work();
  const missing = await ask(id);
  const { p1 } = (await Work.findByPk(id, { rejectOnEmpty: true })).changes.items;
  const changes = { ...NO_CHANGES, items: { p99: { ...p1!, id: 'p99' } } };
  await Job.update({ wish: { kind: 'hand-over', changes } }, { where: { id: missing.id } });
  const good = await ask(id);
  server();
  expect(await over(missing.id)).toMatchObject({ state: 'failed', problem: { code: 'no-such-picture' } });
  await over(good.id);
  await request(app).delete(`/api/works/${id}`).expect(204);
  await sweep(context, Date.now() + REGRET);
  expect([await Job.count(), await Blob.count()]).toEqual([0, 0]);
});

test('a set: every frame at two widths, with a manifest and the elements for a page', async () => {
  const job = await ask(await work(), {
    kind: 'set',
    format: 'webp',
    widths: [160, 80],
    sizes: '(min-width: 40em) 32em, 100vw',
  });
  server();
  expect((await over(job.id)).state).toBe('done');
  const zip = unzipSync(await file(job.id));
  const manifest = JSON.parse(strFromU8(zip['manifest.json']!)) as {
    pictures: { n: number; alt: string; srcset: string; files: { name: string; width: number; height: number }[] }[];
  };
  expect(manifest.pictures).toHaveLength(18);
  const maren = manifest.pictures[1]!;
  expect(maren.srcset).toBe('picture-02-80w.webp 80w, picture-02-160w.webp 160w');
  // An independent decoder finds what the manifest says.
  for (const f of maren.files) {
    const meta = await sharp(zip[f.name]).metadata();
    expect([meta.format, meta.width, meta.height]).toEqual(['webp', f.width, f.height]);
  }
  expect(strFromU8(zip['pictures.html']!)).toContain(`srcset="${maren.srcset}" sizes="(min-width: 40em) 32em, 100vw"`);
  await request(app)
    .post(`/api/works/${(await Work.findOne())!.id}/jobs`)
    .send({ kind: 'set', format: 'bmp', widths: [1] })
    .expect(400);
});

test('a proof sheet: every changed frame before and after, four to a page', async () => {
  const job = await ask(await work(), { kind: 'proof' });
  expect(job.total).toBe(8);
  server();
  expect((await over(job.id)).state).toBe('done');
  const pdf = await file(job.id);
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
  // Two pages, and two pictures for each of the eight frames (ISO 32000-1 §7.7.3.3 and §8.9.5).
  const text = pdf.toString('latin1');
  expect(text.match(/\/Type \/Page\b(?!s)/g)).toHaveLength(2);
  expect(text.match(/\/Subtype \/Image/g)).toHaveLength(16);
});

test('pages that a browser has laid out come into the proof sheet with their frames, and go with it', async () => {
  const ground = await sharp({ create: { width: 90, height: 120, channels: 3, background: '#ffe' } })
    .png()
    .toBuffer();
  const side = {
    png: ground.toString('base64'),
    width: 450,
    height: 600,
    // The third was never changed; a number that there is not is passed over.
    frames: [1, 3, 999].map((n) => ({ n, x: 50, y: 60, k: 1 })),
  };
  const id = await work();
  const job = await ask(id, { kind: 'proof', shots: [{ caption: 'About page 1', before: side, after: side }] });
  expect(await Blob.count()).toBe(2);
  server();
  expect((await over(job.id)).state).toBe('done');
  const text = (await file(job.id)).toString('latin1');
  expect(text.match(/\/Type \/Page\b(?!s)/g)).toHaveLength(3);
  // To the sixteen of the pairs, the page on each side, painted with its frames.
  expect(text.match(/\/Subtype \/Image/g)).toHaveLength(16 + 2);
  await request(app).delete(`/api/jobs/${job.id}`).expect(204);
  expect(await Blob.count()).toBe(1);

  const bad = { ...side, png: Buffer.from('no picture').toString('base64') };
  const refused = await request(app)
    .post(`/api/works/${id}/jobs`)
    .send({ kind: 'proof', shots: [{ caption: 'x', before: side, after: bad }] })
    .expect(422);
  expect(refused.body).toMatchObject({ code: 'bad-page' });
  // Of a good page beside a bad one nothing is kept.
  expect(await Blob.count()).toBe(1);
});
