// npm test: set-up on a throwaway cluster and free ports, then lint, types, Jest and Playwright. Cleans up after itself.
// npm test -- --only lint,types,jest,e2e runs a part.
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { ensureChromium, ensureModules, ensurePostgres } from './lib/packages.mjs';
import { Cluster } from './lib/postgres.mjs';
import { at, checkNode, fail, run, StepError } from './lib/steps.mjs';

/** The packages of the house, which import each other one way. */
const SOURCES = ['core', 'contract', 'formats', 'render', 'cli', 'server', 'web'].map((name) => `${name}/src`);
/** Browsers that tests run in at a time, each with a server and databases of its own. */
const BROWSERS = 2;
const PARTS = ['lint', 'types', 'jest', 'e2e'];

async function main() {
  checkNode();
  const { values, positionals } = parseArgs({ options: { only: { type: 'string' } }, allowPositionals: true });
  const parts = values.only?.split(',') ?? PARTS;
  for (const p of parts)
    if (!PARTS.includes(p))
      throw new StepError('Testing', `there is no part “${p}”`, `choose from ${PARTS.join(', ')}.`);

  const folder = mkdtempSync('/tmp/gable-test-');
  chmodSync(folder, 0o755);
  const cluster = new Cluster(folder);
  const clean = async () => {
    if (cluster.bin) await cluster.stop().catch((e) => console.error(e.message));
    rmSync(folder, { recursive: true, force: true });
  };
  let interrupted = false;
  for (const signal of ['SIGINT', 'SIGTERM'])
    process.on(signal, () => {
      if (interrupted) return;
      interrupted = true;
      void clean().then(() => process.exit(130));
    });

  try {
    const needsDatabase = parts.includes('jest') || parts.includes('e2e');
    if (needsDatabase) await ensurePostgres();
    if (parts.includes('e2e')) await ensureChromium();
    await ensureModules();
    const bin = (name) => at('node_modules', '.bin', name);
    const env = { ...process.env, NG_CLI_ANALYTICS: 'false', GABLE_TEST_FOLDER: folder };
    const part = async (name, title, command, args, more = {}) => {
      if (!parts.includes(name)) return;
      console.log(`\n── ${title}`);
      await run(command, args, { env: { ...env, ...more }, step: title, remedy: 'see the messages above.' });
    };
    const check = async () => {
      await part('lint', 'Lint', bin('eslint'), ['.']);
      await part('lint', 'Imports', bin('depcruise'), SOURCES);
      await part('lint', 'Format', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
      await part('types', 'Types', bin('tsc'), ['--noEmit', '-p', 'tsconfig.json']);
      await part('types', 'Types of the screens', bin('ngc'), ['--noEmit', '-p', 'web/tsconfig.app.json']);
    };
    const build = async () => {
      if (!needsDatabase) return;
      const { buildAll } = await import('./build.mjs');
      console.log('\n── Build');
      await Promise.all([cluster.start(), buildAll()]);
      await cluster.createDatabase('jest');
      for (let i = 0; i < BROWSERS; i++)
        for (const name of ['e2e', 'hostile']) await cluster.createDatabase(`${name}${i}`);
    };
    const jest = () =>
      part('jest', 'Jest', bin('jest'), ['--ci', '--testTimeout=60000', ...positionals], {
        GABLE_TEST_DATABASE_URL: cluster.port ? cluster.url('jest') : '',
      });
    // What does not need the other runs beside it, so that no core waits. Both end before a failure is told.
    const both = await Promise.allSettled([check(), build().then(jest)]);
    const failed = both.find((b) => b.status === 'rejected');
    if (failed) throw failed.reason;
    await part('e2e', 'Playwright', bin('playwright'), ['test', '-c', 'e2e/playwright.config.ts', ...positionals], {
      GABLE_E2E_DATABASE_URL: cluster.port ? cluster.url('e2e') : '',
      GABLE_HOSTILE_DATABASE_URL: cluster.port ? cluster.url('hostile') : '',
      GABLE_E2E_WORKERS: String(BROWSERS),
    });
    console.log('\nAll passed.');
  } finally {
    if (!interrupted) await clean();
  }
}

main().catch(fail);
