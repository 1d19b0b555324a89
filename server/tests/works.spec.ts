import type { Changes, Frame } from '@gable/core';
import { solidOutline, withShape } from '@gable/core';
import { openFile, readArchive, readEntry } from '@gable/formats';
import type { Express } from 'express';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import request from 'supertest';
import { createApp } from '../src/app';
import { CHUNK } from '../src/db/blob-reader';
import { Blob, BlobChunk, LogEntry, Work, WorkVersion } from '../src/db/models';
import type { AppContext } from '../src/context';
import { buildDocument, inlined } from '../../formats/tests/support/build';
import { REGRET, sweep } from '../src/works/removal';
import { testServer, upload } from './support/server';
import { entryOf, framesOf, saveOf, type ToldWork } from './support/entries';

const handbook = readFileSync('demo/files/season-handbook.docx');
let app: Express;
let context: AppContext;
let close: () => Promise<void>;
beforeAll(async () => ({ app, context, close } = await testServer()));
afterAll(() => close());

type WorkBody = ToldWork;
const opened = async (bytes: Uint8Array = handbook): Promise<WorkBody> =>
  (await upload(app, bytes).expect(201)).body as WorkBody;
const circled = (w: WorkBody, n: number): Frame => ({
  ...withShape(w.pictures[n - 1]!.frame, { name: 'circle', knobs: {} }, w.pictures[n - 1]!.size),
  outline: solidOutline(6, '#ffffff'),
});
const lined = (w: WorkBody, n: number, weight: number): Frame => ({
  ...w.pictures[n - 1]!.frame,
  outline: solidOutline(weight, '#2b6a73'),
});
const post = (w: WorkBody, body: object): request.Test => request(app).post(`/api/works/${w.id}/entries`).send(body);
const save = (w: WorkBody, frames: Record<string, Frame>, more: Parameters<typeof saveOf>[2] = {}): request.Test =>
  post(w, saveOf(w, frames, more));
const look = async (w: WorkBody): Promise<WorkBody> => (await request(app).get(`/api/works/${w.id}`)).body as WorkBody;
function binary(res: NodeJS.ReadableStream, done: (e: Error | null, b: Buffer) => void): void {
  const chunks: Buffer[] = [];
  res.on('data', (c: Buffer) => chunks.push(c));
  res.on('end', () => done(null, Buffer.concat(chunks)));
}
const bytesOf = async (id: string): Promise<Buffer> =>
  (
    await request(app)
      .get(`/api/works/${id}/file`)
      .buffer(true)
      .parse(binary as never)
      .expect(200)
  ).body as Buffer;

describe('a work', () => {
  test('is opened, listed, and given back as the very same bytes', async () => {
    const w = await opened();
    expect(w.pictures).toHaveLength(18);
    const list = (await request(app).get('/api/works').expect(200)).body as {
      works: { id: string; pictures: number; faces: number[] }[];
    };
    expect(list.works[0]).toMatchObject({ id: w.id, pictures: 18, faces: [1, 2, 3, 4] });
    expect((await bytesOf(w.id)).equals(handbook)).toBe(true);
  });

  test('keeps its file in rows of 2 MB, once for each content', async () => {
    await Work.destroy({ where: {} });
    await opened();
    await opened();
    const rows = await BlobChunk.findAll({
      order: [['seq', 'ASC']],
      where: { sha256: (await Work.findOne({ rejectOnEmpty: true })).sha256! },
    });
    expect(rows.map((r) => r.bytes.length)).toEqual([CHUNK, handbook.length - CHUNK]);
    expect(await Work.count()).toBe(2);
    const sha256 = (await Work.findOne({ rejectOnEmpty: true })).sha256!;
    for (const [from, to] of [
      [0, 10],
      [CHUNK - 5, CHUNK + 5],
      [CHUNK, CHUNK + 1],
      [handbook.length - 3, handbook.length],
    ] as const)
      expect((await context.blobs.read(sha256, from, to)).equals(handbook.subarray(from, to))).toBe(true);
  });

  test('is removed with its bytes when the last work that has them goes', async () => {
    const bytes = await buildDocument({ body: inlined() });
    const [a, b] = [await opened(bytes), await opened(bytes)];
    const sha256 = (await Work.findByPk(a.id, { rejectOnEmpty: true })).sha256!;
    await request(app).delete(`/api/works/${a.id}`).expect(204);
    expect(await Blob.findByPk(sha256)).not.toBeNull();
    await request(app).delete(`/api/works/${b.id}`).expect(204);
    await sweep(context, Date.now() + REGRET);
    expect(await Blob.findByPk(sha256)).toBeNull();
    expect(await BlobChunk.count({ where: { sha256 } })).toBe(0);
    await request(app).get(`/api/works/${a.id}`).expect(404);
  });

  test('is handed over with its frames in the file', async () => {
    const w = await opened();
    expect((await save(w, { 4: circled(w, 4) }).expect(200)).body).toEqual({ revision: w.revision + 1, others: [] });
    const frame = openFile(await bytesOf(w.id)).pictures[3]!.frame;
    expect(frame.shape.name).toBe('circle');
    expect(frame.outline?.weight).toBe(6);
    expect(framesOf(await look(w))).toEqual({ 4: circled(w, 4) });
  });

  test('what the format cannot say is painted, and the original picture stays in the file beside it', async () => {
    const w = await opened();
    await save(w, {
      1: { ...w.pictures[0]!.frame, placement: { ...w.pictures[0]!.frame.placement, turn: 20 } },
    }).expect(200);
    const before = openFile(handbook);
    const after = openFile(await bytesOf(w.id));
    expect(after.pictures[0]!.media!.part).toBe('word/media/gable1.jpeg');
    expect(after.pictures[0]!.frame.box).toEqual(before.pictures[0]!.frame.box);
    const { part } = before.pictures[0]!.media!;
    const kept = readArchive(await bytesOf(w.id)).entries.find((e) => e.name === part)!;
    expect(readEntry(readArchive(await bytesOf(w.id)), kept)).toEqual(before.pictureBytes(1));
  });
});

