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
});

/** Every frame must belong to a picture of the work. @throws GableError `no-such-picture` */
export function checkFrames(frames: readonly Frame[], work: Work): void {
  const known = new Set(work.opened.pictures.map((p) => p.n));
  const { n } = frames.find((f) => !known.has(f.n)) ?? {};
  if (n !== undefined)
    throw new GableError('no-such-picture', `There is no picture ${n} in this work.`, 'Reload the page.', { n });
}
