import { Router } from 'express';
import type { AppContext } from '../context';
import { notFound } from '../http/problems';
import { sendVideo } from '../http/ranged';

/** `/api/videos`: kept videos, in parts as players ask for them. */
export function videosRouter({ blobs }: AppContext): Router {
  const router = Router();

  router.get('/:sha256', async (req, res) => {
    const { sha256 } = req.params;
    const { size } = await blobs.ref(sha256).catch(() => {
      throw notFound('video');
    });
    await sendVideo(req, res, { size, read: (from, to) => blobs.read(sha256, from, to) });
  });

  return router;
}
