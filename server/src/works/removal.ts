import { Op, QueryTypes } from 'sequelize';
import { z } from 'zod';
import type { AppContext } from '../context';
import { Job, Work, WorkVersion } from '../db/models';
import { leaveFolders, rejoinFolders } from './folders';
import { notFound } from '../http/problems';

/** How long a removed work can be brought back, in milliseconds. */
export const REGRET = 10 * 60_000;
/** Versions that a conflict set aside are kept so long, and no more of them a work. */
export const VERSION_DAYS = 30;
export const VERSIONS = 100;

const isId = (id: string): boolean => z.uuid().safeParse(id).success;

/** Takes a work from the shelf, and out of its folders; it can be brought back for ten minutes. @throws GableError `not-found` */
export async function removeWork(context: AppContext, id: string): Promise<void> {
  if (!isId(id)) throw notFound('work');
  await context.sequelize.transaction(async (transaction) => {
    const wasIn = await leaveFolders(id, transaction);
    const [count] = await Work.update({ deletedAt: new Date(), wasIn }, { where: { id }, silent: true, transaction });
    if (count === 0) throw notFound('work');
  });
}

/** @throws GableError `not-found` when it is gone for good */
export async function restoreWork(context: AppContext, id: string): Promise<void> {
  const deletedAt = { [Op.gt]: new Date(Date.now() - REGRET) };
  await context.sequelize.transaction(async (transaction) => {
    const where = { id, deletedAt };
    const attributes = ['id', 'wasIn'];
    const work = isId(id) && (await Work.unscoped().findOne({ attributes, where, transaction, lock: true }));
    if (!work) throw notFound('work');
    await Work.unscoped().update({ deletedAt: null, wasIn: [] }, { where: { id }, silent: true, transaction });
    await rejoinFolders(id, work.wasIn, transaction);
  });
}

/**
 * Removes for good what may no longer be brought back: works with their files, entries, jobs and pictures that nothing else
 * needs; old versions; library pictures that were removed and that no work shows any more.
 * @param now the time that counts, in milliseconds
 */
export async function sweep(context: AppContext, now = Date.now()): Promise<void> {
  for (;;) {
    const gone = await Work.unscoped().findAll({
      attributes: ['id'],
      where: { deletedAt: { [Op.lte]: new Date(now - REGRET) } },
      limit: 200,
    });
    const ids = gone.map((w) => w.id);
    if (ids.length === 0) break;
    await context.sequelize.transaction(async (transaction) => {
      const jobs = await Job.findAll({ attributes: ['id'], where: { workId: ids }, transaction });
      await Work.unscoped().destroy({ where: { id: ids }, transaction });
      await context.blobs.release(
        'job',
        jobs.map((e) => e.id),
        transaction,
      );
      await context.blobs.release('work', ids, transaction);
    });
  }
  await WorkVersion.destroy({ where: { createdAt: { [Op.lt]: new Date(now - VERSION_DAYS * 24 * 3600_000) } } });
  await context.sequelize.query(
    `DELETE FROM work_versions WHERE id IN (
       SELECT id FROM (SELECT id, row_number() OVER (PARTITION BY work_id ORDER BY created_at DESC) AS place
       FROM work_versions) placed WHERE place > $1)`,
    { bind: [VERSIONS], type: QueryTypes.DELETE },
  );
}
