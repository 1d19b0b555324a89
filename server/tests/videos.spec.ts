/**
 * Videos that are kept, and sent in parts as players ask for them (RFC 9110 §14): the demo's own, and a WebM that `ffmpeg` made of its
 * test picture (`-f lavfi -i testsrc=size=64x36:rate=10:duration=1 -c:v libvpx-vp9`).
 */
import type { LibraryPicture } from '@gable/contract';
import { solidOutline, type Frame, type Video } from '@gable/core';
import { crc32, openFile, readArchive, readEntry } from '@gable/formats';
import type { Express } from 'express';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import request from 'supertest';
import { Work } from '../src/db/models';
import { saveOf, type ToldWork } from './support/entries';
import { testServer, upload } from './support/server';

const wheel = readFileSync('demo/files/pictures/turning-wheel.mp4');
const moving = readFileSync('server/tests/fixtures/moving.webm');
const sha256 = createHash('sha256').update(wheel).digest('hex');
let app: Express;
let close: () => Promise<void>;
beforeAll(async () => ({ app, close } = await testServer()));
afterAll(() => close());

const binary = (res: NodeJS.ReadableStream, done: (e: Error | null, b: Buffer) => void): void => {
  const chunks: Buffer[] = [];
  res.on('data', (c: Buffer) => chunks.push(c));
  res.on('end', () => done(null, Buffer.concat(chunks)));
};
const get = (path: string): request.Test =>
  request(app)
    .get(path)
    .buffer(true)
    .parse(binary as never);
const poster = (shade: number): Promise<Buffer> =>
  sharp({ create: { width: 64, height: 36, channels: 3, background: { r: shade, g: 80, b: 60 } } })
    .png()
    .toBuffer();
const post = (path: string, bytes: Buffer, name: string): request.Test =>
  request(app).post(path).query({ name }).set('Content-Type', 'application/octet-stream').send(bytes);
const put = (picture: string, bytes: Buffer, name: string): request.Test =>
  request(app)
    .put(`/api/pictures/${picture}/video`)
    .query({ name })
    .set('Content-Type', 'application/octet-stream')
    .send(bytes);
async function kept(shade: number, bytes = wheel, name = 'wheel.mp4'): Promise<LibraryPicture> {
  const { sha256: of } = (await post('/api/pictures', await poster(shade), 'wheel').expect(201)).body as LibraryPicture;
  return (await put(of, bytes, name).expect(200)).body as LibraryPicture;
}

describe('kept videos', () => {
  test('an MP4 and a WebM tell how long they are, and keep their sums', async () => {
    const { video } = await kept(10);
    expect(video).toEqual({
      ...{ sha256, name: 'wheel.mp4', type: 'mp4', bytes: wheel.length, crc: crc32(wheel) },
      seconds: expect.closeTo(4, 1),
      size: { width: 854, height: 480 },
    });
    const { video: second } = await kept(20, moving, 'moving.webm');
    expect(second).toMatchObject({ type: 'webm', seconds: expect.closeTo(1, 1), crc: crc32(moving) });
    const { pictures } = (await request(app).get('/api/pictures').query({ q: 'wheel' }).expect(200)).body as {
      pictures: LibraryPicture[];
    };
    expect(pictures.filter((p) => p.video?.sha256 === sha256)).toHaveLength(1);
  });

  test('what is no video is refused, says what to do, and leaves nothing', async () => {
    const { sha256: of } = (await post('/api/pictures', await poster(30), 'still').expect(201)).body as LibraryPicture;
    const half = wheel.subarray(0, 2000);
    for (const bytes of [Buffer.from('no video at all'), half, readFileSync('demo/files/pictures/teapot.jpg')]) {
      const { body } = await put(of, bytes, 'odd.mp4').expect(422);
      expect(body).toMatchObject({
        code: 'not-a-video',
        title: '“odd.mp4” is not a video that Gable can use.',
        detail: 'Choose an MP4 or a WebM file.',
      });
      await get(`/api/videos/${createHash('sha256').update(bytes).digest('hex')}`).expect(404);
    }
    await put('0'.repeat(64), wheel, 'wheel.mp4').expect(404);
  });

  test('parts come as they are asked for', async () => {
    await kept(40);
    const at = `/api/videos/${sha256}`;
    const all = await get(at).expect(200).expect('Accept-Ranges', 'bytes').expect('Content-Type', 'video/mp4');
    expect((all.body as Buffer).equals(wheel)).toBe(true);
    const { length } = wheel;
    for (const [range, from, to] of [
      ['bytes=0-0', 0, 0],
      ['bytes=100-299', 100, 299],
      [`bytes=${length - 10}-`, length - 10, length - 1],
      ['bytes=-25', length - 25, length - 1],
      [`bytes=5-${length * 2}`, 5, length - 1],
    ] as const) {
      const part = await get(at).set('Range', range).expect(206);
      expect(part.headers['content-range']).toBe(`bytes ${from}-${to}/${length}`);
      expect((part.body as Buffer).equals(wheel.subarray(from, to + 1))).toBe(true);
    }
    await get(at).set('Range', `bytes=${length}-`).expect(416).expect('Content-Range', `bytes */${length}`);
    // A picture is no video, though it is kept.
    const { sha256: still } = (await post('/api/pictures', await poster(50), 'still')).body as LibraryPicture;
    await get(`/api/videos/${still}`).expect(404);
  });

  test('a large one crosses rows of the database where a part begins and ends', async () => {
    // An MP4 may have room that nobody uses (ISO/IEC 14496-12 §8.1.2, free).
    const free = Buffer.alloc(5_000_000, 7);
    free.writeUInt32BE(free.length, 0);
    free.write('free', 4, 'latin1');
    const large = Buffer.concat([wheel, free]);
    const { video } = await kept(60, large, 'large.mp4');
    const [from, to] = [2 * 1024 * 1024 - 3, 4 * 1024 * 1024 + 5];
    const part = await get(`/api/videos/${video!.sha256}`).set('Range', `bytes=${from}-${to}`).expect(206);
    expect((part.body as Buffer).equals(large.subarray(from, to + 1))).toBe(true);
  });
});

