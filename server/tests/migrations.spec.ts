import { QueryTypes } from 'sequelize';
import { openDatabase } from '../src/db/database';
import { migrations } from '../src/db/migrations';
import { readConfig } from '../src/config';

test('two servers that start at once migrate once', async () => {
  const url = process.env['GABLE_TEST_DATABASE_URL']!;
  const [a, b] = await Promise.all([openDatabase(url), openDatabase(url)]);
  const rows = await a.query<{ name: string }>('SELECT name FROM "SequelizeMeta" ORDER BY name', {
    type: QueryTypes.SELECT,
  });
  expect(rows.map((r) => r.name)).toEqual(migrations.map((m) => m.name));
  await a.close();
  await b.close();
});

test('a wrong setting stops the start with its name', () => {
  expect(() => readConfig({})).toThrow(/GABLE_DATABASE_URL/);
  expect(() => readConfig({ GABLE_DATABASE_URL: 'x', GABLE_PORT: '99999' })).toThrow(/GABLE_PORT/);
  expect(readConfig({ GABLE_DATABASE_URL: 'x' })).toMatchObject({ GABLE_HOST: '127.0.0.1', GABLE_PORT: 0 });
});
