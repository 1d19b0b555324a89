// Backups of all that Gable keeps: one file, made and read by PostgreSQL's own programs.
import { spawn } from 'node:child_process';
import { closeSync, existsSync, openSync, renameSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { ensurePostgres } from './packages.mjs';
import { Cluster } from './postgres.mjs';
import { isRoot, StepError } from './steps.mjs';

/** The user's own data: outside of homes when root, since the database's user cannot enter those. */
export function dataFolder(given) {
  const folder = given ?? process.env.GABLE_DATA;
  if (folder) return path.resolve(folder);
  return isRoot() ? '/var/lib/gable' : path.join(os.homedir(), '.local', 'share', 'gable');
}

/** The file and the folder that a command names. */
export function readCopyOptions(step, usage) {
  try {
    const { values, positionals } = parseArgs({ options: { data: { type: 'string' } }, allowPositionals: true });
    if (positionals.length !== 1) throw new Error('name one file');
    return { file: path.resolve(positionals[0]), folder: dataFolder(values.data) };
  } catch (e) {
    throw new StepError(step, e.message, usage);
  }
}

/** Does something with the database of a data folder: the one that runs there, or one that is started for it and stopped again. */
export async function withCluster(folder, work) {
  await ensurePostgres();
  const cluster = new Cluster(folder);
  if (existsSync(cluster.data)) cluster.chooseVersion();
  const ran = existsSync(cluster.data) && (await cluster.running());
  await cluster.start();
  try {
    await cluster.createDatabase('gable');
    return await work(cluster);
  } finally {
    if (!ran) await cluster.stop();
  }
}

/** Runs a program of PostgreSQL on the database, reading from or writing to a file. */
function programOn(cluster, name, args, stdio, step, remedy) {
  return new Promise((resolve, reject) => {
    const child = spawn(path.join(cluster.bin, name), ['-d', cluster.url('gable'), ...args], {
      stdio: [...stdio, 'pipe'],
    });
    let said = '';
    child.stderr.on('data', (d) => (said += d));
    child.on('error', (e) => reject(new StepError(step, e.message, remedy)));
    child.on('close', (code) =>
      code === 0 ? resolve() : reject(new StepError(step, said.trim().split('\n').slice(-5).join('\n  '), remedy)),
    );
  });
}

/** Writes everything into a file; a half-written one never stays. */
export async function backUp(cluster, file) {
  const beside = `${file}.part`;
  const out = openSync(beside, 'wx', 0o600);
  try {
    await programOn(cluster, 'pg_dump', ['-Fc'], ['ignore', out], 'Backing up', 'make room, or name another file.');
    renameSync(beside, file);
  } catch (e) {
    rmSync(beside, { force: true });
    throw e;
  } finally {
    closeSync(out);
  }
}

/** Puts what a file holds in the place of everything that is there: all of it, or nothing. */
export async function restore(cluster, file) {
  const from = openSync(file, 'r');
  try {
    const args = ['--clean', '--if-exists', '--no-owner', '--single-transaction', '--exit-on-error'];
    await programOn(
      cluster,
      'pg_restore',
      args,
      [from, 'ignore'],
      'Restoring',
      'name a file that `npm run backup` has made.',
    );
  } finally {
    closeSync(from);
  }
}
