import type { APIResponse } from '@playwright/test';
import { expect, test } from '../fixtures';
import { readFileSync } from 'node:fs';
import net from 'node:net';
import path from 'node:path';
import { framesOf, saveOf, type ToldWork } from '../../server/tests/support/entries';
import { handbook } from '../tests/steps';

/** Sends bytes as they are, and gives the status of the answer; 0 where the connection is closed without one. */
function raw(base: string, text: string): Promise<number> {
  const { hostname, port } = new URL(base);
  return new Promise((resolve) => {
    const socket = net.connect(Number(port), hostname, () => socket.write(text));
    let got = '';
    socket.on('data', (d) => {
      got += d.toString('latin1');
      socket.destroy();
    });
    socket.on('error', () => resolve(0));
    socket.on('close', () => resolve(Number(/^HTTP\/1\.1 (\d+)/.exec(got)?.[1] ?? 0)));
    socket.setTimeout(20_000, () => socket.destroy());
  });
}

let work: ToldWork;
test.beforeAll(async ({ request }) => {
  const created = await request.post('/api/works?name=requests.docx', {
    headers: { 'Content-Type': 'application/octet-stream' },
    data: handbook,
  });
  work = (await created.json()) as ToldWork;
});

/** Said with a reason and a remedy (RFC 9457), and no fault of the server's. */
async function refused(answer: APIResponse, status?: number): Promise<void> {
  expect(answer.status(), answer.url()).toBeGreaterThanOrEqual(400);
  expect(answer.status(), answer.url()).toBeLessThan(500);
  if (status) expect(answer.status()).toBe(status);
  const body = (await answer.json()) as { title: string; detail: string };
  expect([body.title.length > 0, body.detail.length > 0]).toEqual([true, true]);
}

test('addresses and queries that are none are refused, not stumbled over', async ({ request }) => {
  const far = '9'.repeat(25);
  for (const address of [
    '/api/works/%E0%A4%A',
    `/api/works/${work.id}/pictures/%ff/proxy`,
    `/api/works/${work.id}/pictures/${far}/framed`,
    `/api/works/${work.id}/pictures/-1/proxy`,
    `/api/works/${work.id}/pictures/1.5/proxy`,
    `/api/works/${work.id}/pictures/2147483648/proxy`,
    `/api/works/${work.id}/pictures/1/proxy?side=1e99`,
    `/api/works/${work.id}/ground?page=2147483648`,
    `/api/works/${work.id}/ground?page=NaN`,
    `/api/works/${work.id}/history?before=${far}`,
    '/api/works?limit=0',
    '/api/works?after=../..',
    '/api/works/0',
    '/api/works/constructor',
    `/api/pictures/${'g'.repeat(64)}/proxy`,
    '/api/jobs/__proto__/file',
    '/api/nothing',
  ])
    await refused(await request.get(address));
});

test('bodies that are none, too deep or in strange encodings are refused', async ({ request }) => {
  const at = `/api/works/${work.id}/entries`;
  const put = (data: string | Buffer, headers: Record<string, string>): Promise<APIResponse> =>
    request.post(at, { data: Buffer.from(data), headers: { 'Content-Type': 'application/json', ...headers } });
  await refused(await put('{', {}), 400);
  await refused(await put('null', {}), 400);
  await refused(await put('['.repeat(200_000), {}), 400);
  await refused(await put('{"base":1e999,"entries":[]}', {}), 400);
  await refused(await put('{"base":2147483648,"entries":[]}', {}), 400);
  await refused(await put('{}', { 'Content-Encoding': 'gzip' }), 400);
  await refused(await put('{}', { 'Content-Encoding': 'strange' }), 415);
  await refused(await put('{}', { 'Content-Type': 'application/json; charset=strange' }), 415);
  const upload = { 'Content-Type': 'application/octet-stream', 'Content-Encoding': 'br' };
  await refused(await request.post('/api/works?name=x', { data: Buffer.from('x'), headers: upload }), 415);
  await refused(await request.post('/api/works?name=x', { data: Buffer.alloc(0) }), 422);
});

