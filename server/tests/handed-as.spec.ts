/** Works from nothing, handed over as every kind of file: what others read in these, pages by their sizes and pixels. */
import { entryOf, framesOf, type ToldWork } from './support/entries';
import {
  documentOfPictures,
  newPicture,
  withShape,
  type FileContent,
  type Operation,
  withChanges,
  readChanges,
  pieceContext,
  PIECES,
  puttingPiece,
  groupsRound,
} from '@gable/core';
import type { HandedAs, HandedKind, Job } from '@gable/contract';
import { openFile } from '@gable/formats';
import type { Express } from 'express';
import { unzipSync } from 'fflate';
import mammoth from 'mammoth';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import request from 'supertest';
import type { AppContext } from '../src/context';
import { JobRunner } from '../src/exports/runner';
import { jobUntil, testServer, upload } from './support/server';

let context: AppContext;
let app: Express;
let close: () => Promise<void>;
let runner: JobRunner;
let sha256: string;
beforeAll(async () => {
  ({ context, app, close } = await testServer());
  runner = new JobRunner(context);
  runner.start();
  const red = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#ff0000' } })
    .png()
    .toBuffer();
  const { body } = await request(app)
    .post('/api/pictures?name=red.png')
    .set('Content-Type', 'application/octet-stream')
    .send(red);
  sha256 = (body as { sha256: string }).sha256;
});
afterAll(async () => {
  await runner.stop();
  await close();
});

type Told = ToldWork & { next: number; name: string; begun: string | null };
const now = async (id: string): Promise<Told> => (await request(app).get(`/api/works/${id}`).expect(200)).body as Told;

async function done(work: Told, operations: readonly Operation[]): Promise<Told> {
  const entries = [{ id: randomUUID(), name: 'done', operations }];
  await request(app).post(`/api/works/${work.id}/entries`).send({ base: work.revision, entries }).expect(200);
  return now(work.id);
}

const BOX = { x: 100, y: 120, width: 90, height: 60 };
const adding = (work: Told, page: string): Operation => {
  const size = { width: 60, height: 40 };
  const source = { sha256, name: 'red.png', type: 'png', size, orientation: 1 };
  const item = newPicture(`p${work.next}`, { on: 'page', box: BOX }, source, 'Red');
  return { op: 'add', item, slot: { in: { page }, index: 0 } };
};

/** A new work with an ellipse on its first page, and the picture on each further one. */
async function work(kind: string, page: string, pages = 1): Promise<Told> {
  const { body } = await request(app).post('/api/works/new').send({ kind, page }).expect(201);
  let told = await done(body as Told, [adding(body as Told, 'page1')]);
  const { frame, size } = told.pictures[0]!;
  const round = entryOf(told, { 1: withShape(frame, { name: 'ellipse', knobs: {} }, size) });
  await request(app)
    .post(`/api/works/${told.id}/entries`)
    .send({ base: told.revision, entries: [round] })
    .expect(200);
  told = await now(told.id);
  for (let i = 2; i <= pages; i++) {
    const [first] = documentOfPictures(told.pictures, told as FileContent).pages;
    const page = { ...first!, id: `page${i}`, items: [], layers: [] };
    told = await done(told, [{ op: 'page-add', page, index: i - 1, like: { page: 'page1', copy: false } }]);
    told = await done(told, [adding(told, `page${i}`)]);
  }
  return told;
}

async function handedOver(
  id: string,
  kind: HandedAs,
  more: object = {},
  wished: object = {},
): Promise<{ name: string; bytes: Buffer }> {
  const wish = { kind: 'hand-over', ...wished, as: { kind, ...more } };
  const { body } = await request(app).post(`/api/works/${id}/jobs`).send(wish).expect(201);
  await jobUntil(context, (body as Job).id, ({ state }) => state === 'done' || state === 'failed');
  const { body: bytes } = await request(app)
    .get(`/api/jobs/${(body as Job).id}/file`)
    .buffer(true)
    .parse((res, into) => {
      const pieces: Buffer[] = [];
      res.on('data', (piece: Buffer) => pieces.push(piece));
      res.on('end', () => into(null, Buffer.concat(pieces)));
    })
    .expect(200);
  return { name: (body as Job).name, bytes: bytes as Buffer };
}

test('paper: as a document, a drawing, slides and a page of the web, each with the frame as it is', async () => {
  const { id, name, begun } = await work('paper', 'A4');
  expect([name, begun]).toEqual(['New pages', 'paper']);
  for (const kind of ['docx', 'odt', 'odg', 'odp', 'pptx', 'svg', 'html'] as const) {
    const handed = await handedOver(id, kind);
    expect(handed.name).toBe(`New pages.${kind}`);
    const file = openFile(handed.bytes);
    expect([file.format, file.pictures.map((p) => [p.frame.shape.name, p.frame.alt])]).toEqual([
      kind,
      [['ellipse', 'Red']],
    ]);
  }
  const { value } = await mammoth.convertToHtml({ buffer: (await handedOver(id, 'docx')).bytes });
  expect(value).toMatch(/^<p><img alt="Red" src="data:image\/png;base64,[^"]+" \/><\/p>$/);
});

