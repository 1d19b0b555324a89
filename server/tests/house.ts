import type { Express } from 'express';
import request from 'supertest';
import { createApp } from '../src/app';
import { BlobStore } from '../src/db/blobs';
import { openDatabase } from '../src/db/database';
import { Blob, Work } from '../src/db/models';
import type { House } from '../src/features/works';
import { inProcess } from '../src/jobs/jobs';

/** A server on the throwaway database that `npm test` starts; its tables are emptied first. */
export async function testHouse(): Promise<{ house: House; app: Express; close: () => Promise<void> }> {
  const url = process.env['GABLE_TEST_DATABASE_URL'];
  if (!url) throw new Error('These tests need a database: run them with npm test -- --only jest.');
  const sequelize = await openDatabase(url);
  await Work.destroy({ where: {} });
  await Blob.destroy({ where: {} });
  const house: House = { sequelize, blobs: new BlobStore(sequelize), jobs: inProcess };
  return { house, app: createApp(house), close: () => sequelize.close() };
}

export const upload = (app: Express, bytes: Uint8Array, name = 'Handbook.docx'): request.Test =>
  request(app)
    .post('/api/works')
    .query({ name })
    .set('Content-Type', 'application/octet-stream')
    .send(Buffer.from(bytes));
