import type { KeptPalette } from '@gable/contract';
import { PaletteSchema } from '@gable/core';
import { json, Router } from 'express';
import { byId } from '../db/by-id';
import { Palette } from '../db/models';

const shown = ({ id, palette }: Palette): KeptPalette => ({ id, ...palette });

/** `/api/palettes`: colours of one's own, under names. */
export function palettesRouter(): Router {
  const router = Router();

  router.get('/', async (_req, res) => {
    const all = await Palette.findAll({ order: [['createdAt', 'ASC']] });
    res.json({ palettes: all.map(shown) });
  });

  router.post('/', json(), async (req, res) => {
    const made = await Palette.create({ palette: PaletteSchema.parse(req.body) });
    res.status(201).location(`/api/palettes/${made.id}`).json(shown(made));
  });

  router.put('/:id', json(), async (req, res) => {
    const palette = await byId(Palette, req.params.id, 'palette');
    res.json(shown(await palette.update({ palette: PaletteSchema.parse(req.body) })));
  });

  router.delete('/:id', async (req, res) => {
    await (await byId(Palette, req.params.id, 'palette')).destroy();
    res.status(204).end();
  });

  return router;
}
