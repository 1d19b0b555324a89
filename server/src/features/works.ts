import { FrameSchema, GableError } from '@gable/core';
import { LIMITS } from '@gable/formats';
import { Router, raw, json } from 'express';
import type { Sequelize } from 'sequelize';
import { z } from 'zod';
import type { BlobStore } from '../db/blobs';
import { Work, WorkVersion, type Frames } from '../db/models';
import type { Jobs } from '../jobs/jobs';
import { notFound } from '../problems';

export interface House {
  sequelize: Sequelize;
  blobs: BlobStore;
  jobs: Jobs;
}

const Name = z.string().trim().min(1).max(255);
const Save = z.object({
  /** The revision these frames were made from. */
  revision: z.number().int().positive(),
  frames: z.record(z.string().regex(/^[1-9]\d{0,4}$/), FrameSchema),
  /** Save over what another window saved meanwhile; that state is kept as a version. */
  over: z.boolean().default(false),
});

/** The work of this id. @throws GableError `not-found` */
export async function findWork(id: string): Promise<Work> {
  const work = z.uuid().safeParse(id).success ? await Work.findByPk(id) : null;
  if (!work) throw notFound('work');
  return work;
}

/** Opens a file and keeps it as a work: all of it, or nothing. */
export async function createWork(house: House, bytes: Buffer, name: string, demo = false): Promise<Work> {
  const opened = await house.jobs.open(bytes);
  if (opened.pictures.length === 0)
    throw new GableError(
      'no-pictures',
      `“${name}” has no pictures.`,
      'Put a picture into the document, then open it again.',
    );
  return house.sequelize.transaction(async (transaction) => {
    const sha256 = await house.blobs.put(bytes, transaction);
    return Work.create({ name, sha256, opened, frames: {}, demo }, { transaction });
  });
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
    .filter((p) => p.media?.drawable && !p.problem)
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
  pictures: w.opened.pictures.map(({ media, ...p }) => ({
    ...p,
    media: media && {
      type: media.type,
      pixels: media.pixels,
      orientation: media.orientation,
      drawable: media.drawable,
    },
  })),
  frames: w.frames,
});

/** `/api/works`: what has been opened, and its frames. */
export function worksRouter(house: House): Router {
  const router = Router();

  router.get('/', async (_req, res) => {
    const works = await Work.findAll({ order: [['updatedAt', 'DESC']] });
    res.json({ works: works.map(summary) });
  });

  router.post('/', raw({ type: () => true, limit: LIMITS.fileBytes }), async (req, res) => {
    const name = Name.parse(req.query['name'] ?? 'Document.docx');
    const bytes = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
    const work = await createWork(house, bytes, name);
    res.status(201).location(`/api/works/${work.id}`).json(whole(work));
  });

  router.get('/:id', async (req, res) => {
    res.json(whole(await findWork(req.params.id)));
  });

  router.put('/:id/frames', json({ limit: '16mb' }), async (req, res) => {
    const save = Save.parse(req.body);
    const work = await findWork(req.params.id);
    checkFrames(save.frames, work);
    const result = await house.sequelize.transaction(async (transaction) => {
      const now = await Work.findByPk(work.id, { transaction, lock: true, rejectOnEmpty: true });
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
      await now.update({ frames: save.frames, revision: now.revision + 1 }, { transaction });
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
    const bytes = await house.jobs.save(await house.blobs.readAll(work.sha256), Object.values(work.frames));
    res
      .type('application/vnd.openxmlformats-officedocument.wordprocessingml.document')
      .set(
        'Content-Disposition',
        `attachment; filename*=UTF-8''${encodeURIComponent(work.name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`)}`,
      )
      .set('Cache-Control', 'no-store')
      .send(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  });

  router.delete('/:id', async (req, res) => {
    const work = await findWork(req.params.id);
    await house.sequelize.transaction(async (transaction) => {
      await work.destroy({ transaction });
      await house.blobs.release(work.sha256, transaction);
    });
    res.status(204).end();
  });

  return router;
}

/** Every frame must belong to a picture of the work, under its own number. */
function checkFrames(frames: Frames, work: Work): void {
  for (const [n, frame] of Object.entries(frames))
    if (frame.n !== Number(n) || frame.n > work.opened.pictures.length)
      throw new GableError('no-such-picture', `There is no picture ${n} in this work.`, 'Reload the page.', {
        n: Number(n),
      });
}
