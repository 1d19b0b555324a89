import { ExportSchema, PictureQuerySchema, SceneExportSchema } from '@gable/contract';
import {
  cut,
  escapeXml,
  frameOfItem,
  GableError,
  readChanges,
  type Frame,
  type PictureItem,
  type Size,
} from '@gable/core';
import { inflateUpTo, type Known } from '@gable/formats';
import { json, Router } from 'express';
import { QueryTypes } from 'sequelize';
import type { AppContext } from '../context';
import { byId } from '../db/by-id';
import { Work, type WorkPicture } from '../db/models';
import type { PictureSource } from '../tasks/picture-source';
import { withFile } from './find';
import { isFolder } from './folders';
import { addFactsTo } from '../library/facts';
import { keepPicture, toJson } from '../library/pictures';
import { pictureCache } from '../http/picture-cache';
import { sendMade, sendOriginal } from '../http/attachment';
import { notFound } from '../http/problems';
import { sendVideo } from '../http/ranged';

/** A work's file never changes, so what is made from it alone can be kept for good. */
const FOREVER = 'private, max-age=31536000, immutable';

const MEDIA_TYPES = {
  png: 'image/png',
  jpg: 'image/jpeg',
  webp: 'image/webp',
  avif: 'image/avif',
  pdf: 'application/pdf',
  svg: 'image/svg+xml',
  html: 'text/plain',
} as const;

/** `/api/works/:id/pictures/:n`: smaller copies for the screen, and the framed picture as the server paints it. */
export function picturesRouter(context: AppContext): Router {
  const router = Router();

  router.get('/:id/pictures/:n/proxy', async (req, res) => {
    const { side } = PictureQuerySchema.parse(req.query);
    const at = await placeOf(req.params);
    const source = await sourceOf(context, at);
    const copy = await pictureCache.get(`${at.sha256 ?? at.id}/${at.n}/${side}`, async () => {
      const { type, made } = await context.tasks.run('proxy', { source, side });
      return { type, data: await context.spool.take(made) };
    });
    res.type(copy.type).set('Cache-Control', FOREVER).send(copy.data);
  });

  router.get('/:id/pictures/:n/original', async (req, res) => {
    const made = await context.tasks.run('original', { source: await sourceOf(context, await placeOf(req.params)) });
    await sendOriginal(context, res, made);
  });

  addFactsTo(router, '/:id/pictures/:n', context, async ({ id = '', n = '' }) => {
    const at = await placeOf({ id, n });
    const source = (): Promise<PictureSource> => sourceOf(context, at);
    return { content: contentName(at), source, size: at.picture.size };
  });

  router.get('/:id/pictures/:n/framed', async (req, res) => {
    const { side, revision } = PictureQuerySchema.parse(req.query);
    const at = await placeOf(req.params);
    const frame = at.frame ?? at.picture.frame;
    // An address with the revision of now never shows anything else.
    const kept = revision === at.asked ? FOREVER : 'private, max-age=60';
    try {
      // The shelf asks for every work's faces whenever it is opened: the same frame on the same file is painted once.
      const name = `framed/${at.sha256 ?? at.id}/${side}/${JSON.stringify(frame)}`;
      const { type, data } = await pictureCache.get(name, async () => {
        const { source, size } = await originalOf(context, at, frame);
        const made = await context.tasks.run('face', { source, frame, size, side });
        return { type: 'image/png', data: await context.spool.take(made) };
      });
      res.type(type).set('Cache-Control', kept).send(data);
    } catch (error) {
      if (!(error instanceof GableError) || error.code === 'busy') throw error;
      res.type('image/svg+xml').set('Cache-Control', kept).send(placeholder(frame, error.message));
    }
  });

  router.post('/:id/pictures/:n/export', json({ limit: '2mb' }), async (req, res) => {
    const { frame, ...wish } = ExportSchema.parse(req.body);
    const at = await placeOf(req.params);
    const { source, size } = await originalOf(context, at, frame);
    const made = await context.tasks.run('exportFrame', { source, frame, size, ...wish });
    res.type(MEDIA_TYPES[wish.format]).set('Cache-Control', 'no-store');
    await sendMade(context, res, made);
  });

  router.post('/:id/export', json({ limit: '1mb' }), async (req, res) => {
    const wish = SceneExportSchema.parse(req.body);
    const made = await withFile(context, req.params.id, (work, file) =>
      context.tasks.run('exportScene', { file, changes: readChanges(work.changes), ...wish }),
    );
    res.type(MEDIA_TYPES[wish.format]).set('Cache-Control', 'no-store');
    await sendMade(context, res, made);
  });

  /** Its own video: the part of the file that it is, which is packed as it is as a rule; else all of it is unpacked. */
  router.get('/:id/pictures/:n/video', async (req, res) => {
    const { sha256, picture } = await placeOf(req.params);
    if (sha256 === null || !picture.clip) throw notFound('video');
    const { part, range } = picture.clip;
    const { from, method, size } = range;
    if (method === 0) {
      await sendVideo(req, res, { size, read: (at, to) => context.blobs.read(sha256, from + at, from + to) });
      return;
    }
    const packed = await context.blobs.read(sha256, from, range.to);
    const bytes = inflateUpTo(packed, { name: part, method, size }, size);
    await sendVideo(req, res, { size, read: (at, to) => Promise.resolve(bytes.subarray(at, to)) });
  });

  router.post('/:id/pictures/:n/keep', async (req, res) => {
    const at = await placeOf(req.params);
    const made = await context.tasks.run('original', { source: await sourceOf(context, at) });
    try {
      const name = cut(at.picture.frame.alt.trim(), 255, '…') || `Picture ${at.n}`;
      res.status(201).json(toJson(await keepPicture(context, made, name)));
    } finally {
      await context.spool.remove(made);
    }
  });

  return router;
}

