import { equal, GableError, type Frame } from '@gable/core';
import { literal, Op, type Transaction } from 'sequelize';
import { Deed, Work, type Frames } from '../db/models';

/**
 * A folder: works that are looked at, and changed, together. It has no file and no frames of its own; its pictures are those
 * of its works, numbered through, and what is done to them is done to the works.
 */
export const isFolder = (work: Pick<Work, 'summary'>): boolean => work.summary.format === 'folder';

/** The fewest works in a folder, and the most. */
export const LEAST_FILES = 2;
export const MOST_FILES = 200;

const plain = (w: Work | undefined): w is Work => w !== undefined && w.sha256 !== null;

/** The folder as its works are now. It is for reading: only single fields of it may be saved. */
export function joined(folder: Work, works: readonly Work[]): Work {
  const byId = new Map(works.map((w) => [w.id, w]));
  const members = (folder.opened.members ?? []).map((id) => byId.get(id)).filter(plain);
  const pictures: Work['opened']['pictures'][number][] = [];
  const frames: Frames = {};
  for (const member of members)
    for (const p of member.opened.pictures) {
      const n = pictures.length + 1;
      const frame = member.frames[String(p.n)];
      if (frame) frames[String(n)] = { ...frame, n };
      pictures.push({ ...p, n, frame: { ...p.frame, n }, file: member.name, member: { id: member.id, n: p.n } });
    }
  folder.opened = {
    ...folder.opened,
    signed: members.some((m) => m.opened.signed),
    pages: members.reduce((sum, m) => sum + m.opened.pages, 0),
    pictures,
  };
  folder.frames = frames;
  // Whoever changes one of its works changes the folder.
  folder.revision = 1 + members.reduce((sum, m) => sum + m.revision, 0);
  return folder;
}

export const worksIn = (folder: Work, transaction?: Transaction): Promise<Work[]> =>
  Work.findAll({
    where: { id: folder.opened.members ?? [] },
    ...(transaction ? { transaction, lock: true } : {}),
    order: [['id', 'ASC']],
  });

export async function createFolder(name: string, ids: readonly string[]): Promise<Work> {
  const members = [...new Set(ids)];
  const works = await Work.findAll({ where: { id: members } });
  if (works.length !== members.length || !works.every(plain))
    throw new GableError('no-file', 'A folder holds opened files, and one of these is none.', 'Open its file again.');
  const opened = { format: 'folder' as const, signed: false, pages: 0, pictures: [], members };
  return joined(await Work.create({ name, sha256: null, opened, frames: {} }), works);
}

/**
 * Gives the frames of a folder to its works; each gets one deed of its own, so that it can be taken back there too.
 * @param works locked, as the folder was joined from them
 * @returns how many of them changed
 */
export async function spread(
  folder: Work,
  works: readonly Work[],
  frames: Frames,
  deed: string,
  transaction: Transaction,
): Promise<number> {
  let changed = 0;
  for (const work of works) {
    const now: Frames = {};
    for (const { n, member } of folder.opened.pictures) {
      const frame = member?.id === work.id ? frames[String(n)] : undefined;
      if (frame) now[String(member!.n)] = { ...frame, n: member!.n };
    }
    const numbers = [...new Set([...Object.keys(work.frames), ...Object.keys(now)])];
    const changes = numbers
      .filter((n) => !equal(work.frames[n], now[n]))
      .map((n) => ({ n: Number(n), before: work.frames[n] ?? null, after: now[n] ?? null }));
    if (await keepDeed(work, deed, changes, now, transaction)) changed++;
  }
  return changed;
}

/**
 * Frames of a work changed from outside its own screens, as one deed more; what was undone there can no longer be redone.
 * @returns was there anything to change?
 */
export async function keepDeed(
  work: Work,
  name: string,
  changes: readonly { n: number; before: Frame | null; after: Frame | null }[],
  frames: Frames,
  transaction: Transaction,
): Promise<boolean> {
  const [first, ...more] = changes;
  if (!first) return false;
  const deed = { name, ...first, ...(more.length > 0 ? { more } : {}) };
  await Deed.destroy({ where: { workId: work.id, seq: { [Op.gte]: work.done } }, transaction });
  await Deed.create({ workId: work.id, seq: work.done, deed }, { transaction });
  await work.update({ frames, revision: work.revision + 1, done: work.done + 1 }, { transaction });
  return true;
}

/**
 * A work goes: folders lose it, and with it the deeds that named pictures by their old numbers. A folder that is left with
 * too few works goes, too.
 * @returns the folders that had it
 */
export async function leaveFolders(id: string, transaction: Transaction): Promise<string[]> {
  const isFolder = literal(`summary->>'format' = 'folder'`);
  const has = { [Op.contains]: { members: [id] } };
  const folders = await Work.findAll({ where: { [Op.and]: [isFolder, { summary: has }] }, transaction, lock: true });
  for (const folder of folders) {
    const members = (folder.opened.members ?? []).filter((m) => m !== id);
    await Deed.destroy({ where: { workId: folder.id }, transaction });
    const gone = members.length < LEAST_FILES ? { deletedAt: new Date() } : {};
    await folder.update({ opened: { ...folder.opened, members }, done: 0, ...gone }, { transaction, silent: true });
  }
  return folders.map((f) => f.id);
}

/** A work comes back: so it does into the folders that had it, behind what is in them. */
export async function rejoinFolders(id: string, folders: readonly string[], transaction: Transaction): Promise<void> {
  for (const folder of await Work.unscoped().findAll({ where: { id: [...folders] }, transaction, lock: true })) {
    const members = [...new Set([...(folder.opened.members ?? []), id])];
    const back = members.length < LEAST_FILES ? {} : { deletedAt: null };
    await folder.update({ opened: { ...folder.opened, members }, ...back }, { transaction, silent: true });
  }
}
