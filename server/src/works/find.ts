import { GableError, type Frame } from '@gable/core';
import type { AppContext } from '../context';
import { byId } from '../db/by-id';
import { Work } from '../db/models';
import type { FileRef } from '../tasks/task';
import { isFolder, joined, worksIn } from './folders';

/** The work of this id. @throws GableError `not-found` */
export async function findWork(id: string): Promise<Work> {
  const work = await byId(Work, id, 'work');
  return isFolder(work) ? joined(work, await worksIn(work)) : work;
}

/** The file of a work. @throws GableError `no-file` for a work of pictures */
export function fileOf(work: Work): string {
  if (work.sha256 === null)
    throw new GableError(
      'no-file',
      'This work began with pictures and has no file.',
      'Copy a framed picture, or save it as a picture.',
    );
  return work.sha256;
}

/** The file of a work, with what its pictures are called. @throws GableError `no-file` */
export const fileRef = async (
  { blobs }: Pick<AppContext, 'blobs'>,
  work: Work,
): Promise<FileRef & { sha256: string }> => ({
  ...(await blobs.ref(fileOf(work))),
  known: work.opened.known,
  // Only once they came, went or moved they are called otherwise.
  ...(work.origin && { pages: work.opened.sheets?.map((s, i) => s.id ?? `page${i + 1}`) }),
});

/** Every frame must belong to a picture of the work. @throws GableError `no-such-picture` */
export function checkFrames(frames: readonly Frame[], work: Work): void {
  const known = new Set(work.opened.pictures.map((p) => p.n));
  const { n } = frames.find((f) => !known.has(f.n)) ?? {};
  if (n !== undefined)
    throw new GableError('no-such-picture', `There is no picture ${n} in this work.`, 'Reload the page.', { n });
}

/** So often a work may get another file while its file is read. */
const MOST_TRIES = 3;

/**
 * Uses a work with its file. While that is read, pictures may be put in: then its file is another one, and is read instead.
 * @throws GableError `not-found`, `no-file`, and what `use` throws
 */
export async function withFile<T>(
  context: Pick<AppContext, 'blobs'>,
  id: string,
  use: (work: Work, file: FileRef & { sha256: string }) => Promise<T>,
): Promise<T> {
  for (let tries = 1; ; tries++) {
    const work = await findWork(id);
    try {
      return await use(work, await fileRef(context, work));
    } catch (error) {
      if (tries === MOST_TRIES || (await findWork(id)).sha256 === work.sha256) throw error;
    }
  }
}
