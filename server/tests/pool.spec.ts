import type { Request, Response } from 'express';
import path from 'node:path';
import { asClient } from '../src/http/client';
import { POOL_LIMITS, TaskPool, type PoolLimits } from '../src/tasks/pool';
import { TASKS, type TaskInput, type TaskName } from '../src/tasks/registry';

const ENTRY = path.resolve('server/tests/support/process.mjs');
const pools: TaskPool[] = [];
afterEach(async () => {
  jest.restoreAllMocks();
  await Promise.all(pools.splice(0).map((p) => p.close()));
});

function pool(limits: Partial<PoolLimits> = {}): TaskPool {
  const made = new TaskPool(ENTRY, { GABLE_DATABASE_URL: '', GABLE_SPOOL: '' }, { ...POOL_LIMITS, ...limits });
  pools.push(made);
  return made;
}
/** The process that answered. */
const run = <N extends TaskName>(p: TaskPool, name: N, input: object, watch = {}): Promise<number> =>
  p.run(name, input as TaskInput<N>, watch) as unknown as Promise<number>;
const seconds = (name: TaskName, value: number): void => {
  jest.replaceProperty(TASKS[name] as { seconds: number }, 'seconds', value);
};
const weigh = (name: TaskName): void => {
  const task = TASKS[name] as unknown as { weigh(input: { weight?: number }): number };
  if ('weigh' in task) jest.spyOn(task, 'weigh').mockImplementation(({ weight = 0 }) => weight);
};

beforeEach(() => {
  for (const name of Object.keys(TASKS) as TaskName[]) weigh(name);
});

test('a process is used again, and a lane has no more of them than it may', async () => {
  const p = pool();
  const first = await run(p, 'save', { what: 'wait' });
  expect(await run(p, 'save', { what: 'wait' })).toBe(first);
  const many = await Promise.all(Array.from({ length: 12 }, () => run(p, 'save', { what: 'wait', ms: 30 })));
  expect(new Set(many).size).toBe(2);
});

test('what loops for ever is ended after its time, and the next task finds a process', async () => {
  seconds('save', 0.5);
  const p = pool();
  const stuck = await run(p, 'save', { what: 'spin' }).catch((e: unknown) => e);
  expect(stuck).toMatchObject({ code: 'took-too-long' });
  // However slow the machine is at starting a process.
  seconds('save', 60);
  expect(await run(p, 'save', { what: 'wait' })).toBeGreaterThan(0);
});

test('time counts from when a task begins, not from when it is asked for', async () => {
  seconds('save', 3);
  const p = pool({ lanes: { quick: 1, paint: 1, look: 1, long: 1 } });
  const all = Array.from({ length: 5 }, () => run(p, 'save', { what: 'wait', ms: 800 }));
  await expect(Promise.all(all)).resolves.toHaveLength(5);
});

test('one that crashes or takes too much memory fails alone', async () => {
  const p = pool({ each: 300 * 1024 ** 2 });
  const others = run(p, 'save', { what: 'wait', ms: 300 });
  await expect(run(p, 'save', { what: 'crash' })).rejects.toMatchObject({ code: 'too-heavy' });
  await expect(run(p, 'save', { what: 'grow' })).rejects.toMatchObject({ code: 'too-heavy' });
  expect(await others).toBeGreaterThan(0);
  expect(await run(p, 'save', { what: 'wait' })).toBeGreaterThan(0);
});

test('idle processes keep memory as long as there is enough of it', async () => {
  // A process of Node with nothing loaded has some 40 MB.
  const grown = 70 * 1024 ** 2;
  for (const [kept, again] of [
    [2 * 1024 ** 3, true],
    [0, false],
  ] as const) {
    const p = pool({ grown, kept });
    const first = await run(p, 'save', { what: 'wait' });
    expect((await run(p, 'save', { what: 'wait' })) === first).toBe(again);
  }
});

test('a heavy task takes the place of what idle processes keep', async () => {
  for (const [weight, again] of [
    [1, true],
    [80 * 1024 ** 2, false],
  ] as const) {
    const p = pool({ grown: 70 * 1024 ** 2 });
    const first = await run(p, 'save', { what: 'wait' });
    await run(p, 'face', { what: 'wait', weight });
    expect((await run(p, 'save', { what: 'wait' })) === first).toBe(again);
  }
});

test('one process is there before anybody asks; of several the last stays when all are idle', async () => {
  const p = pool({ idle: 100 });
  p.warm();
  const two = await Promise.all([1, 2].map(() => run(p, 'save', { what: 'wait', ms: 200 })));
  expect(new Set(two).size).toBe(2);
  await new Promise((r) => setTimeout(r, 500));
  expect(two).toContain(await run(p, 'save', { what: 'wait' }));
});