test('every figure of a frame is held to its bounds', async ({ request }) => {
  const { frame } = work.pictures[0]! as unknown as { frame: Record<string, Record<string, unknown>> };
  const cases: object[] = [];
  for (const v of [1e308, -1e308, 1e12, 'NaN', null]) {
    cases.push({ ...frame, box: { ...frame['box'], x: v } });
    cases.push({ ...frame, box: { ...frame['box'], width: v } });
    cases.push({ ...frame, turn: v });
    cases.push({ ...frame, placement: { ...frame['placement'], zoom: v } });
    cases.push({ ...frame, placement: { ...frame['placement'], aim: { u: v, v: 0 } } });
    cases.push({ ...frame, shape: { name: 'rounded', knobs: { radius: v } } });
    cases.push({
      ...frame,
      shadow: { kind: 'outer', dx: 0, dy: 0, blur: 0, spread: v, colour: '#000000', opacity: 1 },
    });
    cases.push({ ...frame, shape: { name: 'x', knobs: {}, drawn: { path: `M0 0L${v} 1Z`, ratio: null, label: 'x' } } });
  }
  for (const data of cases)
    await refused(
      await request.post(`/api/works/${work.id}/pictures/1/export`, { data: { frame: data, format: 'svg' } }),
    );
});

test('what no text may hold is taken out, not stumbled over', async ({ request }) => {
  const { frame } = work.pictures[0]!;
  const alt = 'a\u0000b\ud800c\u0007d';
  const saved = await request.post(`/api/works/${work.id}/entries`, {
    data: Buffer.from(JSON.stringify(saveOf(work, { 1: { ...frame, alt } }, { name: alt }))),
    headers: { 'Content-Type': 'application/json' },
  });
  expect(saved.status()).toBe(200);
  const again = (await (await request.get(`/api/works/${work.id}`)).json()) as ToldWork;
  expect(framesOf(again)['1']!.alt).toBe('ab\ufffdcd');
  const log = await request.get(`/api/works/${work.id}/history`);
  expect(await log.json()).toMatchObject({ entries: [{ name: 'ab\ufffdcd', operations: [{ value: 'ab\ufffdcd' }] }] });
  const named = await request.post(`/api/works?name=${encodeURIComponent('x\u0000\u202e.docx')}`, { data: handbook });
  expect(named.status()).toBe(201);
});

test('packages that point far away, twice or outside are refused', async ({ request }) => {
  const base = Buffer.from(readFileSync(path.resolve(__dirname, '../../demo/files/season-handbook.docx')));
  const end = base.lastIndexOf(Buffer.from('PK\x05\x06', 'latin1'));
  const directory = base.readUInt32LE(end + 16);
  const far = (write: (copy: Buffer) => void): Buffer => {
    const copy = Buffer.from(base);
    write(copy);
    return copy;
  };
  for (const bytes of [
    far((b) => b.writeUInt32LE(0xfffffff0, end + 16)),
    far((b) => b.writeUInt32LE(0xfffffff0, directory + 42)),
    far((b) => b.writeUInt32LE(0xfffffff0, directory + 20)),
    far((b) => b.writeUInt16LE(0xffff, end + 10)),
    // Zip64 (APPNOTE §4.3.14 and on): an offset that no file reaches.
    Buffer.concat([
      base.subarray(0, end),
      zip64(2n ** 60n),
      far((b) => b.writeUInt32LE(0xffffffff, end + 16)).subarray(end),
    ]),
  ])
    await refused(await request.post('/api/works?name=far.docx', { data: bytes }), 422);
});

/** The locator and the end record of a zip64 package whose directory lies far away, and a short end that leads there. */
function zip64(offset: bigint): Buffer {
  const record = Buffer.alloc(56);
  record.writeUInt32LE(0x06064b50, 0);
  record.writeBigUInt64LE(44n, 4);
  record.writeBigUInt64LE(1n, 32);
  record.writeBigUInt64LE(offset, 48);
  const locator = Buffer.alloc(20);
  locator.writeUInt32LE(0x07064b50, 0);
  locator.writeBigUInt64LE(offset, 8);
  return Buffer.concat([record, locator]);
}

test('requests that are cut off, doubled or without end do no harm', async ({ request, baseURL }) => {
  const host = new URL(baseURL!).host;
  const head = (line: string, more = ''): string => `${line} HTTP/1.1\r\nHost: ${host}\r\n${more}\r\n`;
  // Each in its own way no request: refused, or closed without an answer.
  for (const text of [
    head('GET /api/works/%00'),
    head('GET /api/works', 'Content-Length: 5\r\nContent-Length: 6\r\n'),
    head('POST /api/works', 'Transfer-Encoding: chunked\r\nContent-Length: 4\r\n') + '0\r\n\r\n',
    `GET /api/works HTTP/9.9\r\n\r\n`,
    `GET ${'a'.repeat(100_000)} HTTP/1.1\r\n\r\n`,
    head('PUT /api/health'),
    head('TRACE /api/works'),
    head('GET /api/works').replace(host, 'elsewhere.example'),
  ])
    expect([0, 400, 403, 404, 405, 411, 414, 431, 501, 505]).toContain(await raw(baseURL!, text));
  expect((await request.get('/api/health')).status()).toBe(200);
});
