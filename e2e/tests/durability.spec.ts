import type { ChildProcess } from 'node:child_process';
import { QueryTypes, Sequelize } from 'sequelize';
import { framesOf, saveOf, type ToldWork } from '../../server/tests/support/entries';
import { databaseOf, serve, stop, type Served } from '../fixtures';
import { expect, handbook, test } from './steps';

/** A server of its own on the same throwaway database, to be killed without warning. */
const serveAgain = (): Promise<Served> => serve(databaseOf('E2E'));
const kill = (child: ChildProcess): Promise<void> => stop({ child, url: '' }, 'SIGKILL');

test('a server killed at any moment loses nothing it acknowledged', async ({ request }) => {
  let { child, url } = await serveAgain();
  const created = await request.post(`${url}/api/works?name=killed.docx`, {
    headers: { 'Content-Type': 'application/octet-stream' },
    data: handbook,
  });
  let work = (await created.json()) as ToldWork;
  const at = (): string => `${url}/api/works/${work.id}`;
  for (let round = 1; round <= 4; round++) {
    const frame = { ...work.pictures[0]!.frame, alt: `round ${round}` };
    const saved = await request.post(`${at()}/entries`, { data: saveOf(work, { 1: frame }) });
    expect(saved.status()).toBe(200);
    const acknowledged = ((await saved.json()) as { revision: number }).revision;
    // And while another save is under way, whose answer nobody waits for.
    void request.post(`${at()}/entries`, { data: saveOf(work, { 1: frame }, { base: 99 }) }).catch(() => undefined);
    await kill(child);
    ({ child, url } = await serveAgain());
    work = (await (await request.get(at())).json()) as ToldWork;
    expect(work.revision).toBe(acknowledged);
    expect(framesOf(work)['1']!.alt).toBe(`round ${round}`);
  }
  const file = await request.get(`${url}/api/works/${work.id}/file`);
  expect(file.status()).toBe(200);
  await request.delete(`${url}/api/works/${work.id}`);
  await kill(child);
});

interface JobRow {
  server: string | null;
  attempts: number;
  state: string;
}

test('servers on one database share the long jobs, none done twice; one that is killed is stood in for', async ({
  request,
}) => {
  const [a, b] = [await serveAgain(), await serveAgain()];
  const sequelize = new Sequelize(databaseOf('E2E'), { dialect: 'postgres', logging: false });
  const rows = (): Promise<JobRow[]> =>
    sequelize.query<JobRow>('SELECT server, attempts, state FROM jobs WHERE work_id = $1', {
      bind: [id],
      type: QueryTypes.SELECT,
    });
  const created = await request.post(`${a.url}/api/works?name=shared.docx`, {
    headers: { 'Content-Type': 'application/octet-stream' },
    data: handbook,
  });
  expect(created.status(), await created.text()).toBe(201);
  const { id } = (await created.json()) as { id: string };
  const wish = { kind: 'set', format: 'webp', widths: [500] };
  for (let i = 0; i < 9; i++)
    await request.post(`${[a, b][i % 2]!.url}/api/works/${id}/jobs`, { data: wish, timeout: 60_000 });
  await expect.poll(async () => new Set((await rows()).flatMap((r) => r.server ?? [])).size).toBeGreaterThan(1);
  await kill(b.child);
  await expect
    .poll(async () => (await rows()).map((r) => r.state), { timeout: 200_000, intervals: [1000] })
    .toEqual(Array(9).fill('done'));
  const done = await rows();
  // At most the one that the killed server was at has been begun a second time.
  expect(done.filter((r) => r.attempts > 1).length).toBeLessThanOrEqual(1);
  expect(Math.max(...done.map((r) => r.attempts))).toBeLessThanOrEqual(2);
  await request.delete(`${a.url}/api/works/${id}`);
  await kill(a.child);
  await sequelize.close();
});
