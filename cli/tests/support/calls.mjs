// The built command, called again and again in one thread: what starts a process takes longer than most calls.
import { format } from 'node:util';
import { workerData } from 'node:worker_threads';
import { run } from '../../dist/gable.js';

const { port, done } = workerData;
const told = { out: '', err: '' };
console.log = (...all) => void (told.out += `${format(...all)}\n`);
console.error = (...all) => void (told.err += `${format(...all)}\n`);
process.stdout.write = (text) => Boolean((told.out += text));
process.stderr.write = (text) => Boolean((told.err += text));

port.on('message', async (args) => {
  Object.assign(told, { out: '', err: '' });
  process.exitCode = undefined;
  let status = 1;
  try {
    status = await run(args);
  } catch (error) {
    told.err += error.stack;
  }
  port.postMessage({ status, ...told });
  Atomics.store(done, 0, 1);
  Atomics.notify(done, 0);
});
