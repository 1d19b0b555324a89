// npm run restore -- FILE [--data FOLDER]: what a backup holds takes the place of everything. Stop Gable first.
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { readCopyOptions, restore, withCluster } from './lib/copies.mjs';
import { fail, StepError } from './lib/steps.mjs';

const STEP = 'Restoring';

/** Is Gable running on this data? */
function isRunning(folder) {
  try {
    process.kill(JSON.parse(readFileSync(path.join(folder, 'owner.json'), 'utf8')).pid, 0);
    return true;
  } catch {
    return false;
  }
}

async function main() {
  const { file, folder } = readCopyOptions(STEP, 'npm run restore -- FILE [--data FOLDER]');
  if (!existsSync(file))
    throw new StepError(STEP, `there is no ${file}`, 'name a file that `npm run backup` has made.');
  if (isRunning(folder)) throw new StepError(STEP, 'Gable is running on this data', 'stop it first.');
  await withCluster(folder, (cluster) => restore(cluster, file));
  console.log(`Everything is as it was in ${file}.`);
}

main().catch(fail);
