// npm run fuzz [-- CASES [SEED]]: damaged copies of the shipped files and of small ones with what those lack, 5,000 by default; for the night.
// Every case must end in a clear error or a valid file within 2 s; the most memory that was held is told.
import { run, fail, at } from './lib/steps.mjs';
import { ensureModules } from './lib/packages.mjs';

async function main() {
  await ensureModules();
  await run(
    process.execPath,
    [at('scripts/run-ts.mjs'), at('formats/tests/support/fuzz-all.ts'), ...process.argv.slice(2)],
    {
      step: 'Fuzzing',
      remedy: 'make the named case again with its seed.',
    },
  );
}

main().catch(fail);
