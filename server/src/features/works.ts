import {
  FolderSchema,
  FramesSchema,
  HistoryQuerySchema,
  MarginSchema,
  MarksSchema,
  NameSchema,
  PageQuerySchema,
  PagesQuerySchema,
  PictureRowSchema,
  SaveFramesSchema,
  type PictureRow,
  type Work as WorkJson,
} from '@gable/contract';
import { GableError, type Frame } from '@gable/core';
import { LIMITS } from '@gable/formats';
import { Router, json, type Response } from 'express';
import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { Op, type Transaction } from 'sequelize';
import { z } from 'zod';
import type { AppContext } from '../context';
import { bytesOf, type Bytes } from '../db/blobs';
import { Deed, Picture, Work, WorkVersion, type Frames as FrameMap, type Opened } from '../db/models';
import { fileName } from '../files';
import { receive } from '../receive';
import type { BytesRef, Made } from '../tasks/task';
import { createFolder, isFolder, joined, spread, worksIn } from './folders';
import { removeWork, restoreWork } from './removal';
import { layRow } from './row';
import { pictureCache } from './picture-cache';
import { listWorks, summarise } from './shelf';
import { notFound } from '../problems';

const OOXML = 'application/vnd.openxmlformats-officedocument';
const OASIS = 'application/vnd.oasis.opendocument';
/** Drawings and pages of users are handed over as plain bytes: they must never be shown as ours. */
const MEDIA_TYPES: Partial<Record<string, string>> = {
  docx: `${OOXML}.wordprocessingml.document`,
  pptx: `${OOXML}.presentationml.presentation`,
  xlsx: `${OOXML}.spreadsheetml.sheet`,
  odt: `${OASIS}.text`,
  odp: `${OASIS}.presentation`,
  ods: `${OASIS}.spreadsheet`,
  odg: `${OASIS}.graphics`,
  site: 'application/zip',
  zip: 'application/zip',
  pdf: 'application/pdf',
};

/** How many deeds are handed out at once. */
const HISTORY_PAGE = 300;

/** The work of this id. @throws GableError `not-found` */
export async function findWork(id: string): Promise<Work> {
  const work = z.uuid().safeParse(id).success ? await Work.findByPk(id) : null;
  if (!work) throw notFound('work');
  return isFolder(work) ? joined(work, await worksIn(work)) : work;
}

/** Opens a file and keeps it as a work: all of it, or nothing. */
export async function createWork(house: AppContext, bytes: Buffer, name: string, demo = false): Promise<Work> {
  const made = await house.spool.write([bytes]);
  try {
    return await keepUpload(house, bytesOf(bytes), name, await openUpload(house, made, name), { demo });
  } finally {
    await house.spool.remove(made);
  }
}

async function openUpload(house: AppContext, file: BytesRef, name: string): Promise<Opened> {
  const opened = await house.tasks.run('open', { file });
  if (opened.pictures.length === 0)
    throw new GableError(
      'no-pictures',
      `“${name}” has no pictures.`,
      'Put a picture into the document, then open it again.',
    );
  return opened;
}

/** Bytes of a spooled file, to be kept. */
const spooled = (house: AppContext, made: Made): Bytes => ({ ...made, pieces: house.spool.pieces(made, 1024 * 1024) });

function keepUpload(
  house: AppContext,
  bytes: Bytes,
  name: string,
  opened: Opened,
  more: { demo?: boolean; frames?: FrameMap } = {},
): Promise<Work> {
  return house.sequelize.transaction(async (transaction) => {
    const id = randomUUID();
    const sha256 = await house.blobs.put(bytes, { kind: 'work', id }, transaction);
    await keepSources(house, id, Object.values(more.frames ?? {}), transaction);
    return Work.create({ id, name, sha256, opened, frames: {}, ...more }, { transaction });
  });
}

/**
 * A work needs every kept picture that its frames show, or showed: what is undone can be redone.
 * @throws GableError `missing-picture` for one that nobody has
 */
export async function keepSources(
  house: AppContext,
  id: string,
  frames: readonly (Frame | null)[],
  transaction: Transaction,
): Promise<void> {
  const digests = frames.flatMap((f) => f?.source?.sha256 ?? []);
  await house.blobs.keep(digests, { kind: 'work', id }, transaction).catch((cause: unknown) => {
    if (!(cause instanceof GableError)) throw cause;
    throw new GableError(
      'missing-picture',
      'A frame shows a picture that is not kept here.',
      'Add the picture again, then choose it.',
      {},
      { cause },
    );
  });
}

