import { isPictureItem, itemIdOf, type Changes } from '@gable/core';
import type { AppContext } from '../context';
import { LogEntry, Work, WorkVersion, type Opened, type WorkPicture } from '../db/models';
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
  const videos = new Map(read.pictures.map(({ n, frame, clip }) => [n, { video: frame.video, clip }]));
  return {
    ...opened,
    pictures: opened.pictures.map((p) => {
      const { video, clip } = videos.get(p.n) ?? {};
      return video ? { ...p, frame: { ...p.frame, video }, ...(clip && { clip }) } : p;
    }),
    ...(sheets && { sheets }),
    ...(layers && { layers }),
    ...(stories && { stories }),
    ...(reading && { reading }),
  };
}

/** From these readings on videos are read of files, and their captions. */
const VIDEOS = 7;
const CAPTIONS = 9;

/**
 * Frames that were changed before videos were read of files are the videos that they are in these; those changed before captions were
 * have the captions that are there. @param reading how much was read of the file before
 */
function withVideos(changes: Changes, pictures: readonly WorkPicture[], reading: number): Changes {
  const items = { ...changes.items };
  for (const p of pictures) {
    const id = itemIdOf(p);
    const item = items[id];
    const { video } = p.frame;
    if (!video || !item || !isPictureItem(item)) continue;
    const { video: changed } = item.fill;
    if (reading < VIDEOS) items[id] = { ...item, fill: { ...item.fill, video } };
    else if (reading < CAPTIONS && changed?.source.from === 'file' && video.captions)
      items[id] = { ...item, fill: { ...item.fill, video: { ...changed, captions: video.captions } } };
  }
  return { ...changes, items };
}

/**
 * A work with what is read of its pages now: one that was opened when less was read, or when things on pages were called otherwise, is
 * read again, once. Its pictures, and what its pages are called, stay as they are, but for videos that these are; what was changed of
 * other things goes by their new names. A file that cannot be read any more leaves all of it.
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
    const changes = withVideos(renamedIn(row.changes, names), next.pictures, row.opened.reading ?? 1);
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
