import path from 'node:path';
import { MessageChannel, receiveMessageOnPort, Worker } from 'node:worker_threads';

export interface Called {
  status: number;
  out: string;
  err: string;
}

const { port1: port, port2 } = new MessageChannel();
const done = new Int32Array(new SharedArrayBuffer(4));
const thread = new Worker(path.resolve('cli/tests/support/calls.mjs'), {
  workerData: { port: port2, done },
  transferList: [port2],
});
thread.unref();
afterAll(() => thread.terminate());

/** The command in its built form (`npm run build`), with these words behind its name. */
export function gable(...args: string[]): Called {
  Atomics.store(done, 0, 0);
  port.postMessage(args);
  // Longer than any call takes; what stands still is said.
  if (Atomics.wait(done, 0, 0, 120_000) === 'timed-out') throw new Error(`gable ${args.join(' ')} does not end.`);
  return (receiveMessageOnPort(port) as { message: Called }).message;
}