describe('in works', () => {
  const framed = (frame: Frame, picture: LibraryPicture): Frame => {
    const { name, type, size, orientation, video } = picture;
    const plays: Video = {
      source: { from: 'kept', ...video! },
      play: { automatic: false, loop: true, muted: true, controls: true },
    };
    const source = { sha256: picture.sha256, name, type, size, orientation };
    return { ...frame, source, video: plays, outline: solidOutline(2, '#22302f') };
  };

  test('a video of a slide is in the file that is downloaded and in the one that is handed over', async () => {
    const picture = await kept(70);
    const talk = readFileSync('demo/files/open-day-talk.pptx');
    const work = (await upload(app, talk, 'talk.pptx').expect(201)).body as ToldWork;
    const target = work.pictures[0]!;
    await request(app)
      .post(`/api/works/${work.id}/entries`)
      .send(saveOf(work, { [target.n]: framed(target.frame, picture) }))
      .expect(200);
    const saved = new Uint8Array((await get(`/api/works/${work.id}/file`).expect(200)).body as Buffer);
    const archive = readArchive(saved);
    const entry = archive.entries.find((e) => e.name.endsWith('gable-video1.mp4'))!;
    expect(Buffer.from(readEntry(archive, entry)).equals(wheel)).toBe(true);
    const { video, outline } = openFile(saved).pictures[0]!.frame;
    expect(video).toMatchObject({ source: { from: 'file' }, play: { loop: true, muted: true } });
    expect(outline?.weight).toBe(2);
    // The library lets go of it: the work needs it all the same.
    await request(app).delete(`/api/pictures/${picture.sha256}`).expect(204);
    await get(`/api/videos/${sha256}`).expect(200);
    await get(`/api/works/${work.id}/file`).expect(200);
  });

  test('pictures that a row of works begins with are the videos that they are seen of', async () => {
    const picture = await kept(80);
    const { body } = await request(app)
      .post('/api/works/pictures')
      .send({ pictures: [picture.sha256] })
      .expect(201);
    const [first] = (body as ToldWork).pictures;
    expect(first!.frame.video?.source).toEqual({ from: 'kept', ...picture.video });
  });

  test('a work of a talk that was opened before videos were read keeps the one that its file has', async () => {
    const picture = await kept(100);
    const talk = readFileSync('demo/files/open-day-talk.pptx');
    const first = (await upload(app, talk, 'talk.pptx').expect(201)).body as ToldWork;
    const frames = { [first.pictures[0]!.n]: framed(first.pictures[0]!.frame, picture) };
    await request(app).post(`/api/works/${first.id}/entries`).send(saveOf(first, frames)).expect(200);
    const moving = (await get(`/api/works/${first.id}/file`).expect(200)).body as Buffer;
    // As an earlier release has left it: framed, and nothing known of a video.
    const work = (await upload(app, moving, 'moving.pptx').expect(201)).body as ToldWork;
    const { n, frame } = work.pictures[0]!;
    const shaped = { [n]: { ...frame, shape: { name: 'ellipse', knobs: {} } } };
    await request(app).post(`/api/works/${work.id}/entries`).send(saveOf(work, shaped)).expect(200);
    const row = (await Work.findByPk(work.id))!;
    const without = JSON.parse(JSON.stringify({ opened: row.opened, changes: row.changes }), (key, value: unknown) =>
      key === 'video' || key === 'clip' ? undefined : value,
    ) as Pick<Work, 'opened' | 'changes'>;
    await row.update({ ...without, opened: { ...without.opened, reading: 6 } });
    const { body } = await request(app).get(`/api/works/${work.id}`).expect(200);
    const told = (body as { pictures: { frame: Frame; plays?: true }[] }).pictures[0]!;
    expect([told.frame.video?.play.loop, told.plays]).toEqual([true, true]);
    const saved = openFile(new Uint8Array((await get(`/api/works/${work.id}/file`).expect(200)).body as Buffer));
    expect(saved.pictures[0]!.frame).toMatchObject({ shape: { name: 'ellipse' }, video: { play: { loop: true } } });
    // It plays from its file, in parts.
    const part = await get(`/api/works/${work.id}/pictures/${n}/video`).set('Range', 'bytes=10-99').expect(206);
    expect((part.body as Buffer).equals(wheel.subarray(10, 100))).toBe(true);
    await get(`/api/works/${work.id}/pictures/2/video`).expect(404);
  });

  test('a page that was opened before captions were read keeps those that it has, and what was changed of its video', async () => {
    const picture = await kept(110);
    const site = readFileSync('demo/files/visit-us.zip');
    const first = (await upload(app, site, 'visit.zip').expect(201)).body as ToldWork;
    const next = framed(first.pictures[0]!.frame, picture);
    const captions = { language: 'en', text: 'WEBVTT\n\n00:01.000 --> 00:03.000\nRound it goes.\n' };
    const captioned = { ...next, video: { ...next.video!, captions } };
    await request(app)
      .post(`/api/works/${first.id}/entries`)
      .send(saveOf(first, { 1: captioned }))
      .expect(200);
    const moving = (await get(`/api/works/${first.id}/file`).expect(200)).body as Buffer;
    const work = (await upload(app, moving, 'moving.zip').expect(201)).body as ToldWork;
    const { frame } = work.pictures[0]!;
    expect(frame.video!.captions).toEqual(captions);
    const { play } = frame.video!;
    const still = { ...frame, video: { ...frame.video!, play: { ...play, loop: !play.loop } } };
    await request(app)
      .post(`/api/works/${work.id}/entries`)
      .send(saveOf(work, { 1: still }))
      .expect(200);
    // As an earlier release has left it.
    const row = (await Work.findByPk(work.id))!;
    const without = JSON.parse(JSON.stringify({ opened: row.opened, changes: row.changes }), (key, value: unknown) =>
      key === 'captions' ? undefined : value,
    ) as Pick<Work, 'opened' | 'changes'>;
    await row.update({ ...without, opened: { ...without.opened, reading: 8 } });
    await request(app).get(`/api/works/${work.id}`).expect(200);
    const saved = openFile(new Uint8Array((await get(`/api/works/${work.id}/file`).expect(200)).body as Buffer));
    expect(saved.pictures[0]!.frame.video).toMatchObject({ captions, play: { loop: !play.loop } });
  });

  test('a video that nobody keeps is refused', async () => {
    const picture = await kept(90);
    const work = (await upload(app, readFileSync('demo/files/open-day-talk.pptx'), 'talk.pptx').expect(201))
      .body as ToldWork;
    const { frame } = work.pictures[0]!;
    const next = framed(frame, picture);
    const gone = { ...next.video!, source: { ...next.video!.source, sha256: 'ab'.repeat(32) } } as Video;
    const { body } = await request(app)
      .post(`/api/works/${work.id}/entries`)
      .send(saveOf(work, { [frame.n]: { ...next, video: gone } }))
      .expect(422);
    expect((body as { code: string }).code).toBe('missing-picture');
  });
});
