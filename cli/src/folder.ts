import { GableError, SEVERITIES, type Severity } from '@gable/core';
import { mkdir, readdir, stat } from 'node:fs/promises';
import path from 'node:path';

/** Files that Gable opens, by their endings. */
const KINDS = /\.(docx|pptx|xlsx|odt|odp|odg|ods|svg|html?|zip)$/i;
/** More files than this are no folder of documents. */
const MAX_FILES = 10_000;

export interface Job {
  /** As it is named in messages: from the folder that was given. */
  name: string;
  path: string;
}

/**
 * The files to work on: the one that was named, or all in a folder and below it, by name. Hidden files and folders, those
 * of package managers and links are passed by.
 * @throws GableError `no-such-file`
 */
export async function jobsIn(where: string): Promise<{ folder: boolean; jobs: Job[] }> {
  const info = await stat(where).catch(() => null);
  if (!info?.isDirectory()) return { folder: false, jobs: [{ name: where, path: where }] };
  const jobs: Job[] = [];
  const visit = async (below: string): Promise<void> => {
    const entries = await readdir(path.join(where, below), { withFileTypes: true });
    for (const e of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
      if (e.name.startsWith('.') || e.name === 'node_modules') continue;
      const name = path.join(below, e.name);
      if (e.isDirectory()) await visit(name);
      else if (e.isFile() && KINDS.test(e.name)) jobs.push({ name, path: path.join(where, name) });
      if (jobs.length > MAX_FILES)
        throw new GableError(
          'bad-call',
          `“${where}” has more than ${MAX_FILES} files.`,
          'Choose one of the folders in it.',
        );
    }
  };
  await visit('');
  if (jobs.length === 0)
    throw new GableError('no-such-file', `“${where}” has no file that Gable opens.`, 'Name another folder.');
  return { folder: true, jobs };
}

/** Where a file of a folder goes: the same place in the other folder, which is made. */
export async function placeIn(folder: string, { name }: Job): Promise<string> {
  const file = path.join(folder, name);
  await mkdir(path.dirname(file), { recursive: true }).catch((cause: unknown) => {
    throw new GableError(
      'cannot-write-file',
      `The folder “${path.dirname(file)}” cannot be made.`,
      'Choose another one for --out.',
      {},
      { cause },
    );
  });
  return file;
}

/** Is a folder another one, or below it? */
export function isWithin(folder: string, other: string): boolean {
  const from = path.relative(path.resolve(other), path.resolve(folder));
  return from === '' || !(from.startsWith('..') || path.isAbsolute(from));
}

/** @throws GableError `bad-call` */
export function parseSeverity(text: string | undefined): Severity | null {
  if (text === undefined) return null;
  const found = SEVERITIES.find((s) => s === text);
  if (!found)
    throw new GableError('bad-call', `“${text}” is not a severity.`, `Give --fail ${SEVERITIES.join(', --fail ')}.`);
  return found;
}

/** How far a long job is, on one line of a terminal that is written over; in a file or a pipe nothing. */
export class Progress {
  private readonly live = process.stderr.isTTY;

  constructor(private readonly total: number) {}

  at(done: number, name: string): void {
    if (!this.live || this.total < 2) return;
    const filled = Math.round((done / this.total) * 24);
    const bar = '█'.repeat(filled) + '░'.repeat(24 - filled);
    const line = `${bar} ${done} of ${this.total}  ${name}`;
    process.stderr.write(`\r\u001b[2K${line.slice(0, (process.stderr.columns || 80) - 1)}`);
  }

  end(): void {
    if (this.live && this.total > 1) process.stderr.write('\r\u001b[2K');
  }
}
