import { type LoggedEntry, type SaveEntries } from '@gable/contract';
import {
  applyAll,
  changesFrom,
  conflict,
  equal,
  GableError,
  groundsFrom,
  groupsRound,
  isAdded,
  isLook,
  isOfAdded,
  isPictureItem,
  isPlain,
  isStructural,
  ordersFrom,
  readChanges,
  resolveTies,
  valueAt,
  withChanges,
  type Changes,
  type Document,
  type Entry,
  type Item,
  type NewEntry,
  type Operation,
  saysWhere,
  type Text,
  type Anchor,
  type Position,
  type Structural,
  restylesShapes,
} from '@gable/core';
import { CAPABILITIES } from '@gable/formats';
import { Op, type Transaction } from 'sequelize';
import type { AppContext } from '../context';
import { LogEntry, Work, WorkVersion } from '../db/models';
import { asFolder, inMember, isFolder, joined, ofMember, worksIn } from './folders';
import { arrangedFile } from './arrange';
import { keepSources, sourcesIn } from './sources';
import { documentOf, fileDocument } from './state';

/** How many entries are handed out at once. */
const HISTORY_PAGE = 300;

/** What came of a save. */
interface Outcome {
  revision: number;
  others: LoggedEntry[];
  /** The version that was set aside because others had changed the same. */
  version?: string;
}

const toJson = ({ seq, entry, createdAt }: LogEntry): LoggedEntry => ({ ...entry, seq, at: createdAt.toISOString() });

/** An entry of a folder's work, with the names that its items have in the folder. */
const inFolder = (row: LogEntry): LoggedEntry => ({
  ...toJson(row),
  operations: asFolder(row.workId, row.entry.operations),
  inverse: asFolder(row.workId, row.entry.inverse),
});

/** What was done to a work, or to the works of a folder: the latest, or those before another. */
export async function readLog(work: Work, before?: number): Promise<{ entries: LoggedEntry[]; more: boolean }> {
  const folder = isFolder(work);
  const rows = await LogEntry.findAll({
    where: {
      workId: folder ? [...(work.opened.members ?? [])] : work.id,
      ...(before !== undefined && { seq: { [Op.lt]: before } }),
    },
    order: [['seq', 'DESC']],
    limit: HISTORY_PAGE + 1,
  });
  const page = rows.slice(0, HISTORY_PAGE).reverse();
  const entries = page.map(folder ? inFolder : toJson).filter((e) => e.operations.length > 0);
  return { entries, more: rows.length > HISTORY_PAGE };
}

/**
 * Saves what was done from the revision `base` on. It joins what others did since, where that is about other items or other
 * properties; otherwise nothing is saved but a version beside the work.
 * @throws GableError `stale-revision` with the version, `no-such-item`, `bad-operation`, `missing-picture`
 */
export async function saveEntries(
  context: AppContext,
  id: string,
  { base, entries, over = false }: SaveEntries,
): Promise<Pick<Outcome, 'revision' | 'others'>> {
  entries.forEach(refuseStructure);
  const { version, ...outcome } = await context.sequelize.transaction(async (transaction): Promise<Outcome> => {
    const row = await Work.findByPk(id, { transaction, lock: true, rejectOnEmpty: true });
    const members = isFolder(row) ? await worksIn(row, transaction) : null;
    const now = members ? joined(row, members) : row;
    const since = await loggedSince(now, members, base, transaction);
    // A save whose answer was lost is sent again: what is there already is not done twice.
    const known = new Set(since.map((e) => e.id));
    const fresh = entries.filter((e) => !known.has(e.id));
    const sent = new Set(entries.map((e) => e.id));
    const others = since.filter((e) => !sent.has(e.id));
    const operations = fresh.flatMap((e) => e.operations);
    const disagree =
      base > now.revision ||
      conflict(
        operations,
        others.flatMap((e) => e.operations),
      );
    if (disagree && !over) {
      await keepSources(context, now.id, sourcesIn(fresh), transaction);
      const mine = await setAside(now, 'stale', base, withoutOthers(documentOf(now), others, operations), transaction);
      return { revision: now.revision, others: [], version: mine };
    }
    if (disagree) await setAside(now, 'replaced', now.revision, documentOf(now), transaction);
    if (!members) await append(context, now, fresh, transaction);
    else {
      if (operations.some(isStructural))
        throw new GableError('bad-operation', 'In a folder nothing can be put in.', 'Open the file by itself.');
      refuseStrangers(members, operations);
      for (const member of members) await append(context, member, ofMember(member.id, fresh), transaction);
      await row.update({ updatedAt: new Date() }, { transaction });
    }
    return { revision: members ? joined(row, members).revision : now.revision, others };
  });
  if (version !== undefined)
    throw new GableError(
      'stale-revision',
      'This work was changed in another window.',
      'Your version is kept. Choose which one to go on with.',
      { revision: outcome.revision, version },
    );
  return outcome;
}

