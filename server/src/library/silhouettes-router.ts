import { PictureNameSchema, type OwnShape } from '@gable/contract';
import { Router } from 'express';
import { z } from 'zod';
import type { AppContext } from '../context';
import { Silhouette } from '../db/models';
import { notFound } from '../http/problems';
import { receive } from '../http/receive';

const SILHOUETTE_BYTES = 20 * 1024 * 1024;

/** `/api/silhouettes`: shapes made from the author's own drawings, kept for later. */
export function silhouettesRouter(context: AppContext): Router {
  const router = Router();
  const shown = ({ id, name, shape }: Silhouette): OwnShape => ({ id, name, shape });

  router.get('/', async (_req, res) => {
    const all = await Silhouette.findAll({ order: [['createdAt', 'DESC']] });
    res.json({ silhouettes: all.map(shown) });
  });

  router.post('/', async (req, res) => {
    const name = PictureNameSchema.parse(req.query['name']);
    const file = await receive(req, context.spool, SILHOUETTE_BYTES, 'silhouettes can have 20 MB');
    const shape = await context.tasks.run('silhouette', { file, name }).finally(() => context.spool.remove(file));
    res.status(201).json(shown(await Silhouette.create({ name: name.replace(/\.\w+$/, ''), shape })));
  });

  router.delete('/:id', async (req, res) => {
    const id = z.uuid().safeParse(req.params.id);
    if (!id.success || (await Silhouette.destroy({ where: { id: id.data } })) === 0) throw notFound('silhouette');
    res.status(204).end();
  });

  return router;
}
