import { JobWishSchema, type Job as JobJson } from '@gable/contract';
import { GableError } from '@gable/core';
import { json, Router } from 'express';
import { pipeline } from 'node:stream/promises';
import type { Transaction } from 'sequelize';
import type { AppContext } from '../context';
import { bytesOf } from '../db/blobs';
import { Blob, Job } from '../db/models';
import { byId } from '../db/by-id';
import { attachment } from '../http/attachment';
import { findWork } from '../works/find';
import { isFolder, worksIn } from '../works/folders';
import { folderPlan, planFor, readShots } from './plan';
import { forget, send } from './runner';

const toJson = (e: Job): JobJson => ({
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
const isOver = (e: Job): boolean => e.state !== 'waiting' && e.state !== 'running';

const find = (id: string): Promise<Job> => byId(Job, id, 'job');

/** A job that nothing is heard of is looked at again after so long, in milliseconds. */
const SILENCE = 10_000;

/** Waits until a job has changed. */
function changeOf({ notifications, clock }: AppContext, id: string, signals: readonly AbortSignal[]): Promise<void> {
  return new Promise((resolve) => {
    const end = (): void => {
      calm();
      deaf();
      for (const s of signals) s.removeEventListener('abort', end);
      resolve();
    };
    const calm = clock.after(SILENCE, end);
    const deaf = notifications.onJob((change) => {
      if (change.id === null || change.id === id) end();
    });
    for (const s of signals) s.addEventListener('abort', end);
    if (signals.some((s) => s.aborted)) end();
  });
}

/** `/api/works/:id/jobs` and `/api/jobs`: what takes longer than an answer may, its progress, and what it made. */
export function jobsRouter(context: AppContext, stopping?: AbortSignal): Router {
  const router = Router();

  router.post('/works/:id/jobs', json({ limit: '16mb' }), async (req, res) => {
    const asked = JobWishSchema.parse(req.body);
    const work = await findWork(req.params.id);
    const { plan, name } = isFolder(work) ? await folderPlan(work, asked) : planFor(work, asked);
    const laid = asked.kind === 'proof' && asked.shots ? readShots(asked.shots) : null;
    if (plan.kind === 'proof' && laid) plan.shots = laid.shots;
    const keepPages = async (id: string, transaction: Transaction): Promise<void> => {
      for (const bytes of laid?.bytes ?? []) await context.blobs.put(bytesOf(bytes), { kind: 'job', id }, transaction);
    };
    const job = await send(context, work, { name, plan }, keepPages);
    res.status(201).location(`/api/jobs/${job.id}`).json(toJson(job));
  });

  /** Those of a work, the latest first, and how large its file is. */
  router.get('/works/:id/jobs', async (req, res) => {
    const work = await findWork(req.params.id);
    const list = await Job.findAll({ where: { workId: work.id }, order: [['createdAt', 'DESC']], limit: 20 });
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
    const { id } = await find(req.params.id);
    res.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' });
    res.flushHeaders();
    const gone = new AbortController();
    res.on('close', () => gone.abort());
    // A server that stops ends the stream; the browser asks again by itself.
    const ends = [gone.signal, ...(stopping ? [stopping] : [])];
    let last = '';
    while (!ends.some((s) => s.aborted)) {
      // What changes while it is read is not missed.
      const change = changeOf(context, id, ends);
      const job = await Job.findByPk(id);
      if (!job) break;
      const now = JSON.stringify(toJson(job));
      if (now !== last) res.write(`data: ${now}\n\n`);
      last = now;
      if (isOver(job)) break;
      await change;
    }
    gone.abort();
    res.end();
  });

  router.delete('/jobs/:id', async (req, res) => {
    const job = await find(req.params.id);
    // One that is under way is told by its next beat; what it would have made is never kept.
    const [count] = await Job.update({ state: 'cancelled' }, { where: { id: job.id, state: ['waiting', 'running'] } });
    if (count === 0) await forget(context, job);
    res.status(204).end();
  });

  router.get('/jobs/:id/file', async (req, res) => {
    const job = await find(req.params.id);
    if (!job.made)
      throw new GableError('not-ready', 'This file is not ready.', 'Wait for it, or ask for it again.', {
        state: job.state,
      });
    const format = job.name.slice(job.name.lastIndexOf('.') + 1);
    attachment(res, job.name, format).set('Content-Length', String(job.size));
    await pipeline(context.blobs.pieces(job.made), res).catch((error: unknown) => {
      // The client disconnected.
      if (!res.destroyed) throw error;
    });
  });

  return router;
}