/** What was logged after a revision. Each entry of a work is one revision; that of a folder is the sum of its works'. */
async function loggedSince(
  work: Work,
  members: readonly Work[] | null,
  base: number,
  transaction: Transaction,
): Promise<LoggedEntry[]> {
  const count = work.revision - base;
  if (count <= 0) return [];
  if (!members) {
    const where = { workId: work.id, revision: { [Op.gt]: base } };
    return (await LogEntry.findAll({ where, order: [['seq', 'ASC']], transaction })).map(toJson);
  }
  const where = { workId: members.map((m) => m.id) };
  const rows = await LogEntry.findAll({ where, order: [['seq', 'DESC']], limit: count, transaction });
  return rows.reverse().map(inFolder);
}

/** The state that a window saw which did not know what others did. */
function withoutOthers(now: Document, others: readonly LoggedEntry[], mine: readonly Operation[]): Document {
  const back = others.toReversed().flatMap((e) => e.inverse);
  return applyAll(applyAll(now, back).document, mine).document;
}

async function setAside(
  work: Work,
  reason: WorkVersion['reason'],
  revision: number,
  document: Document,
  transaction: Transaction,
): Promise<string> {
  const changes = changesFrom(fileDocument(work), document, ordersOwn(work));
  return (await WorkVersion.create({ workId: work.id, reason, revision, changes }, { transaction })).id;
}

/**
 * Applies entries to a work and logs them, each as a revision of its own.
 * @param work locked
 * @returns how many there were
 */
export async function append(
  context: AppContext,
  work: Work,
  entries: readonly NewEntry[],
  transaction: Transaction,
): Promise<number> {
  if (entries.length === 0) return 0;
  await keepSources(context, work.id, sourcesIn(entries), transaction);
  const before = readChanges(work.changes);
  let document = withChanges(fileDocument(work), before);
  const arranges = fileCan(work)?.arrange === true;
  const rows = entries.map((entry, i) => {
    if (!arranges && entry.operations.some((o) => isReorder(o, document)))
      throw new GableError('bad-operation', 'What this kind of file has cannot be put into another order.', 'Undo it.');
    const { document: next, inverse } = applyAll(document, entry.operations);
    document = next;
    const operations = entry.operations.map((o) => asApplied(o, next));
    return {
      workId: work.id,
      revision: work.revision + i + 1,
      entry: { ...entry, operations, inverse } satisfies Entry,
    };
  });
  // What is tied is stored where it stands: it stays there when what it followed is gone.
  document = resolveTies(document);
  const operations = entries.flatMap((e) => e.operations);
  const ids = new Set([
    ...Object.keys(document.items).filter(isAdded),
    ...groupsOtherwise(before.items, { from: fileDocument(work), to: document }),
    ...operations.flatMap((o) => (o.op === 'add' ? [o.item.id] : 'id' in o && !isOfPage(o) ? [o.id] : [])),
  ]);
  const came = fileDocument(work);
  // What comes back, with its page or by itself, is whatever was there.
  const backs = operations.some((o) =>
    o.op === 'page-add' ? !o.like : o.op === 'add' && !isAdded(o.item.id) && !isPictureItem(o.item),
  );
  for (const id of ids) {
    const item = document.items[id];
    if (!item || isPictureItem(item) || (item.kind === 'group' && ordersOwn(work))) continue;
    if (looksOtherwise(item, came.items[id], operations) && restyles(work)) continue;
    if (isAdded(id) && takesAround(work) && standsRight(item, document)) continue;
    if (backs && item.kind === 'framed' && restyles(work)) continue;
    if (!backs)
      throw new GableError('bad-operation', 'Only frames with a picture can be saved yet.', 'Undo it.', { id });
    ids.delete(id);
  }
  const structural = operations.filter(isStructural).map((o) => outOfMade(o, document));
  const was = work.sha256;
  const arranged = structural.length > 0 ? await arrangedFile(context, work, structural, transaction) : null;
  const file = fileDocument(arranged ?? work);
  // What comes back with its page has its own looks again, as far as that is there.
  if (arranged)
    for (const id of ids) {
      const [item, now] = [document.items[id], file.items[id]];
      if (item && !isPictureItem(item) && !isAdded(id) && !looksOtherwise(item, now, [])) ids.delete(id);
    }
  const next = arranged ? asPut(document, file, structural) : document;
  const changes = changed(file, next, { before, ids, own: ordersOwn(work) });
  await LogEntry.bulkCreate(rows, { transaction });
  await work.update({ ...arranged, changes, revision: work.revision + entries.length }, { transaction });
  // A file between the one that came and that of now is needed no more.
  if (was !== null && was !== work.sha256 && was !== work.origin?.sha256)
    await context.blobs.letGo(was, { kind: 'work', id: work.id }, transaction);
  return entries.length;
}

