import { randomUUID } from 'node:crypto';
import { slimWords } from '@gable/cli/slim';
import { GableError, type Frame } from '@gable/core';
import { zipSync } from 'fflate';
import { Op, QueryTypes } from 'sequelize';
import { Errand, Picture, type ErrandWish, type Shot, type ShotPair } from '../db/models';
import type { House } from '../features/works';
import type { ProofWish, ShotWish } from './jobs';
import { sourcesOf } from './sources';

/** Times in milliseconds. */
interface Pace {
  /** How often a waiting server looks for errands of others. */
  look: number;
  /** How often a running errand says that it is alive. */
  beat: number;
  /** An errand that has not been heard of for so long was left by a server that is gone. */
  stale: number;
}
const PACE: Pace = { look: 2000, beat: 500, stale: 15_000 };
/** An errand that ended so many servers is not taken up again. */
const MOST_TRIES = 3;
/** What was made is kept for a day. */
const KEPT = 24 * 3600_000;
/** How often that is looked after. */
const SWEEP = 10 * 60_000;

/**
 * Long jobs as rows in the database: they outlive a reload of the page and a restart of the server, and several servers on
 * one database share them. A server takes an errand by one statement (`FOR UPDATE SKIP LOCKED`), so that none is done twice;
 * one whose server is gone is begun again by another.
 */
export class Errands {
  private readonly server = randomUUID();
  private readonly pace: Pace;
  private running = true;
  private busy: Promise<void> | null = null;
  private woken: () => void = () => undefined;
  private swept = 0;
  private stopNow: AbortController | null = null;

  constructor(
    private readonly house: House,
    pace: Partial<Pace> = {},
  ) {
    this.pace = { ...PACE, ...pace };
  }

  /** Begins to look for errands, until it is stopped. */
  start(): void {
    this.busy ??= this.loop();
  }

  /** There is something to do. */
  wake(): void {
    this.woken();
  }

  /** Lets go of what is under way: another server, or this one when it is back, begins it again. */
  async stop(): Promise<void> {
    this.running = false;
    this.stopNow?.abort();
    this.woken();
    await this.busy;
  }

  private async loop(): Promise<void> {
    while (this.running) {
      const errand = await this.next().catch((error: unknown) => {
        console.error('Looking for work failed:', error instanceof Error ? error.message : error);
        return null;
      });
      if (errand) await this.run(errand);
      else await this.rest();
    }
  }

