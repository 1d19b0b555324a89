import { openapi } from '@gable/contract/openapi';
import { Router } from 'express';

/** `/api/openapi.json`: what the server answers. */
export function openapiRouter(): Router {
  const router = Router();
  router.get('/', (_req, res) => {
    res.json(openapi);
  });
  return router;
}
