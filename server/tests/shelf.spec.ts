import type { WorkSummary } from '@gable/contract';
import { withShape } from '@gable/core';
import type { Express } from 'express';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import request from 'supertest';
import type { AppContext } from '../src/context';
import { copyName } from '../src/works/copies';
import { framesOf, saveOf, type ToldWork } from './support/entries';
import { testServer, upload } from './support/server';

const talk = readFileSync('demo/files/open-day-talk.pptx');
const handbook = readFileSync('demo/files/season-handbook.docx');
let context: AppContext;
let app: Express;
let close: () => Promise<void>;
beforeAll(async () => ({ context, app, close } = await testServer()));
beforeEach(() => context.sequelize.query('TRUNCATE works, pictures, blobs CASCADE'));
afterAll(() => close());

const opened = async (name: string): Promise<ToldWork> =>
  (await upload(app, handbook, name).expect(201)).body as ToldWork;
const shelf = async (
  query: Record<string, string | number> = {},
): Promise<{ works: WorkSummary[]; next: string | null }> =>
  (await request(app).get('/api/works').query(query).expect(200)).body as { works: WorkSummary[]; next: string | null };
const names = (works: readonly WorkSummary[]): string[] => works.map((w) => w.name);

test('a work is renamed where it stands, and keeps its revision', async () => {
  const work = await opened('Draft.docx');
  await opened('Later.docx');
  const { body } = await request(app).patch(`/api/works/${work.id}`).send({ name: 'Handbook 2027.docx' }).expect(200);
  expect(body).toMatchObject({ id: work.id, name: 'Handbook 2027.docx', revision: 1 });
  expect(names((await shelf()).works)).toEqual(['Later.docx', 'Handbook 2027.docx']);
  await request(app).patch(`/api/works/${work.id}`).send({ name: '' }).expect(400);
  await request(app).patch('/api/works/none').send({ name: 'x' }).expect(404);
});

test('a duplicate has the same file and changes, and goes its own way', async () => {
  const work = await opened('Handbook.docx');
  const [picture] = work.pictures;
  const circle = withShape(picture!.frame, { name: 'circle', knobs: {} }, picture!.size);
  await request(app)
    .post(`/api/works/${work.id}/entries`)
    .send(saveOf(work, { 1: circle }))
    .expect(200);
  const { body: copy } = await request(app).post(`/api/works/${work.id}/copies`).expect(201);
  expect(copy).toMatchObject({ name: 'Handbook copy.docx', pictures: work.pictures.length, framed: 1 });
  const told = (await request(app).get(`/api/works/${copy.id}`).expect(200)).body as ToldWork;
  expect(framesOf(told)['1']!.shape.name).toBe('circle');
  const { body: history } = await request(app).get(`/api/works/${copy.id}/history`).expect(200);
  expect(history.entries).toEqual([]);
  // The first one gone for good, its data stay for the copy.
  await request(app).delete(`/api/works/${work.id}`).expect(204);
  await request(app).get(`/api/works/${copy.id}/pictures/1/proxy?side=64`).expect(200);
});

test('names of copies count up (common practice)', () => {
  expect(['A.docx', 'A copy.docx', 'A copy 2.docx', 'No kind'].map(copyName)).toEqual([
    'A copy.docx',
    'A copy 2.docx',
    'A copy 3.docx',
    'No kind copy',
  ]);
});

test('works are found by words of their names, and sorted by them, page by page', async () => {
  for (const name of ['pears.docx', 'Apples 100%.docx', 'apples_old.docx']) await opened(name);
  expect(names((await shelf({ words: 'APPLES' })).works)).toEqual(['apples_old.docx', 'Apples 100%.docx']);
  // What is a sign in patterns is a plain sign here.
  expect(names((await shelf({ words: '100%' })).works)).toEqual(['Apples 100%.docx']);
  expect(names((await shelf({ words: 's_o' })).works)).toEqual(['apples_old.docx']);
  const first = await shelf({ order: 'name', limit: 2 });
  const second = await shelf({ order: 'name', limit: 2, after: first.next! });
  expect([...names(first.works), ...names(second.works)]).toEqual([
    'Apples 100%.docx',
    'apples_old.docx',
    'pears.docx',
  ]);
  expect(second.next).toBeNull();
});

test('the first pages of slides are shown as they are now; texts, whose pages only a browser knows, have none', async () => {
  const work = (await upload(app, talk, 'Talk.pptx').expect(201)).body as ToldWork;
  expect((await shelf()).works[0]).toMatchObject({ sheetCount: 5 });
  const cover = async (): Promise<{ data: Buffer; width: number; height: number; alpha(x: number): number }> => {
    const { body } = await request(app).get(`/api/works/${work.id}/cover?revision=1`).responseType('blob').expect(200);
    const { data, info } = await sharp(body as Buffer)
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const { width, height } = info;
    return { data, width, height, alpha: (x) => data[(Math.floor(height / 2) * width + Math.round(x)) * 4 + 3]! };
  };
  const { data, width, height, alpha } = await cover();
  // Two slides of 16 : 9 (ECMA-376 §19.2.1.39 sets their size) and a gap fill the width that there is.
  expect(width).toBeGreaterThan(540);
  expect(width).toBeLessThanOrEqual(563);
  const slide = (width - 24) / 2;
  expect(slide / height).toBeCloseTo(16 / 9, 1);
  expect([0.5, 1.5].map((i) => alpha(i * slide + Math.floor(i) * 24))).toEqual([255, 255]);
  expect(alpha(slide + 12)).toBe(0);

  const second = work.pictures.find((p) => p.where.page === 2)!;
  const heart = withShape(second.frame, { name: 'heart', knobs: {} }, second.size);
  await request(app)
    .post(`/api/works/${work.id}/entries`)
    .send(saveOf(work, { [second.n]: heart }))
    .expect(200);
  const now = await cover();
  const differs = (from: number, to: number): boolean => {
    for (let y = 0; y < height; y++)
      for (let x = Math.ceil(from); x < to; x++) {
        const at = (y * width + x) * 4;
        if (Math.abs(data[at]! - now.data[at]!) > 40) return true;
      }
    return false;
  };
  expect([differs(0, slide), differs(slide + 24, 2 * slide + 24)]).toEqual([false, true]);

  const { body: text } = await upload(app, handbook, 'Handbook.docx').expect(201);
  expect(text.sheets).toEqual([]);
  await request(app).get(`/api/works/${text.id}/cover`).expect(404);
});
