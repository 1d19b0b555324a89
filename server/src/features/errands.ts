import { JobWishSchema, type Job, type JobWish, type PageShot, type ShotPair as ShotPairJson } from '@gable/contract';
import { cut, GableError } from '@gable/core';
import { readHeader } from '@gable/formats';
import { json, Router } from 'express';
import { pipeline } from 'node:stream/promises';
import type { Transaction } from 'sequelize';
import { z } from 'zod';
import type { AppContext } from '../context';
import { bytesOf } from '../db/blobs';
import { Blob, Errand, type ErrandWish, type Shot, type ShotPair, type Work } from '../db/models';
import { forget, send, type Errands } from '../jobs/errands';
import { notFound } from '../problems';
import { isFolder, worksIn } from '../works/folders';
import { attachment, checkFrames, fileOf, findWork } from '../works/router';
import { changedFrames } from '../works/state';

/** Of a page in the proof sheet. */
const MOST_PIXELS = 16e6;

const toJson = (e: Errand): Job => ({
  id: e.id,
  kind: e.wish.kind,
  work: e.workId,
  revision: e.revision,
  name: e.name,
  state: e.state,
  done: e.done,
  total: e.total,
  size: e.size,
  said: e.said,
  problem: e.problem,
  createdAt: e.createdAt.toISOString(),
});
const isOver = (e: Errand): boolean => e.state !== 'waiting' && e.state !== 'running';

async function find(id: string): Promise<Errand> {
  const errand = z.uuid().safeParse(id).success ? await Errand.findByPk(id) : null;
  if (!errand) throw notFound('job');
  return errand;
}

/** Where a picture stands, for a sheet on paper. */
function caption({ n, where, frame }: Work['opened']['pictures'][number]): string {
  const page =
    where.page === null
      ? where.place
      : where.place === 'body'
        ? `about page ${where.page}`
        : `${where.place} ${where.page}`;
  return cut(`Picture ${n}, ${page}${frame.alt ? `: ${frame.alt}` : ''}`, 300, '…');
}

/** The frames of a work as it was saved, those that can be shown. */
function showable(work: Work): ErrandWish['frames'] {
  const changed = changedFrames(work);
  return work.opened.pictures
    .map((p) => ({ picture: p, frame: changed.get(p.n) ?? p.frame }))
    .filter(({ picture, frame }) => frame.source ?? (!picture.problem && picture.media?.drawable))
    .map(({ frame }) => frame);
}

/** The files of a folder, each with its frames as they are. */
async function folderWish(folder: Work, wish: JobWish): Promise<{ wish: ErrandWish; name: string }> {
  if (wish.kind !== 'hand-over')
    throw new GableError(
      'folder',
      'A folder is handed over as its files.',
      'Open one of its files for its pictures or a proof sheet.',
    );
  const works = await worksIn(folder);
  const files = (folder.opened.members ?? []).flatMap((id) =>
    works
      .filter((w) => w.id === id && w.sha256 !== null)
      .map((w) => ({ sha256: w.sha256!, name: w.name, frames: [...changedFrames(w).values()] })),
  );
  const frames = files.flatMap((f) => f.frames);
  return {
    wish: { kind: 'folder', frames, files, ...(wish.slim && { slim: wish.slim }) },
    name: `${folder.name}.zip`,
  };
}

function wishFor(work: Work, wish: JobWish): { wish: ErrandWish; name: string } {
  if (wish.kind === 'hand-over') {
    fileOf(work);
    const frames = [...changedFrames(work).values()];
    return { wish: { kind: 'hand-over', frames, ...(wish.slim && { slim: wish.slim }) }, name: work.name };
  }
  if (wish.kind === 'proof') {
    const changed = changedFrames(work);
    const frames = showable(work).filter((f) => changed.has(f.n));
    const came = frames.map((f) => work.opened.pictures[f.n - 1]!);
    // An empty frame had nothing to show before: it is shown as it is now.
    const before = came.map((p, i) => (p.problem ? frames[i]! : p.frame));
    const name = `${work.name.replace(/\.\w+$/, '')}, proof.pdf`;
    return { wish: { kind: 'proof', frames, before, captions: came.map(caption) }, name };
  }
  const { format, widths, sizes, frames = showable(work) } = wish;
  checkFrames(frames, work);
  if (frames.length === 0)
    throw new GableError('no-pictures', 'This work has no picture that can be shown.', 'Put one into a frame first.');
  const name = `${work.name.replace(/\.\w+$/, '')}, pictures.zip`;
  return { wish: { kind: 'set', frames, set: { format, widths, ...(sizes && { sizes }) } }, name };
}

