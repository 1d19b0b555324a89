import { solidOutline, withShape, type Frame } from '@gable/core';
import { expect, test, type APIRequestContext } from '@playwright/test';
import { saveOf, type ToldWork } from '../../server/tests/support/entries';
import { handbook } from '../tests/steps';
import { FILES, heavyPicture, largePicture, LONG, tangle } from './files';
import { Victim, type Measured } from './victim';

/** With GABLE_ATTACK=long more of everything is sent, and what was measured is told. */
/** Nothing takes more, whatever is under way. */
const MOST_MEMORY = 2 * 1024 ** 3;

let victim: Victim;
const measured: Measured[] = [];

test.describe.configure({ timeout: LONG ? 600_000 : 180_000 });
test.beforeAll(async ({ playwright }) => {
  victim = await Victim.serve(await playwright.request.newContext());
});
test.afterAll(async () => {
  await victim.stop();
  const row = (m: Measured): string =>
    `| ${m.name} | ${m.answers} | ${m.took.toFixed(1)} | ${m.health.toFixed(2)} | ${m.other.toFixed(1)} | ${Math.round(m.memory / 1024 ** 2)} |`;
  if (LONG)
    console.log(
      [
        '| attack | answers | s | health, s | somebody else, s | MB |',
        '| --- | --- | --- | --- | --- | --- |',
        ...measured.map(row),
      ].join('\n'),
    );
});

/** Others go on meanwhile, the process is the same afterwards, and it took no more memory than it may. */
async function hold(name: string, attack: () => Promise<number[]>): Promise<Measured> {
  const found = await victim.under(name, attack);
  measured.push(found);
  expect(victim.alive).toBe(true);
  expect(found.memory).toBeLessThan(MOST_MEMORY);
  expect(found.answers).not.toMatch(/\b50[0-24-9]\b/);
  return found;
}

type Opened = ToldWork;

for (const file of FILES)
  test(`a file made to cost much: ${file.name}`, async ({ request }) => {
    const bytes = await file.make();
    await hold(file.name, async () => {
      const copies = await Promise.all(Array.from({ length: LONG ? 6 : 2 }, () => victim.send(bytes, file.name)));
      const [first] = copies;
      const body = (await first!.json()) as Opened & { title?: string; detail?: string; code?: string };
      expect(
        file.opens ? body.pictures.length : body.detail?.length,
        JSON.stringify(body).slice(0, 300),
      ).toBeGreaterThan(0);
      const statuses = copies.map((c) => c.status());
      if (!file.opens) return statuses;
      // What the shelf and the bench ask of it, and the file with a frame in it.
      const at = `${victim.url}/api/works/${body.id}`;
      const faces = await Promise.all(
        [1, 1, 2].flatMap((n) => [
          request.get(`${at}/pictures/${n}/framed?side=240`, { timeout: 120_000 }),
          request.get(`${at}/pictures/${n}/proxy?side=256`, { timeout: 120_000 }),
          request.get(`${at}/ground?page=1`, { timeout: 120_000 }),
        ]),
      );
      const { frame, size } = body.pictures[0]!;
      const frames = { 1: withShape(frame, { name: 'heart', knobs: {} }, size) };
      const saved = await request.post(`${at}/entries`, { data: saveOf(body, frames), timeout: 120_000 });
      const taken = await request.get(`${at}/file`, { timeout: 120_000 });
      const text = taken.status() === 200 && /\.(svg|html)$/.test(file.name) ? await taken.text() : '';
      // What goes into a file is a number that every reader takes.
      expect(text.replace(/<style>[\s\S]*?<\/style>|base64,[\w+/=]+|style="[^"]*"|scale\([^)]*\)/g, '')).not.toMatch(
        /\b(NaN|Infinity)\b|\d[eE]\+\d/,
      );
      return [...statuses, ...faces.map((f) => f.status()), saved.status(), taken.status()];
    });
  });

