// The process that runs tasks, one at a time. It reads and spools bytes by itself, and can be ended at any moment.
import { GableError } from '@gable/core';
import os from 'node:os';
import { BlobReader, ownConnection } from '../db/blob-reader';
import { FontReader } from '../db/font-reader';
import { contextOf } from './context';
import type { Answer, Call, TaskProblem } from './pool';
import { runTask } from './run';
import { Spool } from './spool';

/** Those who answer requests, and the database, go first. */
const NICE = 5;

const url = process.env['GABLE_DATABASE_URL'];
const folder = process.env['GABLE_SPOOL'];
if (!url || !folder || !process.send)
  throw new Error('This is started by the server, with GABLE_DATABASE_URL and GABLE_SPOOL.');
try {
  os.setPriority(NICE);
} catch {
  // A system that does not allow it: then all are alike.
}
const connection = ownConnection(url);
const blobs = new BlobReader(connection);
const fonts = new FontReader(connection, blobs);
const spool = new Spool(folder);
/** A server that is gone needs no answer. */
const send = (answer: Answer): void =>
  void process.send!(answer, undefined, undefined, (error) => {
    if (error) process.exit(0);
  });

process.on('message', ({ name, input }: Call) => {
  const context = contextOf(blobs, { spool, fonts }, (done, total) => send({ progress: { done, total } }));
  runTask(name, input as never, { context, fonts }).then(
    (ok) => send({ ok }),
    (error: unknown) => send({ problem: problemOf(error) }),
  );
});
process.on('disconnect', () => process.exit(0));
// A Ctrl-C in the terminal reaches every process: the server ends this one when it has what it waits for.
process.on('SIGINT', () => undefined);
send({ ready: true });

/** Errors cross processes as data. A sum that goes too deep is the file's fault. */
function problemOf(error: unknown): TaskProblem {
  if (error instanceof GableError) {
    const { code, message, remedy, facts } = error;
    return { code, message, remedy, facts };
  }
  if (error instanceof RangeError && /call stack|array length|string length/i.test(error.message))
    return {
      code: 'too-heavy',
      message: 'The file is too deep or too large to be worked on.',
      remedy: 'Split it.',
      facts: {},
    };
  const { name, stack = '' } = error instanceof Error ? error : new Error(String(error));
  const where = stack.split('\n').filter((line) => /^\s+at /.test(line));
  return { code: 'internal', message: `${name}\n${where.join('\n')}`, remedy: '', facts: {} };
}
