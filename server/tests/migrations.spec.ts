import {
  applyAll,
  documentOfPictures,
  historyOf,
  withChanges,
  type Changes,
  type Document,
  type Frame,
  upgradedFrame,
  NO_CHANGES,
} from '@gable/core';
import type { LoggedHistory } from '@gable/contract';
import { openFile } from '@gable/formats';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { QueryTypes, Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import request from 'supertest';
import { readConfig } from '../src/config';
import { openDatabase } from '../src/db/database';
import { migrations } from '../src/db/migrations';
import { fileOfWork, serverOn, type TestServer } from './support/server';
import { framesOf, type ToldWork } from './support/entries';

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

const MARK = { u: 0.1, v: 0.1, width: 0.3, height: 0.3 };

describe('works saved by a release before entries were logged', () => {
  /** What that release told of them, by name. */
  interface Told {
    id: string;
    frames: Record<string, Frame>;
    history: { done: number; deeds: { name: string; n: number; before: Frame | null }[] };
    versions: { reason: string; frames: Record<string, Frame> }[];
  }
  const fixture = (name: string): string => readFileSync(path.join(__dirname, 'fixtures', name), 'utf8');
  const told = JSON.parse(fixture('before-entries.json')) as Record<string, Told>;
  const names = Object.keys(told);
  let app: TestServer['app'];
  let close: TestServer['close'];

  beforeAll(async () => {
    const url = new URL(process.env['GABLE_TEST_DATABASE_URL']!);
    url.pathname += '_before_entries';
    const server = new Sequelize(process.env['GABLE_TEST_DATABASE_URL']!, { dialect: 'postgres', logging: false });
    await server.query(`DROP DATABASE IF EXISTS "${url.pathname.slice(1)}"`);
    await server.query(`CREATE DATABASE "${url.pathname.slice(1)}"`);
    await server.close();
    const old = new Sequelize(url.href, { dialect: 'postgres', logging: false });
    const storage = new SequelizeStorage({ sequelize: old });
    const umzug = new Umzug({ migrations, context: old.getQueryInterface(), storage, logger: undefined });
    await umzug.up({ to: '0006-owners-and-summaries' });
    await old.query(fixture('before-entries.sql'));
    // A file that this release wrote a keep mark into has it among what was read of it.
    await old.query(`UPDATE works SET opened = jsonb_set(opened, '{pictures,0,frame,keep}', $1) WHERE id = $2`, {
      bind: [JSON.stringify(MARK), told['Handbook.docx']!.id],
    });
    await old.close();
    ({ app, close } = await serverOn(url.href));
  });
  afterAll(() => close());

  const work = async (name: string): Promise<ToldWork> =>
    (await request(app).get(`/api/works/${told[name]!.id}`).expect(200)).body as ToldWork;
  const history = async (name: string): Promise<LoggedHistory> =>
    (await request(app).get(`/api/works/${told[name]!.id}/history`).expect(200)).body as LoggedHistory;
  const documentOf = (w: ToldWork): Document =>
    withChanges(documentOfPictures(w.pictures, { sheets: w.sheets }), w.changes);

  test.each(names)('%s has the frames it had', async (name) => {
    const frames = Object.entries(told[name]!.frames).map(([n, frame]) => [n, upgradedFrame(frame)]);
    expect(framesOf(await work(name))).toEqual(Object.fromEntries(frames));
  });

  test('the one keep mark that a file came with is a list of one', async () => {
    const { pictures } = await work('Handbook.docx');
    expect(pictures[0]!.frame.keep).toEqual([MARK]);
    expect(pictures[1]!.frame.keep).toBeUndefined();
  });

  test.each(names.filter((n) => n !== 'Spring'))('%s keeps what was done, and what was undone', async (name) => {
    const { entries } = await history(name);
    const { past, future } = historyOf(entries);
    const { deeds, done } = told[name]!.history;
    expect(past.map((s) => s.name)).toEqual(deeds.slice(0, done).map((d) => d.name));
    expect(future.map((s) => s.name)).toEqual(deeds.slice(done).map((d) => d.name));
    // Taken back from the last to the first, each shows the frame that it was done to; at the end all is as it came.
    const w = await work(name);
    let now = documentOf(w);
    for (const [i, step] of past.toReversed().entries()) {
      now = applyAll(now, step.inverse).document;
      const { n, before } = deeds[done - 1 - i]!;
      const changes: Changes = { ...NO_CHANGES, items: now.items };
      expect(framesOf({ ...w, changes })[String(n)]).toEqual(before ?? w.pictures[n - 1]!.frame);
    }
    expect(now).toEqual(documentOf({ ...w, changes: NO_CHANGES }));
    const [redo] = future;
    if (redo) expect(() => applyAll(documentOf(w), redo.operations)).not.toThrow();
  });

  test('a folder has the history of its works', async () => {
    const mine = historyOf((await history('Spring')).entries).past.map((s) => s.name);
    expect(mine).toEqual(expect.arrayContaining(['outline green', 'texts', 'picture replaced', 'told in the folder']));
  });

  test.each(names)('%s keeps the states that were set aside', async (name) => {
    const { body } = await request(app).get(`/api/works/${told[name]!.id}/versions`).expect(200);
    const w = await work(name);
    const { versions } = body as { versions: { reason: string; changes: Changes }[] };
    expect(versions.map(({ reason, changes }) => ({ reason, frames: framesOf({ ...w, changes }) }))).toEqual(
      told[name]!.versions,
    );
  });

  test('their files are handed over with their frames, and they can be changed again', async () => {
    const w = await work('Handbook.docx');
    const file = openFile(await fileOfWork(app, w.id));
    expect(file.pictures[0]!.frame.outline?.weight).toBe(6);
    await request(app)
      .post(`/api/works/${w.id}/entries`)
      .send({
        base: w.revision,
        entries: [{ id: 'x', name: 'text', operations: [{ op: 'set', id: 'p1', path: 'alt', value: 'x' }] }],
      })
      .expect(200);
  });
});
