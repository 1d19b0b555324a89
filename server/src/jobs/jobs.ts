import type { Frame } from '@gable/core';
import { openFile } from '@gable/formats';
import type { Opened } from '../db/models';

/** Work too heavy for the thread that answers requests. */
export interface Jobs {
  open(bytes: Uint8Array): Promise<Opened>;
  save(bytes: Uint8Array, frames: Frame[]): Promise<Uint8Array>;
  close(): Promise<void>;
}

export function openJob(bytes: Uint8Array): Opened {
  const { format, signed, pages, pictures } = openFile(bytes);
  return { format, signed, pages, pictures };
}

export const saveJob = (bytes: Uint8Array, frames: Frame[]): Uint8Array => openFile(bytes).save(frames);

/** The same without threads: for tests, and for a look from a debugger. */
export const inProcess: Jobs = {
  open: (bytes) => Promise.resolve().then(() => openJob(bytes)),
  save: (bytes, frames) => Promise.resolve().then(() => saveJob(bytes, frames)),
  close: () => Promise.resolve(),
};
