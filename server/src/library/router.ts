import { LibraryQuerySchema, PictureNameSchema, ProxyQuerySchema } from '@gable/contract';
import { Router } from 'express';
import type { AppContext } from '../context';
import type { PictureSource } from '../tasks/picture-source';
import { sendOriginal } from '../http/attachment';
import { receive } from '../http/receive';
import { addFactsTo } from './facts';
import { findPicture, hidePicture, keepPicture, keepVideo, proxyOf, searchPictures, toJson } from './pictures';

const FOREVER = 'private, max-age=31536000, immutable';
/** A picture larger than this is refused before it is read. */
const PICTURE_BYTES = 100 * 1024 * 1024;
const VIDEO_BYTES = 500 * 1024 * 1024;

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

  /** The video that a kept picture is seen of before it plays. */
  router.put('/:sha256/video', async (req, res) => {
    const name = PictureNameSchema.parse(req.query['name']);
    const picture = await findPicture(req.params.sha256);
    const file = await receive(req, context.spool, VIDEO_BYTES, 'videos can have 500 MB', 'Use a shorter video.');
    try {
      res.json(toJson(await keepVideo(context, picture, { file, name })));
    } finally {
      await context.spool.remove(file);
    }
  });

  router.get('/', async (req, res) => {
    const pictures = await searchPictures(LibraryQuerySchema.parse(req.query).q);
    res.json({ pictures: pictures.map(toJson) });
  });

  router.get('/:sha256/proxy', async (req, res) => {
    const { side } = ProxyQuerySchema.parse(req.query);
    const copy = await proxyOf(context, await findPicture(req.params.sha256), side);
    res.type(copy.type).set('Cache-Control', FOREVER).send(copy.data);
  });

  router.get('/:sha256/original', async (req, res) => {
    const { sha256 } = await findPicture(req.params.sha256);
    const made = await context.tasks.run('original', { source: { kept: await context.blobs.ref(sha256) } });
    await sendOriginal(context, res, made);
  });

  addFactsTo(router, '/:sha256', context, async ({ sha256: asked = '' }) => {
    const { sha256, width, height } = await findPicture(asked);
    const source = async (): Promise<PictureSource> => ({ kept: await context.blobs.ref(sha256) });
    return { content: sha256, source, size: { width, height } };
  });

  router.delete('/:sha256', async (req, res) => {
    await hidePicture(context, await findPicture(req.params.sha256));
    res.status(204).end();
  });

  return router;
}