/** Pages of a proof sheet, checked: nothing is kept when one of them is no picture. */
function readShots(shots: readonly ShotPairJson[]): { shots: ShotPair[]; bytes: Buffer[] } {
  const bytes: Buffer[] = [];
  const read = ({ png, width, height, frames }: PageShot): Shot => {
    const picture = Buffer.from(png, 'base64');
    const header = readHeader(picture);
    if (header?.type !== 'png' || !header.pixels || header.pixels.width * header.pixels.height > MOST_PIXELS)
      throw new GableError('bad-page', 'A page of the proof sheet is no picture.', 'Reload the page and try again.');
    bytes.push(picture);
    return { width, height, frames, ground: bytesOf(picture).sha256 };
  };
  return {
    shots: shots.map(({ caption, before, after }) => ({ caption, before: read(before), after: read(after) })),
    bytes,
  };
}

/** How often a running errand is looked at for those who wait for it, in milliseconds. */
const WATCH = 200;

/** `/api/works/:id/jobs` and `/api/jobs`: what takes longer than an answer may, its progress, and what it made. */
export function errandsRouter(house: AppContext, errands: Pick<Errands, 'wake'>, stopping?: AbortSignal): Router {
  const router = Router();

  router.post('/works/:id/jobs', json({ limit: '16mb' }), async (req, res) => {
    const asked = JobWishSchema.parse(req.body);
    const work = await findWork(req.params.id);
    const { wish, name } = isFolder(work) ? await folderWish(work, asked) : wishFor(work, asked);
    const laid = asked.kind === 'proof' && asked.shots ? readShots(asked.shots) : null;
    if (wish.kind === 'proof' && laid) wish.shots = laid.shots;
    const keepPages = async (id: string, transaction: Transaction): Promise<void> => {
      for (const bytes of laid?.bytes ?? []) await house.blobs.put(bytesOf(bytes), { kind: 'errand', id }, transaction);
    };
    const errand = await send(house, work, name, wish, keepPages);
    errands.wake();
    res.status(201).location(`/api/jobs/${errand.id}`).json(toJson(errand));
  });

  /** Those of a work, the latest first, and how large its file is. */
  router.get('/works/:id/jobs', async (req, res) => {
    const work = await findWork(req.params.id);
    const list = await Errand.findAll({ where: { workId: work.id }, order: [['createdAt', 'DESC']], limit: 20 });
    const files = isFolder(work) ? (await worksIn(work)).map((w) => w.sha256) : [work.sha256];
    const blobs = await Blob.findAll({ where: { sha256: files.filter((f) => f !== null) } });
    const size = blobs.reduce((sum, b) => sum + b.size, 0);
    res.json({ jobs: list.map(toJson), size: size || null });
  });

  router.get('/jobs/:id', async (req, res) => {
    res.json(toJson(await find(req.params.id)));
  });

  /** Server-sent events (HTML Living Standard §9.2): the job whenever it has changed, until it is over. */
  router.get('/jobs/:id/events', async (req, res) => {
    let errand = await find(req.params.id);
    res.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' });
    res.flushHeaders();
    let last = '';
    // A server that stops ends the stream; the browser asks again by itself.
    while (!res.destroyed && !stopping?.aborted) {
      const now = JSON.stringify(toJson(errand));
      if (now !== last) res.write(`data: ${now}\n\n`);
      last = now;
      if (isOver(errand)) break;
      await new Promise((r) => setTimeout(r, WATCH));
      const next = await Errand.findByPk(errand.id);
      if (!next) break;
      errand = next;
    }
    res.end();
  });

  router.delete('/jobs/:id', async (req, res) => {
    const errand = await find(req.params.id);
    // One that is under way is told by its next beat; what it would have made is never kept.
    const [count] = await Errand.update(
      { state: 'cancelled' },
      { where: { id: errand.id, state: ['waiting', 'running'] } },
    );
    if (count === 0) await forget(house, errand);
    res.status(204).end();
  });

  router.get('/jobs/:id/file', async (req, res) => {
    const errand = await find(req.params.id);
    if (!errand.made)
      throw new GableError('not-ready', 'This file is not made.', 'Wait for it, or ask for it again.', {
        state: errand.state,
      });
    const format = errand.name.slice(errand.name.lastIndexOf('.') + 1);
    attachment(res, errand.name, format).set('Content-Length', String(errand.size));
    await pipeline(house.blobs.pieces(errand.made), res).catch((error: unknown) => {
      // Whoever waited for it has gone.
      if (!res.destroyed) throw error;
    });
  });

  return router;
}
