import { Router } from 'express';
import type { Sequelize } from 'sequelize';

/** `/api/health`: 200 when the database answers. */
export function healthRouter(sequelize: Sequelize): Router {
  const router = Router();
  router.get('/', async (_req, res) => {
    try {
      await sequelize.query('SELECT 1');
      res.json({ status: 'ok' });
    } catch {
      res.status(503).json({ status: 'database-unreachable' });
    }
  });
  return router;
}
