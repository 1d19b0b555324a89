import { GableError, paintedBounds } from '@gable/core';
import { proxy, renderFrame } from '@gable/cli/render';
import { inflateUpTo } from '@gable/formats';
import { Router } from 'express';
import { z } from 'zod';
import type { Work } from '../db/models';
import { findWork, type House } from './works';

const Query = z.object({ side: z.coerce.number().int().min(16).max(2048).default(2048) });
/** A work's file never changes, so what is made from it alone can be kept for good. */
const FOREVER = 'private, max-age=31536000, immutable';

/** `/api/works/:id/pictures/:n`: a smaller copy for the screen, and the framed picture as the server paints it. */
export function picturesRouter(house: House): Router {
  const router = Router();

  router.get('/:id/pictures/:n/proxy', async (req, res) => {
    const { side } = Query.parse(req.query);
    const work = await findWork(req.params.id);
    const made = await proxy(await pictureBytes(house, work, req.params.n), side);
    res.type(made.type).set('Cache-Control', FOREVER).send(made.data);
  });

  router.get('/:id/pictures/:n/framed', async (req, res) => {
    const { side } = Query.parse(req.query);
    const work = await findWork(req.params.id);
    const bytes = await pictureBytes(house, work, req.params.n);
    const picture = work.opened.pictures[Number(req.params.n) - 1]!;
    const frame = work.frames[req.params.n] ?? picture.frame;
    const b = paintedBounds(frame);
    const canvas = await renderFrame(frame, picture.size, bytes, side / Math.max(b.width, b.height));
    res
      .type('image/png')
      .set('Cache-Control', 'private, max-age=60')
      .send(await canvas.encode('png'));
  });

  return router;
}

/** The bytes of a picture inside a work's file: only the rows that hold them are read. */
async function pictureBytes(house: House, work: Work, n: string): Promise<Uint8Array> {
  const picture = work.opened.pictures[Number(n) - 1];
  if (!picture)
    throw new GableError(
      'no-such-picture',
      `There is no picture ${n} in this work.`,
      `It has ${work.opened.pictures.length}.`,
    );
  if (picture.problem || !picture.media)
    throw new GableError(
      picture.problem?.code ?? 'missing-picture',
      picture.problem?.message ?? 'The picture is missing.',
      picture.problem?.remedy ?? '',
      { n: picture.n },
    );
  const { part, range } = picture.media;
  return inflateUpTo(await house.blobs.read(work.sha256, range.from, range.to), { name: part, ...range }, range.size);
}