  private rest(): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, this.pace.look);
      this.woken = () => {
        clearTimeout(timer);
        resolve();
      };
      if (!this.running) this.woken();
    });
  }

  /** Takes the oldest errand that waits, or was left. */
  private async next(): Promise<Errand | null> {
    if (Date.now() - this.swept > SWEEP) {
      this.swept = Date.now();
      await this.sweep();
    }
    const rows = await this.house.sequelize.query<{ id: string }>(
      `UPDATE errands SET state = 'running', server = $1, tries = tries + 1, heard_at = now(), updated_at = now()
       WHERE id = (
         SELECT id FROM errands
         WHERE state = 'waiting' OR (state = 'running' AND heard_at < now() - $2 * interval '1 millisecond')
         ORDER BY created_at, id FOR UPDATE SKIP LOCKED LIMIT 1)
       RETURNING id`,
      { bind: [this.server, this.pace.stale], type: QueryTypes.SELECT },
    );
    return rows[0] ? Errand.findByPk(rows[0].id) : null;
  }

  private async run(errand: Errand): Promise<void> {
    const stop = new AbortController();
    this.stopNow = stop;
    const { id } = errand;
    let at = { done: 0, total: errand.total };
    // Whoever is told that it is no longer ours stops: it was cancelled, or another server has it.
    const beat = async (): Promise<void> => {
      const ours = await this.update(id, { done: at.done, total: at.total, heardAt: new Date() }).catch(() => true);
      if (!ours) stop.abort();
    };
    const timer = setInterval(() => void beat(), this.pace.beat);
    try {
      if (errand.tries > MOST_TRIES)
        throw new GableError(
          'gave-up',
          'This ended the server several times and is not tried again.',
          'Hand over fewer frames at a time.',
        );
      const { bytes, said } = await this.make(errand, {
        progress: (done, total) => (at = { done, total }),
        signal: stop.signal,
      });
      await this.keep(id, Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), said, at);
    } catch (error) {
      if (stop.signal.aborted) {
        if (!this.running) await this.update(id, { state: 'waiting', server: null }).catch(() => false);
      } else await this.fail(id, error).catch(() => undefined);
    } finally {
      clearInterval(timer);
      this.stopNow = null;
    }
  }

  private async make(
    { wish, sha256, name }: Errand,
    watch: { progress: (done: number, total: number) => void; signal: AbortSignal },
  ): Promise<{ bytes: Uint8Array; said: string | null }> {
    const { jobs, blobs } = this.house;
    if (wish.kind === 'folder') return this.makeFolder(wish, watch);
    const original = sha256 === null ? null : await blobs.readAll(sha256);
    const before = wish.kind === 'proof' ? wish.before : [];
    const sources = await sourcesOf(this.house, [...wish.frames, ...before]);
    if (wish.kind === 'proof') {
      const pairs = wish.frames.map((after, i) => ({ after, before: wish.before[i]!, caption: wish.captions[i]! }));
      const shots = wish.shots && (await Promise.all(wish.shots.map((s) => this.shotsOf(s))));
      const title = name.replace(/, proof\.pdf$/, '');
      const bytes = await jobs.proof(original, { title, pairs, ...(shots && { shots }) }, sources, watch);
      return { bytes, said: null };
    }
    if (wish.kind === 'set')
      return { bytes: await jobs.set(original, wish.frames, sources, wish.set, watch), said: null };
    if (!original) throw new GableError('no-file', 'This work has no file.', 'Save its frames as pictures.');
    const saved = await jobs.save(original, wish.frames, sources, watch);
    if (!wish.slim) return { bytes: saved, said: null };
    const slimmed = await jobs.slim(saved, wish.slim, watch);
    return { bytes: slimmed.bytes, said: slimWords(slimmed) };
  }

  private async shotsOf({ caption, before, after }: ShotPair): Promise<NonNullable<ProofWish['shots']>[number]> {
    const read = async ({ ground, ...rest }: Shot): Promise<ShotWish> => ({
      ...rest,
      ground: await this.house.blobs.readAll(ground),
    });
    return { caption, before: await read(before), after: await read(after) };
  }

  private async makeFolder(
    { files, slim }: Extract<ErrandWish, { kind: 'folder' }>,
    { progress, signal }: { progress: (done: number, total: number) => void; signal: AbortSignal },
  ): Promise<{ bytes: Uint8Array; said: string | null }> {
    const { jobs, blobs } = this.house;
    const total = files.reduce((sum, f) => sum + f.frames.length, 0);
    const zip: Record<string, Uint8Array> = {};
    const sums = { before: 0, after: 0, cut: 0, fewer: 0, bared: 0, placed: 0 };
    let begun = 0;
    for (const { sha256, name, frames } of files) {
      signal.throwIfAborted();
      const before = begun;
      const watch = { signal, progress: (done: number) => progress(Math.min(total, before + done), total) };
      const sources = await sourcesOf(this.house, frames);
      let bytes = await jobs.save(await blobs.readAll(sha256), frames, sources, watch);
      if (slim) {
        const slimmed = await jobs.slim(bytes, slim, { signal, progress: () => undefined });
        bytes = slimmed.bytes;
        for (const key of Object.keys(sums) as (keyof typeof sums)[]) sums[key] += slimmed[key];
      }
      zip[unused(name, zip)] = bytes;
      begun += frames.length;
    }
    progress(total, total);
    // Office files are packed already.
    return { bytes: zipSync(zip, { level: 0 }), said: slim ? slimWords(sums) : null };
  }

  /** Changes an errand while it is ours. @returns was it? */
  private async update(id: string, values: Partial<Errand>): Promise<boolean> {
    const [count] = await Errand.update(values, { where: { id, state: 'running', server: this.server } });
    return count > 0;
  }

  private async keep(
    id: string,
    bytes: Buffer,
    said: string | null,
    at: { done: number; total: number },
  ): Promise<void> {
    await this.house.sequelize.transaction(async (transaction) => {
      const made = await this.house.blobs.put(bytes, transaction);
      const [count] = await Errand.update(
        { state: 'done', made, size: bytes.length, said, done: at.total, total: at.total },
        { where: { id, state: 'running', server: this.server }, transaction },
      );
      if (count === 0) await this.house.blobs.release(made, transaction);
    });
  }

  private async fail(id: string, error: unknown): Promise<void> {
    const known = error instanceof GableError;
    if (!known) console.error('An errand failed:', error);
    const problem = known
      ? { code: error.code, title: error.message, remedy: error.remedy }
      : { code: 'internal', title: 'The file could not be made.', remedy: 'Try again.' };
    await this.update(id, { state: 'failed', problem });
  }

  /** Puts away what was made more than a day ago. */
  private async sweep(): Promise<void> {
    const old = await Errand.findAll({
      where: { state: { [Op.notIn]: ['waiting', 'running'] }, updatedAt: { [Op.lt]: new Date(Date.now() - KEPT) } },
      limit: 20,
    });
    for (const errand of old) await forget(this.house, errand);
  }
}

/** A name that is not taken yet: two files of a folder can be called the same. */
function unused(name: string, taken: object): string {
  const dot = name.lastIndexOf('.');
  const [stem, kind] = dot > 0 ? [name.slice(0, dot), name.slice(dot)] : [name, ''];
  for (let i = 2, next = name; ; i++, next = `${stem} ${i - 1}${kind}`) if (!(next in taken)) return next;
}

/** Takes an errand away, with what it made. */
export async function forget(house: House, errand: Errand): Promise<void> {
  await house.sequelize.transaction(async (transaction) => {
    await errand.destroy({ transaction });
    if (errand.made) await house.blobs.release(errand.made, transaction);
    for (const { before, after } of (errand.wish.kind === 'proof' && errand.wish.shots) || [])
      for (const { ground } of [before, after]) await house.blobs.release(ground, transaction);
  });
}

/** A new errand for a work as it is now. */
export async function send(
  workId: string,
  sha256: string | null,
  name: string,
  revision: number,
  wish: ErrandWish,
): Promise<Errand> {
  // Pictures that it needs count as used.
  const used = wish.frames.flatMap((f: Frame) => (f.source ? [f.source.sha256] : []));
  if (used.length > 0) await Picture.update({ usedAt: new Date() }, { where: { sha256: used } });
  return Errand.create({ workId, sha256, name, revision, wish, total: wish.frames.length });
}
