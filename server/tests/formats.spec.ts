import type { PageItem, Size } from '@gable/core';
import { solidOutline, withShape } from '@gable/core';
import { openFile } from '@gable/formats';
import type { Express } from 'express';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import sharp from 'sharp';
import request from 'supertest';
import type { AppContext } from '../src/context';
import { tasksWith, testServer, upload } from './support/server';
import { saveOf, type ToldWork } from './support/entries';

/** Every kind of file by way of the server: opened, shown, framed, handed over. */
let app: Express;
let context: AppContext;
let close: () => Promise<void>;
beforeAll(async () => ({ app, context, close } = await testServer()));
afterAll(() => close());

interface WorkBody extends ToldWork {
  format: string;
  sheets: (Size & { backdrop?: true; items: PageItem[] })[];
}

const wordsOn = (items: readonly PageItem[]): string[] =>
  items
    .flatMap((i) => ('kind' in i && i.kind === 'framed' && i.text ? i.text.paragraphs : []))
    .map((p) => p.runs.map((r) => r.text).join(''));

describe.each([
  ['open-day-talk.pptx', 'pptx', 5, 'application/vnd.openxmlformats-officedocument.presentationml.presentation'],
  ['firing-day-board.svg', 'svg', 1, 'application/octet-stream'],
  ['visit-us.zip', 'site', 0, 'application/zip'],
])('%s', (name, format, sheets, type) => {
  const bytes = readFileSync(`demo/files/${name}`);
  let work: WorkBody;
  beforeAll(async () => {
    work = (await upload(app, bytes, name).expect(201)).body as WorkBody;
  });

  test('opens with its pictures and pages', () => {
    expect([work.format, work.sheets.length]).toEqual([format, sheets]);
    expect(work.pictures.length).toBe(openFile(bytes).pictures.length);
  });

  test('its pictures are shown as copies, wherever their data are', async () => {
    const { body } = await request(app)
      .get(`/api/works/${work.id}/pictures/1/proxy?side=256`)
      .responseType('blob')
      .expect(200);
    const { width, height } = await sharp(body as Buffer).metadata();
    expect(Math.max(width, height)).toBe(256);
  });

  test('is handed over with a circle in it, and never as something that the browser shows', async () => {
    const { frame, size } = work.pictures[0]!;
    const next = { ...withShape(frame, { name: 'circle', knobs: {} }, size), outline: solidOutline(4, '#ffffff') };
    await request(app)
      .post(`/api/works/${work.id}/entries`)
      .send(saveOf(work, { '1': next }))
      .expect(200);
    const file = await request(app).get(`/api/works/${work.id}/file`).responseType('blob').expect(200);
    expect(file.headers['content-type']).toBe(type);
    expect(file.headers['content-disposition']).toMatch(/^attachment/);
    expect(file.headers['x-content-type-options']).toBe('nosniff');
    expect(openFile(file.body as Buffer).pictures[0]!.frame.shape.name).toBe('circle');
  });
});

test('the talk’s words stand on its pages', async () => {
  const work = (await upload(app, readFileSync('demo/files/open-day-talk.pptx'), 'a.pptx').expect(201))
    .body as WorkBody;
  expect(wordsOn(work.sheets[1]!.items)).toContain('Who shows you round');
});

test('the picture behind a slide is told, and painted for the page view', async () => {
  const files = unzipSync(readFileSync('demo/files/open-day-talk.pptx'));
  const name = 'ppt/slides/slide2.xml';
  const text = strFromU8(files[name]!);
  const rid = /<a:blip [^>]*r:embed="([^"]+)"/.exec(text)![1]!;
  const bg = `<p:bg><p:bgPr><a:blipFill><a:blip r:embed="${rid}"/><a:stretch/></a:blipFill><a:effectLst/></p:bgPr></p:bg>`;
  files[name] = strToU8(text.replace(/<p:bg>.*?<\/p:bg>/s, '').replace(/<p:cSld[^>]*>/, (tag) => tag + bg));
  const { id, sheets } = (await upload(app, Buffer.from(zipSync(files)), 'talk.pptx').expect(201)).body as WorkBody;
  const page = sheets.findIndex((s) => s.backdrop) + 1;
  expect(sheets.filter((s) => s.backdrop)).toHaveLength(1);
  const ground = (n: number): request.Test => request(app).get(`/api/works/${id}/ground?page=${n}`);
  const { body } = await ground(page).responseType('blob').expect(200);
  expect((await sharp(body as Buffer).metadata()).width).toBeGreaterThan(200);
  await ground(page === 1 ? 2 : 1).expect(404);
  await ground(0).expect(400);
});

test('a drawing is painted without its pictures, and without what it would run or fetch', async () => {
  const evil = `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><rect width="40" height="20" rx="0.1" fill="#00ff00"/><script>fetch('http://127.0.0.1:9/')</script><image href="http://127.0.0.1:9/a.png" width="9" height="9"/><image href="data:image/png;base64,${(
    await sharp({ create: { width: 4, height: 4, channels: 3, background: '#ff0000' } })
      .png()
      .toBuffer()
  ).toString('base64')}" x="20" width="20" height="20"/></svg>`;
  const { id } = (await upload(app, Buffer.from(evil), 'evil.svg').expect(201)).body as WorkBody;
  const { body, headers } = await request(app).get(`/api/works/${id}/ground`).responseType('blob').expect(200);
  expect(headers['content-type']).toBe('image/png');
  const { data, info } = await sharp(body as Buffer)
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const at = (x: number): number[] => [...data.subarray((info.width * (info.height >> 1) + x) * 3).subarray(0, 3)];
  expect([at(4), at(info.width - 5)]).toEqual([
    [0, 255, 0],
    [0, 255, 0],
  ]);
  await request(app)
    .get(`/api/works/${(await upload(app, readFileSync('demo/files/visit-us.zip'), 'v.zip')).body.id}/ground`)
    .expect(404);
});

test('a file that is let go of while it is opened leaves nothing behind', async () => {
  const real = context.tasks;
  const stop = new AbortController();
  const server = app.listen(0, '127.0.0.1');
  await once(server, 'listening');
  let reached: () => void;
  const waiting = new Promise<void>((r) => (reached = r));
  let go: () => void;
  const hold = new Promise<void>((r) => (go = r));
  context.tasks = tasksWith(real, {
    open: async (input) => {
      reached();
      await hold;
      return real.run('open', input);
    },
  });
  try {
    const before = ((await request(app).get('/api/works')).body as { works: unknown[] }).works.length;
    const sending = fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}/api/works?name=gone.zip`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: readFileSync('demo/files/visit-us.zip'),
      signal: stop.signal,
    });
    await waiting;
    stop.abort();
    await expect(sending).rejects.toThrow(/abort/i);
    await new Promise((r) => setTimeout(r, 100));
    go!();
    await new Promise((r) => setTimeout(r, 300));
    expect(((await request(app).get('/api/works')).body as { works: unknown[] }).works).toHaveLength(before);
  } finally {
    context.tasks = real;
    server.closeAllConnections();
    server.close();
  }
});
