import type { Express } from 'express';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { Sequelize } from 'sequelize';
import request from 'supertest';
import { createApp } from '../../src/app';
import type { AppContext } from '../../src/context';
import { heldToContract } from './contract';
import { BlobStore, pooled } from '../../src/db/blobs';
import { FontReader } from '../../src/db/font-reader';
import { SYSTEM_CLOCK } from '../../src/clock';
import { openDatabase } from '../../src/db/database';
import { Job } from '../../src/db/models';
import { Notifications } from '../../src/db/notifications';
import { inProcess } from '../../src/tasks/in-process';
import type { TaskInput, TaskName, TaskOutput, Tasks, Watch } from '../../src/tasks/registry';
import { Spool } from '../../src/tasks/spool';

/** A server on the throwaway database that `npm test` starts; its tables are emptied first. */
export async function testServer(): Promise<TestServer> {
  const server = await serverOn(await testDatabase());
  await server.context.sequelize.query('TRUNCATE works, pictures, silhouettes, settings, finishes, blobs CASCADE');
  return server;
}

export interface TestServer {
  context: AppContext;
  app: Express;
  close: () => Promise<void>;
}

/** A server on a database, whose answers are held to the contract. */
export async function serverOn(url: string): Promise<TestServer> {
  const sequelize = await openDatabase(url);
  const notifications = new Notifications(url);
  await notifications.listen();
  const blobs = new BlobStore(sequelize);
  const spool = new Spool(mkdtempSync(path.join(os.tmpdir(), 'gable-spool-')));
  const tasks = inProcess(blobs, spool, new FontReader(pooled(sequelize), blobs));
  const context: AppContext = { sequelize, blobs, spool, notifications, tasks, clock: SYSTEM_CLOCK };
  const close = async (): Promise<void> => {
    await notifications.close();
    await sequelize.close();
    rmSync(spool.folder, { recursive: true, force: true });
  };
  return { context, app: heldToContract(createApp(context)), close };
}

/** A database for this worker alone: specs that run side by side must not empty each other's tables. @returns its address */
export async function testDatabase(): Promise<string> {
  const url = process.env['GABLE_TEST_DATABASE_URL'];
  if (!url) throw new Error('These tests need a database: run them with npm test -- --only jest.');
  const own = new URL(url);
  own.pathname += `_${process.env['JEST_WORKER_ID'] ?? '1'}`;
  const first = new Sequelize(url, { dialect: 'postgres', logging: false });
  const name = own.pathname.slice(1);
  const [found] = await first.query('SELECT 1 FROM pg_database WHERE datname = $1', { bind: [name] });
  if (found.length === 0) await first.query(`CREATE DATABASE "${name}"`);
  await first.close();
  return own.href;
}

type Instead = {
  [N in TaskName]?: (input: TaskInput<N>, watch: Watch, real: Tasks) => Promise<TaskOutput<N>>;
};

/** The same tasks, some of them done otherwise. */
export const tasksWith = (real: Tasks, instead: Instead): Tasks => ({
  close: () => real.close(),
  run: (name, input, watch = {}) => {
    const own = instead[name] as ((i: unknown, w: Watch, r: Tasks) => Promise<never>) | undefined;
    return own ? own(input, watch, real) : real.run(name, input, watch);
  },
});

export const upload = (app: Express, bytes: Uint8Array, name = 'Handbook.docx'): request.Test =>
  request(app)
    .post('/api/works')
    .query({ name })
    .set('Content-Type', 'application/octet-stream')
    .send(Buffer.from(bytes));

/** Waits until a job is as wished, by what the database tells of it. */
export async function jobUntil(context: AppContext, id: string, wished: (job: Job) => boolean): Promise<void> {
  let told: () => void = () => undefined;
  let change = new Promise<void>((resolve) => (told = resolve));
  const deaf = context.notifications.onJob(() => told());
  try {
    while (!wished(await Job.findByPk(id, { rejectOnEmpty: true }))) {
      await change;
      change = new Promise<void>((resolve) => (told = resolve));
    }
  } finally {
    deaf();
  }
}

/** The file that a long job has made. */
export const fileOfJob = (app: Express, id: string): Promise<Buffer> => download(app, `/api/jobs/${id}/file`);

/** A work's file as it is handed over. */
export const fileOfWork = (app: Express, id: string): Promise<Buffer> => download(app, `/api/works/${id}/file`);

async function download(app: Express, address: string): Promise<Buffer> {
  const r = await request(app)
    .get(address)
    .buffer()
    .parse((res, done) => {
      const parts: Buffer[] = [];
      res.on('data', (d: Buffer) => parts.push(d));
      res.on('end', () => done(null, Buffer.concat(parts)));
    })
    .expect(200);
  return r.body as Buffer;
}
