import { GableError } from '@gable/core';
import { proxy } from '@gable/cli/render';
import { silhouetteFrom } from '@gable/cli/shapes';
import { LIMITS, readHeader } from '@gable/formats';
import { raw, Router } from 'express';
import { Op } from 'sequelize';
import { z } from 'zod';
import { Picture, Silhouette } from '../db/models';
import { notFound } from '../problems';
import { copies } from './copies';
import type { House } from './works';

const Name = z.string().trim().min(1).max(255).default('Picture');
const FOREVER = 'private, max-age=31536000, immutable';
/** A picture larger than this is refused before it is read. */
const PICTURE_BYTES = 100 * 1024 * 1024;
const SILHOUETTE_BYTES = 20 * 1024 * 1024;

const told = (p: Picture): object => ({
  sha256: p.sha256,
  name: p.name,
  kind: p.kind,
  type: p.type,
  size: { width: p.width, height: p.height },
  orientation: p.orientation,
});

/** Keeps a picture's bytes, once for each content. @throws GableError for what is no picture, or too large a one */
export async function keepPicture(
  house: House,
  bytes: Buffer,
  name: string,
  kind: 'own' | 'stock' = 'own',
  words = '',
): Promise<Picture> {
  const header = readHeader(bytes);
  if (!header?.pixels || !header.drawable)
    throw new GableError(
      'not-a-picture',
      header ? `Gable cannot show ${header.type.toUpperCase()} pictures.` : `“${name}” is not a picture.`,
      'Choose a JPEG, PNG, WebP, AVIF, GIF, TIFF or SVG.',
    );
  const megapixels = (header.pixels.width * header.pixels.height) / 1e6;
  if (megapixels > LIMITS.megapixels)
    throw new GableError(
      'too-many-pixels',
      `“${name}” has ${Math.round(megapixels)} megapixels; Gable takes ${LIMITS.megapixels}.`,
      'Make the picture smaller first.',
    );
  // Read whole once: a damaged picture is refused now, not when it is needed.
  await proxy(bytes, 64);
  return house.sequelize.transaction(async (transaction) => {
    const sha256 = await house.blobs.put(bytes, transaction);
    const fields = {
      name,
      words,
      type: header.type,
      width: Math.round(header.pixels!.width),
      height: Math.round(header.pixels!.height),
      orientation: header.orientation,
      usedAt: new Date(),
    };
    const [picture, created] = await Picture.findOrCreate({
      where: { sha256 },
      defaults: { sha256, kind, ...fields },
      transaction,
    });
    if (!created) {
      const shown = picture.kind === 'hidden' ? { kind, name } : {};
      await picture.update({ usedAt: new Date(), ...shown }, { transaction });
    }
    return picture;
  });
}

/** `/api/pictures`: the stock, and the author's earlier pictures, found by word. */
export function libraryRouter(house: House): Router {
  const router = Router();

  router.post('/', raw({ type: () => true, limit: PICTURE_BYTES }), async (req, res) => {
    const bytes = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
    const picture = await keepPicture(house, bytes, Name.parse(req.query['name']));
    res.status(201).json(told(picture));
  });

  router.get('/', async (req, res) => {
    const { q } = z.object({ q: z.string().max(200).default('') }).parse(req.query);
    // Every word must be found, in the name or among the words it is known by.
    const words = q.split(/\s+/).filter(Boolean);
    const pictures = await Picture.findAll({
      where: {
        kind: { [Op.ne]: 'hidden' },
        [Op.and]: words.map((w) => {
          const like = { [Op.iLike]: `%${w.replace(/[\\%_]/g, '\\$&')}%` };
          return { [Op.or]: [{ name: like }, { words: like }] };
        }),
      },
      order: [
        ['kind', 'ASC'],
        ['usedAt', 'DESC'],
        ['name', 'ASC'],
      ],
      limit: 200,
    });
    res.json({ pictures: pictures.map(told) });
  });

  router.get('/:sha256/proxy', async (req, res) => {
    const { side } = z.object({ side: z.coerce.number().int().min(16).max(2048).default(2048) }).parse(req.query);
    const picture = await findPicture(req.params.sha256);
    const name = `${picture.sha256}/${side}`;
    const made = await copies.get(name, async () => proxy(await house.blobs.readAll(picture.sha256), side));
    res.type(made.type).set('Cache-Control', FOREVER).send(made.data);
  });

  router.delete('/:sha256', async (req, res) => {
    const picture = await findPicture(req.params.sha256);
    await picture.update({ kind: 'hidden' });
    res.status(204).end();
  });

  return router;
}

async function findPicture(sha256: string): Promise<Picture> {
  const picture = /^[0-9a-f]{64}$/.test(sha256) ? await Picture.findByPk(sha256) : null;
  if (!picture) throw notFound('picture');
  return picture;
}

/** `/api/silhouettes`: shapes made from the author's own drawings, kept for later. */
export function silhouettesRouter(): Router {
  const router = Router();
  const shown = ({ id, name, shape }: Silhouette): object => ({ id, name, shape });

  router.get('/', async (_req, res) => {
    const all = await Silhouette.findAll({ order: [['createdAt', 'DESC']] });
    res.json({ silhouettes: all.map(shown) });
  });

  router.post('/', raw({ type: () => true, limit: SILHOUETTE_BYTES }), async (req, res) => {
    const bytes = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
    const name = Name.parse(req.query['name']);
    const shape = await silhouetteFrom(bytes, name);
    res.status(201).json(shown(await Silhouette.create({ name: name.replace(/\.\w+$/, ''), shape })));
  });

  router.delete('/:id', async (req, res) => {
    const id = z.uuid().safeParse(req.params.id);
    if (!id.success || (await Silhouette.destroy({ where: { id: id.data } })) === 0) throw notFound('silhouette');
    res.status(204).end();
  });

  return router;
}
