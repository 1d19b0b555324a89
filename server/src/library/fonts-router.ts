import type { KeptFont } from '@gable/contract';
import { Router } from 'express';
import type { AppContext } from '../context';
import { byId } from '../db/by-id';
import { Font } from '../db/models';
import { receive } from '../http/receive';

const FONT_BYTES = 20 * 1024 * 1024;

const shown = ({ id, facts }: Font): KeptFont => ({ id, ...facts });

/** `/api/fonts`: fonts of one's own, for words and letters. */
export function fontsRouter({ blobs, sequelize, spool, tasks }: AppContext): Router {
  const router = Router();

  router.get('/', async (_req, res) => {
    const all = await Font.findAll({ order: [['createdAt', 'ASC']] });
    res.json({ fonts: all.map(shown) });
  });

  router.post('/', async (req, res) => {
    const file = await receive(req, spool, FONT_BYTES, 'fonts can have 20 MB');
    const { facts, made } = await tasks.run('keepFont', { file }).finally(() => spool.remove(file));
    try {
      const kept = await sequelize.transaction(async (transaction) => {
        const { sha256 } = made;
        const known = await Font.findOne({ where: { sha256 }, transaction });
        if (known) return known;
        const font = Font.build({ sha256, facts });
        const bytes = { ...made, pieces: spool.pieces(made, 1024 * 1024) };
        await blobs.put(bytes, { kind: 'font', id: font.id }, transaction);
        return font.save({ transaction });
      });
      res.json(shown(kept));
    } finally {
      await spool.remove(made);
    }
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
