import { PictureNameSchema, RenameSchema, type MadeShape, type OwnShape } from '@gable/contract';
import { json, Router } from 'express';
import type { AppContext } from '../context';
import { byId } from '../db/by-id';
import { Silhouette } from '../db/models';
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
    const { shape, textLeftOut } = await context.tasks
      .run('silhouette', { file, name })
      .finally(() => context.spool.remove(file));
    const path = shape.drawn!.path;
    const known = await Silhouette.findOne({ where: { shape: { drawn: { path } } }, order: [['createdAt', 'DESC']] });
    const kept = known ?? (await Silhouette.create({ name: name.replace(/\.\w+$/, ''), shape }));
    const made: MadeShape = { ...shown(kept), isNew: known === null, textLeftOut };
    res.json(made);
  });

  router.patch('/:id', json(), async (req, res) => {
    const { name } = RenameSchema.parse(req.body);
    res.json(shown(await (await byId(Silhouette, req.params.id, 'silhouette')).update({ name })));
  });

  router.delete('/:id', async (req, res) => {
    await (await byId(Silhouette, req.params.id, 'silhouette')).destroy();
    res.status(204).end();
  });

  return router;
}
