// npm run backup -- FILE [--data FOLDER]: everything that Gable keeps, in one file. It may run meanwhile.
import { backUp, readCopyOptions, withCluster } from './lib/copies.mjs';
import { fail } from './lib/steps.mjs';

const { file, folder } = readCopyOptions('Backing up', 'npm run backup -- FILE [--data FOLDER]');
withCluster(folder, (cluster) => backUp(cluster, file)).then(() => console.log(`Wrote ${file}.`), fail);
