import type { BlobReader } from '../db/blob-reader';
import type { FontReader } from '../db/font-reader';
import { contextOf } from './context';
import type { Tasks } from './registry';
import { runTask } from './run';
import type { Spool } from './spool';

/** Tasks in this very process: for tests, and for a look from a debugger. One is stopped where it says how far it is. */
export function inProcess(blobs: BlobReader, spool: Spool, fonts: FontReader): Tasks {
  return {
    async run(name, input, { progress, signal } = {}) {
      const context = contextOf(blobs, { spool, fonts }, (done, total) => {
        signal?.throwIfAborted();
        progress?.(done, total);
      });
      return runTask(name, input, { context, fonts });
    },
    close: () => Promise.resolve(),
  };
}
