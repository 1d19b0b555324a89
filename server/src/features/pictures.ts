import { deriveView, FrameSchema, GableError, paintedBounds, type Frame, type Size } from '@gable/core';
import { encode, outputTypeOf } from '@gable/cli/encode';
import { renderHtml, renderSvg } from '@gable/cli/markup';
import { PNG, proxy, renderFrame, sharpOf } from '@gable/cli/render';
import { inflateUpTo } from '@gable/formats';
import { json, Router } from 'express';
import { z } from 'zod';
import type { Work } from '../db/models';
import { copies } from './copies';
import { findWork, type House } from './works';

const Query = z.object({
  side: z.coerce.number().int().min(16).max(2048).default(2048),
  revision: z.coerce.number().int().optional(),
});
/** A work's file never changes, so what is made from it alone can be kept for good. */
const FOREVER = 'private, max-age=31536000, immutable';

const Export = z.object({
  frame: FrameSchema,
  format: z.enum(['png', 'jpg', 'webp', 'avif', 'pdf', 'svg', 'html']),
  /** Pixels to the inch of the result; or its width in pixels; or neither for as many as the picture has. */
  ppi: z.number().min(1).max(2400).optional(),
  width: z.number().int().min(1).max(20_000).optional(),
});
/** Where a picture has fewer pixels than this here, the result is drawn finer than it: lines and edges stay sharp. */
const LEAST_PPI = 150;
const TYPES = {
  png: 'image/png',
  jpg: 'image/jpeg',
  webp: 'image/webp',
  avif: 'image/avif',
  pdf: 'application/pdf',
  svg: 'image/svg+xml',
  html: 'text/plain',
} as const;

/** `/api/works/:id/pictures/:n`: smaller copies for the screen, and the framed picture as the server paints it. */
export function picturesRouter(house: House): Router {
  const router = Router();

  router.get('/:id/pictures/:n/proxy', async (req, res) => {
    const { side } = Query.parse(req.query);
    const { work, n } = await placeOf(req.params);
    const name = `${work.sha256 ?? work.id}/${n}/${side}`;
    const made = await copies.get(name, async () => proxy(await pictureBytes(house, work, n), side));
    res.type(made.type).set('Cache-Control', FOREVER).send(made.data);
  });

  router.get('/:id/pictures/:n/framed', async (req, res) => {
    const { side, revision } = Query.parse(req.query);
    const { asked, work, n } = await placeOf(req.params);
    const frame = work.frames[n] ?? work.opened.pictures[Number(n) - 1]?.frame;
    // The shelf asks for every work's faces whenever it is opened: the same frame on the same file is painted once.
    const name = `framed/${work.sha256 ?? work.id}/${side}/${JSON.stringify(frame)}`;
    const { data } = await copies.get(name, async () => {
      const { bytes, size } = await originalOf(house, work, n, frame);
      const b = paintedBounds(frame!);
      const canvas = await renderFrame(frame!, size, bytes, side / Math.max(b.width, b.height));
      return { type: 'image/png', data: await sharpOf(canvas).png(PNG).toBuffer() };
    });
    // An address with the revision of now never shows anything else.
    const kept = revision === asked.revision ? FOREVER : 'private, max-age=60';
    res.type('image/png').set('Cache-Control', kept).send(data);
  });

  router.post('/:id/pictures/:n/export', json({ limit: '2mb' }), async (req, res) => {
    const wish = Export.parse(req.body);
    const { frame, format } = wish;
    const { work, n } = await placeOf(req.params);
    const { bytes, size } = await originalOf(house, work, n, frame);
    res.type(TYPES[format]).set('Cache-Control', 'no-store');
    if (format === 'svg') res.send(await renderSvg(frame, size, bytes));
    else if (format === 'html') res.send(await renderHtml(frame, size, bytes));
    else {
      const b = paintedBounds(frame);
      const ppi = wish.width ? (wish.width / b.width) * 72 : (wish.ppi ?? naturalPpi(frame, size));
      const canvas = await renderFrame(frame, size, bytes, ppi / 72);
      res.send(await encode(canvas, outputTypeOf(format), ppi));
    }
  });

  return router;
}

/** The work that a picture is in: of a folder, the one that has it, and its number there. */
async function placeOf({ id, n }: { id: string; n: string }): Promise<{ asked: Work; work: Work; n: string }> {
  const asked = await findWork(id);
  const member = asked.opened.pictures[Number(n) - 1]?.member;
  return member ? { asked, work: await findWork(member.id), n: String(member.n) } : { asked, work: asked, n };
}

/** As fine as the picture is in this frame. */
function naturalPpi(frame: Frame, size: Size): number {
  const view = deriveView(frame.placement, frame.box, size);
  return Math.min(1200, Math.max(LEAST_PPI, 72 / Math.max(1e-6, Math.min(view.scale.x, view.scale.y))));
}

/** The picture a frame shows, and the size its placement is reckoned with. */
async function originalOf(
  house: House,
  work: Work,
  n: string,
  frame: Frame | undefined,
): Promise<{ bytes: Uint8Array; size: Size }> {
  if (frame?.source) return { bytes: await house.blobs.readAll(frame.source.sha256), size: frame.source.size };
  const bytes = await pictureBytes(house, work, n);
  return { bytes, size: work.opened.pictures[Number(n) - 1]!.size };
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
  const { source } = picture.frame;
  if (source) return house.blobs.readAll(source.sha256);
  if (picture.problem || !picture.media || !work.sha256)
    throw new GableError(
      picture.problem?.code ?? 'missing-picture',
      picture.problem?.message ?? 'The picture is missing.',
      picture.problem?.remedy ?? '',
      { n: picture.n },
    );
  const { part, range } = picture.media;
  if (!range) return house.jobs.picture(await house.blobs.readAll(work.sha256), picture.n);
  return inflateUpTo(await house.blobs.read(work.sha256, range.from, range.to), { name: part, ...range }, range.size);
}
