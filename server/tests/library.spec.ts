import type { CutOut, LoggedHistory, Suggestions } from '@gable/contract';
import {
  historyOf,
  solidOutline,
  undoing,
  withShape,
  type Frame,
  type History,
  type NewEntry,
  type Source,
} from '@gable/core';
import { openFile } from '@gable/formats';
import type { Express } from 'express';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import request from 'supertest';
import { Picture } from '../src/db/models';
import { loadStock } from '../src/library/stock';
import type { AppContext } from '../src/context';
import { testServer, upload } from './support/server';
import { framesOf, saveOf, type ToldWork } from './support/entries';

const jug = readFileSync('demo/files/pictures/breakfast-jug.jpg');
const teapot = readFileSync('demo/files/pictures/teapot.jpg');
const logo = readFileSync('demo/files/pictures/logo.png');
let app: Express;
let context: AppContext;
let close: () => Promise<void>;
beforeAll(async () => ({ app, context, close } = await testServer()));
afterAll(() => close());

interface Kept {
  sha256: string;
  name: string;
  type: string;
  size: { width: number; height: number };
  orientation: number;
}
type Body = ToldWork & { pictures: { problem: { code: string } | null }[] };

const keep = (bytes: Buffer, name: string): request.Test =>
  request(app).post('/api/pictures').query({ name }).set('Content-Type', 'application/octet-stream').send(bytes);
const kept = async (bytes: Buffer, name: string): Promise<Kept> => (await keep(bytes, name).expect(201)).body as Kept;
const begun = async (pictures: (string | null)[]): Promise<Body> =>
  (await request(app).post('/api/works/pictures').send({ pictures }).expect(201)).body as Body;
const binary = (res: NodeJS.ReadableStream, done: (e: Error | null, b: Buffer) => void): void => {
  const chunks: Buffer[] = [];
  res.on('data', (c: Buffer) => chunks.push(c));
  res.on('end', () => done(null, Buffer.concat(chunks)));
};
const bytesOf = async (test: request.Test): Promise<Buffer> =>
  (
    await test
      .buffer(true)
      .parse(binary as never)
      .expect(200)
  ).body as Buffer;
const sourceOf = ({ sha256, name, type, size }: Kept): Source => ({ sha256, name, type, size, orientation: 1 });

describe('kept pictures', () => {
  test('are kept once, found by word, and no longer offered when put away', async () => {
    const a = await kept(jug, 'Morning jug.jpg');
    expect((await kept(jug, 'again.jpg')).sha256).toBe(a.sha256);
    expect(await Picture.count()).toBe(1);
    const found = async (q: string): Promise<string[]> =>
      ((await request(app).get('/api/pictures').query({ q }).expect(200)).body as { pictures: Kept[] }).pictures.map(
        (p) => p.name,
      );
    expect(await found('jug MORN')).toEqual(['Morning jug.jpg']);
    expect(await found('teapot')).toEqual([]);
    // As it came, and never a document of our own address.
    const { headers, body } = await request(app).get(`/api/pictures/${a.sha256}/original`).expect(200);
    expect(Buffer.from(body as Uint8Array).equals(jug)).toBe(true);
    expect([headers['content-type'], headers['content-disposition']]).toEqual([
      'application/octet-stream',
      'attachment',
    ]);
    // No wildcards of the database: a percent sign is a percent sign.
    expect(await found('%')).toEqual([]);
    await request(app).delete(`/api/pictures/${a.sha256}`).expect(204);
    expect(await found('')).toEqual([]);
    // No work shows it: nothing of it is left.
    await request(app).get(`/api/pictures/${a.sha256}/proxy`).query({ side: 64 }).expect(404);
    await request(app).get(`/api/pictures/${a.sha256}/original`).expect(404);
    expect(await Picture.count()).toBe(0);
  });

  test('what is no picture is refused, and nothing is kept', async () => {
    const before = await Picture.count();
    const refused = await keep(Buffer.from('no picture at all'), 'letter.txt').expect(422);
    expect(refused.body).toMatchObject({ code: 'not-a-picture' });
    const torn = await keep(jug.subarray(0, 3000), 'torn.jpg').expect(422);
    expect(torn.body).toMatchObject({ code: 'broken-picture' });
    await keep(
      Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="30000" height="30000"/>'),
      'huge.svg',
    ).expect(422);
    expect(await Picture.count()).toBe(before);
  });

  test('the stock that ships is loaded once and found by its words', async () => {
    await loadStock(context, 'demo/files/pictures');
    await loadStock(context, 'demo/files/pictures');
    const list = (await request(app).get('/api/pictures').query({ q: 'face' }).expect(200)).body as {
      pictures: Kept[];
    };
    expect(list.pictures).toHaveLength(5);
  });
});

