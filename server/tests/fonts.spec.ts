/** Fonts of one's own: kept, fetched, removed, and at hand where words are painted. */
import request from 'supertest';
import { Font } from '../src/db/models';
import { madeFont } from '../../core/tests/made-font';
import { testServer, type TestServer } from './support/server';

let server: TestServer;
beforeAll(async () => (server = await testServer()));
afterAll(() => server.close());

const bytes = { 'Content-Type': 'application/octet-stream' };
const send = (font: Uint8Array): request.Test =>
  request(server.app).post('/api/fonts').set(bytes).send(Buffer.from(font));

test('a font is kept once, told with what it says of itself, fetched as it is, and removed', async () => {
  const font = madeFont('Fennick Hand', { bold: true });
  const { body } = await send(font).expect(200);
  expect(body).toMatchObject({ family: 'Fennick Hand', weight: 700, italic: false, embeds: true });
  expect((await send(font).expect(200)).body.id).toBe(body.id);
  expect((await request(server.app).get('/api/fonts')).body).toEqual({ fonts: [body] });
  const file = await request(server.app)
    .get(`/api/fonts/${body.id}/file`)
    .expect(200)
    .buffer(true)
    .parse((res, done) => {
      const parts: Buffer[] = [];
      res.on('data', (part: Buffer) => parts.push(part));
      res.on('end', () => done(null, Buffer.concat(parts)));
    });
  expect(Buffer.compare(file.body as Buffer, Buffer.from(font))).toBe(0);
  const { sha256 } = (await Font.findByPk(body.id))!;
  await request(server.app).delete(`/api/fonts/${body.id}`).expect(204);
  await request(server.app).get(`/api/fonts/${body.id}/file`).expect(404);
  // Its bytes are gone, too.
  await expect(server.context.blobs.readAll(sha256)).rejects.toMatchObject({ code: 'missing-blob' });
});

test('what is no font is refused, and nothing of it is kept', async () => {
  const { body } = await send(Buffer.from('not a font at all')).expect(422);
  expect(body).toMatchObject({ code: 'bad-font' });
  expect((await request(server.app).get('/api/fonts')).body).toEqual({ fonts: [] });
});
