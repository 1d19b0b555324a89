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
  SaveEntriesSchema,
  type PictureRow,
  type SaveEntries,
  type Work as WorkJson,
} from '@gable/contract';
import {
  documentOfPictures,
  frameOfItem,
  GableError,
  isPictureItem,
  itemIdOf,
  itemOfFrame,
  readChanges,
  type Changes,
  type Frame,
} from '@gable/core';
import { LIMITS } from '@gable/formats';
import { Router, json, type Response } from 'express';
import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import type { Transaction } from 'sequelize';
import { z } from 'zod';
import type { AppContext } from '../context';
import { bytesOf, type Bytes } from '../db/blobs';
import { Picture, Work, WorkVersion, type Opened } from '../db/models';
import { fileName } from '../files';
import { receive } from '../receive';
import type { BytesRef, Made } from '../tasks/task';
import { createFolder, isFolder, joined, worksIn } from './folders';
import { readLog, saveEntries } from './log';
import { keepSources, shownBy } from './sources';
import { changedFrames } from './state';
import { removeWork, restoreWork } from './removal';
import { layRow } from './row';
import { pictureCache } from '../features/picture-cache';
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
  more: { demo?: boolean; changes?: Changes } = {},
): Promise<Work> {
  return house.sequelize.transaction(async (transaction) => {
    const id = randomUUID();
    const sha256 = await house.blobs.put(bytes, { kind: 'work', id }, transaction);
    await keepSources(house, id, shownBy(Object.values(more.changes?.items ?? {})), transaction);
    return Work.create({ id, name, sha256, opened, ...more }, { transaction });
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
    await keepSources(house, id, shownBy(Object.values(documentOfPictures(pictures).items)), transaction);
    return Work.create({ id, name, sha256: null, opened }, { transaction });
  });
}

/** “Handbook.docx” with a picture in its header is “Handbook, with a header.docx”. */
const withMargin = (name: string, into: string): string =>
  name.replace(
    /(, with a (header|footer))?(\.\w+)?$/,
    (_all, _more, _into, kind?: string) => `, with a ${into}${kind ?? ''}`,
  );

/** Changes under the names their pictures have now: the new picture stands first in each of its parts. */
function renumbered(
  work: Work,
  now: readonly { n: number; where: { part: string } }[],
  begun: readonly string[],
): Changes {
  const { items } = readChanges(work.changes);
  const seen = new Map<string, number>();
  const next: Changes['items'] = {};
  for (const p of work.opened.pictures) {
    const { part } = p.where;
    const index = seen.get(part) ?? 0;
    seen.set(part, index + 1);
    const item = items[itemIdOf(p)];
    const at = now.filter((q) => q.where.part === part)[index + (begun.includes(part) ? 1 : 0)];
    if (!item || !isPictureItem(item) || !at) continue;
    const moved = itemOfFrame(itemIdOf(at), frameOfItem(item, at.n), p.size, item.at.on);
    next[moved.id] = { ...item, id: moved.id, fill: { ...item.fill, source: moved.fill.source } };
  }
  return { ...work.changes, items: next };
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
  changes: w.changes,
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
      await keepSources(house, id, shownBy(Object.values(documentOfPictures(added).items)), transaction);
      const opened = { ...now.opened, pictures: [...now.opened.pictures, ...added] };
      return now.update({ opened, revision: now.revision + 1 }, { transaction });
    });
    res.status(201).json(toJson(work));
  });

  router.get('/:id/history', async (req, res) => {
    const { before } = HistoryQuerySchema.parse(req.query);
    const work = await findWork(req.params.id);
    res.json(await readLog(work, before));
  });

  router.post('/:id/fidelity', json({ limit: '16mb' }), async (req, res) => {
    const { frames } = FramesSchema.parse(req.body);
    const work = await findWork(req.params.id);
    checkFrames(frames, work);
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
      const changes = renumbered(work, opened.pictures, parts);
      const next = await keepUpload(house, spooled(house, made), name, opened, { changes });
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
    checkFrames(frames, work);
    const made = await house.tasks.run('pages', { file: await house.blobs.ref(fileOf(work)), frames, page });
    res.type('application/octet-stream').set('Cache-Control', 'no-store');
    await sendMade(house, res, made);
  });

  router.get('/:id', async (req, res) => {
    res.json(toJson(await findWork(req.params.id)));
  });

  router.post('/:id/entries', json({ limit: '16mb' }), async (req, res) => {
    const save = SaveEntriesSchema.parse(req.body) as SaveEntries;
    const { id } = await findWork(req.params.id);
    res.json(await saveEntries(house, id, save));
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
      versions: versions.map(({ id, reason, revision, changes, createdAt }) => ({
        id,
        reason,
        revision,
        changes,
        createdAt,
      })),
    });
  });

  router.get('/:id/file', async (req, res) => {
    const work = await findWork(req.params.id);
    const file = await house.blobs.ref(fileOf(work));
    const made = await house.tasks.run('save', { file, frames: [...changedFrames(work).values()] });
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

/** Every frame must belong to a picture of the work. @throws GableError `no-such-picture` */
export function checkFrames(frames: readonly Frame[], work: Work): void {
  const { n } = frames.find((f) => f.n > work.opened.pictures.length) ?? {};
  if (n !== undefined)
    throw new GableError('no-such-picture', `There is no picture ${n} in this work.`, 'Reload the page.', { n });
}
