import { randomUUID } from 'node:crypto';
import { GableError, readChanges, type Frame, type Item } from '@gable/core';
import { Op, QueryTypes, type Transaction } from 'sequelize';
import type { AppContext } from '../context';
import { Job, Picture, type JobPlan } from '../db/models';
import { sweep } from '../works/removal';
import { shownBy } from '../works/sources';
import { logError } from '../http/problems';
import type { NamedPlan } from './plan';
import type { Said } from '../tasks/hand-over';
import type { FileRef, Made } from '../tasks/task';

/** How often a waiting server looks for jobs that others left, in milliseconds. */
export const LOOK = 2000;
/** How often a running job says that it is alive. */
export const BEAT = 500;
/** A job that has not been heard of for so long was left by a server that is gone. */
export const STALE = 15_000;
/** A job that ended so many servers is not taken up again. */
const MAX_ATTEMPTS = 3;
/** What was made is kept for a day. */
const KEPT = 24 * 3600_000;
/** How often that, and removed works, are looked after. */
const SWEEP = 60_000;

/**
 * Long jobs as rows in the database: they outlive a reload of the page and a restart of the server, and several servers on
 * one database share them. A server takes a job by one statement (`FOR UPDATE SKIP LOCKED`), so that none is done twice;
 * one whose server is gone is begun again by another.
 */
export class JobRunner {
  private readonly server = randomUUID();
  private running = true;
  private busy: Promise<void> | null = null;
  private woken: () => void = () => undefined;
  private swept = 0;
  /** Something came since jobs were looked for. */
  private called = false;
  private deaf: (() => void) | null = null;
  /** What is being made. */
  private current: { id: string; stop: AbortController } | null = null;

  constructor(private readonly context: AppContext) {}

  /** Begins to look for jobs, until it is stopped. */
  start(): void {
    this.deaf ??= this.context.notifications.onJob(({ id, state }) => {
      if (id === null || state === 'waiting') this.wake();
      if (id === this.current?.id && state === 'cancelled') this.current.stop.abort();
    });
    this.busy ??= this.loop();
  }

  private wake(): void {
    this.called = true;
    this.woken();
  }

  /** Lets go of what is under way: another server, or this one when it is back, begins it again. */
  async stop(): Promise<void> {
    this.running = false;
    this.deaf?.();
    this.current?.stop.abort();
    this.woken();
    await this.busy;
  }

  private async loop(): Promise<void> {
    while (this.running) {
      this.called = false;
      const job = await this.next().catch((error: unknown) => {
        console.error('Looking for work failed:', error instanceof Error ? error.message : error);
        return null;
      });
      if (job) await this.run(job);
      else await this.rest();
    }
  }

  private rest(): Promise<void> {
    return new Promise((resolve) => {
      const calm = this.context.clock.after(LOOK, resolve);
      this.woken = () => {
        calm();
        resolve();
      };
      if (!this.running || this.called) this.woken();
    });
  }

  /** Takes the oldest job that waits, or was left. */
  private async next(): Promise<Job | null> {
    const now = this.context.clock.now();
    if (now - this.swept > SWEEP) {
      this.swept = now;
      await this.sweep();
    }
    const rows = await this.context.sequelize.query<{ id: string }>(
      `UPDATE jobs SET state = 'running', server = $1, attempts = attempts + 1, heard_at = now(), updated_at = now()
       WHERE id = (
         SELECT id FROM jobs
         WHERE state = 'waiting' OR (state = 'running' AND heard_at < now() - $2 * interval '1 millisecond')
         ORDER BY created_at, id FOR UPDATE SKIP LOCKED LIMIT 1)
       RETURNING id`,
      { bind: [this.server, STALE], type: QueryTypes.SELECT },
    );
    return rows[0] ? Job.findByPk(rows[0].id) : null;
  }

  private async run(job: Job): Promise<void> {
    const stop = new AbortController();
    const { id } = job;
    this.current = { id, stop };
    let at = { done: 0, total: job.total };
    // A job that is no longer this server's stops at its next beat: it was cancelled, or another server has it.
    const beat = async (): Promise<void> => {
      const ours = await this.update(id, {
        done: at.done,
        total: at.total,
        heardAt: this.context.sequelize.fn('now') as unknown as Date,
      }).catch(() => true);
      if (!ours) stop.abort();
    };
    const calm = this.context.clock.every(BEAT, () => void beat());
    try {
      // The server was told to stop while it took the job.
      if (!this.running) stop.abort();
      stop.signal.throwIfAborted();
      if (job.attempts > MAX_ATTEMPTS)
        throw new GableError(
          'gave-up',
          'This stopped the server several times, so Gable gave up.',
          'Hand over fewer frames at a time.',
        );
      const { made, said } = await this.make(job, {
        progress: (done, total) => (at = { done, total }),
        signal: stop.signal,
      });
      await this.keep(id, made, said, at).finally(() => this.context.spool.remove(made));
    } catch (error) {
      if (stop.signal.aborted) {
        if (!this.running) await this.update(id, { state: 'waiting', server: null }).catch(() => false);
      } else await this.fail(id, error).catch(() => undefined);
    } finally {
      calm();
      this.current = null;
    }
  }

