import type { KeptFont } from '@gable/contract';
import { Router } from 'express';
import type { AppContext } from '../context';
import { byId } from '../db/by-id';
import { Font } from '../db/models';
import { receive } from '../http/receive';
import { keepFont } from './fonts';

const FONT_BYTES = 20 * 1024 * 1024;

const shown = ({ id, facts }: Font): KeptFont => ({ id, ...facts });

/** `/api/fonts`: fonts of one's own, for words and letters. */
export function fontsRouter(context: AppContext): Router {
  const { blobs, sequelize, spool } = context;
  const router = Router();

  router.get('/', async (_req, res) => {
    const all = await Font.findAll({ order: [['createdAt', 'ASC']] });
    res.json({ fonts: all.map(shown) });
  });

  router.post('/', async (req, res) => {
    const file = await receive(req, spool, FONT_BYTES, 'fonts can have 20 MB');
    const kept = await keepFont(context, file).finally(() => spool.remove(file));
    res.json(shown(kept));
  });

  router.get('/:id/file', async (req, res) => {
    const { sha256 } = await byId(Font, req.params.id, 'font');
    res
      .type('font/sfnt')
      .set('Cache-Control', 'private, max-age=31536000, immutable')
      .send(await blobs.readAll(sha256));
  });

  router.delete('/:id', async (req, res) => {
    const font = await byId(Font, req.params.id, 'font');
    await sequelize.transaction(async (transaction) => {
      await font.destroy({ transaction });
      await blobs.release('font', [font.id], transaction);
    });
    res.status(204).end();
  });

  return router;
}
