import { ChangeFinishSchema, FinishIdSchema, NewFinishSchema, type KeptFinish } from '@gable/contract';
import { changesOf, FINISHES, itemIdOf, layFinish, wears, withFrame, type Finish, type PictureItem } from '@gable/core';
import { json, Router } from 'express';
import { randomUUID } from 'node:crypto';
import { QueryTypes } from 'sequelize';
import { OwnFinish, Work } from '../db/models';
import { notFound } from '../http/problems';
import type { AppContext } from '../context';
import { isFolder } from '../works/folders';
import { append } from '../works/log';
import { findWork } from '../works/find';
import { changedFrames } from '../works/state';

const shippedOf = (id: string): Finish | undefined => FINISHES.find((f) => f.id === id)?.finish;

/** All finishes: those that ship, as they are by now, then one's own by name. A shipped one that was removed stays away. */
async function all(): Promise<KeptFinish[]> {
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

async function find(id: string): Promise<KeptFinish> {
  const found = (await all()).find((f) => f.id === id);
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
      const operations = [...changedFrames(work).values()]
        .filter((f) => f.finish === id && wears(f, was))
        .flatMap((frame) => {
          const { size, ...picture } = work.opened.pictures[frame.n - 1]!;
          const item = work.changes.items[itemIdOf(picture)] as PictureItem;
          const laid = layFinish(frame, now, { picture: frame.source?.size ?? size });
          return changesOf(item, withFrame(item, { ...laid, finish: id }, size));
        });
      if (operations.length === 0) return;
      const entry = { id: randomUUID(), name: `${now.name} followed`, operations };
      count += await append(context, work, [entry], transaction);
    });
  return count;
}

/** The open work; of a folder, its works. */
async function openOnes(id: string | undefined): Promise<string[]> {
  if (!id) return [];
  const work = await findWork(id);
  return isFolder(work) ? [...(work.opened.members ?? [])] : [id];
}

/** `/api/finishes`: what frames have, under names, to lay on others. */
export function finishesRouter(context: AppContext): Router {
  const router = Router();

  router.get('/', async (_req, res) => {
    res.json({ finishes: await all() });
  });

  router.post('/', json({ limit: '1mb' }), async (req, res) => {
    const { finish } = NewFinishSchema.parse(req.body);
    const taken = new Set([...FINISHES.map((f) => f.id), ...(await OwnFinish.findAll()).map((r) => r.id)]);
    const id = freshId(finish.name, taken);
    await OwnFinish.create({ id, finish });
    res
      .status(201)
      .location(`/api/finishes/${id}`)
      .json({ id, finish, shipped: false } satisfies KeptFinish);
  });

  router.put('/:id', json({ limit: '1mb' }), async (req, res) => {
    const { finish, open } = ChangeFinishSchema.parse(req.body);
    const now = await find(FinishIdSchema.catch('').parse(req.params.id));
    const except = await openOnes(open);
    await OwnFinish.upsert({ id: now.id, finish });
    const followed = await follow(context, now.id, now.finish, finish, except);
    res.json({ ...now, finish, followed });
  });

  router.delete('/:id', async (req, res) => {
    const now = await find(FinishIdSchema.catch('').parse(req.params.id));
    if (now.shipped) await OwnFinish.upsert({ id: now.id, finish: null });
    else await OwnFinish.destroy({ where: { id: now.id } });
    res.status(204).end();
  });

  /** The shipped ones as they came; one's own stay. */
  router.post('/shipped', async (_req, res) => {
    await OwnFinish.destroy({ where: { id: FINISHES.map((f) => f.id) } });
    res.json({ finishes: await all() });
  });

  return router;
}
