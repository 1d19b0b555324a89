import { GableError } from '@gable/core';
import type { Slimmed } from '@gable/cli/slim';
import os from 'node:os';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { Opened } from '../db/models';
import type { FrameFate, Jobs, Watch } from './jobs';
import type { Answer, Task } from './worker';

/** How long one file may take before its job is given up, in milliseconds. */
const PATIENCE = 60_000;
/** How long a job may take that says how far it is and can be stopped. */
const LONG_PATIENCE = 30 * 60_000;

/** Jobs in worker threads. */
export function pooled(filename: string): Jobs {
  const poolOf = (minThreads: number, maxThreads: number): Piscina<Task, Answer> =>
    new Piscina<Task, Answer>({
      filename,
      minThreads,
      maxThreads,
      resourceLimits: { maxOldGenerationSizeMb: 2048 },
    });
  const quick = poolOf(1, Math.max(1, os.availableParallelism() - 1));
  // A thread of its own: whoever opens a file does not wait behind two hundred pictures that are being written.
  const long = poolOf(0, 1);
  const run = async (task: Task, watch?: Watch): Promise<unknown> => {
    const late = AbortSignal.timeout(watch ? LONG_PATIENCE : PATIENCE);
    // What can be watched can be stopped: its thread is ended.
    const signal = watch ? AbortSignal.any([late, watch.signal]) : late;
    const channel = watch ? new MessageChannel() : null;
    channel?.port1.on('message', ({ done, total }: { done: number; total: number }) => watch?.progress(done, total));
    const answer = await (watch ? long : quick)
      .run(
        channel ? ({ ...task, port: channel.port2 } as Task) : task,
        channel ? { signal, transferList: [channel.port2] } : { signal },
      )
      .catch((cause) => {
        if (!late.aborted) throw cause;
        throw new GableError(
          'took-too-long',
          `The file could not be worked on within ${(watch ? LONG_PATIENCE : PATIENCE) / 1000} seconds.`,
          'Split the document, then try again.',
          {},
          { cause },
        );
      })
      .finally(() => channel?.port1.close());
    if ('ok' in answer) return answer.ok;
    throw new GableError(answer.code, answer.message, answer.remedy, answer.facts);
  };
  return {
    open: (bytes) => run({ kind: 'open', bytes }) as Promise<Opened>,
    save: (bytes, frames, sources, watch) =>
      run({ kind: 'save', bytes, frames, sources }, watch) as Promise<Uint8Array>,
    slim: (bytes, wish, watch) => run({ kind: 'slim', bytes, wish }, watch) as Promise<Slimmed>,
    set: (bytes, frames, sources, wish, watch) =>
      run({ kind: 'set', bytes, frames, sources, wish }, watch) as Promise<Uint8Array>,
    proof: (bytes, wish, sources, watch) => run({ kind: 'proof', bytes, wish, sources }, watch) as Promise<Uint8Array>,
    fates: (bytes, frames) => run({ kind: 'fates', bytes, frames }) as Promise<FrameFate[]>,
    pages: (bytes, frames, page) => run({ kind: 'pages', bytes, frames, page }) as Promise<Uint8Array>,
    margin: (bytes, wish) => run({ kind: 'margin', bytes, wish }) as Promise<{ bytes: Uint8Array; parts: string[] }>,
    ground: (bytes, page) => run({ kind: 'ground', bytes, page }) as Promise<Uint8Array | null>,
    picture: (bytes, n) => run({ kind: 'picture', bytes, n }) as Promise<Uint8Array>,
    close: async () => {
      await Promise.all([quick.close(), long.close()]);
    },
  };
}
