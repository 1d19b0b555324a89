// npm start: installs what is missing, starts PostgreSQL, builds, serves, prints the address. Ctrl-C stops both.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { dataFolder } from './lib/copies.mjs';
import { ensureModules, ensurePostgres } from './lib/packages.mjs';
import { Cluster } from './lib/postgres.mjs';
import { canRead, ownFolder, serverUser } from './lib/rights.mjs';
import { anyPort, at, checkNode, fail, portFree, root, StepError } from './lib/steps.mjs';

const PREFERRED_PORT = 4180;

function readOptions() {
  try {
    const { values } = parseArgs({
      options: { port: { type: 'string' }, host: { type: 'string' }, data: { type: 'string' } },
    });
    return values;
  } catch (e) {
    throw new StepError('Starting', e.message, 'npm start -- [--port 4180] [--host 127.0.0.1] [--data FOLDER]');
  }
}

/** Two starters on one folder would stop each other's database: the second is refused. */
function claim(folder) {
  const file = path.join(folder, 'owner.json');
  if (existsSync(file)) {
    let owner;
    try {
      owner = JSON.parse(readFileSync(file, 'utf8'));
      process.kill(owner.pid, 0);
    } catch {
      owner = null;
    }
    if (owner)
      throw new StepError(
        'Starting',
        `Gable is running already on this data (${owner.address ?? `process ${owner.pid}`})`,
        'use that one, stop it first, or name another folder with --data.',
      );
  }
  mkdirSync(folder, { recursive: true });
  const write = (address) => writeFileSync(file, JSON.stringify({ pid: process.pid, address }));
  write(null);
  return { write, release: () => rmSync(file, { force: true }) };
}

/** What stands on the shelf at first, the last of it in front. */
const DEMO = [
  ...['empty-board.odg', 'quote-slide.pptx', 'letter.docx'],
  ...['visit-us.zip', 'firing-day-board.svg', 'open-day-talk.pptx', 'season-handbook.docx'],
];

async function choosePort(given, host) {
  if (given === undefined) return (await portFree(PREFERRED_PORT, host)) ? PREFERRED_PORT : anyPort(host);
  const port = Number(given);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new StepError('Choosing the port', `“${given}” is not a port`, 'give a number from 1 to 65535.');
  if (!(await portFree(port, host)))
    throw new StepError(
      'Choosing the port',
      `port ${port} is taken`,
      'stop what uses it, give another one with --port, or leave it out.',
    );
  return port;
}

const isLoopback = (host) => host === 'localhost' || host === '::1' || /^127\./.test(host);

/** The user that the server runs as; root only where nobody else can read the program. */
function runAs() {
  const user = serverUser();
  if (!user || canRead(user, at('server/dist/main.js'))) return user ?? {};
  console.warn(`\n  The server runs as root: its own user cannot read ${root}. Move it to where everybody can read.`);
  return {};
}

/** How often the database is looked after, in milliseconds, and how often it may end within a minute. */
const LOOK = 3000;
const MOST_ENDS = 3;

/** A database that has ended is started again, where it was; one that ends again and again ends Gable with a message. */
function watchDatabase(cluster, stopping, stop) {
  const ends = [];
  const look = async () => {
    if (stopping()) return;
    if (!(await cluster.answers()) && !stopping() && !(await cluster.running())) {
      ends.push(Date.now());
      if (ends.filter((t) => Date.now() - t < 60_000).length > MOST_ENDS) {
        console.error(`The database ended again and again; giving up. Its log is in ${cluster.data}/log.`);
        await stop(1);
        return;
      }
      console.error('The database ended; starting it again.');
      await cluster.start().catch((e) => console.error(e.message));
    }
    setTimeout(look, LOOK).unref();
  };
  setTimeout(look, LOOK).unref();
}

async function main() {
  const started = Date.now();
  checkNode();
  const options = readOptions();
  const host = options.host ?? '127.0.0.1';
  const port = await choosePort(options.port ?? process.env.PORT, host);
  const folder = dataFolder(options.data);
  const owner = claim(folder);
  const cluster = new Cluster(folder);
  let server = null;
  let stopping = false;

  const stop = async (code) => {
    if (stopping) return;
    stopping = true;
    if (server && server.exitCode === null && server.signalCode === null) {
      const gone = new Promise((resolve) => server.once('exit', resolve));
      server.kill('SIGTERM');
      // Requests under way have 15 s to end.
      const forced = setTimeout(() => server.kill('SIGKILL'), 18_000);
      await gone;
      clearTimeout(forced);
    }
    await cluster.stop().catch((e) => console.error(e.message));
    owner.release();
    process.exit(code);
  };
  process.on('SIGINT', () => void stop(0));
  process.on('SIGTERM', () => void stop(0));
  process.on('SIGHUP', () => void stop(0));

  try {
    await ensurePostgres();
    await ensureModules();
    const { buildAll } = await import('./build.mjs');
    await Promise.all([cluster.start().then(() => cluster.createDatabase('gable')), buildAll()]);
  } catch (e) {
    if (cluster.bin) await cluster.stop().catch(() => undefined);
    owner.release();
    throw e;
  }

  if (!isLoopback(host))
    console.warn(
      `\n  Anybody who reaches ${host} can open, change and delete every work: Gable has no sign-in.\n  Put a proxy with one before it; docs/operating.md says how.`,
    );
  const user = runAs();
  const spool = ownFolder(path.join(folder, 'spool'), user);
  watchDatabase(cluster, () => stopping, stop);
  const restarts = [];
  const serve = () => {
    server = spawn(process.execPath, ['--enable-source-maps', at('server/dist/main.js')], {
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      ...user,
      env: {
        ...process.env,
        ...(user && { HOME: spool, XDG_CACHE_HOME: spool }),
        GABLE_SPOOL: spool,
        NODE_ENV: 'production',
        GABLE_DATABASE_URL: cluster.url('gable'),
        GABLE_HOST: host,
        GABLE_PORT: String(port),
        GABLE_WEB: at('web/dist/browser'),
        GABLE_DEMO: DEMO.map((name) => at('demo/files', name)).join(path.delimiter),
        GABLE_STOCK: at('demo/files/pictures'),
      },
    });
    server.on('message', (m) => {
      if (!m.ready) return;
      const address = `http://${host === '0.0.0.0' ? 'localhost' : host}:${m.port}`;
      owner.write(address);
      console.log(
        `\n  Gable is ready: ${address}\n  (${((Date.now() - started) / 1000).toFixed(1)} s; data in ${folder}; Ctrl-C stops it)\n`,
      );
    });
    server.on('exit', (code, signal) => {
      if (stopping) return;
      const now = Date.now();
      restarts.push(now);
      if (restarts.filter((t) => now - t < 60_000).length > 3) {
        console.error('The server ended again and again; giving up.');
        void stop(1);
        return;
      }
      console.error(`The server ended (${signal ?? code}); starting it again.`);
      serve();
    });
  };
  serve();
}

main().catch(fail);
