import { GableError, type Frame } from '@gable/core';
import { byId } from '../db/by-id';
import { Work } from '../db/models';
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

/** Every frame must belong to a picture of the work. @throws GableError `no-such-picture` */
export function checkFrames(frames: readonly Frame[], work: Work): void {
  const { n } = frames.find((f) => f.n > work.opened.pictures.length) ?? {};
  if (n !== undefined)
    throw new GableError('no-such-picture', `There is no picture ${n} in this work.`, 'Reload the page.', { n });
}