describe('two windows on one work', () => {
  test('changes of different frames, and of different properties of one, join; each window is told the other’s', async () => {
    const w = await opened();
    const first = await save(w, { 1: circled(w, 1) }, { name: 'circle' }).expect(200);
    const second = await save(w, { 1: { ...w.pictures[0]!.frame, alt: 'A jug' }, 2: circled(w, 2) }).expect(200);
    expect(first.body).toEqual({ revision: w.revision + 1, others: [] });
    expect(second.body).toMatchObject({ revision: w.revision + 2, others: [{ name: 'circle' }] });
    expect(framesOf(await look(w))).toEqual({ 1: { ...circled(w, 1), alt: 'A jug' }, 2: circled(w, 2) });
    expect(await WorkVersion.count({ where: { workId: w.id } })).toBe(0);
  });

  test('where both changed the same, the later save is told, and loses nothing', async () => {
    const w = await opened();
    await save(w, { 1: lined(w, 1, 6) }).expect(200);
    const mine = { 1: { ...lined(w, 1, 2), alt: 'Mine' }, 2: circled(w, 2) };
    const r = await save(w, mine).expect(409);
    expect(r.headers['content-type']).toContain('application/problem+json');
    const problem = JSON.parse(r.text) as { code: string; facts: { revision: number; version: string } };
    expect(problem).toMatchObject({ code: 'stale-revision', facts: { revision: w.revision + 1 } });
    const { versions } = (await request(app).get(`/api/works/${w.id}/versions`)).body as {
      versions: { id: string; reason: string; changes: Changes }[];
    };
    // What the other window shows, all of it: also what nobody disagreed about.
    expect(versions).toMatchObject([{ id: problem.facts.version, reason: 'stale' }]);
    expect(framesOf({ ...w, changes: versions[0]!.changes })).toEqual(mine);
    expect(framesOf(await look(w))).toEqual({ 1: lined(w, 1, 6) });
  });

  test('going on over the other keeps the other as a version, and what nobody disagreed about', async () => {
    const w = await opened();
    await save(w, { 1: lined(w, 1, 6), 3: circled(w, 3) }).expect(200);
    const { body } = await save(w, { 1: lined(w, 1, 2) }, { over: true }).expect(200);
    expect(body).toMatchObject({ revision: w.revision + 2, others: [{ operations: expect.any(Array) as unknown }] });
    const kept = await WorkVersion.findOne({ where: { workId: w.id, reason: 'replaced' }, rejectOnEmpty: true });
    expect(framesOf({ ...w, changes: kept.changes })).toEqual({ 1: lined(w, 1, 6), 3: circled(w, 3) });
    expect(framesOf(await look(w))).toEqual({ 1: lined(w, 1, 2), 3: circled(w, 3) });
  });

  test('of many saves of the same at once exactly one wins; of many of different frames all do', async () => {
    const w = await opened();
    const same = await Promise.all([1, 2, 3, 4, 5, 6].map((weight) => save(w, { 1: lined(w, 1, weight) })));
    expect(same.map((r) => r.status).sort()).toEqual([200, 409, 409, 409, 409, 409]);
    expect(await WorkVersion.count({ where: { workId: w.id } })).toBe(5);
    const others = await Promise.all([2, 3, 4, 5, 6, 7].map((n) => save(w, { [n]: circled(w, n) })));
    expect(others.map((r) => r.status)).toEqual(Array(6).fill(200));
    expect((await look(w)).revision).toBe(w.revision + 7);
  });

  test('a save whose answer was lost is sent again, and is not done twice', async () => {
    const w = await opened();
    const body = saveOf(w, { 1: circled(w, 1) });
    await post(w, body).expect(200);
    const { body: again } = await post(w, body).expect(200);
    expect(again).toEqual({ revision: w.revision + 1, others: [] });
  });

  test('a window that knows more than the server is told so', async () => {
    const w = await opened();
    await save(w, { 1: circled(w, 1) }, { base: 9 }).expect(409);
  });
});

