import { GableError, type Frame } from '@gable/core';
import { openJob, saveJob } from './jobs';

export type Task = { kind: 'open'; bytes: Uint8Array } | { kind: 'save'; bytes: Uint8Array; frames: Frame[] };
/** Errors cross threads as data: a class would arrive as a plain error without its facts. */
export type Answer = { ok: unknown } | { code: string; message: string; remedy: string; facts: GableError['facts'] };

export default function work(task: Task): Answer {
  try {
    return { ok: task.kind === 'open' ? openJob(task.bytes) : saveJob(task.bytes, task.frames) };
  } catch (error) {
    if (!(error instanceof GableError)) throw error;
    const { code, message, remedy, facts } = error;
    return { code, message, remedy, facts };
  }
}
