import type { KeptFinish } from '@gable/contract';
import {
  addedId,
  applyAll,
  changesOf,
  FINISHES,
  itemIdOf,
  layAround,
  layFinish,
  resolveTies,
  takesPieces,
  wears,
  wearsAround,
  withFrame,
  type Finish,
  type Operation,
  type PictureItem,
} from '@gable/core';
import { randomUUID } from 'node:crypto';
import { QueryTypes } from 'sequelize';
import type { AppContext } from '../context';
import { OwnFinish, Work } from '../db/models';
import { notFound } from '../http/problems';
import { findWork } from '../works/find';
import { isFolder } from '../works/folders';
import { append } from '../works/log';
import { changedFrames, documentOf } from '../works/state';

const shippedOf = (id: string): Finish | undefined => FINISHES.find((f) => f.id === id)?.finish;

/** All finishes: those that ship, as they were changed, then one's own by name. A shipped one that was removed stays away. */
export async function allFinishes(): Promise<KeptFinish[]> {
  const rows = new Map((await OwnFinish.findAll()).map((r) => [r.id, r.finish]));
  const shipped = FINISHES.flatMap(({ id, finish }): KeptFinish[] => {
    const now = rows.has(id) ? rows.get(id)! : finish;
    return now ? [{ id, finish: now, shipped: true }] : [];
  });
  const own = [...rows].flatMap(([id, finish]): KeptFinish[] =>
    finish && !shippedOf(id) ? [{ id, finish, shipped: false }] : [],
  );
  return [...shipped, ...own.sort((a, b) => a.finish.name.localeCompare(b.finish.name))];
}

/** @throws GableError `not-found` */
export async function findFinish(id: string): Promise<KeptFinish> {
  const found = (await allFinishes()).find((f) => f.id === id);
  if (!found) throw notFound('finish');
  return found;
}

/** A name as an id that nobody has yet: `Round portrait` is `round-portrait`. */
function freshId(name: string, taken: ReadonlySet<string>): string {
  const base =
    name
      .normalize('NFKD')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 60) || 'finish';
  for (let i = 1; ; i++) {
    const id = i === 1 ? base : `${base}-${i}`;
    if (!taken.has(id)) return id;
  }
}

/**
 * Frames of works that are not open follow a finish that has changed, while they still have all of what it was.
 * @returns how many works that concerned
 */
async function follow(
  context: AppContext,
  id: string,
  was: Finish,
  now: Finish,
  except: readonly string[],
): Promise<number> {
  const rows = await context.sequelize.query<{ id: string }>(
    `SELECT id FROM works WHERE jsonb_path_exists(changes, '$.items.* ? (@.finish == $$id)', jsonb_build_object('id', $1::text))`,
    { bind: [id], type: QueryTypes.SELECT },
  );
  let count = 0;
  for (const row of rows.filter((r) => !except.includes(r.id)))
    await context.sequelize.transaction(async (transaction) => {
      const work = await Work.findByPk(row.id, { transaction, lock: true, rejectOnEmpty: true });
      const operations = following(work, id, was, now);
      if (operations.length === 0) return;
      const entry = { id: randomUUID(), name: `${now.name} followed`, operations };
      count += await append(context, work, [entry], transaction);
    });
  return count;
}

/** What gives frames of a work that have all of a finish what that is now. */
function following(work: Work, id: string, was: Finish, now: Finish): Operation[] {
  const pictures = new Map(work.opened.pictures.map((p) => [p.n, p]));
  let document = resolveTies(documentOf(work));
  const operations: Operation[] = [];
  for (const frame of changedFrames(work).values()) {
    const { size, ...picture } = pictures.get(frame.n)!;
    const name = itemIdOf(picture);
    if (frame.finish !== id || !wears(frame, was) || !wearsAround(document, name, was.around)) continue;
    const item = document.items[name] as PictureItem;
    const laid = layFinish(frame, now, { picture: frame.source?.size ?? size });
    const own = changesOf(item, withFrame(item, { ...laid, finish: id }, size));
    const framed = resolveTies(applyAll(document, own).document);
    const round = takesPieces(framed, picture.where)
      ? layAround(framed, name, now.around, () => addedId(randomUUID()))
      : [];
    document = resolveTies(applyAll(framed, round).document);
    operations.push(...own, ...round);
  }
  return operations;
}

/** The open work; of a folder, its works. */
async function openOnes(id: string | undefined): Promise<string[]> {
  if (!id) return [];
  const work = await findWork(id);
  return isFolder(work) ? [...(work.opened.members ?? [])] : [id];
}

/** Keeps a finish under a new name. */
export async function createFinish(finish: Finish): Promise<KeptFinish> {
  const taken = new Set([...FINISHES.map((f) => f.id), ...(await OwnFinish.findAll()).map((r) => r.id)]);
  const id = freshId(finish.name, taken);
  await OwnFinish.create({ id, finish });
  return { id, finish, shipped: false };
}

/**
 * Changes a finish; works that wear it follow.
 * @param open a work that is open, which follows by itself; of a folder, its works
 * @returns how many works followed
 */
export async function changeFinish(
  context: AppContext,
  was: KeptFinish,
  finish: Finish,
  open: string | undefined,
): Promise<number> {
  const except = await openOnes(open);
  await OwnFinish.upsert({ id: was.id, finish });
  return follow(context, was.id, was.finish, finish, except);
}

/** Takes a finish away; a shipped one stays away until all are asked for again. */
export async function removeFinish({ id, shipped }: KeptFinish): Promise<void> {
  if (shipped) await OwnFinish.upsert({ id, finish: null });
  else await OwnFinish.destroy({ where: { id } });
}

/** The shipped ones as they came; one's own stay. */
export async function restoreShipped(): Promise<void> {
  await OwnFinish.destroy({ where: { id: FINISHES.map((f) => f.id) } });
}
