import {
  changesOf,
  documentOfPictures,
  equal,
  itemIdOf,
  upgradedFrame,
  withFrame,
  type Document,
  type Entry,
  type Frame,
  type Item,
  type Operation,
  type PictureItem,
  type PlacedPicture,
} from '@gable/core';
import { randomUUID } from 'node:crypto';
import { QueryTypes, type QueryInterface, type Transaction } from 'sequelize';

/** What releases before `0007-entries` stored of a work: frames that differ from its file, by number, and deeds. */
interface OldWork {
  id: string;
  opened: { format: string; pictures: PlacedPicture[]; sheets?: { width: number; height: number }[] };
  frames: Record<string, Frame>;
  done: number;
  revision: number;
}
interface OldChange {
  n: number;
  before: Frame | null;
  after: Frame | null;
}
type OldDeed = OldChange & { name: string; more?: OldChange[] };

/** Frames by number become changed items by name. */
export function changesOfFrames(
  document: Document,
  frames: Record<string, Frame>,
  pictures: readonly PlacedPicture[],
): Record<string, Item> {
  const items: Record<string, Item> = {};
  for (const picture of pictures) {
    const frame = frames[String(picture.n)];
    const item = document.items[itemIdOf(picture)] as PictureItem;
    const next = frame && withFrame(item, upgradedFrame(frame), picture.size);
    if (next && !equal(next, item)) items[item.id] = next;
  }
  return items;
}

/** A deed as an entry; null stands for the frame as the file has it. */
export function entryOfDeed(document: Document, deed: OldDeed, pictures: readonly PlacedPicture[]): Entry | null {
  const operations: Operation[] = [];
  const inverse: Operation[] = [];
  for (const { n, before, after } of [deed, ...(deed.more ?? [])]) {
    const picture = pictures[n - 1];
    if (!picture) continue;
    const file = document.items[itemIdOf(picture)] as PictureItem;
    const as = (frame: Frame | null): PictureItem =>
      frame ? withFrame(file, upgradedFrame(frame), picture.size) : file;
    operations.push(...changesOf(as(before), as(after)));
    inverse.push(...changesOf(as(after), as(before)));
  }
  return operations.length > 0 ? { id: randomUUID(), name: deed.name, operations, inverse } : null;
}

/** The log that deeds come to: each of them, then what takes back those that had been undone. */
export function logOfDeeds(
  document: Document,
  deeds: readonly { seq: number; deed: OldDeed }[],
  done: number,
  pictures: readonly PlacedPicture[],
): Entry[] {
  const entries = deeds.map(({ seq, deed }) => ({ undone: seq >= done, entry: entryOfDeed(document, deed, pictures) }));
  const undoing = entries.toReversed().flatMap(({ undone, entry }): Entry[] =>
    undone && entry
      ? [
          {
            id: randomUUID(),
            name: entry.name,
            operations: entry.inverse,
            inverse: entry.operations,
            undoes: entry.id,
          },
        ]
      : [],
  );
  return [...entries.flatMap(({ entry }) => entry ?? []), ...undoing];
}

/** Frames and deeds become changes and entries, work by work: all of them, or none. */
export async function toEntries({ sequelize }: QueryInterface): Promise<void> {
  await sequelize.transaction(async (transaction) => {
    await sequelize.query(
      `CREATE TABLE entries (
         seq serial PRIMARY KEY,
         work_id uuid NOT NULL REFERENCES works ON DELETE CASCADE,
         revision integer NOT NULL,
         entry jsonb NOT NULL,
         created_at timestamptz NOT NULL,
         UNIQUE (work_id, revision));
       CREATE INDEX entries_work ON entries (work_id, seq);
       ALTER TABLE works ADD COLUMN changes jsonb NOT NULL DEFAULT '{"version":1,"items":{}}';
       ALTER TABLE work_versions ADD COLUMN changes jsonb NOT NULL DEFAULT '{"version":1,"items":{}}';`,
      { transaction },
    );
    const ids = await sequelize.query<{ id: string }>(
      `SELECT id FROM works w WHERE frames <> '{}' OR EXISTS (SELECT 1 FROM deeds d WHERE d.work_id = w.id)
         OR EXISTS (SELECT 1 FROM work_versions v WHERE v.work_id = w.id)`,
      { type: QueryTypes.SELECT, transaction },
    );
    for (const { id } of ids) await moveWork(sequelize, id, transaction);
    await sequelize.query(
      `DROP TABLE deeds;
       ALTER TABLE works DROP COLUMN frames, DROP COLUMN done;
       ALTER TABLE work_versions DROP COLUMN frames;`,
      { transaction },
    );
  });
}

async function moveWork(sequelize: QueryInterface['sequelize'], id: string, transaction: Transaction): Promise<void> {
  const select = { bind: [id], type: QueryTypes.SELECT as const, transaction };
  const [work] = await sequelize.query<OldWork>(
    'SELECT id, opened, frames, done, revision FROM works WHERE id = $1',
    select,
  );
  if (!work) return;
  const { format, sheets } = work.opened;
  const read = format === 'folder' ? await folderPictures(sequelize, id, transaction) : work.opened.pictures;
  const pictures = read.map((p) => ({ ...p, frame: upgradedFrame(p.frame) }));
  const document = documentOfPictures(pictures, { sheets });
  const changes = (frames: Record<string, Frame>): string =>
    JSON.stringify({ version: 1, items: changesOfFrames(document, frames, pictures) });
  // A folder's deeds were told to its works, too, and are theirs.
  const deeds = await sequelize.query<{ seq: number; deed: OldDeed }>(
    `SELECT seq, deed FROM deeds WHERE work_id = $1 AND $2 <> 'folder' ORDER BY seq`,
    { ...select, bind: [id, format] },
  );
  const log = logOfDeeds(document, deeds, work.done, pictures);
  for (const [i, entry] of log.entries())
    await sequelize.query('INSERT INTO entries (work_id, revision, entry, created_at) VALUES ($1, $2, $3, now())', {
      bind: [id, i + 2, JSON.stringify(entry)],
      transaction,
    });
  await sequelize.query('UPDATE works SET changes = $2, revision = $3 WHERE id = $1', {
    bind: [id, changes(work.frames), Math.max(work.revision, log.length + 1)],
    transaction,
  });
  const versions = await sequelize.query<{ id: string; frames: Record<string, Frame> }>(
    'SELECT id, frames FROM work_versions WHERE work_id = $1',
    select,
  );
  for (const v of versions)
    await sequelize.query('UPDATE work_versions SET changes = $2 WHERE id = $1', {
      bind: [v.id, changes(v.frames)],
      transaction,
    });
}

/** Pictures of a folder's works, numbered through. */
async function folderPictures(
  sequelize: QueryInterface['sequelize'],
  id: string,
  transaction: Transaction,
): Promise<PlacedPicture[]> {
  const members = await sequelize.query<OldWork>(
    `SELECT w.id, w.opened FROM works f, jsonb_array_elements_text(f.opened->'members') WITH ORDINALITY m(id, place)
       JOIN works w ON w.id::text = m.id WHERE f.id = $1 AND w.sha256 IS NOT NULL ORDER BY m.place`,
    { bind: [id], type: QueryTypes.SELECT, transaction },
  );
  return members
    .flatMap((w) => w.opened.pictures.map((p) => ({ ...p, member: { id: w.id, n: p.n } })))
    .map((p, i) => ({ ...p, n: i + 1 }));
}