/** Does its place count as places do where it stands: beside a text, on a web page, or on a page or a sheet? */
const standsRight = ({ at }: Item, { flows, items }: Document): boolean => {
  if (!flows) return at.on === 'page' || at.on === 'group' || at.on === 'cells';
  if (at.on !== 'anchor' && at.on !== 'element') return false;
  return (at.on === 'element') === (items[at.beside ?? '']?.at.on === 'element');
};

/** Does something of the file only look otherwise: are its words the same, where they are not Gable's own, and nothing else of it changed? */
function looksOtherwise(item: Item, was: Item | undefined, operations: readonly Operation[]): boolean {
  if (item.kind !== 'framed' || was?.kind !== 'framed' || isPictureItem(was)) return false;
  const own = operations.flatMap((o) => (o.op === 'set' && o.id === item.id ? [o] : []));
  const words = (of: Text | null): unknown => of?.paragraphs.map((p) => p.runs.map((r) => r.text));
  const isTie = (path: string): boolean => /^tie(\.|$)/.test(path);
  return (
    own.every(({ path }) => isLook(path) || isTie(path) || path === 'locked') &&
    (was.tie !== undefined || equal(words(was.text), words(item.text)))
  );
}

/** What comes back into a group that was made here comes back to its page in the file, which does not have that. */
function outOfMade(operation: Structural, { pages, items }: Document): Structural {
  if (operation.op !== 'add' || !('group' in operation.slot.in)) return operation;
  const { group } = operation.slot.in;
  const page = pages.find((p) => p.items.includes(group));
  if (!page || !isAdded(group)) return operation;
  const before = page.items.slice(0, page.items.indexOf(group)).filter((id) => !isAdded(id) && items[id]);
  const { at } = operation.item;
  const item = { ...operation.item, at: at.on === 'cells' ? at : { on: 'page', box: at.box } } as Item;
  return { ...operation, item, slot: { in: { page: page.id }, index: before.length } };
}

/** Groups of a file that hold others than they did, and those that did before. */
const groupsOtherwise = (before: Changes['items'], { from, to }: { from: Document; to: Document }): string[] =>
  Object.values(from.items).flatMap(({ id, kind }) =>
    kind === 'group' && (before[id] || !equal(from.items[id], to.items[id])) ? [id] : [],
  );

const restyles = (work: Work): boolean => restylesShapes(fileCan(work)?.restyles ?? null);

/** Does something of the file come to another height, and neither into a group nor out of one? */
const isReorder = (o: Operation, document: Document): boolean =>
  o.op === 'move' && !isAdded(o.id) && !('group' in o.slot.in) && !groupsRound(document).get(o.id)?.length;

/** What a file of this kind can do; null where there is none. */
const fileCan = ({ opened: { format } }: Work): (typeof CAPABILITIES)['docx'] | null =>
  format !== 'pictures' && format !== 'folder' ? CAPABILITIES[format] : null;

const ordersOwn = (work: Work): boolean => fileCan(work)?.groups === true;

const takesAround = (work: Work): boolean => fileCan(work) !== null;

const isOfPage = ({ op }: Operation): boolean => op.startsWith('page-');