test('words round a picture follow it in the file, too, and are grouped with it where that is asked for', async () => {
  const told = await work('graphic', '400x300px');
  const document = withChanges(documentOfPictures(told.pictures, told as FileContent), readChanges(told.changes));
  const newId = (): string => 'add-name';
  const words = { name: 'Maren Holt', more: '', contact: '', heading: '', quote: '', figures: [] };
  const context = pieceContext(document, 'p1', { words, newId })!;
  const piece = PIECES.find((p) => p.name === 'name-below')!.items(context);
  await done(told, puttingPiece(document, context, piece));
  for (const kind of ['pptx', 'odp', 'odg', 'svg'] as const) {
    const [plain, grouped] = [
      openFile((await handedOver(told.id, kind)).bytes),
      openFile((await handedOver(told.id, kind, {}, { grouped: true })).bytes),
    ];
    const tied = (file: typeof plain): unknown[] =>
      Object.values(file.document.items).flatMap((i) => (i.tie ? [[i.tie.to, i.tie.as]] : []));
    expect([kind, tied(plain), groupsRound(plain.document).size]).toEqual([kind, [['p1', 'beside']], 0]);
    expect([kind, tied(grouped), groupsRound(grouped.document).size]).toEqual([kind, [['p1', 'beside']], 2]);
  }
});

test('what each kind keeps is told before; a file of its own kind has no other', async () => {
  const told = await work('graphic', '400x300px');
  const frames = Object.values(framesOf(told)).map((f) => ({ ...f, tone: { softness: { blur: 3 } } }));
  const { body } = await request(app).post(`/api/works/${told.id}/kinds`).send({ frames }).expect(200);
  const { kinds } = body as { kinds: HandedKind[] };
  const of = (as: HandedAs): unknown => kinds.find((k) => k.as === as)!.fidelity.map((f) => f.fidelity);
  expect([of('svg'), of('pptx'), of('docx'), of('png')]).toEqual([
    ['native'],
    ['rasterised-fill'],
    ['rasterised-fill'],
    [],
  ]);
  const file = (await upload(app, readFileSync('demo/files/open-day-talk.pptx'), 'Talk.pptx').expect(201)).body as Told;
  expect(file.begun).toBeNull();
  const no = await request(app).post(`/api/works/${file.id}/kinds`).send({ frames: [] });
  expect([no.status, (no.body as { code: string }).code]).toEqual([409, 'has-file']);
  const wish = { kind: 'hand-over', as: { kind: 'docx' } };
  expect((await request(app).post(`/api/works/${file.id}/jobs`).send(wish)).body).toMatchObject({ code: 'has-file' });
});

test('a graphic as a PNG has the pixels that were asked for', async () => {
  const { id } = await work('graphic', '400x300px');
  const { bytes } = await handedOver(id, 'png', { ppi: 96 });
  const { data, info } = await sharp(bytes).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  expect([info.width, info.height]).toEqual([400, 300]);
  const at = (x: number, y: number): number[] => [...data.subarray((y * 400 + x) * 3, (y * 400 + x) * 3 + 3)];
  // A pixel is three quarters of a point (CSS Values 4 §6.2): the box is 120 by 80 px at 133.3, 160.
  expect([at(193, 200), at(135, 162), at(10, 10)]).toEqual([
    [255, 0, 0],
    [255, 255, 255],
    [255, 255, 255],
  ]);
});

test('several pages: one PDF of their size, PNGs in a zip, pages of a document', async () => {
  const { id } = await work('paper', 'A5 landscape', 3);
  const pdf = (await handedOver(id, 'pdf', { ppi: 72 })).bytes.toString('latin1');
  const boxes = [...pdf.matchAll(/\/MediaBox \[0 0 ([\d.]+) ([\d.]+)\]/g)].map(([, w, h]) => [Number(w), Number(h)]);
  expect(boxes).toHaveLength(3);
  // ISO 216 A5: 148 × 210 mm.
  for (const [w, h] of boxes) {
    expect(w).toBeCloseTo((210 / 25.4) * 72, 1);
    expect(h).toBeCloseTo((148 / 25.4) * 72, 1);
  }
  const png = await handedOver(id, 'png', { ppi: 72 });
  expect(png.name).toBe('New pages.zip');
  const pages = unzipSync(png.bytes);
  expect(Object.keys(pages)).toEqual(['Page 1.png', 'Page 2.png', 'Page 3.png']);
  for (const page of Object.values(pages))
    expect(await sharp(page).metadata()).toMatchObject({ width: 596, height: 420 });
  const document = openFile((await handedOver(id, 'docx')).bytes);
  expect(document.pictures.map((p) => p.frame.box)).toMatchObject([BOX, BOX, BOX]);
});

test('too many pixels are refused with what to do; nothing is made', async () => {
  const { id } = await work('paper', 'A3');
  const wish = { kind: 'hand-over', as: { kind: 'pdf', ppi: 600 } };
  await request(app).patch(`/api/works/${id}`).send({ name: 'Poster' }).expect(200);
  const { body } = await request(app).post(`/api/works/${id}/jobs`).send(wish).expect(201);
  expect((body as Job).name).toBe('Poster.pdf');
  await request(app)
    .delete(`/api/jobs/${(body as Job).id}`)
    .expect(204);
  const large = await work('paper', '2000mm x 1000mm');
  const asked = await request(app).post(`/api/works/${large.id}/jobs`).send(wish).expect(201);
  await jobUntil(context, (asked.body as Job).id, ({ state }) => state === 'failed');
  const { body: failed } = await request(app)
    .get(`/api/jobs/${(asked.body as Job).id}`)
    .expect(200);
  expect((failed as Job).problem).toMatchObject({ code: 'too-large', remedy: 'Choose a lower resolution.' });
});
