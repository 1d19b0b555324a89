import {
  LibraryQuerySchema,
  PictureNameSchema,
  ProxyQuerySchema,
  type LibraryPicture,
  type OwnShape,
} from '@gable/contract';
import { Router } from 'express';
import { Op } from 'sequelize';
import { z } from 'zod';
import { Picture, Silhouette } from '../db/models';
import type { AppContext } from '../context';
import { notFound } from '../http/problems';
import { receive } from '../http/receive';
import type { Made } from '../tasks/task';
import { pictureCache } from '../http/picture-cache';

const FOREVER = 'private, max-age=31536000, immutable';
/** A picture larger than this is refused before it is read. */
const PICTURE_BYTES = 100 * 1024 * 1024;
const SILHOUETTE_BYTES = 20 * 1024 * 1024;

/** A hidden one is sent to nobody. */
const toJson = (p: Picture): LibraryPicture => ({
  sha256: p.sha256,
  name: p.name,
  kind: p.kind as LibraryPicture['kind'],
  type: p.type,
  size: { width: p.width, height: p.height },
  orientation: p.orientation,
});

/** Keeps a picture's bytes, once for each content. @throws GableError for what is no picture, or too large a one */
export async function keepPicture(
  context: AppContext,
  file: Made,
  name: string,
  kind: 'own' | 'stock' = 'own',
  words = '',
): Promise<Picture> {
  const facts = await context.tasks.run('keepPicture', { file, name });
  const bytes = { ...file, pieces: context.spool.pieces(file, 1024 * 1024) };
  return context.sequelize.transaction(async (transaction) => {
    const { sha256 } = file;
    await context.blobs.put(bytes, { kind: 'picture', id: sha256 }, transaction);
    const [picture, created] = await Picture.findOrCreate({
      where: { sha256 },
      defaults: { sha256, kind, name, words, ...facts, usedAt: new Date() },
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
export function libraryRouter(context: AppContext): Router {
  const router = Router();

  router.post('/', async (req, res) => {
    const name = PictureNameSchema.parse(req.query['name']);
    const file = await receive(req, context.spool, PICTURE_BYTES, 'pictures can have 100 MB');
    try {
      res.status(201).json(toJson(await keepPicture(context, file, name)));
    } finally {
      await context.spool.remove(file);
    }
  });

  router.get('/', async (req, res) => {
    const { q } = LibraryQuerySchema.parse(req.query);
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
    res.json({ pictures: pictures.map(toJson) });
  });

  router.get('/:sha256/proxy', async (req, res) => {
    const { side } = ProxyQuerySchema.parse(req.query);
    const picture = await findPicture(req.params.sha256);
    const copy = await pictureCache.get(`${picture.sha256}/${side}`, async () => {
      const source = { kept: await context.blobs.ref(picture.sha256) };
      const { type, made } = await context.tasks.run('proxy', { source, side });
      return { type, data: await context.spool.take(made) };
    });
    res.type(copy.type).set('Cache-Control', FOREVER).send(copy.data);
  });

  router.delete('/:sha256', async (req, res) => {
    const picture = await findPicture(req.params.sha256);
    // Works that show it go on showing it; when no work does, it is gone.
    await context.sequelize.transaction(async (transaction) => {
      await picture.update({ kind: 'hidden' }, { transaction });
      await context.blobs.release('picture', [picture.sha256], transaction);
    });
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
    const shape = await context.tasks.run('silhouette', { file, name }).finally(() => context.spool.remove(file));
    res.status(201).json(shown(await Silhouette.create({ name: name.replace(/\.\w+$/, ''), shape })));
  });

  router.delete('/:id', async (req, res) => {
    const id = z.uuid().safeParse(req.params.id);
    if (!id.success || (await Silhouette.destroy({ where: { id: id.data } })) === 0) throw notFound('silhouette');
    res.status(204).end();
  });

  return router;
}