describe('pictures', () => {
  test('a smaller copy as stored, and the framed picture', async () => {
    const w = await opened();
    const proxy = await request(app).get(`/api/works/${w.id}/pictures/13/proxy?side=256`).expect(200);
    expect(await sharp(proxy.body as Buffer).metadata()).toMatchObject({ width: 256, height: 192 });
    expect(proxy.headers['cache-control']).toContain('immutable');
    await save(w, { 4: circled(w, 4) }).expect(200);
    const framed = await request(app).get(`/api/works/${w.id}/pictures/4/framed?side=200`).expect(200);
    expect(framed.headers['cache-control']).toContain('max-age=60');
    const now = await request(app).get(`/api/works/${w.id}/pictures/4/framed?side=200&revision=2`).expect(200);
    expect(now.headers['cache-control']).toContain('immutable');
    expect((now.body as Buffer).equals(framed.body as Buffer)).toBe(true);
    const { width, height, channels } = await sharp(framed.body as Buffer).metadata();
    expect([width, height, channels]).toEqual([200, 200, 4]);
  });

  test('what is not there is said', async () => {
    const w = await opened();
    expect(JSON.parse((await request(app).get(`/api/works/${w.id}/pictures/99/proxy`).expect(404)).text)).toMatchObject(
      { code: 'no-such-picture' },
    );
    await request(app).get(`/api/works/${w.id}/pictures/1/proxy?side=9000`).expect(400);
  });
});

describe('bad input', () => {
  test.each<[string, () => Promise<Uint8Array> | Uint8Array, number, string]>([
    ['no bytes', () => new Uint8Array(), 422, 'empty-file'],
    ['no zip', () => Buffer.from('hello'), 422, 'not-a-zip'],
    ['half a document', () => handbook.subarray(0, 90_000), 422, 'truncated'],
    ['a bomb', () => buildDocument({ more: { 'x.xml': new Uint8Array(30_000_000) } }), 422, 'inflates-too-much'],
    ['a way out', () => buildDocument({ more: { '../x.xml': 'x' } }), 422, 'bad-part-name'],
    ['a document type', () => buildDocument({ more: { 'word/document.xml': '<!DOCTYPE x><x/>' } }), 422, 'xml-dtd'],
  ])('%s is answered with its own problem and leaves nothing behind', async (_name, make, status, code) => {
    const before = [await Work.count(), await Blob.count(), await BlobChunk.count()];
    const r = await upload(app, await make()).expect(status);
    expect(r.headers['content-type']).toContain('application/problem+json');
    const problem = JSON.parse(r.text) as { code: string; title: string; detail: string };
    expect(problem.code).toBe(code);
    expect(problem.title).toBeTruthy();
    expect(problem.detail).toBeTruthy();
    expect([await Work.count(), await Blob.count(), await BlobChunk.count()]).toEqual(before);
  });

  test('changes that are none, or of no picture, change nothing', async () => {
    const w = await opened();
    const entry = entryOf(w, { 1: circled(w, 1) });
    const set = (id: string, path: string, value: unknown): object => ({
      base: w.revision,
      entries: [entry, { ...entry, id: 'second', operations: [{ op: 'set', id, path, value }] }],
    });
    await post(w, set('p1', 'at.box', { x: 0, y: 0, width: -1, height: 1 })).expect(409);
    await post(w, set('p1', 'fill', null)).expect(409);
    await post(w, set('p1', 'kind', 'veil')).expect(409);
    await post(w, set('p99', 'alt', 'x')).expect(404);
    await post(w, {
      base: w.revision,
      entries: [{ ...entry, operations: [{ op: 'page-set', id: 'page1', path: 'name', value: 'x' }] }],
    }).expect(409);
    await post(w, { base: w.revision, entries: [] }).expect(400);
    await post(w, { base: w.revision, entries: [{ ...entry, more: 1 }] }).expect(400);
    await request(app).post(`/api/works/${w.id}/entries`).set('Content-Type', 'application/json').send('{').expect(400);
    expect((await Work.findByPk(w.id, { rejectOnEmpty: true })).revision).toBe(w.revision);
    expect(await LogEntry.count({ where: { workId: w.id } })).toBe(0);
  });

  test('works that are not there, and addresses that are none', async () => {
    await request(app).get('/api/works/7').expect(404);
    await request(app).get('/api/works/3f0e3c52-6a39-4d9c-9b6e-000000000000/file').expect(404);
    await request(app).get('/api/nothing').expect(404);
  });

  test('a failing database leaves no half-stored file', async () => {
    const before = await Blob.count();
    const create = jest.spyOn(Work, 'create').mockRejectedValueOnce(new Error('disk'));
    const quiet = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    await upload(app, await buildDocument({ body: inlined({ cx: 999_999 }) })).expect(500);
    create.mockRestore();
    quiet.mockRestore();
    expect(await Blob.count()).toBe(before);
  });
});

