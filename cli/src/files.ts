import { GableError } from '@gable/core';
import { LIMITS, openFile, type Source } from '@gable/formats';
import { randomUUID } from 'node:crypto';
import { open, readFile, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';

const missing = (file: string, cause: unknown): GableError =>
  new GableError('no-such-file', `There is no file “${file}”.`, 'Check the name and the folder.', { file }, { cause });

/** The bytes of a file. @throws GableError `no-such-file` */
export const readWhole = (file: string): Promise<Buffer> =>
  readFile(file).catch((cause) => {
    throw missing(file, cause);
  });

/**
 * Reads and opens a file: its pictures, which is enough where nothing else on their pages is looked at or changed, or all of it.
 * @throws GableError `no-such-file`, `too-large`, and all that opening can find
 */
export async function openPath(file: string, read: 'all' | 'pictures' = 'pictures'): Promise<Source> {
  const info = await stat(file).catch((cause) => {
    throw missing(file, cause);
  });
  if (!info.isFile()) throw new GableError('no-such-file', `“${file}” is not a file.`, 'Name a document.', { file });
  if (info.size > LIMITS.fileBytes)
    throw new GableError(
      'too-large',
      `The file is larger than ${LIMITS.fileBytes / 1048576} MB.`,
      'Split it, or make its pictures smaller first.',
      { file },
    );
  return openFile(await readFile(file), { read });
}

/** Writes beside and renames, so that there is either the whole file or none. @throws GableError `cannot-write-file` */
export async function writeWhole(file: string, data: Uint8Array | AsyncIterable<Uint8Array>): Promise<void> {
  const beside = path.join(path.dirname(file), `.${path.basename(file)}.${randomUUID().slice(0, 8)}.part`);
  try {
    const handle = await open(beside, 'wx');
    try {
      for await (const piece of data instanceof Uint8Array ? [data] : data) await handle.writeFile(piece);
      await handle.sync();
    } finally {
      await handle.close();
    }
    await rename(beside, file);
  } catch (cause) {
    await rm(beside, { force: true }).catch(() => undefined);
    const why = (cause as NodeJS.ErrnoException).code ?? '';
    throw new GableError(
      'cannot-write-file',
      `“${file}” could not be written (${why}).`,
      'Check that the folder exists, is yours to write and has room.',
      { file },
      { cause },
    );
  }
}
