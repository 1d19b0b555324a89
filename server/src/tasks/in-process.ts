import type { BlobReader } from '../db/blob-reader';
import { contextOf } from './context';
import { TASKS, type Tasks } from './registry';
import type { Spool } from './spool';
import type { Task } from './task';

/** Tasks in this very process: for tests, and for a look from a debugger. One is stopped where it says how far it is. */
export function inProcess(blobs: BlobReader, spool: Spool): Tasks {
  return {
    async run(name, input, { progress, signal } = {}) {
      const context = contextOf(blobs, spool, (done, total) => {
        signal?.throwIfAborted();
        progress?.(done, total);
      });
      return (TASKS[name] as unknown as Task<typeof input, never>).run(input, context);
    },
    close: () => Promise.resolve(),
  };
}
