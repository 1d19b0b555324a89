import type { KeptPalette } from '@gable/contract';
import { PaletteSchema } from '@gable/core';
import { json, Router } from 'express';
import { z } from 'zod';
import { Palette } from '../db/models';
import { notFound } from '../http/problems';

const shown = ({ id, palette }: Palette): KeptPalette => ({ id, ...palette });

async function find(id: string | undefined): Promise<Palette> {
  const known = z.uuid().safeParse(id);
  const found = known.success ? await Palette.findByPk(known.data) : null;
  if (!found) throw notFound('palette');
  return found;
}

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
    const palette = await find(req.params.id);
    res.json(shown(await palette.update({ palette: PaletteSchema.parse(req.body) })));
  });

  router.delete('/:id', async (req, res) => {
    await (await find(req.params.id)).destroy();
    res.status(204).end();
  });

  return router;
}
