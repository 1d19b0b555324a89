import type { Express } from 'express';
import { Sequelize } from 'sequelize';
import request from 'supertest';
import { createApp } from '../src/app';
import { BlobStore } from '../src/db/blobs';
import { openDatabase } from '../src/db/database';
import { Blob, Picture, Setting, Silhouette, Work } from '../src/db/models';
import type { House } from '../src/features/works';
import { inProcess } from '../src/jobs/jobs';

/** A server on the throwaway database that `npm test` starts; its tables are emptied first. */
export async function testHouse(): Promise<{ house: House; app: Express; close: () => Promise<void> }> {
  const url = process.env['GABLE_TEST_DATABASE_URL'];
  if (!url) throw new Error('These tests need a database: run them with npm test -- --only jest.');
  const sequelize = await openDatabase(await ownDatabase(url));
  await Work.destroy({ where: {} });
  await Picture.destroy({ where: {} });
  await Silhouette.destroy({ where: {} });
  await Setting.destroy({ where: {} });
  await Blob.destroy({ where: {} });
  const house: House = { sequelize, blobs: new BlobStore(sequelize), jobs: inProcess };
  return { house, app: createApp(house), close: () => sequelize.close() };
}

/** A database for this worker alone: specs that run side by side must not empty each other's tables. */
async function ownDatabase(url: string): Promise<string> {
  const own = new URL(url);
  own.pathname += `_${process.env['JEST_WORKER_ID'] ?? '1'}`;
  const first = new Sequelize(url, { dialect: 'postgres', logging: false });
  const name = own.pathname.slice(1);
  const [found] = await first.query('SELECT 1 FROM pg_database WHERE datname = $1', { bind: [name] });
  if (found.length === 0) await first.query(`CREATE DATABASE "${name}"`);
  await first.close();
  return own.href;
}

export const upload = (app: Express, bytes: Uint8Array, name = 'Handbook.docx'): request.Test =>
  request(app)
    .post('/api/works')
    .query({ name })
    .set('Content-Type', 'application/octet-stream')
    .send(Buffer.from(bytes));

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
