/**
 * How the board feels, against a yardstick page that moves a plain image, in the same browser and the same run:
 * `npm start`, then `npm run board -w @gable/benchmarks -- --url http://127.0.0.1:4200`.
 * A 24-megapixel picture is dragged and zoomed at 1280 × 800; frames that come late are counted, and tasks that keep the
 * interface waiting longer than 50 ms.
 */
import type { CDPSession, Page } from '@playwright/test';
import { parseArgs } from 'node:util';
import { drag, feel, line, measured, openYardstick, pause, picture, SECONDS } from './browser';

const { values } = parseArgs({ options: { url: { type: 'string', default: 'http://127.0.0.1:4200' } } });
const WALLS = 7;
async function wheel(client: CDPSession): Promise<void> {
  for (let i = 0; i < SECONDS * 60; i++) {
    const deltaY = Math.sin(i / 25) > 0 ? -24 : 24;
    void client.send('Input.dispatchMouseEvent', { type: 'mouseWheel', x: 640, y: 300, deltaX: 0, deltaY });
    await pause(1000 / 60);
  }
}

interface WallTimes {
  /** Tries wholly in sight; times are those of the hundredth, in milliseconds. */
  inSight: number;
  decoded: number;
  key: number;
}

/**
 * The wall of shapes on a screen high enough for a hundred of them: up before its picture is, and put up when it is there.
 * The copies of the picture are made before they are held back, so that nothing but the browser is measured.
 */
async function wallOf(page: Page, url: string): Promise<WallTimes> {
  await page.setViewportSize({ width: 1280, height: 2700 });
  let go = (): void => undefined;
  const held = new Promise<void>((r) => (go = r));
  await page.route(/side=/, async (route) => {
    const response = await route.fetch();
    await held;
    await route.fulfill({ response });
  });
  await page.goto(url);
  await page.locator('#try-circle').waitFor();
  await page.keyboard.press('w');
  await pause(2500);
  await page.evaluate('window.__seen.tries.length = 0; window.__seen.decoded = 0');
  go();
  await pause(4000);
  const { decoded, tries } = await page.evaluate<{ decoded: number; tries: number[] }>('window.__seen');
  const after = decoded ? tries.filter((t) => t > decoded) : [];
  await page.unroute(/side=/);
  const inSight = await page.evaluate(
    () =>
      [...document.querySelectorAll('dialog [role=option]')].filter(
        (e) => e.getBoundingClientRect().bottom <= e.parentElement!.getBoundingClientRect().bottom,
      ).length,
  );
  await page.keyboard.press('Escape');
  await pause(1500);
  const key = await page.evaluate<number>(async () => {
    const seen = (window as unknown as { __seen: { tries: number[] } }).__seen;
    seen.tries.length = 0;
    const start = performance.now();
    document.dispatchEvent(new KeyboardEvent('keydown', { key: 'w', bubbles: true }));
    while (seen.tries.length < 100 && performance.now() - start < 5000) await new Promise((r) => setTimeout(r, 5));
    return (seen.tries[99] ?? NaN) - start;
  });
  return { inSight, decoded: (after[99] ?? NaN) - decoded, key };
}

function spread(times: number[]): string {
  const [least, median, most] = [0, (times.length - 1) / 2, times.length - 1].map((i) =>
    Math.round(times.sort((a, b) => a - b)[i]!),
  );
  return `${median} ms (${least} to ${most})`;
}

async function main(): Promise<void> {
  const bytes = await picture();
  const kept = await fetch(`${values.url}/api/pictures?name=noise.jpg`, {
    method: 'POST',
    body: new Uint8Array(bytes),
  });
  const { sha256 } = (await kept.json()) as { sha256: string };
  const made = await fetch(`${values.url}/api/works/pictures`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ pictures: [sha256], name: 'Benchmark' }),
  });
  const { id } = (await made.json()) as { id: string };
  const { browser, page, client } = await measured();
  try {
    await openYardstick(page, bytes);
    const plain = { drag: await feel(page, client, drag), zoom: await feel(page, client, wheel) };

    await page.goto(`${values.url}/work/${id}`);
    await page.locator('#try-circle').waitFor();
    await page.waitForLoadState('networkidle');
    const opening = await page.evaluate<{ long: number[]; decoded: number; tries: number[] }>('window.__seen');
    const walls: WallTimes[] = [];
    for (let i = 0; i < WALLS; i++) {
      walls.push(await wallOf(page, `${values.url}/work/${id}`));
      await page.keyboard.press('Escape');
      await page.setViewportSize({ width: 1280, height: 800 });
    }
    await page.locator('#try-circle').click();
    await page.locator('#step-position').click();
    await pause(1500);
    const ours = { drag: await feel(page, client, drag), zoom: await feel(page, client, wheel) };
    await page.locator('#step-shape').click();
    await pause(1500);
    const busy = await feel(page, client, drag);

    line('yardstick: a plain image dragged', plain.drag);
    line('Gable, Position: the picture dragged', ours.drag);
    line('Gable, Shape: dragged, all tries following', busy);
    line('yardstick: a plain image zoomed', plain.zoom);
    line('Gable, Position: the picture zoomed', ours.zoom);
    console.log(
      `opening: ${opening.long.length} tasks over 50 ms (longest ${Math.round(Math.max(0, ...opening.long))} ms); the eight tries in sight ${Math.round((opening.tries.filter((t) => t > opening.decoded)[8] ?? NaN) - opening.decoded)} ms after the picture was decoded and looked at`,
    );
    console.log(
      `100 of ${walls[0]!.inSight} shape tries on one screen, median of ${WALLS}: ${spread(walls.map((w) => w.decoded))} after the picture was decoded and looked at; ${spread(walls.map((w) => w.key))} after the key, where it was decoded before`,
    );
  } finally {
    await browser.close();
    await fetch(`${values.url}/api/works/${id}`, { method: 'DELETE' });
  }
}

await main();