describe('the door', () => {
  test('foreign host names and foreign pages are turned away', async () => {
    await request(app).get('/api/works').set('Host', 'evil.example').expect(403);
    await request(app).delete('/api/works/x').set('Origin', 'http://evil.example').expect(403);
    await request(app).post('/api/works').set('Sec-Fetch-Site', 'cross-site').expect(403);
    await request(app).get('/api/works').set('Host', 'localhost:4180').expect(200);
  });

  test('scripts only from ourselves; health and description are there', async () => {
    const r = await request(app).get('/api/health').expect(200, { status: 'ok' });
    expect(r.headers['content-security-policy']).toContain("script-src 'self'");
    // The frame that lays out pages may load its own script and nothing else, and has no origin.
    const web = mkdtempSync(path.join(os.tmpdir(), 'gable-web-'));
    mkdirSync(path.join(web, 'page'));
    writeFileSync(path.join(web, 'page', 'index.html'), '<p>page</p>');
    const page = await request(createApp(context, { web })).get('/page/index.html').expect(200);
    rmSync(web, { recursive: true });
    expect(page.headers['content-security-policy']).toMatch(
      /^default-src 'none';.*frame-ancestors 'self';.*sandbox allow-scripts$/,
    );
    expect(page.headers['cross-origin-resource-policy']).toBe('cross-origin');
    expect(r.headers['cross-origin-resource-policy']).toBe('same-origin');
  });
});

test('a work that was opened when less was read is read again, once; what its pictures are called stays', async () => {
  const talk = readFileSync('demo/files/open-day-talk.pptx');
  const { id } = await opened(talk);
  const now = (await Work.findByPk(id))!.opened;
  const items = now.sheets![0]!.items;
  // As an earlier release kept it: without what lies on its slides, and with another name for its first picture.
  const { reading, ...earlier } = now;
  expect(reading).toBeGreaterThan(1);
  const known = now.pictures.map(({ n }) => ({ n: n === 1 ? 99 : n }));
  const pictures = now.pictures.map((p) => (p.n === 1 ? { ...p, n: 99, frame: { ...p.frame, n: 99 } } : p));
  const sheets = now.sheets!.map((s, i) => ({ ...s, id: `page${i + 7}`, items: [] }));
  await Work.update({ opened: { ...earlier, sheets, pictures, known } }, { where: { id }, silent: true });
  const before = (await Work.findByPk(id))!.updatedAt;

  const told = (await request(app).get(`/api/works/${id}`)).body as {
    sheets: { id: string; items: unknown[] }[];
    pictures: { n: number }[];
  };
  expect(told.sheets[0]!.items).toHaveLength(items.length);
  expect(told.sheets.map((s) => s.id)).toEqual(sheets.map((s) => s.id));
  expect(told.pictures.map((p) => p.n)).toEqual(pictures.map((p) => p.n));
  const kept = (await Work.findByPk(id))!;
  expect(kept.opened.reading).toBe(reading);
  // It is no change of the author's.
  expect(kept.updatedAt).toEqual(before);
});