/** A work that begins with pictures and has no file. */
async function createPictureWork(house: AppContext, row: PictureRow): Promise<Work> {
  return house.sequelize.transaction(async (transaction) => {
    const kept = await keptPictures(row.pictures, transaction);
    const pictures = layRow(kept, []);
    const name = row.name ?? kept.find((p) => p !== null)?.name.replace(/\.\w+$/, '') ?? 'New work';
    const opened = { format: 'pictures' as const, signed: false, pages: 1, pictures };
    const id = randomUUID();
    await keepSources(
      house,
      id,
      pictures.map((p) => p.frame),
      transaction,
    );
    return Work.create({ id, name, sha256: null, opened, frames: {} }, { transaction });
  });
}

/** “Handbook.docx” with a picture in its header is “Handbook, with a header.docx”. */
const withMargin = (name: string, into: string): string =>
  name.replace(
    /(, with a (header|footer))?(\.\w+)?$/,
    (_all, _more, _into, kind?: string) => `, with a ${into}${kind ?? ''}`,
  );

/** Frames under the numbers their pictures have now: the new picture stands first in each of its parts. */
function renumbered(
  work: Work,
  now: readonly { n: number; where: { part: string } }[],
  begun: readonly string[],
): FrameMap {
  const seen = new Map<string, number>();
  const out: FrameMap = {};
  for (const p of work.opened.pictures) {
    const { part } = p.where;
    const index = seen.get(part) ?? 0;
    seen.set(part, index + 1);
    const frame = work.frames[String(p.n)];
    const at = now.filter((q) => q.where.part === part)[index + (begun.includes(part) ? 1 : 0)];
    if (frame && at) out[String(at.n)] = { ...frame, n: at.n };
  }
  return out;
}

async function keptPictures(
  digests: readonly (string | null)[],
  transaction?: Transaction,
): Promise<(Picture | null)[]> {
  const wanted = [...new Set(digests.filter((d) => d !== null))];
  const options = { where: { sha256: wanted }, ...(transaction && { transaction }) };
  const found = new Map((await Picture.findAll(options)).map((p) => [p.sha256, p]));
  const lacking = wanted.find((d) => !found.has(d));
  if (lacking) throw notFound('picture');
  await Picture.update({ usedAt: new Date() }, options);
  return digests.map((d) => (d === null ? null : found.get(d)!));
}

/** The file of a work. @throws GableError `no-file` for a work of pictures */
export function fileOf(work: Work): string {
  if (work.sha256 === null)
    throw new GableError(
      'no-file',
      'This work began with pictures and has no file.',
      'Copy a framed picture, or save it as a picture.',
    );
  return work.sha256;
}

const toJson = (w: Work): WorkJson => ({
  ...summarise(w),
  signed: w.opened.signed,
  pages: w.opened.pages,
  sheets: w.opened.sheets ?? [],
  leftOut: w.opened.leftOut ?? [],
  pictures: w.opened.pictures.map(({ media, ...p }) => ({
    ...p,
    media: media && {
      type: media.type,
      pixels: media.pixels,
      orientation: media.orientation,
      drawable: media.drawable,
      bytes: media.range?.size ?? null,
      // The same data in several frames are one part, or have the same sum; in the files of a folder too.
      data:
        media.crc !== undefined
          ? `${media.crc}/${media.range?.size}`
          : media.range
            ? `${media.part}#${media.range.from}`
            : null,
    },
  })),
  frames: w.frames,
  marks: w.marks,
});

/** Headers of a file to keep. */
export const attachment = (res: Response, name: string, format: string): Response =>
  res
    .attachment(fileName(name))
    .type(MEDIA_TYPES[format] ?? 'application/octet-stream')
    .set('Cache-Control', 'no-store');

/** Sends what a task made, piece by piece, and removes it. */
export async function sendMade(house: AppContext, res: Response, made: Made): Promise<void> {
  res.set('Content-Length', String(made.size));
  try {
    await pipeline(createReadStream(made.file), res);
  } catch (error) {
    // Whoever waited for it has gone.
    if (!res.destroyed) throw error;
  } finally {
    await house.spool.remove(made);
  }
}