/** What stands in for a face that cannot be made, and says why: it is not asked for again. */
function placeholder({ box }: Frame, reason: string): string {
  const [width, height] = [240, Math.min(960, Math.max(24, (240 * box.height) / box.width))];
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height.toFixed(1)}"><title>${escapeXml(reason)}</title>` +
    `<rect width="100%" height="100%" fill="#c9c4b8"/></svg>`
  );
}

/** A picture of a work, with what is needed of its row: the rest of the work is not read. */
interface PicturePlace {
  id: string;
  /** Of the work that was asked for: of a folder, the sum over its works. */
  asked: number;
  sha256: string | null;
  n: number;
  picture: WorkPicture;
  /** Where it differs from the file's. */
  frame: Frame | null;
  /** What the file's pictures are called. */
  known: readonly Known[] | undefined;
}

/** Where a picture is: in a folder, the work that has it, and its number there. @throws GableError `not-found`, `no-such-picture` */
async function placeOf(params: { id: string; n: string }): Promise<PicturePlace> {
  const n = Number(params.n);
  const attributes = ['id', 'sha256', 'revision', 'summary'];
  const work = await byId(Work, params.id, 'work', { attributes });
  const whole = Number.isInteger(n) && n > 0 && n < 2 ** 31;
  if (!isFolder(work)) return pictureOf(work, work.revision, { n: whole ? n : 0 }, params.n);
  const ids = [...(work.summary.members ?? [])];
  const rows = new Map((await Work.findAll({ attributes, where: { id: ids } })).map((w) => [w.id, w]));
  const members = ids.flatMap((id) => rows.get(id) ?? []);
  const revision = 1 + members.reduce((sum, m) => sum + m.revision, 0);
  let before = 0;
  for (const member of members) {
    if (whole && n <= before + member.summary.pictures)
      return pictureOf(member, revision, { index: n - before - 1 }, params.n);
    before += member.summary.pictures;
  }
  throw noPicture(params.n, before);
}

const noPicture = (n: string, count: number): GableError =>
  new GableError('no-such-picture', `There is no picture ${cut(n, 20, '…')} in this work.`, `It has ${count}.`);

/** @param at its number, or its place in the list */
async function pictureOf(
  work: Work,
  asked: number,
  at: { n: number } | { index: number },
  said: string,
): Promise<PicturePlace> {
  // Numbers are places in the list until something is put in.
  const [row] = await Work.sequelize!.query<{
    picture: WorkPicture | null;
    item: PictureItem | null;
    known: Known[] | null;
  }>(
    `SELECT picture, changes->'items'->('p' || (picture->>'n')) AS item, known FROM (
       SELECT changes, opened->'known' AS known, CASE WHEN $3::boolean AND opened ? 'known'
         THEN (SELECT p FROM jsonb_array_elements(opened->'pictures') p WHERE (p->>'n')::int = $2::int + 1 LIMIT 1)
         ELSE opened->'pictures'->($2::int) END AS picture FROM works WHERE id = $1) AS found`,
    { bind: [work.id, 'n' in at ? at.n - 1 : at.index, 'n' in at], type: QueryTypes.SELECT },
  );
  if (('n' in at && at.n < 1) || !row?.picture) throw noPicture(said, work.summary.pictures);
  const { picture, item, known } = row;
  const frame = item && frameOfItem(item, picture.n);
  return { id: work.id, asked, sha256: work.sha256, n: picture.n, picture, frame, known: known ?? undefined };
}

/** Names a picture's bytes: those of parts have a sum and a length, others are known by their file. */
function contentName({ picture: { media, frame, n }, sha256, id }: PicturePlace): string {
  if (frame.source) return frame.source.sha256;
  if (media?.crc !== undefined && media.range) return `${media.crc} ${media.range.size}`;
  return `${sha256 ?? id} ${n}`;
}

/** The picture a frame shows, and the size its placement is reckoned with. */
async function originalOf(
  context: AppContext,
  at: PicturePlace,
  frame: Frame,
): Promise<{ source: PictureSource; size: Size }> {
  if (frame.source) return { source: { kept: await context.blobs.ref(frame.source.sha256) }, size: frame.source.size };
  return { source: await sourceOf(context, at), size: at.picture.size };
}

/** Where the bytes of a picture inside a work's file are: only the rows that hold them are read. */
async function sourceOf(context: AppContext, { picture, sha256, known }: PicturePlace): Promise<PictureSource> {
  const { source } = picture.frame;
  if (source) return { kept: await context.blobs.ref(source.sha256) };
  if (picture.problem || !picture.media || !sha256)
    throw new GableError(
      picture.problem?.code ?? 'missing-picture',
      picture.problem?.message ?? 'The picture is missing.',
      picture.problem?.remedy ?? '',
      { n: picture.n },
    );
  const { part, range } = picture.media;
  const file = await context.blobs.ref(sha256);
  if (!range) return { file: { ...file, known }, n: picture.n };
  const packed = { ...file, size: range.to - range.from, range: { from: range.from, to: range.to } };
  return { packed, name: part, method: range.method, size: range.size };
}