  private async make(
    { wish, sha256, name }: Job,
    watch: { progress: (done: number, total: number) => void; signal: AbortSignal },
  ): Promise<Said> {
    const { tasks, blobs } = this.context;
    if (wish.kind === 'folder') {
      const files = [];
      for (const f of wish.files)
        files.push({ ...f, changes: readChanges(f.changes), file: { ...(await blobs.ref(f.sha256)), known: f.known } });
      return tasks.run('handOverFolder', { files, slim: wish.slim, grouped: wish.grouped }, watch);
    }
    const file: FileRef | null = sha256 === null ? null : { ...(await blobs.ref(sha256)), known: wish.known };
    if (wish.kind === 'proof') {
      const pairs = wish.frames.map((after, i) => ({ after, before: wish.before[i]!, caption: wish.captions[i]! }));
      const title = name.replace(/, proof\.pdf$/, '');
      return tasks.run('proof', { file, title, pairs, ...(wish.shots && { shots: wish.shots }) }, watch);
    }
    if (wish.kind === 'set') return tasks.run('pictureSet', { file, frames: wish.frames, set: wish.set }, watch);
    if (!file) throw new GableError('no-file', 'This work has no file.', 'Export its frames as pictures.');
    const changed = { file, changes: readChanges(wish.changes), slim: wish.slim, grouped: wish.grouped };
    const { screens } = wish;
    return wish.as
      ? tasks.run('handOverAs', { ...changed, as: wish.as }, watch)
      : tasks.run('handOver', { ...changed, screens }, watch);
  }

  /** Changes a job while it is ours. @returns was it? */
  private async update(id: string, values: Partial<Job>): Promise<boolean> {
    const [count] = await Job.update(values, { where: { id, state: 'running', server: this.server } });
    return count > 0;
  }

  private async keep(id: string, made: Made, said: string | null, at: { done: number; total: number }): Promise<void> {
    const { sequelize, blobs, spool } = this.context;
    const bytes = { ...made, pieces: spool.pieces(made, 1024 * 1024) };
    await sequelize.transaction(async (transaction) => {
      const where = { id, state: 'running', server: this.server };
      // It may have been cancelled, or taken over, meanwhile: then nothing is kept.
      if ((await Job.count({ where, transaction })) === 0) return;
      const sha256 = await blobs.put(bytes, { kind: 'job', id }, transaction);
      const [count] = await Job.update(
        { state: 'done', made: sha256, size: made.size, said, done: at.total, total: at.total },
        { where, transaction },
      );
      if (count === 0) throw new GableError('cancelled', 'The job was cancelled.', '');
    });
  }

  private async fail(id: string, error: unknown): Promise<void> {
    const known = error instanceof GableError;
    if (!known) logError(error);
    const problem = known
      ? { code: error.code, title: error.message, remedy: error.remedy }
      : { code: 'internal', title: 'The file could not be made.', remedy: 'Try again.' };
    await this.update(id, { state: 'failed', problem });
  }

  /** Puts away what was made more than a day ago. */
  private async sweep(): Promise<void> {
    await sweep(this.context);
    const old = await Job.findAll({
      where: { state: { [Op.notIn]: ['waiting', 'running'] }, updatedAt: { [Op.lt]: new Date(Date.now() - KEPT) } },
      limit: 20,
    });
    for (const job of old) await forget(this.context, job);
  }
}

/** Takes a job away, with what it made and what only it needed. */
export async function forget(context: AppContext, job: Job): Promise<void> {
  await context.sequelize.transaction(async (transaction) => {
    await job.destroy({ transaction });
    await context.blobs.release('job', [job.id], transaction);
  });
}

/** Blobs that a job needs until it is forgotten. */
function needed(sha256: string | null, wish: JobPlan): string[] {
  return [
    ...(sha256 ? [sha256] : []),
    ...shownIn(wish),
    ...(wish.kind === 'folder' ? wish.files.map((f) => f.sha256) : []),
    ...(wish.kind === 'proof' ? sourcesOf(wish.before) : []),
  ];
}

const changesIn = (wish: JobPlan & { kind: 'folder' | 'hand-over' }): Item[] =>
  (wish.kind === 'folder' ? wish.files : [wish]).flatMap((f) => Object.values(f.changes.items));
const sourcesOf = (frames: readonly Frame[]): string[] => frames.flatMap((f) => f.source?.sha256 ?? []);

/** Kept pictures that a job's result shows. */
const shownIn = (wish: JobPlan): string[] => ('frames' in wish ? sourcesOf(wish.frames) : shownBy(changesIn(wish)));
/** How many pictures it has to make. */
const countOf = (wish: JobPlan): number => ('frames' in wish ? wish.frames : changesIn(wish)).length;

/** A new job for a work as it is now. @param pages keeps the pages of a proof sheet for it, if there are any */
export async function send(
  context: AppContext,
  work: { id: string; sha256: string | null; revision: number },
  { name, plan: wish }: NamedPlan,
  pages?: (owner: string, transaction: Transaction) => Promise<void>,
): Promise<Job> {
  // Pictures that it needs count as used.
  const used = shownIn(wish);
  if (used.length > 0) await Picture.update({ usedAt: new Date() }, { where: { sha256: used } });
  return context.sequelize.transaction(async (transaction) => {
    const id = randomUUID();
    await context.blobs.keep(needed(work.sha256, wish), { kind: 'job', id }, transaction);
    await pages?.(id, transaction);
    const { sha256, revision } = work;
    return Job.create({ id, workId: work.id, sha256, name, revision, wish, total: countOf(wish) }, { transaction });
  });
}
