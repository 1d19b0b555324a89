/**
 * The description of the API against the server that it describes. That answers are as described is held by every other
 * test of the server (`support/contract.ts`).
 */
import { openapi } from '@gable/contract/openapi';
import { ROUTES } from '@gable/contract/routes';
import { createHash, randomUUID } from 'node:crypto';
import type { Express } from 'express';
import request from 'supertest';
import { testServer } from './support/server';

let app: Express;
let close: () => Promise<void>;
beforeAll(async () => ({ app, close } = await testServer()));
afterAll(() => close());

test.each(ROUTES.map((r) => [`${r.method} ${r.path}`, r] as const))('%s is an address of the server', async (_, r) => {
  const address = r.path
    .replace('{id}', randomUUID())
    .replace('{n}', '1')
    .replace('{sha256}', createHash('sha256').digest('hex'))
    .replace('{finish}', 'nobodys');
  const answer = await request(app)[r.method](address);
  expect((answer.body as { title?: string }).title).not.toBe('This address does not exist.');
});

test('the description is OpenAPI 3.1 with references that lead somewhere', async () => {
  const served = (await request(app).get('/api/openapi.json').expect(200)).body as typeof openapi;
  expect(served).toEqual(JSON.parse(JSON.stringify(openapi)));
  expect(served.openapi).toBe('3.1.0');
  const text = JSON.stringify(served);
  const names = new Set([...text.matchAll(/"\$ref":"([^"]+)"/g)].map(([, ref]) => ref!));
  expect([...names].sort()).toEqual(
    Object.keys(served.components.schemas)
      .map((name) => `#/components/schemas/${name}`)
      .sort(),
  );
  for (const name of ['Finish', 'Frame', 'Item', 'Operation', 'Problem', 'Work'])
    expect(served.components.schemas).toHaveProperty(name);
});

test('what is sent is described with its bounds', () => {
  const post = openapi.paths['/api/works/{id}/jobs']!['post'] as {
    requestBody: { content: Record<string, { schema: { oneOf?: object[]; anyOf?: object[] } }> };
  };
  const { schema } = post.requestBody.content['application/json']!;
  expect(JSON.stringify(schema)).toContain('"maximum":8000');
  expect(schema.oneOf ?? schema.anyOf).toHaveLength(3);
});