/** The document with new pictures as they stand in the file that they were put into, plain. */
function asPut(document: Document, file: Document, operations: readonly Structural[]): Document {
  const items = { ...document.items };
  for (const operation of operations) {
    if (operation.op !== 'add') continue;
    const { id } = operation.item;
    const [item, put] = [items[id], file.items[id]];
    if (!item || !put || !isPictureItem(item) || !isPictureItem(put)) continue;
    // A plain one is as the file has it, as finely as that can say it; one stored on its side lies there so.
    const lies = item.fill.source.from === 'kept' && item.fill.source.orientation > 1;
    items[id] =
      isPlain(item) && !lies && item.alt === put.alt
        ? { ...put, at: besideWords(item.at, put.at) }
        : {
            ...item,
            at: placeAsPut(item.at, put.at, saysWhere(operation.item.at)),
            fill: { ...item.fill, source: put.fill.source },
          };
  }
  return { ...document, items };
}

/**
 * Where an item stands that came into its file: on a page, and where it comes back, as it was moved and sized, elsewhere as the
 * file says it.
 * @param fresh was it put there, and did not come back?
 */
function placeAsPut(at: Position, put: Position, fresh: boolean): Position {
  if (liesOnPage(at) && liesOnPage(put)) return { on: at.on, box: at.box };
  if (fresh && at.on === 'anchor') return besideWords(at, put);
  if (fresh || (at.on !== put.on && (put.on === 'cells' || put.on === 'element'))) return put;
  const { width, height } = at.box;
  const moved: Position =
    at.on === 'anchor'
      ? { on: 'anchor', box: at.box, ...((at.anchor ?? anchorOf(put)) && { anchor: at.anchor ?? anchorOf(put) }) }
      : at.on === 'cells'
        ? { ...put, box: at.box }
        : ({ ...put, on: at.on, box: { ...put.box, width, height } } as Position);
  return equal(moved, put, AS_WRITTEN) ? put : moved;
}
const liesOnPage = (at: Position): at is Extract<Position, { on: 'page' | 'group' }> =>
  at.on === 'page' || at.on === 'group';
/** Beside one that goes with another paragraph than in its file, it goes with that, too; in a group or out of it, it is there. */
const besideWords = (at: Position, put: Position): Position =>
  liesOnPage(at) && liesOnPage(put)
    ? { on: at.on, box: put.box }
    : at.on === 'anchor' && put.on === 'anchor' && at.paragraph
      ? { ...put, paragraph: at.paragraph }
      : put;
const anchorOf = (at: Position): Anchor | undefined => (at.on === 'anchor' ? at.anchor : undefined);
/** Files write lengths in steps: nothing nearer than this has been moved. */
const AS_WRITTEN = 1e-4;

/** A setting as it was applied: with all taken out that a text may not hold, or that the model does not know. */
function asApplied(operation: Operation, { items }: Document): Operation {
  if (operation.op !== 'set') return operation;
  const { op, id, path } = operation;
  const value = valueAt(items[id]!, path);
  return value === undefined ? { op, id, path } : { op, id, path, value };
}

/** Changes of a work, with these items anew: one that is as the file has it is no change. @param own as in `ordersFrom` */
function changed(
  file: Document,
  document: Document,
  { before: { version, items }, ids, own }: { before: Changes; ids: Iterable<string>; own: boolean },
): Changes {
  const orders = ordersFrom(file, document, own);
  const next: Record<string, Item> = { ...items };
  for (const id of ids) {
    const item = document.items[id];
    if (!item || equal(item, file.items[id])) delete next[id];
    else next[id] = item;
  }
  // What lay on a page that is gone.
  for (const id of Object.keys(next)) if (!document.items[id]) delete next[id];
  return { version, items: next, orders, ...groundsFrom(file, document) };
}

const isGround = (o: Operation): boolean => o.op === 'page-set' && /^ground(\.|$)/.test(o.path);

/** Frames are set, grounds are, pictures, pages and what is added come and go, and move up and down; nothing else so far. */
function refuseStructure({ operations }: NewEntry): void {
  const other = operations.find(
    (o) => o.op !== 'set' && o.op !== 'move' && !isStructural(o) && !isOfAdded(o) && !isGround(o),
  );
  if (other)
    throw new GableError('bad-operation', `“${other.op}” cannot be saved yet.`, 'Change what is there.', {
      op: other.op,
    });
}

/** @throws GableError `no-such-item` for what is in none of a folder's works */
function refuseStrangers(members: readonly Work[], operations: readonly Operation[]): void {
  const ids = new Set(members.map((m) => m.id));
  const stranger = operations.find((o) => !ids.has(inMember((o as { id: string }).id)));
  if (stranger)
    throw new GableError('no-such-item', 'This picture is not in any file of the folder.', 'Reload the page.', {
      id: (stranger as { id: string }).id,
    });
}
