import type { AppContext } from '../context';
import { Work } from '../db/models';
import { READING } from '../tasks/open';
import { fileRef } from './find';
import { isFolder } from './folders';

/**
 * A work with what is read of its pages now: one that was opened when less was read is read again, once. Its pictures, and what its
 * pages are called, stay as they are; a file that cannot be read any more leaves all of it.
 */
export async function upToDate(context: AppContext, work: Work): Promise<Work> {
  const { opened, sha256 } = work;
  if (sha256 === null || isFolder(work) || (opened.reading ?? 1) >= READING) return work;
  const file = await fileRef(context, work);
  const read = await context.tasks.run('reread', { file }).catch(() => null);
  if (!read) return work;
  const ids = (opened.sheets ?? []).map(({ id }) => id);
  const sheets = read.sheets?.map((sheet, i) => (ids[i] === undefined ? sheet : { ...sheet, id: ids[i] }));
  const { layers, stories, reading } = read;
  const next = {
    ...opened,
    ...(sheets && { sheets }),
    ...(layers && { layers }),
    ...(stories && { stories }),
    ...(reading && { reading }),
  };
  // Meanwhile it may have got another file, which was read anew then.
  const [count] = await Work.update({ opened: next }, { where: { id: work.id, sha256 }, silent: true });
  if (count > 0) work.opened = next;
  return work;
}
