import request from 'supertest';
import type { Express } from 'express';
import { testServer } from './support/server';

let app: Express;
let close: () => Promise<void>;
beforeAll(async () => {
  ({ app, close } = await testServer());
});
afterAll(() => close());

const house = { name: 'House', colours: [{ name: 'Kiln red', hex: '#b5482a' }] };

test('palettes are kept, changed and removed', async () => {
  const { body } = await request(app).post('/api/palettes').send(house).expect(201);
  expect(body).toEqual({ id: expect.any(String), ...house });
  const wider = { ...house, colours: [...house.colours, { name: 'Lagoon', hex: '#2b6a73' }] };
  await request(app).put(`/api/palettes/${body.id}`).send(wider).expect(200);
  const all = await request(app).get('/api/palettes').expect(200);
  expect(all.body.palettes).toContainEqual({ id: body.id, ...wider });
  await request(app).delete(`/api/palettes/${body.id}`).expect(204);
  await request(app).delete(`/api/palettes/${body.id}`).expect(404);
  await request(app).put('/api/palettes/no-id').send(house).expect(404);
});

test.each([{}, { name: '', colours: [] }, { name: 'x', colours: [{ name: 'y', hex: 'red' }] }])(
  'what is no palette is refused: %j',
  async (body) => {
    await request(app).post('/api/palettes').send(body).expect(400);
  },
);
