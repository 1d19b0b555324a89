import {
  GableError,
  isAdded,
  isOfAdded,
  isStructural,
  NO_CHANGES,
  readChanges,
  type Item,
  type NewEntry,
  type Operation,
} from '@gable/core';
import { literal, Op, type Transaction } from 'sequelize';
import { Work } from '../db/models';

/**
 * A folder: works that are looked at, and changed, together. It has no file and no frames of its own; its pictures are those
 * of its works, numbered through, and what is done to them is done to the works.
 */
export const isFolder = (work: Pick<Work, 'summary'>): boolean => work.summary.format === 'folder';

/** The fewest works in a folder, and the most. */
export const LEAST_FILES = 2;
export const MAX_FILES = 200;

const plain = (w: Work | undefined): w is Work => w !== undefined && w.sha256 !== null;

/** The folder as its works are now. It is for reading: only single fields of it may be saved. */
export function joined(folder: Work, works: readonly Work[]): Work {
  const byId = new Map(works.map((w) => [w.id, w]));
  const members = (folder.opened.members ?? []).map((id) => byId.get(id)).filter(plain);
  const pictures: Work['opened']['pictures'][number][] = [];
  const items: Record<string, Item> = {};
  for (const member of members) {
    for (const p of member.opened.pictures) {
      const n = pictures.length + 1;
      pictures.push({ ...p, n, frame: { ...p.frame, n }, file: member.name, member: { id: member.id, n: p.n } });
    }
    for (const item of Object.values(readChanges(member.changes).items)) {
      // What was added to its pages is seen in the work itself.
      if (isAdded(item.id)) continue;
      const id = `${member.id}.${item.id}`;
      items[id] = { ...item, id };
    }
  }
  folder.opened = {
    ...folder.opened,
    signed: members.some((m) => m.opened.signed),
    pages: members.reduce((sum, m) => sum + m.opened.pages, 0),
    pictures,
  };
  folder.changes = { ...NO_CHANGES, items };
  // A change of one of its works is a change of the folder.
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
    throw new GableError('no-file', 'One of these is not an open file.', 'Open its file again.');
  const opened = { format: 'folder' as const, signed: false, pages: 0, pictures: [], members };
  return joined(await Work.create({ name, sha256: null, opened }), works);
}

/** The work that an item of a folder is in. */
export const inMember = (id: string): string => id.slice(0, Math.max(0, id.lastIndexOf('.')));

/** What comes and goes is done in the files themselves: a folder lists what there is. */
const renamed = (operations: readonly Operation[], name: (id: string) => string): Operation[] =>
  operations.filter((o) => !isStructural(o) && !isOfAdded(o)).map((o) => ('id' in o ? { ...o, id: name(o.id) } : o));

/** Operations of a work, with the names that its items have in a folder. */
export const asFolder = (member: string, operations: readonly Operation[]): Operation[] =>
  renamed(operations, (id) => `${member}.${id}`);

/** What entries of a folder do to one of its works: an entry of the same name, where they do anything to it. */
export const ofMember = (member: string, entries: readonly NewEntry[]): NewEntry[] =>
  entries.flatMap((entry) => {
    const own = entry.operations.filter((o) => 'id' in o && inMember(o.id) === member);
    return own.length > 0 ? { ...entry, operations: renamed(own, (id) => id.slice(member.length + 1)) } : [];
  });

/**
 * A work goes: folders lose it, and what was done to it with it. A folder that is left with too few works goes, too.
 * @returns the folders that had it
 */
export async function leaveFolders(id: string, transaction: Transaction): Promise<string[]> {
  const isFolder = literal(`summary->>'format' = 'folder'`);
  const has = { [Op.contains]: { members: [id] } };
  const folders = await Work.findAll({ where: { [Op.and]: [isFolder, { summary: has }] }, transaction, lock: true });
  for (const folder of folders) {
    const members = (folder.opened.members ?? []).filter((m) => m !== id);
    const gone = members.length < LEAST_FILES ? { deletedAt: new Date() } : {};
    await folder.update({ opened: { ...folder.opened, members }, ...gone }, { transaction, silent: true });
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
