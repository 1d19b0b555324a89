import { GableError, type ErrorCode } from '@gable/core';
import { fork, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { clientNow } from '../http/client';
import { TASKS, type TaskInput, type TaskName, type TaskOutput, type Tasks, type Watch } from './registry';
import type { Lane, Task } from './task';

/** To a task's process, and from it. */
export interface Call {
  name: TaskName;
  input: unknown;
}
export type Answer =
  { ready: true } | { progress: { done: number; total: number } } | { ok: unknown } | { problem: TaskProblem };
/** What a task threw, as data. */
export interface TaskProblem {
  code: ErrorCode;
  message: string;
  remedy: string;
  facts: GableError['facts'];
}

/** How much the pool takes on. */
export interface PoolLimits {
  /** Processes a lane has at the most. Of several, one client has all but one at the most: whatever it sends, others go on. */
  lanes: Record<Lane, number>;
  /** Tasks that wait in a lane at the most, and those of one client among them. */
  waiting: number;
  waitingEach: number;
  /** How long one may wait before it is refused, in milliseconds; long ones wait as long as they must. */
  patience: number;
  /** Bytes of memory that tasks at work may take together, by what they weigh. */
  memory: number;
  /** Bytes that one process may take; it is ended beyond. */
  each: number;
  /** One that has come to take more than this is ended after its task: memory that was once taken is not given back. */
  grown: number;
  /** So much may all of them keep when they are idle; beyond, a process that holds half of `grown` is ended after its task. */
  kept: number;
  /** An idle process is ended after so long, in milliseconds. */
  idle: number;
}
export const POOL_LIMITS: PoolLimits = {
  lanes: { quick: 3, paint: 3, look: 1, long: 1 },
  waiting: 200,
  waitingEach: 100,
  patience: 30_000,
  memory: 1000 * 1024 ** 2,
  each: 1400 * 1024 ** 2,
  grown: 400 * 1024 ** 2,
  kept: 1200 * 1024 ** 2,
  idle: 60_000,
};
/** How often the memory of a process at work is looked at, in milliseconds. */
const LOOK = 250;
/** Of JavaScript's own heap. */
const HEAP_MB = 1024;

interface Waiting {
  name: TaskName;
  client: string;
  task: Task<never, unknown>;
  input: unknown;
  weight: number;
  watch: Watch;
  timer: NodeJS.Timeout | null;
  resolve(value: unknown): void;
  reject(error: Error): void;
}

/**
 * Runs tasks in processes of their own: whatever a file does to one, the process that answers goes on, and one that takes
 * too long or too much is ended, inside of a library, too. A lane has a queue with an end; heavy tasks wait for each other.
 */
export class TaskPool implements Tasks {
  private readonly queues: Record<Lane, Waiting[]> = { quick: [], paint: [], look: [], long: [] };
  private readonly runners: Record<Lane, Runner[]> = { quick: [], paint: [], look: [], long: [] };
  private closing = false;

  constructor(
    private readonly entry: string,
    private readonly env: { GABLE_DATABASE_URL: string; GABLE_SPOOL: string },
    private readonly limits: PoolLimits = POOL_LIMITS,
  ) {}

  run<N extends TaskName>(name: N, input: TaskInput<N>, watch: Watch = {}): Promise<TaskOutput<N>> {
    const task = TASKS[name] as unknown as Task<never, unknown>;
    const queue = this.queues[task.lane];
    const client = clientNow();
    if (this.closing || (task.lane !== 'long' && this.isFull(queue, client))) return Promise.reject(busy());
    return new Promise((resolve, reject) => {
      const weight = task.weigh?.(input as never) ?? 0;
      const waiting: Waiting = {
        ...{ name, client, task, input, weight, watch, timer: null, reject },
        resolve: resolve as (value: unknown) => void,
      };
      const leave = (error: Error): void => {
        const at = queue.indexOf(waiting);
        if (at < 0) return;
        queue.splice(at, 1);
        reject(error);
      };
      if (task.lane !== 'long') waiting.timer = setTimeout(() => leave(busy()), this.limits.patience);
      watch.signal?.addEventListener('abort', () => leave(stopped()), { once: true });
      if (watch.signal?.aborted) {
        reject(stopped());
        return;
      }
      queue.push(waiting);
      this.next(task.lane);
    });
  }

  /** Tasks under way end first. */
  async close(): Promise<void> {
    this.closing = true;
    for (const queue of Object.values(this.queues)) for (const w of queue.splice(0)) w.reject(busy());
    await Promise.all(Object.values(this.runners).flatMap((all) => all.map((r) => r.end())));
  }

  /** Begins what can begin in a lane. */
  private next(lane: Lane): void {
    const [queue, runners] = [this.queues[lane], this.runners[lane]];
    const running = runners.flatMap((r) => r.task ?? []);
    const load = this.sum((r) => r.task?.weight ?? 0);
    const has = (client: string): number => running.filter((r) => r.client === client).length;
    const most = Math.max(1, this.limits.lanes[lane] - 1);
    const can = queue.filter((w) => has(w.client) < most && !(w.task.alone && running.some((r) => r.task === w.task)));
    // The client with the fewest tasks at work comes first, and among those the one that asked first.
    const waiting = can.sort((a, b) => has(a.client) - has(b.client))[0];
    if (!waiting || this.closing) return;
    // One that is heavier than all may be runs when nothing else does.
    if (load > 0 && load + waiting.weight > this.limits.memory) return;
    let runner = runners.find((r) => r.task === null);
    if (!runner && runners.length < this.limits.lanes[lane]) runner = this.start(lane);
    if (!runner) return;
    queue.splice(queue.indexOf(waiting), 1);
    if (waiting.timer) clearTimeout(waiting.timer);
    void runner.run(waiting).then(() => this.wake());
    // A heavy one needs what idle processes keep.
    if (waiting.weight > this.limits.grown) for (const r of Object.values(this.runners).flat()) r.makeRoom();
    this.next(lane);
  }

  /** Starts a process in each lane that people wait for, so that the first of them need not wait for it. */
  warm(): void {
    for (const lane of ['quick', 'paint'] as const) if (this.runners[lane].length === 0) this.start(lane);
  }

  private start(lane: Lane): Runner {
    const runners = this.runners[lane];
    const runner: Runner = new Runner(this.entry, this.env, this.limits, {
      ended: () => {
        runners.splice(runners.indexOf(runner), 1);
        this.wake();
      },
      together: () => this.sum((r) => r.memory()),
      // The last of a lane stays.
      spare: () => lane === 'long' || runners.length > 1,
    });
    runners.push(runner);
    return runner;
  }

  private isFull(queue: readonly Waiting[], client: string): boolean {
    const { waiting, waitingEach } = this.limits;
    return queue.length >= waiting || queue.filter((w) => w.client === client).length >= waitingEach;
  }

  /** Of all processes together. */
  private sum(of: (runner: Runner) => number): number {
    return Object.values(this.runners)
      .flat()
      .reduce((sum, r) => sum + of(r), 0);
  }

  /** Something has ended: others may begin. */
  private wake(): void {
    for (const lane of Object.keys(this.queues) as Lane[]) this.next(lane);
  }
}

const busy = (): GableError => new GableError('busy', 'Gable is busy.', 'Try again in a few seconds.');
const stopped = (): Error => new DOMException('The task was stopped.', 'AbortError');

/** One process, with the task it is at. */
class Runner {
  task: Waiting | null = null;
  private readonly child: ChildProcess;
  private idle: NodeJS.Timeout | null = null;
  private gone = false;
  private settle: ((error: Error | null, value?: unknown) => void) | null = null;

  constructor(
    entry: string,
    env: Record<string, string>,
    private readonly limits: PoolLimits,
    /** Of the pool: told of the end; bytes that all processes take; may this one end when it is idle? */
    private readonly pool: { ended(): void; together(): number; spare(): boolean },
  ) {
    this.child = fork(entry, [], {
      env: { ...process.env, ...env },
      serialization: 'advanced',
      execArgv: ['--enable-source-maps', `--max-old-space-size=${HEAP_MB}`],
    });
    this.child.on('message', (answer: Answer) => this.hear(answer));
    this.child.on('exit', () => this.leave());
    this.child.on('error', () => this.leave());
  }

  run(waiting: Waiting): Promise<void> {
    this.task = waiting;
    if (this.idle) clearTimeout(this.idle);
    return new Promise((done) => {
      const { task, watch } = waiting;
      const kill = (error: Error): void => {
        // It takes nothing more on from now, not only from when it is gone.
        this.gone = true;
        settle(error);
        this.child.kill('SIGKILL');
        this.pool.ended();
      };
      const late = setTimeout(() => kill(tooLong(task.seconds)), task.seconds * 1000);
      const look = setInterval(() => {
        if (this.memory() > this.limits.each) kill(tooHeavy());
      }, LOOK);
      const abort = (): void => kill(stopped());
      watch.signal?.addEventListener('abort', abort, { once: true });
      const settle = (error: Error | null, value?: unknown): void => {
        if (this.settle === null) return;
        this.settle = null;
        clearTimeout(late);
        clearInterval(look);
        watch.signal?.removeEventListener('abort', abort);
        if (error) waiting.reject(error);
        else waiting.resolve(value);
        this.task = null;
        this.rest();
        done();
      };
      this.settle = settle;
      if (this.gone) settle(tooHeavy());
      else this.child.send({ name: waiting.name, input: waiting.input } satisfies Call);
    });
  }

  /** Ends the process; what it is at ends first, for a while. */
  async end(): Promise<void> {
    if (this.gone) return;
    const gone = new Promise<void>((resolve) => this.child.once('exit', () => resolve()));
    if (this.task === null) this.child.disconnect();
    else {
      const { resolve, reject } = this.task;
      this.task.resolve = (value) => {
        resolve(value);
        this.child.disconnect();
      };
      this.task.reject = (error) => {
        reject(error);
        this.child.disconnect();
      };
    }
    await gone;
  }

  private hear(answer: Answer): void {
    if ('progress' in answer) this.task?.watch.progress?.(answer.progress.done, answer.progress.total);
    else if ('ok' in answer) this.settle?.(null, answer.ok);
    else if ('problem' in answer) {
      const { code, message, remedy, facts } = answer.problem;
      this.settle?.(code === 'internal' ? new Error(message) : new GableError(code, message, remedy, facts));
    }
  }

  /** Ends the process if it is idle and keeps much. */
  makeRoom(): void {
    if (this.task === null && this.memory() > this.limits.grown / 2) this.retire();
  }

  private rest(): void {
    if (this.gone) return;
    const [own, { grown, kept, idle }] = [this.memory(), this.limits];
    if (own > grown || (own > grown / 2 && this.pool.together() > kept)) this.retire();
    else {
      this.idle = setTimeout(() => this.pool.spare() && this.retire(), idle);
      this.idle.unref();
    }
  }

  /** It takes nothing more on, and is gone when it hears of it. */
  private retire(): void {
    this.leave();
    if (this.child.connected) this.child.disconnect();
  }

  private leave(): void {
    if (this.gone) return;
    this.gone = true;
    if (this.idle) clearTimeout(this.idle);
    this.settle?.(tooHeavy());
    this.pool.ended();
  }

  /** Bytes that the process takes, as far as the system tells (`/proc`, Linux). */
  memory(): number {
    try {
      const pages = Number(readFileSync(`/proc/${this.child.pid}/statm`, 'latin1').split(' ')[1]);
      return pages * 4096;
    } catch {
      return 0;
    }
  }
}

const tooLong = (seconds: number): GableError =>
  new GableError(
    'took-too-long',
    `This could not be done within ${seconds} seconds.`,
    'Split the file, or make its pictures and shapes simpler.',
    { seconds },
  );
const tooHeavy = (): GableError =>
  new GableError(
    'too-heavy',
    'This needs more memory than one task may use.',
    'Split the file, or make its pictures smaller.',
  );
