/**
 * The shelf with 2,000 works, against an answer of the same server that reads one row: npm run shelf -w @gable/benchmarks --
 * --url http://127.0.0.1:4180. It makes the works and removes them again.
 */
import { parseArgs } from 'node:util';

const { values } = parseArgs({ options: { url: { type: 'string', default: 'http://127.0.0.1:4180' } } });
const base = values.url;
const WORKS = 2000;
const AT_ONCE = 8;

async function ask(path: string, method = 'GET', body?: unknown): Promise<Response> {
  const headers: Record<string, string> = body === undefined ? {} : { 'Content-Type': 'application/json' };
  const init = { method, headers, ...(body === undefined ? {} : { body: JSON.stringify(body) }) };
  const response = await fetch(`${base}${path}`, init);
  if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
  return response;
}

/** Does things a few at a time. */
async function each<T>(list: readonly T[], work: (item: T) => Promise<unknown>): Promise<void> {
  const rest = [...list];
  const one = async (): Promise<void> => {
    for (let item = rest.pop(); item !== undefined; item = rest.pop()) await work(item);
  };
  await Promise.all(Array.from({ length: AT_ONCE }, one));
}

const median = (list: number[]): number => list.sort((a, b) => a - b)[list.length >> 1]!;
async function time(path: string, times = 15): Promise<number> {
  const all: number[] = [];
  for (let i = 0; i < times; i++) {
    const before = performance.now();
    await (await ask(path)).arrayBuffer();
    all.push(performance.now() - before);
  }
  return median(all);
}

const ids: string[] = [];
await each([...Array(WORKS).keys()], async () => {
  const work = (await (await ask('/api/works/pictures', 'POST', { pictures: [null, null, null] })).json()) as {
    id: string;
  };
  ids.push(work.id);
});
try {
  const yardstick = await time('/api/health');
  const first = await time('/api/works');
  let pages = 0;
  let seen = 0;
  const before = performance.now();
  for (let next: string | null = ''; next !== null; pages++) {
    const path = `/api/works?limit=500${next ? `&after=${next}` : ''}`;
    const page = (await (await ask(path)).json()) as { works: unknown[]; next: string | null };
    seen += page.works.length;
    next = page.next;
  }
  const all = performance.now() - before;
  console.log(`One row, the yardstick: ${yardstick.toFixed(1)} ms.`);
  console.log(
    `First page of ${seen} works: ${first.toFixed(1)} ms, ${(first / yardstick).toFixed(1)} × the yardstick (target 200 ms).`,
  );
  console.log(`All of them in ${pages} pages: ${all.toFixed(0)} ms.`);
} finally {
  const before = performance.now();
  await each(ids, (id) => ask(`/api/works/${id}`, 'DELETE'));
  console.log(`${WORKS} works removed: ${((performance.now() - before) / 1000).toFixed(1)} s (target 10 s).`);
}