describe('a work of pictures', () => {
  test('lays them out in a row; an empty frame waits, and takes a picture later', async () => {
    const a = await kept(teapot, 'teapot.jpg');
    const b = await kept(logo, 'logo.png');
    const w = await begun([a.sha256, null, b.sha256]);
    const [p, q, r] = w.pictures;
    expect([p!.problem, q!.problem?.code, r!.problem]).toEqual([null, 'empty-frame', null]);
    expect(q!.frame.box.x).toBeGreaterThan(p!.frame.box.x + p!.frame.box.width);
    expect(r!.frame.box.x).toBeGreaterThan(q!.frame.box.x + q!.frame.box.width);
    expect(p!.frame.box.width / p!.frame.box.height).toBeCloseTo(a.size.width / a.size.height, 9);
    const filled = { ...q!.frame, source: sourceOf(b) };
    const frames = { '2': filled };
    await request(app).post(`/api/works/${w.id}/entries`).send(saveOf(w, frames)).expect(200);
    const png = await bytesOf(request(app).get(`/api/works/${w.id}/pictures/2/framed`));
    expect((await sharp(png).metadata()).format).toBe('png');
    const more = (
      await request(app)
        .post(`/api/works/${w.id}/pictures`)
        .send({ pictures: [a.sha256] })
        .expect(201)
    ).body as Body;
    expect([more.pictures.length, more.pictures[3]!.n, more.revision]).toEqual([4, 4, 3]);
    expect(framesOf(more)['2']).toEqual(filled);
    await request(app).get(`/api/works/${w.id}/file`).expect(409);
    await request(app)
      .post('/api/works/pictures')
      .send({ pictures: ['0'.repeat(64)] })
      .expect(404);
  });

  test('a picture that the camera stored lying is stood up', async () => {
    const lying = await sharp(jug).resize(300, 200).withMetadata({ orientation: 6 }).jpeg().toBuffer();
    const { pictures } = await begun([(await kept(lying, 'lying.jpg')).sha256]);
    expect(pictures[0]!.frame.placement.turn).toBe(90);
    expect(pictures[0]!.frame.box.height / pictures[0]!.frame.box.width).toBeCloseTo(1.5, 6);
  });
});

describe('one framed picture, got out', () => {
  const circle = (w: Body): Frame =>
    withShape(
      { ...w.pictures[0]!.frame, outline: solidOutline(6, '#ffffff') },
      { name: 'circle', knobs: {} },
      w.pictures[0]!.size,
    );

  test('as PNG with clear corners, in as many pixels as the picture has, or as many as were asked for', async () => {
    const a = await kept(teapot, 'teapot.jpg');
    const w = await begun([a.sha256]);
    const frame = circle(w);
    const ask = (body: object): request.Test =>
      request(app)
        .post(`/api/works/${w.id}/pictures/1/export`)
        .send({ frame, ...body });
    const png = await bytesOf(ask({ format: 'png' }));
    const { width, height } = await sharp(png).metadata();
    expect(width).toBe(height);
    const side = Math.min(a.size.width, a.size.height);
    const outer = side * (1 + 6 / frame.box.width);
    expect(Math.abs(width! - outer)).toBeLessThanOrEqual(1.5);
    const { data } = await sharp(png).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    expect(data[3]).toBe(0);
    expect(data[(Math.floor(height! / 2) * width! + Math.floor(width! / 2)) * 4 + 3]).toBe(255);
    for (const format of ['jpg', 'webp', 'avif'] as const) {
      const meta = await sharp(await bytesOf(ask({ format, width: 240 }))).metadata();
      expect([meta.format, meta.width]).toEqual([{ jpg: 'jpeg', webp: 'webp', avif: 'heif' }[format], 240]);
    }
    expect((await bytesOf(ask({ format: 'pdf', ppi: 96 }))).subarray(0, 5).toString()).toBe('%PDF-');
    expect((await bytesOf(ask({ format: 'svg' }))).toString()).toMatch(/^<svg[^]*<image[^]*base64/);
    expect((await bytesOf(ask({ format: 'html' }))).toString()).toContain('clip-path');
    await ask({ format: 'bmp' }).expect(400);
  });
});

