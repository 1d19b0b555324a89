import type { APIRequestContext, APIResponse } from '@playwright/test';
import { withShape } from '@gable/core';
import { readFileSync, readdirSync } from 'node:fs';
import { saveOf, type ToldWork } from '../../server/tests/support/entries';
import { databaseOf, serve, stop, type Served } from '../fixtures';
import { handbook } from '../tests/steps';

/** Bytes that a process and all that it started hold (`/proc`, Linux). */
function memoryOf(pid: number): number {
  const parents = new Map<number, number>();
  for (const name of readdirSync('/proc').filter((n) => /^\d+$/.test(n)))
    try {
      const stat = readFileSync(`/proc/${name}/stat`, 'latin1');
      parents.set(Number(name), Number(stat.slice(stat.lastIndexOf(')') + 4).split(' ')[0]));
    } catch {
      // It has ended meanwhile.
    }
  const mine = new Set([pid]);
  for (let grown = true; grown;) {
    grown = false;
    for (const [child, parent] of parents)
      if (mine.has(parent) && !mine.has(child)) {
        mine.add(child);
        grown = true;
      }
  }
  let pages = 0;
  for (const id of mine)
    try {
      pages += Number(readFileSync(`/proc/${id}/statm`, 'latin1').split(' ')[1]);
    } catch {
      // It has ended meanwhile.
    }
  return pages * 4096;
}

/** Where somebody else comes from: an address of the documentation's (RFC 5737), told as a proxy tells it. */
const ELSEWHERE = '203.0.113.7';

/** What was measured while something hostile was under way: seconds and bytes. */
export interface Measured {
  name: string;
  /** What became of it. */
  answers: string;
  took: number;
  /** The longest that `/api/health` took. */
  health: number;
  /** How long somebody else took to open, frame and download the handbook. */
  other: number;
  memory: number;
}

/** A server of its own that is attacked, with its memory watched. */
export class Victim {
  private constructor(
    private readonly server: Served,
    private readonly request: APIRequestContext,
  ) {}

  static async serve(request: APIRequestContext): Promise<Victim> {
    // Of its own: what is hostile would be painted on the shelf of every other test.
    return new Victim(await serve(databaseOf('HOSTILE'), { GABLE_PROXY: 'loopback' }), request);
  }

  get url(): string {
    return this.server.url;
  }

  get alive(): boolean {
    const { child } = this.server;
    return child.exitCode === null && child.signalCode === null;
  }

  stop(): Promise<void> {
    return stop(this.server);
  }

  send(bytes: Uint8Array, name: string, headers = {}): Promise<APIResponse> {
    return this.request.post(`${this.url}/api/works?name=${encodeURIComponent(name)}`, {
      headers: { 'Content-Type': 'application/octet-stream', ...headers },
      data: Buffer.from(bytes),
      timeout: 180_000,
    });
  }

  /** Somebody opens the handbook, puts a picture into a circle and takes the file. */
  async somebodyElse(): Promise<void> {
    const headers = { 'X-Forwarded-For': ELSEWHERE };
    const options = { timeout: 60_000, headers };
    const created = await this.send(handbook, 'handbook.docx', headers);
    if (created.status() !== 201) throw new Error(`Opening ended with ${created.status()}: ${await created.text()}`);
    const work = (await created.json()) as ToldWork;
    const { frame, size } = work.pictures[1]!;
    const frames = { 2: withShape(frame, { name: 'circle', knobs: {} }, size) };
    const saved = await this.request.post(`${this.url}/api/works/${work.id}/entries`, {
      data: saveOf(work, frames),
      ...options,
    });
    if (saved.status() !== 200) throw new Error(`Saving ended with ${saved.status()}: ${await saved.text()}`);
    const file = await this.request.get(`${this.url}/api/works/${work.id}/file`, options);
    if (file.status() !== 200) throw new Error(`Taking the file ended with ${file.status()}: ${await file.text()}`);
    await this.request.delete(`${this.url}/api/works/${work.id}`, options);
  }

  /** Does something hostile, and measures how others fare meanwhile. @param attack gives the status of each answer */
  async under(name: string, attack: () => Promise<number[]>): Promise<Measured> {
    let over = false;
    let [memory, health] = [0, 0];
    const watch = (async () => {
      while (!over) {
        const before = performance.now();
        const answer = await this.request.get(`${this.url}/api/health`, { timeout: 60_000 });
        if (answer.status() !== 200) throw new Error(`Health is ${answer.status()}.`);
        health = Math.max(health, performance.now() - before);
        memory = Math.max(memory, memoryOf(this.server.child.pid!));
        await new Promise((r) => setTimeout(r, 50));
      }
    })();
    const begun = performance.now();
    const attacked = attack().then((statuses) => ({ statuses, took: performance.now() - begun }));
    // Some of what is sent has arrived before others come.
    await new Promise((r) => setTimeout(r, 300));
    const before = performance.now();
    await this.somebodyElse();
    const other = performance.now() - before;
    const { statuses, took } = await attacked;
    over = true;
    await watch;
    const counts = new Map<number, number>();
    for (const s of statuses) counts.set(s, (counts.get(s) ?? 0) + 1);
    const answers = [...counts].map(([s, n]) => (n === 1 ? String(s) : `${n} × ${s}`)).join(', ');
    return { name, answers, took: took / 1000, health: health / 1000, other: other / 1000, memory };
  }
}
