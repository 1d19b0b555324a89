import { mkdtempSync, rmSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { createApp } from './app';
import { readConfig } from './config';
import type { AppContext } from './context';
import { BlobStore } from './db/blobs';
import { openDatabase } from './db/database';
import { Setting } from './db/models';
import { SYSTEM_CLOCK } from './clock';
import { Notifications } from './db/notifications';
import { createWork } from './works/open';
import { loadStock } from './library/stock';
import { loadStockFonts } from './library/stock-fonts';
import { JobRunner } from './exports/runner';
import { TaskPool } from './tasks/pool';
import { Spool } from './tasks/spool';

/** How long requests under way may take to end when the server stops, in milliseconds. */
const GRACE = 15_000;

const config = readConfig(process.env);
const sequelize = await openDatabase(config.GABLE_DATABASE_URL);
const spool = new Spool(config.GABLE_SPOOL ?? mkdtempSync(path.join(os.tmpdir(), 'gable-spool-')));
// A folder of its own goes with the server.
if (!config.GABLE_SPOOL) process.on('exit', () => rmSync(spool.folder, { recursive: true, force: true }));
const entry = path.join(path.dirname(fileURLToPath(import.meta.url)), 'tasks/process.js');
const { GABLE_DATABASE_URL } = config;
const tasks = new TaskPool(entry, { GABLE_DATABASE_URL, GABLE_SPOOL: spool.folder });
tasks.warm();
const notifications = new Notifications(GABLE_DATABASE_URL);
await notifications.listen();
const context: AppContext = {
  sequelize,
  blobs: new BlobStore(sequelize),
  tasks,
  spool,
  notifications,
  clock: SYSTEM_CLOCK,
};

/** Each file of the demo is loaded once; when somebody removes it, it stays away. The last one comes first on the shelf. */
for (const file of config.GABLE_DEMO.split(path.delimiter).filter(Boolean)) {
  const name = path.basename(file);
  // The handbook was the first, and the only one for a while.
  const key = name === 'season-handbook.docx' ? 'demo-loaded' : `demo-loaded:${name}`;
  if (await Setting.findByPk(key)) continue;
  const title = name.charAt(0).toUpperCase() + name.slice(1).replaceAll('-', ' ');
  await createWork(context, await readFile(file), title, { demo: true });
  await Setting.create({ key, value: new Date().toISOString() });
}

if (config.GABLE_STOCK) {
  await loadStock(context, config.GABLE_STOCK);
  await loadStockFonts(context);
}

const runner = new JobRunner(context);
runner.start();
const stopping = new AbortController();
const app = createApp(context, {
  web: config.GABLE_WEB,
  hosts: config.GABLE_HOSTS.split(',').filter(Boolean),
  proxies: config.GABLE_PROXY.split(',').filter(Boolean),
  stopping: stopping.signal,
});
const server = app.listen(config.GABLE_PORT, config.GABLE_HOST, (error?: Error) => {
  if (error) {
    console.error(`The server cannot listen on ${config.GABLE_HOST}:${config.GABLE_PORT}: ${error.message}`);
    process.exit(1);
  }
  const { port } = server.address() as AddressInfo;
  process.send?.({ ready: true, port });
});

/** Requests under way end first; what takes longer than the grace is cut off. */
async function stop(): Promise<void> {
  if (stopping.signal.aborted) return;
  stopping.abort();
  const late = setTimeout(() => process.exit(1), GRACE);
  const closed = new Promise<void>((resolve) => server.close(() => resolve()));
  server.closeIdleConnections();
  await runner.stop();
  await closed;
  await tasks.close();
  await notifications.close();
  await sequelize.close();
  clearTimeout(late);
  process.exit(0);
}
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
// The parent process has exited.
process.on('disconnect', () => void stop());