/** `/api/works`: what has been opened, and its frames. */
export function worksRouter(house: AppContext): Router {
  const router = Router();

  /** The latest first, a page at a time; `next` asks for those after them. */
  router.get('/', async (req, res) => {
    res.json(await listWorks(req.query));
  });

  router.post('/', async (req, res) => {
    const name = NameSchema.parse(req.query['name'] ?? 'Document.docx');
    const made = await receive(req, house.spool, LIMITS.fileBytes, 'documents can have 300 MB');
    try {
      const opened = await openUpload(house, made, name);
      // The client disconnected: no work is created.
      if (res.destroyed) return;
      const work = await keepUpload(house, spooled(house, made), name, opened);
      res.status(201).location(`/api/works/${work.id}`).json(toJson(work));
    } finally {
      await house.spool.remove(made);
    }
  });

  router.post('/folders', json(), async (req, res) => {
    const { name, works } = FolderSchema.parse(req.body);
    const folder = await createFolder(name, works);
    res.status(201).location(`/api/works/${folder.id}`).json(toJson(folder));
  });

  router.post('/pictures', json(), async (req, res) => {
    const work = await createPictureWork(house, PictureRowSchema.parse(req.body));
    res.status(201).location(`/api/works/${work.id}`).json(toJson(work));
  });

  router.post('/:id/pictures', json(), async (req, res) => {
    const row = PictureRowSchema.parse(req.body);
    const { id } = await findWork(req.params.id);
    const work = await house.sequelize.transaction(async (transaction) => {
      const now = await Work.findByPk(id, { transaction, lock: true, rejectOnEmpty: true });
      if (now.opened.format !== 'pictures')
        throw new GableError(
          'has-file',
          'Pictures can be added to works that began with pictures.',
          'Replace the picture of a frame instead.',
        );
      const added = layRow(await keptPictures(row.pictures, transaction), now.opened.pictures);
      await keepSources(
        house,
        id,
        added.map((p) => p.frame),
        transaction,
      );
      const opened = { ...now.opened, pictures: [...now.opened.pictures, ...added] };
      return now.update({ opened, revision: now.revision + 1 }, { transaction });
    });
    res.status(201).json(toJson(work));
  });

  router.get('/:id/history', async (req, res) => {
    const { before } = HistoryQuerySchema.parse(req.query);
    const work = await findWork(req.params.id);
    const from = Math.max(0, (before ?? work.done) - HISTORY_PAGE);
    const seq = before === undefined ? { [Op.gte]: from } : { [Op.gte]: from, [Op.lt]: before };
    const deeds = await Deed.findAll({ where: { workId: work.id, seq }, order: [['seq', 'ASC']] });
    res.json({ from, done: work.done, deeds: deeds.map((d) => d.deed) });
  });

  router.post('/:id/fidelity', json({ limit: '16mb' }), async (req, res) => {
    const { frames } = FramesSchema.parse(req.body);
    const work = await findWork(req.params.id);
    checkFrames(Object.fromEntries(frames.map((f) => [f.n, f])), work);
    res.json({ fidelity: await house.tasks.run('fidelity', { file: await house.blobs.ref(fileOf(work)), frames }) });
  });

  router.post('/:id/margin', json(), async (req, res) => {
    const { sha256, width, alt, ...wish } = MarginSchema.parse(req.body);
    const work = await findWork(req.params.id);
    const [kept] = await keptPictures([sha256]);
    const { type, width: across, height: down } = kept!;
    const { made, parts } = await house.tasks.run('margin', {
      file: await house.blobs.ref(fileOf(work)),
      wish: {
        ...wish,
        alt,
        width,
        height: (width * down) / across,
        picture: { bytes: await house.blobs.ref(sha256), type, size: { width: across, height: down } },
      },
    });
    try {
      const name = withMargin(work.name, wish.into);
      const opened = await openUpload(house, made, name);
      const frames = renumbered(work, opened.pictures, parts);
      const next = await keepUpload(house, spooled(house, made), name, opened, { frames });
      const placed = opened.pictures.find((p) => p.where.part === parts[0])!.n;
      res
        .status(201)
        .location(`/api/works/${next.id}`)
        .json({ ...toJson(next), placed });
    } finally {
      await house.spool.remove(made);
    }
  });

  router.get('/:id/ground', async (req, res) => {
    const work = await findWork(req.params.id);
    const { page } = PageQuerySchema.parse(req.query);
    const file = await house.blobs.ref(fileOf(work));
    const png = await pictureCache.get(`ground/${file.sha256}/${page}`, async () => {
      const made = await house.tasks.run('ground', { file, page });
      if (!made) throw notFound('ground');
      return { type: 'image/png', data: await house.spool.take(made) };
    });
    res.type(png.type).set('Cache-Control', 'private, max-age=31536000, immutable').send(png.data);
  });

  router.post('/:id/pages', json({ limit: '16mb' }), async (req, res) => {
    const { frames, page } = PagesQuerySchema.parse(req.body);
    const work = await findWork(req.params.id);
    checkFrames(Object.fromEntries(frames.map((f) => [f.n, f])), work);
    const made = await house.tasks.run('pages', { file: await house.blobs.ref(fileOf(work)), frames, page });
    res.type('application/octet-stream').set('Cache-Control', 'no-store');
    await sendMade(house, res, made);
  });

  router.get('/:id', async (req, res) => {
    res.json(toJson(await findWork(req.params.id)));
  });

  router.put('/:id/frames', json({ limit: '16mb' }), async (req, res) => {
    const save = SaveFramesSchema.parse(req.body);
    const work = await findWork(req.params.id);
    checkFrames(save.frames, work);
    const result = await house.sequelize.transaction(async (transaction) => {
      const row = await Work.findByPk(work.id, { transaction, lock: true, rejectOnEmpty: true });
      const members = isFolder(row) ? await worksIn(row, transaction) : null;
      const now = members ? joined(row, members) : row;
      if (now.revision !== save.revision) {
        await keepSources(house, now.id, Object.values(save.frames), transaction);
        const aside = await WorkVersion.create(
          { workId: now.id, reason: 'stale', revision: save.revision, frames: save.frames },
          { transaction },
        );
        return { stale: now.revision, version: aside.id };
      }
      if (save.over)
        await WorkVersion.create(
          { workId: now.id, reason: 'replaced', revision: now.revision, frames: now.frames },
          { transaction },
        );
      const { history } = save;
      const asked = [
        ...Object.values(save.frames),
        ...(history?.deeds ?? []).flatMap((d) => [d, ...(d.more ?? [])].flatMap((c) => [c.before, c.after])),
      ];
      // What is done to a folder is done to its works: each of them keeps what it shows.
      for (const id of [now.id, ...(members ?? []).map((m) => m.id)]) await keepSources(house, id, asked, transaction);
      if (history) {
        await Deed.destroy({ where: { workId: now.id, seq: { [Op.gte]: history.from } }, transaction });
        await Deed.bulkCreate(
          history.deeds.map((deed, i) => ({ workId: now.id, seq: history.from + i, deed })),
          { transaction },
        );
      }
      if (members) {
        const deed = history?.deeds.at(-1)?.name ?? 'changed with its folder';
        const changed = await spread(now, members, save.frames, deed, transaction);
        await now.update({ updatedAt: new Date(), ...(history ? { done: history.done } : {}) }, { transaction });
        return { revision: now.revision + changed };
      }
      await now.update(
        { frames: save.frames, revision: now.revision + 1, ...(history ? { done: history.done } : {}) },
        { transaction },
      );
      return { revision: now.revision };
    });
    if (result.stale !== undefined)
      throw new GableError(
        'stale-revision',
        'This work was changed in another window meanwhile.',
        'Your version is kept beside it. Choose which one goes on.',
        { revision: result.stale, version: result.version },
      );
    res.json({ revision: result.revision });
  });

  router.put('/:id/marks', json({ limit: '4mb' }), async (req, res) => {
    const marks = MarksSchema.parse(req.body);
    const work = await findWork(req.params.id);
    await work.update({ marks }, { silent: true });
    res.json({ marks });
  });

  router.get('/:id/versions', async (req, res) => {
    const work = await findWork(req.params.id);
    const versions = await WorkVersion.findAll({ where: { workId: work.id }, order: [['createdAt', 'DESC']] });
    res.json({
      versions: versions.map(({ id, reason, revision, frames, createdAt }) => ({
        id,
        reason,
        revision,
        frames,
        createdAt,
      })),
    });
  });

  router.get('/:id/file', async (req, res) => {
    const work = await findWork(req.params.id);
    const file = await house.blobs.ref(fileOf(work));
    const made = await house.tasks.run('save', { file, frames: Object.values(work.frames) });
    attachment(res, work.name, work.opened.format);
    await sendMade(house, res, made);
  });

  router.delete('/:id', async (req, res) => {
    await removeWork(house, req.params.id);
    res.status(204).end();
  });

  /** Brings back a work that was removed a short while ago. */
  router.post('/:id/restore', async (req, res) => {
    await restoreWork(house, req.params.id);
    res.json(toJson(await findWork(req.params.id)));
  });

  return router;
}

/** Every frame must belong to a picture of the work, under its own number. */
export function checkFrames(frames: FrameMap, work: Work): void {
  for (const [n, frame] of Object.entries(frames))
    if (frame.n !== Number(n) || frame.n > work.opened.pictures.length)
      throw new GableError('no-such-picture', `There is no picture ${n} in this work.`, 'Reload the page.', {
        n: Number(n),
      });
}
