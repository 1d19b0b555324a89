import { FrameSchema, GableError } from '@gable/core';
import { LIMITS } from '@gable/formats';
import { Router, raw, json, type Response } from 'express';
import { Op, type Sequelize } from 'sequelize';
import { z } from 'zod';
import type { BlobStore } from '../db/blobs';
import { Deed, Errand, Picture, Work, WorkVersion, type Frames as FrameMap, type Opened } from '../db/models';
import type { Jobs } from '../jobs/jobs';
import { sourcesOf } from '../jobs/sources';
import { createFolder, isFolder, joined, LEAST_FILES, leaveFolders, MOST_FILES, spread, worksIn } from './folders';
import { layRow } from './row';
import { notFound } from '../problems';

export interface House {
  sequelize: Sequelize;
  blobs: BlobStore;
  jobs: Jobs;
}

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

const Name = z.string().trim().min(1).max(255);
const Change = z.object({
  n: z.number().int().positive(),
  before: FrameSchema.nullable(),
  after: FrameSchema.nullable(),
});
/** One thing done: to one frame, or to that and more at once. */
const DeedBody = Change.extend({
  name: z.string().min(1).max(200),
  more: z.array(Change).max(LIMITS.pictures).optional(),
});
const Marks = z.strictObject({
  deliberate: z.array(z.string().min(1).max(40_000)).max(1000).optional(),
  finish: z.string().min(1).max(80).optional(),
});
const Save = z.object({
  /** The revision these frames were made from. */
  revision: z.number().int().positive(),
  frames: z.record(z.string().regex(/^[1-9]\d{0,4}$/), FrameSchema),
  /** Save over what another window saved meanwhile; that state is kept as a version. */
  over: z.boolean().default(false),
  /** What was done since the last save: deeds from `from` on take the place of those that were there; `done` of all are done. */
  history: z
    .object({ from: z.number().int().min(0), deeds: z.array(DeedBody).max(5000), done: z.number().int().min(0) })
    .optional(),
});
const Frames = z.object({ frames: z.array(FrameSchema).max(LIMITS.pictures) });
const Pages = Frames.extend({ page: z.number().int().positive().default(1) });
const Digest = z.string().regex(/^[0-9a-f]{64}$/);
/** Pictures by digest, in a row; null for an empty frame that waits for one. */
const Row = z.object({ name: Name.optional(), pictures: z.array(Digest.nullable()).min(1).max(200) });
/** Works that are looked at together. */
const Folder = z.object({ name: Name, works: z.array(z.uuid()).min(LEAST_FILES).max(MOST_FILES) });
/** A kept picture for the header or footer of a document. Lengths in points. */
const Margin = z.object({
  sha256: Digest,
  into: z.enum(['header', 'footer']),
  pages: z.enum(['all', 'first']),
  align: z.enum(['left', 'center', 'right']),
  width: z.number().min(3).max(1440),
  /** From the picture to the text; null leaves the margins as they are. */
  gap: z.number().min(0).max(720).nullable(),
  alt: z.string().max(10_000).default(''),
});
/** How many deeds are handed out at once. */
const HISTORY_PAGE = 300;

/** The work of this id. @throws GableError `not-found` */
export async function findWork(id: string): Promise<Work> {
  const work = z.uuid().safeParse(id).success ? await Work.findByPk(id) : null;
  if (!work) throw notFound('work');
  return isFolder(work) ? joined(work, await worksIn(work)) : work;
}

/** Opens a file and keeps it as a work: all of it, or nothing. */
export async function createWork(house: House, bytes: Buffer, name: string, demo = false): Promise<Work> {
  return keepUpload(house, bytes, name, await openUpload(house, bytes, name), { demo });
}

async function openUpload(house: House, bytes: Buffer, name: string): Promise<Opened> {
  const opened = await house.jobs.open(bytes);
  if (opened.pictures.length === 0)
    throw new GableError(
      'no-pictures',
      `“${name}” has no pictures.`,
      'Put a picture into the document, then open it again.',
    );
  return opened;
}

function keepUpload(
  house: House,
  bytes: Buffer,
  name: string,
  opened: Opened,
  more: { demo?: boolean; frames?: FrameMap } = {},
): Promise<Work> {
  return house.sequelize.transaction(async (transaction) => {
    const sha256 = await house.blobs.put(bytes, transaction);
    return Work.create({ name, sha256, opened, frames: {}, ...more }, { transaction });
  });
}

