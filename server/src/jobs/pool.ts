import { GableError } from '@gable/core';
import os from 'node:os';
import { Piscina } from 'piscina';
import type { Opened } from '../db/models';
import type { FrameFate, Jobs } from './jobs';
import type { Answer, Task } from './worker';

/** How long one file may take before its job is given up, in milliseconds. */
const PATIENCE = 60_000;

/** Jobs in worker threads. */
export function pooled(filename: string): Jobs {
  const pool = new Piscina<Task, Answer>({
    filename,
    minThreads: 1,
    maxThreads: Math.max(1, os.availableParallelism() - 1),
    resourceLimits: { maxOldGenerationSizeMb: 2048 },
  });
  const run = async (task: Task): Promise<unknown> => {
    const stop = AbortSignal.timeout(PATIENCE);
    const answer = await pool.run(task, { signal: stop }).catch((cause) => {
      if (!stop.aborted) throw cause;
      throw new GableError(
        'took-too-long',
        `The file could not be read within ${PATIENCE / 1000} seconds.`,
        'Split the document, then try again.',
        {},
        { cause },
      );
    });
    if ('ok' in answer) return answer.ok;
    throw new GableError(answer.code, answer.message, answer.remedy, answer.facts);
  };
  return {
    open: (bytes) => run({ kind: 'open', bytes }) as Promise<Opened>,
    save: (bytes, frames, sources) => run({ kind: 'save', bytes, frames, sources }) as Promise<Uint8Array>,
    fates: (bytes, frames) => run({ kind: 'fates', bytes, frames }) as Promise<FrameFate[]>,
    pages: (bytes, frames) => run({ kind: 'pages', bytes, frames }) as Promise<Uint8Array>,
    margin: (bytes, wish) => run({ kind: 'margin', bytes, wish }) as Promise<{ bytes: Uint8Array; parts: string[] }>,
    ground: (bytes) => run({ kind: 'ground', bytes }) as Promise<Uint8Array | null>,
    picture: (bytes, n) => run({ kind: 'picture', bytes, n }) as Promise<Uint8Array>,
    close: () => pool.close(),
  };
}