describe('what was done', () => {
  test('comes back after a reload, from the latest backwards, with what was undone', async () => {
    const w = await begun([(await kept(jug, 'jug.jpg')).sha256]);
    const entry = (i: number): NewEntry => ({
      id: `e${i}`,
      name: `entry ${i}`,
      operations: [{ op: 'set', id: 'p1', path: 'alt', value: `${i}` }],
    });
    const post = (base: number, entries: NewEntry[]): request.Test =>
      request(app).post(`/api/works/${w.id}/entries`).send({ base, entries });
    await post(
      1,
      Array.from({ length: 320 }, (_, i) => entry(i)),
    ).expect(200);
    const read = async (before?: number): Promise<LoggedHistory> =>
      (
        await request(app)
          .get(`/api/works/${w.id}/history`)
          .query(before === undefined ? {} : { before })
          .expect(200)
      ).body as LoggedHistory;
    const last = await read();
    expect([last.more, last.entries.length, last.entries[299]!.name]).toEqual([true, 300, 'entry 319']);
    const first = await read(last.entries[0]!.seq);
    expect([first.more, first.entries.length, first.entries[0]!.name]).toEqual([false, 20, 'entry 0']);
    expect(first.entries[1]!.inverse).toEqual(entry(0).operations);
    // One undone: it can be done again until something else is done.
    const steps = (all: LoggedHistory): History => historyOf(all.entries);
    const { past } = steps(last);
    const { inverse, ...undo } = undoing(past.at(-1)!, 'u');
    void inverse;
    await post(321, [undo]).expect(200);
    const now = steps(await read());
    expect([now.past.at(-1)!.name, now.future.map((s) => s.name)]).toEqual(['entry 318', ['entry 319']]);
    await post(322, [{ ...entry(0), id: 'other', name: 'another way' }]).expect(200);
    const then = steps(await read());
    expect([then.past.at(-1)!.name, then.past.at(-2)!.name, then.future]).toEqual(['another way', 'entry 318', []]);
  });
});

describe('a document with other pictures and other means', () => {
  const handbook = readFileSync('demo/files/season-handbook.docx');

  test('a replaced picture is in the file beside the old one, with the framing kept', async () => {
    const source = sourceOf(await kept(logo, 'logo.png'));
    const w = (await upload(app, handbook).expect(201)).body as Body;
    const frame = { ...w.pictures[1]!.frame, source };
    await request(app)
      .post(`/api/works/${w.id}/entries`)
      .send(saveOf(w, { '2': frame }))
      .expect(200);
    const file = openFile(await bytesOf(request(app).get(`/api/works/${w.id}/file`)));
    expect(Buffer.from(file.pictureBytes(2)).equals(logo)).toBe(true);
    expect(file.pictures[1]!.frame.box).toEqual(w.pictures[1]!.frame.box);
    expect(file.pictures).toHaveLength(18);
  });

  test('what a document cannot say is told beforehand and painted into pixels', async () => {
    const w = (await upload(app, handbook).expect(201)).body as Body;
    const one = { ...w.pictures[1]!.frame, tone: { softness: { blur: 3 } } };
    const two: Frame = {
      ...w.pictures[2]!.frame,
      outline: null,
      shadow: { kind: 'outer', dx: 0, dy: 0, blur: 0, spread: 7, colour: '#000000', opacity: 1 },
    };
    const three = { ...w.pictures[3]!.frame, outline: solidOutline(4, '#b5482a') };
    const fidelity = (
      await request(app)
        .post(`/api/works/${w.id}/fidelity`)
        .send({ frames: [one, two, three] })
        .expect(200)
    ).body as {
      fidelity: { n: number; fidelity: string; reasons: string[] }[];
    };
    expect(fidelity.fidelity.map((f) => [f.n, f.fidelity])).toEqual([
      [2, 'rasterised-fill'],
      [3, 'rasterised'],
      [4, 'native'],
    ]);
    expect(fidelity.fidelity[0]!.reasons).toEqual(['a changed tone']);
    const frames = { '2': one, '3': two, '4': three };
    await request(app).post(`/api/works/${w.id}/entries`).send(saveOf(w, frames)).expect(200);
    const file = openFile(await bytesOf(request(app).get(`/api/works/${w.id}/file`)));
    // The toned picture keeps its box and shape; the other grows by its shadow on every side.
    expect(file.pictures[1]!.frame.box.width).toBeCloseTo(one.box.width, 3);
    expect(file.pictures[2]!.frame.box.width).toBeCloseTo(two.box.width + 14, 1);
    expect(file.pictures[3]!.frame.outline?.weight).toBe(4);
  });

  test('its pages have a hidden box for each picture, as large as its frame is now', async () => {
    const w = (await upload(app, handbook).expect(201)).body as Body;
    const { frame } = w.pictures[0]!;
    const smaller = { ...frame, box: { ...frame.box, width: 90, height: 60 } };
    const page = await bytesOf(
      request(app)
        .post(`/api/works/${w.id}/pages`)
        .send({ frames: [smaller] }),
    );
    const html = Buffer.from(page).toString();
    expect(html).toContain('style="width:90pt;height:60pt" data-picture="1"');
    const numbers = [...html.matchAll(/ data-picture="(\d+)"/g)].map((m) => Number(m[1]));
    expect(new Set(numbers)).toEqual(new Set(w.pictures.map((p) => p.n)));
  });
});