async function opened(): Promise<Opened> {
  return (await (await victim.send(handbook, 'victim.docx')).json()) as Opened;
}

const keep = async (request: APIRequestContext, bytes: Buffer, type: string): Promise<Frame['source']> => {
  const kept = await request.post(`${victim.url}/api/pictures?name=big`, {
    headers: { 'Content-Type': type },
    data: bytes,
    timeout: 120_000,
  });
  const { sha256, size } = (await kept.json()) as { sha256: string; size: { width: number; height: number } };
  return { sha256, name: 'big', type: type.split('/')[1]!, size, orientation: 1 };
};

const exported = async (
  request: APIRequestContext,
  work: Opened,
  frame: Frame,
  wish: object,
  times: number,
): Promise<number[]> => {
  const all = await Promise.all(
    Array.from({ length: times }, () =>
      request.post(`${victim.url}/api/works/${work.id}/pictures/${frame.n}/export`, {
        data: { frame, ...wish },
        timeout: 170_000,
      }),
    ),
  );
  return all.map((r) => r.status());
};

test(`exports of ${LONG ? 95 : 48} megapixels, several at once`, async ({ request }) => {
  const width = LONG ? 11_900 : 8_460;
  const work = await opened();
  const source = await keep(request, await largePicture(width, Math.round(width / 1.491)), 'image/jpeg');
  const box = { x: 0, y: 0, width: 1190, height: 798 };
  const frame: Frame = { ...work.pictures[0]!.frame, box, source: source!, outline: solidOutline(6, '#ffffff') };
  const { answers } = await hold('megapixels as JPEG', () =>
    exported(request, work, frame, { format: 'jpg', width }, LONG ? 6 : 2),
  );
  expect(answers).toContain('200');
});

test('a picture of many bytes as SVG and as HTML', async ({ request }) => {
  const work = await opened();
  const source = await keep(request, await heavyPicture(LONG ? 4400 : 3400), 'image/png');
  const frame: Frame = { ...work.pictures[0]!.frame, source: source! };
  for (const format of ['svg', 'html']) {
    const { answers } = await hold(`many bytes as ${format}`, () =>
      exported(request, work, frame, { format }, LONG ? 4 : 2),
    );
    expect(answers).toMatch(/^(\d × )?200$/);
  }
});

test('a permitted shape of many points that cross each other', async ({ request }) => {
  const work = await opened();
  const path = tangle(LONG ? 20_000 : 12_000);
  const { frame, n } = { ...work.pictures[0]!, n: 1 };
  const shape = { name: 'silhouette', knobs: {}, drawn: { path, ratio: null, label: 'x' } };
  const tangled = { ...frame, shape, outline: { ...solidOutline(4, '#000000'), side: 'outside' as const } };
  await hold('a tangle', async () => {
    const saved = await request.post(`${victim.url}/api/works/${work.id}/entries`, {
      data: saveOf(work, { [n]: tangled }),
    });
    const ask = (): Promise<number> =>
      request
        .get(`${victim.url}/api/works/${work.id}/pictures/1/framed?side=240&revision=2`, { timeout: 120_000 })
        .then((r) => r.status());
    const faces = await Promise.all([ask(), ask()]);
    // It is remembered as such: the second time costs nothing.
    const before = performance.now();
    const again = await ask();
    expect(performance.now() - before).toBeLessThan(5000);
    return [saved.status(), ...faces, again];
  });
});

test('a queue with an end: what is too much is refused for the moment', async ({ request }) => {
  const work = await opened();
  const slow = { ...work.pictures[0]!.frame, n: 1 };
  const found = await hold('400 exports', () =>
    exported(request, work, slow, { format: 'png', width: LONG ? 700 : 120 }, 400),
  );
  expect(found.answers).toContain('503');
  const after = await exported(request, work, slow, { format: 'png', width: 200 }, 1);
  expect(after).toEqual([200]);
});
