import { readFile } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { createApp } from './app';
import { readConfig } from './config';
import { BlobStore } from './db/blobs';
import { openDatabase } from './db/database';
import { Setting } from './db/models';
import { createWork, type House } from './features/works';
import { loadStock } from './features/stock';
import { Errands } from './jobs/errands';
import { pooled } from './jobs/pool';

const config = readConfig(process.env);
const sequelize = await openDatabase(config.GABLE_DATABASE_URL);
const worker = path.join(path.dirname(fileURLToPath(import.meta.url)), 'jobs/worker.js');
const house: House = { sequelize, blobs: new BlobStore(sequelize), jobs: pooled(worker) };

/** Each file of the demo is loaded once; when somebody removes it, it stays away. The last one comes first on the shelf. */
for (const file of config.GABLE_DEMO.split(path.delimiter).filter(Boolean)) {
  const name = path.basename(file);
  // The handbook was the first, and the only one for a while.
  const key = name === 'season-handbook.docx' ? 'demo-loaded' : `demo-loaded:${name}`;
  if (await Setting.findByPk(key)) continue;
  const title = name.charAt(0).toUpperCase() + name.slice(1).replaceAll('-', ' ');
  await createWork(house, await readFile(file), title, true);
  await Setting.create({ key, value: new Date().toISOString() });
}

if (config.GABLE_STOCK) await loadStock(house, config.GABLE_STOCK);

const errands = new Errands(house);
errands.start();
const app = createApp(house, {
  web: config.GABLE_WEB,
  hosts: config.GABLE_HOSTS.split(',').filter(Boolean),
  errands,
});
const server = app.listen(config.GABLE_PORT, config.GABLE_HOST, (error?: Error) => {
  if (error) {
    console.error(`The server cannot listen on ${config.GABLE_HOST}:${config.GABLE_PORT}: ${error.message}`);
    process.exit(1);
  }
  const { port } = server.address() as AddressInfo;
  process.send?.({ ready: true, port });
});

let stopping = false;
async function stop(): Promise<void> {
  if (stopping) return;
  stopping = true;
  server.close();
  server.closeAllConnections();
  await errands.stop();
  await house.jobs.close();
  await sequelize.close();
  process.exit(0);
}
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
// The program that started this server is gone: so is its reason to run.
process.on('disconnect', () => void stop());
