import { test as base } from '@playwright/test';
import { fork, type ChildProcess } from 'node:child_process';
import path from 'node:path';

/** The built application, serving on a free port of its own. */
export interface Served {
  child: ChildProcess;
  url: string;
}

/** A throwaway database of this worker alone, as `npm test` names them. */
export const databaseOf = (kind: 'E2E' | 'HOSTILE'): string => {
  const url = process.env[`GABLE_${kind}_DATABASE_URL`];
  return url ? url + (process.env['TEST_PARALLEL_INDEX'] ?? '0') : '';
};

/** @param env what it is told beside its database */
export async function serve(database: string, env: NodeJS.ProcessEnv = {}): Promise<Served> {
  const child = fork(path.resolve(__dirname, '../server/dist/main.js'), {
    env: { ...process.env, GABLE_DATABASE_URL: database, GABLE_PORT: '0', ...env },
    execArgv: ['--enable-source-maps'],
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  const port = await new Promise<number>((resolve, reject) => {
    child.once('message', (m) => resolve((m as { port: number }).port));
    child.once('exit', (code) => reject(new Error(`The server ended with ${code}.`)));
  });
  return { child, url: `http://127.0.0.1:${port}` };
}

export async function stop({ child }: Served, signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const gone = new Promise((resolve) => child.once('exit', resolve));
  child.kill(signal);
  await gone;
}

/** Each worker has a server and a database of its own: what stands on the shelf of one is not seen by another. */
export const test = base.extend<object, { server: Served }>({
  server: [
    // The first argument of a fixture names what it needs: nothing.
    // eslint-disable-next-line no-empty-pattern
    async ({}, use) => {
      const server = await serve(databaseOf('E2E'), {
        GABLE_WEB: path.resolve(__dirname, '../web/dist/browser'),
        GABLE_STOCK: path.resolve(__dirname, '../demo/files/pictures'),
      });
      await use(server);
      await stop(server);
    },
    { scope: 'worker', timeout: 90_000 },
  ],
  baseURL: ({ server }, use) => use(server.url),
});
export { expect } from '@playwright/test';
