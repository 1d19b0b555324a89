import { GableError, type Frame } from '@gable/core';
import type { SetWish } from '@gable/cli/set';
import type { SlimWish } from '@gable/formats';
import type { MessagePort } from 'node:worker_threads';
import {
  fatesJob,
  groundJob,
  marginJob,
  openJob,
  pagesJob,
  pictureJob,
  proofJob,
  saveJob,
  setJob,
  slimJob,
  type MarginWish,
  type ProofWish,
  type Sources,
} from './jobs';

export type Task =
  | { kind: 'open'; bytes: Uint8Array }
  | { kind: 'save'; bytes: Uint8Array; frames: Frame[]; sources: Sources; port?: MessagePort }
  | {
      kind: 'set';
      bytes: Uint8Array | null;
      frames: Frame[];
      sources: Sources;
      wish: SetWish;
      port?: MessagePort;
    }
  | { kind: 'proof'; bytes: Uint8Array | null; wish: ProofWish; sources: Sources; port?: MessagePort }
  | { kind: 'slim'; bytes: Uint8Array; wish: SlimWish; port?: MessagePort }
  | { kind: 'ground'; bytes: Uint8Array; page: number }
  | { kind: 'margin'; bytes: Uint8Array; wish: MarginWish }
  | { kind: 'picture'; bytes: Uint8Array; n: number }
  | { kind: 'fates'; bytes: Uint8Array; frames: Frame[] }
  | { kind: 'pages'; bytes: Uint8Array; frames: Frame[]; page: number };
/** Errors cross threads as data: a class would arrive as a plain error without its facts. */
export type Answer = { ok: unknown } | { code: string; message: string; remedy: string; facts: GableError['facts'] };

/** How far a job is, told through a port. */
const telling =
  (port: MessagePort | undefined) =>
  (done: number, total: number): void =>
    port?.postMessage({ done, total });

function run(task: Task): unknown {
  switch (task.kind) {
    case 'open':
      return openJob(task.bytes);
    case 'save':
      return saveJob(task.bytes, task.frames, task.sources, telling(task.port));
    case 'slim':
      return slimJob(task.bytes, task.wish, telling(task.port));
    case 'set':
      return setJob(task.bytes, task.frames, task.sources, task.wish, telling(task.port));
    case 'proof':
      return proofJob(task.bytes, task.wish, task.sources, telling(task.port));
    case 'fates':
      return fatesJob(task.bytes, task.frames);
    case 'pages':
      return pagesJob(task.bytes, task.frames, task.page);
    case 'ground':
      return groundJob(task.bytes, task.page);
    case 'margin':
      return marginJob(task.bytes, task.wish);
    case 'picture':
      return pictureJob(task.bytes, task.n);
  }
}

export default async function work(task: Task): Promise<Answer> {
  try {
    return { ok: await run(task) };
  } catch (error) {
    if (!(error instanceof GableError)) throw error;
    const { code, message, remedy, facts } = error;
    return { code, message, remedy, facts };
  }
}