/** A work that begins with pictures and has no file. */
async function createPictureWork(row: z.infer<typeof Row>): Promise<Work> {
  const kept = await keptPictures(row.pictures);
  const pictures = layRow(kept, []);
  const name = row.name ?? kept.find((p) => p !== null)?.name.replace(/\.\w+$/, '') ?? 'New work';
  return Work.create({
    name,
    sha256: null,
    opened: { format: 'pictures', signed: false, pages: 1, pictures },
    frames: {},
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

async function keptPictures(digests: readonly (string | null)[]): Promise<(Picture | null)[]> {
  const wanted = [...new Set(digests.filter((d) => d !== null))];
  const found = new Map((await Picture.findAll({ where: { sha256: wanted } })).map((p) => [p.sha256, p]));
  const lacking = wanted.find((d) => !found.has(d));
  if (lacking) throw notFound('picture');
  await Picture.update({ usedAt: new Date() }, { where: { sha256: wanted } });
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

const summary = (w: Work): object => ({
  id: w.id,
  name: w.name,
  format: w.opened.format,
  revision: w.revision,
  demo: w.demo,
  pictures: w.opened.pictures.length,
  framed: Object.keys(w.frames).length,
  /** Pictures that can be shown, for a look at the work; body first, framed ones before others. */
  faces: w.opened.pictures
    .filter((p) => !p.problem && (p.media?.drawable || p.frame.source))
    .sort((a, b) => Number(String(b.n) in w.frames) - Number(String(a.n) in w.frames) || a.n - b.n)
    .slice(0, 4)
    .map((p) => p.n),
  createdAt: w.createdAt,
  updatedAt: w.updatedAt,
});

const whole = (w: Work): object => ({
  ...summary(w),
  signed: w.opened.signed,
  pages: w.opened.pages,
  sheets: w.opened.sheets ?? [],
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
    .type(MEDIA_TYPES[format] ?? 'application/octet-stream')
    .set(
      'Content-Disposition',
      `attachment; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`)}`,
    )
    .set('Cache-Control', 'no-store');

/** `/api/works`: what has been opened, and its frames. */
export function worksRouter(house: House): Router {
  const router = Router();

  router.get('/', async (_req, res) => {
    const works = await Work.findAll({ order: [['updatedAt', 'DESC']] });
    res.json({ works: works.map((w) => summary(isFolder(w) ? joined(w, works) : w)) });
  });

  router.post('/', raw({ type: () => true, limit: LIMITS.fileBytes }), async (req, res) => {
    const name = Name.parse(req.query['name'] ?? 'Document.docx');
    const bytes = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
    const opened = await openUpload(house, bytes, name);
    // Whoever let go of it meanwhile gets no work.
    if (res.destroyed) return;
    const work = await keepUpload(house, bytes, name, opened);
    res.status(201).location(`/api/works/${work.id}`).json(whole(work));
  });

  router.post('/folders', json(), async (req, res) => {
    const { name, works } = Folder.parse(req.body);
    const folder = await createFolder(name, works);
    res.status(201).location(`/api/works/${folder.id}`).json(whole(folder));
  });

  router.post('/pictures', json(), async (req, res) => {
    const work = await createPictureWork(Row.parse(req.body));
    res.status(201).location(`/api/works/${work.id}`).json(whole(work));
  });

  router.post('/:id/pictures', json(), async (req, res) => {
    const row = Row.parse(req.body);
    const { id } = await findWork(req.params.id);
    const work = await house.sequelize.transaction(async (transaction) => {
      const now = await Work.findByPk(id, { transaction, lock: true, rejectOnEmpty: true });
      if (now.opened.format !== 'pictures')
        throw new GableError(
          'has-file',
          'Pictures can be added to works that began with pictures.',
          'Replace the picture of a frame instead.',
        );
      const added = layRow(await keptPictures(row.pictures), now.opened.pictures);
      const opened = { ...now.opened, pictures: [...now.opened.pictures, ...added] };
      return now.update({ opened, revision: now.revision + 1 }, { transaction });
    });
    res.status(201).json(whole(work));
  });

  router.get('/:id/history', async (req, res) => {
    const { before } = z.object({ before: z.coerce.number().int().min(0).optional() }).parse(req.query);
    const work = await findWork(req.params.id);
    const from = Math.max(0, (before ?? work.done) - HISTORY_PAGE);
    const seq = before === undefined ? { [Op.gte]: from } : { [Op.gte]: from, [Op.lt]: before };
    const deeds = await Deed.findAll({ where: { workId: work.id, seq }, order: [['seq', 'ASC']] });
    res.json({ from, done: work.done, deeds: deeds.map((d) => d.deed) });
  });

  router.post('/:id/fates', json({ limit: '16mb' }), async (req, res) => {
    const { frames } = Frames.parse(req.body);
    const work = await findWork(req.params.id);
    checkFrames(Object.fromEntries(frames.map((f) => [f.n, f])), work);
    res.json({ fates: await house.jobs.fates(await house.blobs.readAll(fileOf(work)), frames) });
  });

  router.post('/:id/margin', json(), async (req, res) => {
    const { sha256, width, alt, ...wish } = Margin.parse(req.body);
    const work = await findWork(req.params.id);
    const [kept] = await keptPictures([sha256]);
    const { type, width: across, height: down } = kept!;
    const made = await house.jobs.margin(await house.blobs.readAll(fileOf(work)), {
      ...wish,
      alt,
      width,
      height: (width * down) / across,
      picture: { bytes: await house.blobs.readAll(sha256), type, size: { width: across, height: down } },
    });
    const name = withMargin(work.name, wish.into);
    const bytes = Buffer.from(made.bytes);
    const opened = await openUpload(house, bytes, name);
    const frames = renumbered(work, opened.pictures, made.parts);
    const next = await keepUpload(house, bytes, name, opened, { frames });
    const placed = opened.pictures.find((p) => p.where.part === made.parts[0])!.n;
    res
      .status(201)
      .location(`/api/works/${next.id}`)
      .json({ ...whole(next), placed });
  });

  router.get('/:id/ground', async (req, res) => {
    const work = await findWork(req.params.id);
    const { page } = z.object({ page: z.coerce.number().int().positive().default(1) }).parse(req.query);
    const png = await house.jobs.ground(await house.blobs.readAll(fileOf(work)), page);
    if (!png) throw notFound('ground');
    res.type('image/png').set('Cache-Control', 'private, max-age=31536000, immutable').send(Buffer.from(png));
  });

  router.post('/:id/pages', json({ limit: '16mb' }), async (req, res) => {
    const { frames, page } = Pages.parse(req.body);
    const work = await findWork(req.params.id);
    checkFrames(Object.fromEntries(frames.map((f) => [f.n, f])), work);
    const bytes = await house.jobs.pages(await house.blobs.readAll(fileOf(work)), frames, page);
    res
      .type('application/octet-stream')
      .set('Cache-Control', 'no-store')
      .send(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  });

  router.get('/:id', async (req, res) => {
    res.json(whole(await findWork(req.params.id)));
  });

  router.put('/:id/frames', json({ limit: '16mb' }), async (req, res) => {
    const save = Save.parse(req.body);
    const work = await findWork(req.params.id);
    checkFrames(save.frames, work);
    const result = await house.sequelize.transaction(async (transaction) => {
      const row = await Work.findByPk(work.id, { transaction, lock: true, rejectOnEmpty: true });
      const members = isFolder(row) ? await worksIn(row, transaction) : null;
      const now = members ? joined(row, members) : row;
      if (now.revision !== save.revision) {
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
    const marks = Marks.parse(req.body);
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
    const frames = Object.values(work.frames);
    const original = await house.blobs.readAll(fileOf(work));
    const bytes = await house.jobs.save(original, frames, await sourcesOf(house, frames));
    attachment(res, work.name, work.opened.format).send(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  });

  router.delete('/:id', async (req, res) => {
    const work = await findWork(req.params.id);
    await house.sequelize.transaction(async (transaction) => {
      await leaveFolders(work.id, transaction);
      const made = (await Errand.findAll({ where: { workId: work.id }, transaction })).flatMap((e) => e.made ?? []);
      await work.destroy({ transaction });
      for (const sha256 of made) await house.blobs.release(sha256, transaction);
      if (work.sha256) await house.blobs.release(work.sha256, transaction);
    });
    res.status(204).end();
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
