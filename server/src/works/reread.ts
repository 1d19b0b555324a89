import type { AppContext } from '../context';
import { LogEntry, Work, WorkVersion, type Opened } from '../db/models';
import { READING } from '../tasks/open';
import type { FileRef } from '../tasks/task';
import { fileRef } from './find';
import { isFolder } from './folders';
import { newNames, renamedIn } from './item-names';

/** What a file is found to have, read again; what its pictures and its pages are called stays. */
async function readAgain(context: AppContext, opened: Opened, file: FileRef): Promise<Opened | null> {
  const read = await context.tasks.run('reread', { file }).catch(() => null);
  if (!read) return null;
  const ids = (opened.sheets ?? []).map(({ id }) => id);
  const sheets = read.sheets?.map((sheet, i) => (ids[i] === undefined ? sheet : { ...sheet, id: ids[i] }));
  const { layers, stories, reading } = read;
  return {
    ...opened,
    ...(sheets && { sheets }),
    ...(layers && { layers }),
    ...(stories && { stories }),
    ...(reading && { reading }),
  };
}

/**
 * A work with what is read of its pages now: one that was opened when less was read, or when things on pages were called otherwise, is
 * read again, once. Its pictures, and what its pages are called, stay as they are; what was changed of other things goes by their new
 * names. A file that cannot be read any more leaves all of it.
 */
export async function upToDate(context: AppContext, work: Work): Promise<Work> {
  const { opened, origin, sha256 } = work;
  if (sha256 === null || isFolder(work) || (opened.reading ?? 1) >= READING) return work;
  const next = await readAgain(context, opened, await fileRef(context, work));
  if (!next) return work;
  // The file as it came may be the work's again, once all is out that was put in.
  const came = origin && (await readAgain(context, origin.opened, await context.blobs.ref(origin.sha256)));
  const names = new Map([...newNames(opened, next), ...(came ? newNames(origin.opened, came) : [])]);
  for (const [was, now] of names) if (was === now) names.delete(was);
  await context.sequelize.transaction(async (transaction) => {
    // Meanwhile it may have got another file, which was read anew then, or have been changed.
    const row = await Work.findByPk(work.id, { transaction, lock: true });
    if (row?.sha256 !== sha256 || (row.opened.reading ?? 1) >= READING) return;
    const changes = renamedIn(row.changes, names);
    const told = { opened: next, changes, ...(came && { origin: { ...row.origin!, opened: came } }) };
    await row.update(told, { silent: true, transaction });
    work.set(told);
    if (names.size === 0) return;
    for (const entry of await LogEntry.findAll({ where: { workId: work.id }, transaction }))
      await entry.update({ entry: renamedIn(entry.entry, names) }, { transaction });
    for (const version of await WorkVersion.findAll({ where: { workId: work.id }, transaction }))
      await version.update({ changes: renamedIn(version.changes, names) }, { transaction });
  });
  return work;
}
