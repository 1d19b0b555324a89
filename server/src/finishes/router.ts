import { ChangeFinishSchema, FinishIdSchema, NewFinishSchema } from '@gable/contract';
import { json, Router } from 'express';
import type { AppContext } from '../context';
import { allFinishes, changeFinish, createFinish, findFinish, removeFinish, restoreShipped } from './finishes';

/** `/api/finishes`: what frames have, under names, to lay on others. */
export function finishesRouter(context: AppContext): Router {
  const router = Router();

  router.get('/', async (_req, res) => {
    res.json({ finishes: await allFinishes() });
  });

  router.post('/', json({ limit: '1mb' }), async (req, res) => {
    const kept = await createFinish(NewFinishSchema.parse(req.body).finish);
    res.status(201).location(`/api/finishes/${kept.id}`).json(kept);
  });

  router.put('/:id', json({ limit: '1mb' }), async (req, res) => {
    const { finish, open } = ChangeFinishSchema.parse(req.body);
    const was = await findFinish(FinishIdSchema.catch('').parse(req.params.id));
    const followed = await changeFinish(context, was, finish, open);
    res.json({ ...was, finish, followed });
  });

  router.delete('/:id', async (req, res) => {
    await removeFinish(await findFinish(FinishIdSchema.catch('').parse(req.params.id)));
    res.status(204).end();
  });

  router.post('/shipped', async (_req, res) => {
    await restoreShipped();
    res.json({ finishes: await allFinishes() });
  });

  return router;
}