describe('silhouettes', () => {
  test('are made from drawings and pictures, kept, and removed; an empty one is refused with the reason', async () => {
    const send = (bytes: Buffer, name: string): request.Test =>
      request(app).post('/api/silhouettes').query({ name }).set('Content-Type', 'application/octet-stream').send(bytes);
    const leaf =
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><path d="M0 5C0 0 10 0 10 5C10 10 0 10 0 5Z"/></svg>';
    const made = (await send(Buffer.from(leaf), 'Leaf.svg').expect(200)).body as { id: string; name: string };
    expect(made.name).toBe('Leaf');
    await send(logo, 'logo.png').expect(200);
    const list = (await request(app).get('/api/silhouettes').expect(200)).body as { silhouettes: { name: string }[] };
    expect(list.silhouettes.map((s) => s.name)).toEqual(['logo', 'Leaf']);
    const empty = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"/>';
    const refused = (await send(Buffer.from(empty), 'empty.svg').expect(422)).body as { title: string };
    expect(refused.title).toMatch(/nothing/i);
    // The same drawing again is the same shape, whatever its file is called.
    const again = await send(Buffer.from(leaf), 'Another name.svg').expect(200);
    expect(again.body).toMatchObject({ id: made.id, name: 'Leaf', isNew: false, textLeftOut: false });
    const signed = leaf.replace('</svg>', '<text x="1" y="5">Fennick</text></svg>').replace('M0 5', 'M0 4');
    expect((await send(Buffer.from(signed), 'Sign.svg').expect(200)).body).toMatchObject({ textLeftOut: true });
    const renamed = await request(app).patch(`/api/silhouettes/${made.id}`).send({ name: 'Bay leaf' }).expect(200);
    expect(renamed.body).toMatchObject({ id: made.id, name: 'Bay leaf' });
    await request(app).patch(`/api/silhouettes/${made.id}`).send({ name: '' }).expect(400);
    await request(app).delete(`/api/silhouettes/${made.id}`).expect(204);
    await request(app).delete(`/api/silhouettes/${made.id}`).expect(404);
  });
});