test('refusals cross with what they know', async () => {
  await expect(run(pool(), 'save', { what: 'refuse' })).rejects.toMatchObject({
    code: 'bad',
    message: 'No.',
    remedy: 'Do not.',
    facts: { n: 1 },
  });
});

test('a queue has an end, and waiting, too', async () => {
  const p = pool({ lanes: { quick: 1, paint: 1, look: 1, long: 1 }, waiting: 2, patience: 200 });
  const first = run(p, 'save', { what: 'wait', ms: 900 });
  const [second, third] = [run(p, 'save', { what: 'wait' }), run(p, 'save', { what: 'wait' })];
  const refused = [second, third, run(p, 'save', { what: 'wait' })].map((t) => t.catch((e: unknown) => e));
  for (const r of refused) expect(await r).toMatchObject({ code: 'busy' });
  expect(await first).toBeGreaterThan(0);
});

test('a lane does not wait for another, and of its kind one that must be alone is', async () => {
  const p = pool();
  const order: string[] = [];
  const note = (name: string, task: Promise<number>): Promise<unknown> => task.then(() => order.push(name));
  await Promise.all([
    note('export 1', run(p, 'exportFrame', { what: 'wait', ms: 800 })),
    note('export 2', run(p, 'exportFrame', { what: 'wait', ms: 800 })),
    note('face', run(p, 'face', { what: 'wait' })),
    note('save', run(p, 'save', { what: 'wait' })),
  ]);
  expect(order.slice(0, 2).sort()).toEqual(['face', 'save']);
  expect(order.slice(2)).toEqual(['export 1', 'export 2']);
});

/** As somebody at an address. */
const as = <T>(ip: string, f: () => T): T => {
  let out: T;
  void asClient({ ip } as Request, {} as Response, () => (out = f()));
  return out!;
};

test('whatever one client sends, another has a process to go on with, and a place in the queue', async () => {
  const p = pool({ lanes: { quick: 2, paint: 2, look: 1, long: 1 }, waiting: 8, waitingEach: 4 });
  const order: string[] = [];
  const note = (name: string, task: Promise<number>): Promise<unknown> =>
    task.then(
      () => order.push(name),
      (e: unknown) => order.push(`${name} ${(e as { code: string }).code}`),
    );
  const many = Array.from({ length: 7 }, () =>
    as('192.0.2.1', () => note('one', run(p, 'save', { what: 'wait', ms: 700 }))),
  );
  const other = [1, 2].map(() => as('192.0.2.2', () => note('other', run(p, 'save', { what: 'wait' }))));
  await Promise.all([...many, ...other]);
  expect(order.slice(0, 2)).toEqual(['one busy', 'one busy']);
  // The first of the one was at work already; its next are not before the other's.
  expect(order.slice(2).indexOf('other')).toBeLessThan(2);
  expect(order.slice(2).lastIndexOf('other')).toBeLessThan(3);
});

test('heavy tasks wait for each other; one heavier than all may be runs alone', async () => {
  const p = pool({ memory: 100 });
  const order: string[] = [];
  const note = (name: string, task: Promise<number>): Promise<unknown> => task.then(() => order.push(name));
  await Promise.all([
    note('heavy', run(p, 'save', { what: 'wait', ms: 500, weight: 500 })),
    note('other', run(p, 'save', { what: 'wait', ms: 0, weight: 60 })),
    note('third', run(p, 'face', { what: 'wait', ms: 0, weight: 60 })),
  ]);
  expect(order[0]).toBe('heavy');
});

test('what is stopped ends its process, and what waits is let go of', async () => {
  const p = pool({ lanes: { quick: 1, paint: 1, look: 1, long: 1 } });
  const stop = new AbortController();
  let told = 0;
  const watch = { signal: stop.signal, progress: () => told++ };
  const long = run(p, 'handOver', { what: 'wait', ms: 60_000 }, watch).catch((e: unknown) => e);
  const waiting = run(p, 'handOver', { what: 'wait' }, watch).catch((e: unknown) => e);
  while (told === 0) await new Promise((r) => setTimeout(r, 20));
  stop.abort();
  expect(await long).toMatchObject({ name: 'AbortError' });
  expect(await waiting).toMatchObject({ name: 'AbortError' });
  expect(await run(p, 'handOver', { what: 'wait' })).toBeGreaterThan(0);
});

test('closing lets what is under way end', async () => {
  const p = pool();
  const task = run(p, 'save', { what: 'wait', ms: 400 });
  await new Promise((r) => setTimeout(r, 200));
  await p.close();
  expect(await task).toBeGreaterThan(0);
  await expect(run(p, 'save', { what: 'wait' })).rejects.toMatchObject({ code: 'busy' });
});