describe('what is in pictures', () => {
  test('faces are found once by the picture’s content, in files and among kept ones, and read from then on', async () => {
    const { body: work } = await request(app)
      .post('/api/works')
      .query({ name: 'Handbook.docx' })
      .set('Content-Type', 'application/octet-stream')
      .send(readFileSync('demo/files/season-handbook.docx'))
      .expect(201);
    const contents = async (at: string): Promise<{ faces: { u: number; width: number }[] }> =>
      (await request(app).get(`${at}/contents`).expect(200)).body as { faces: { u: number; width: number }[] };
    const run = jest.spyOn(context.tasks, 'run');
    // The second picture of the handbook is the portrait of Maren, whose face is drawn at a third of its width.
    const { faces } = await contents(`/api/works/${work.id}/pictures/2`);
    expect(faces).toHaveLength(1);
    expect(Math.abs(faces[0]!.u + faces[0]!.width / 2 - 0.33)).toBeLessThan(0.06);
    expect(await contents(`/api/works/${work.id}/pictures/2`)).toEqual({ faces });
    expect(await contents(`/api/works/${work.id}/pictures/1`)).toEqual({ faces: [] });
    expect(run.mock.calls.filter(([name]) => name === 'look')).toHaveLength(2);
    run.mockRestore();
    const kept = await request(app)
      .post('/api/pictures')
      .query({ name: 'Maren.jpg' })
      .set('Content-Type', 'application/octet-stream')
      .send(readFileSync('demo/files/pictures/portrait-maren.jpg'))
      .expect(201);
    expect((await contents(`/api/pictures/${(kept.body as { sha256: string }).sha256}`)).faces).toHaveLength(1);
    await request(app).get(`/api/works/${work.id}/pictures/99/contents`).expect(404);
  });

  test('words are suggested, and what is refused is so in every use of the picture', async () => {
    const poster = await sharp(
      Buffer.from(
        `<svg xmlns="http://www.w3.org/2000/svg" width="800" height="1000"><rect width="800" height="1000" fill="#f4f0e7"/>
           <text x="80" y="200" font-size="120" font-family="sans-serif" fill="#22302f">Open day</text></svg>`,
      ),
    )
      .png()
      .toBuffer();
    const kept = await request(app)
      .post('/api/pictures')
      .query({ name: 'Poster.png' })
      .set('Content-Type', 'application/octet-stream')
      .send(poster)
      .expect(201);
    const at = `/api/pictures/${(kept.body as { sha256: string }).sha256}/suggestions`;
    const suggested = async (): Promise<Suggestions> => (await request(app).get(at).expect(200)).body as Suggestions;
    const { words, refused } = await suggested();
    expect([words.map((w) => w.text), refused]).toEqual([['Open day'], []]);
    const { u, v, width, height } = words[0]!;
    await request(app)
      .put(`${at}/refused`)
      .send({ refused: [{ u, v, width, height }] })
      .expect(204);
    expect((await suggested()).refused).toEqual([{ u, v, width, height }]);
    await request(app)
      .put(`${at}/refused`)
      .send({ refused: [{ u: 2, v: 0, width: 1, height: 1 }] })
      .expect(400);
  }, 60_000);

  test('a subject is cut out, and strokes of both brushes mend it; wrong strokes are refused', async () => {
    const kept = await request(app)
      .post('/api/pictures')
      .query({ name: 'Odd.jpg' })
      .set('Content-Type', 'application/octet-stream')
      .send(await sharp('demo/files/pictures/portrait-odd.jpg').resize(500).jpeg().toBuffer())
      .expect(201);
    const at = `/api/pictures/${(kept.body as { sha256: string }).sha256}/cut-out`;
    const cut = async (body: object): Promise<CutOut & { inside: (u: number, v: number) => boolean }> => {
      const { mask, outline } = (await request(app).post(at).send(body).expect(200)).body as CutOut;
      const { data, info } = await sharp(Buffer.from(mask, 'base64')).raw().toBuffer({ resolveWithObject: true });
      const inside = (u: number, v: number): boolean =>
        data[(Math.floor(v * info.height) * info.width + Math.floor(u * info.width)) * info.channels]! > 127;
      return { mask, outline, inside };
    };
    const first = await cut({});
    // His face is in the middle, the shelves beside it are not him (demo/src/portraits.ts).
    expect([first.inside(0.5, 0.35), first.inside(0.06, 0.2)]).toEqual([true, false]);
    expect(first.outline!.region.height).toBeGreaterThan(0.6);
    expect(first.outline!.shape.drawn!.label).toBe('Subject');
    const stroke = { brush: 'background', size: 0.1, points: [{ u: 0.5, v: 0.35 }] };
    expect((await cut({ strokes: [stroke] })).inside(0.5, 0.35)).toBe(false);
    const fine = await cut({ fine: true });
    expect(fine.inside(0.5, 0.35)).toBe(true);
    expect(fine.mask.length).toBeGreaterThan(first.mask.length);
    await request(app)
      .post(at)
      .send({ strokes: [{ ...stroke, brush: 'pencil' }] })
      .expect(400);
  }, 60_000);
});
