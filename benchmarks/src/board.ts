/**
 * How the board feels, against a yardstick page that moves a plain image, in the same browser and the same run:
 * `npm start`, then `npm run board -w @gable/benchmarks -- --url http://127.0.0.1:4200`.
 * A 24-megapixel picture is dragged and zoomed at 1280 × 800; frames that come late are counted, and tasks that keep the
 * interface waiting longer than 50 ms.
 */
import { chromium, type CDPSession, type Page } from '@playwright/test';
import { randomBytes } from 'node:crypto';
import { parseArgs } from 'node:util';
import sharp from 'sharp';

const { values } = parseArgs({ options: { url: { type: 'string', default: 'http://127.0.0.1:4200' } } });
const SECONDS = 4;
const WALLS = 7;
/** A frame is late when it comes more than half a frame after its turn, at 60 Hz. */
const LATE = 25;

/** Noise enlarged: soft shapes all over, as a photograph has them, and a file of a few megabytes. */
async function picture(): Promise<Buffer> {
  const [width, height] = [6000, 4000];
  const raw = { width: 150, height: 100, channels: 3 as const };
  return sharp(randomBytes(raw.width * raw.height * 3), { raw })
    .resize(width, height, { kernel: 'cubic' })
    .jpeg({ quality: 88 })
    .toBuffer();
}

const INSTRUMENTS = `
  window.__seen = { frames: [], long: [], decoded: 0, tries: [] };
  new PerformanceObserver((l) => { for (const e of l.getEntries()) window.__seen.long.push(e.duration); }).observe({ entryTypes: ['longtask'] });
  const Plain = window.Worker;
  window.Worker = class extends Plain {
    constructor(...a) { super(...a); this.addEventListener('message', (e) => { if (e.data.subject && !window.__seen.decoded) window.__seen.decoded = performance.now(); }); }
  };
  const draw = CanvasRenderingContext2D.prototype.drawImage;
  CanvasRenderingContext2D.prototype.drawImage = function (...a) { window.__seen.tries.push(performance.now()); return draw.apply(this, a); };
  let last = 0; const tick = (t) => { if (last) window.__seen.frames.push(t - last); last = t; requestAnimationFrame(tick); }; requestAnimationFrame(tick);
`;

interface Feel {
  frames: number;
  late: number;
  long: number;
  longest: number;
  /** Processor time of the interface thread, in milliseconds a frame: what a busy host does not lengthen. */
  work: number;
}

async function processorTime(client: CDPSession): Promise<number> {
  const { metrics } = await client.send('Performance.getMetrics');
  return 1000 * metrics.find((m) => m.name === 'TaskDuration')!.value;
}

async function feel(page: Page, client: CDPSession, act: (c: CDPSession) => Promise<void>): Promise<Feel> {
  await page.evaluate('window.__seen.frames.length = 0; window.__seen.long.length = 0');
  const before = await processorTime(client);
  await act(client);
  const spent = (await processorTime(client)) - before;
  const { frames, long } = await page.evaluate<{ frames: number[]; long: number[] }>('window.__seen');
  return {
    frames: frames.length,
    late: frames.filter((f) => f > LATE).length,
    long: long.length,
    longest: Math.round(Math.max(0, ...long)),
    work: spent / Math.max(1, frames.length),
  };
}

const pause = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));

/** Real mouse events, sixty to the second, without waiting for each other. */
async function drag(client: CDPSession): Promise<void> {
  const mouse = (type: string, x: number, y: number): Promise<unknown> =>
    client.send('Input.dispatchMouseEvent', {
      type: type as 'mouseMoved',
      x,
      y,
      button: 'left',
      buttons: type === 'mouseReleased' ? 0 : 1,
      clickCount: 1,
    });
  await mouse('mousePressed', 640, 300);
  for (let i = 0; i < SECONDS * 60; i++) {
    void mouse('mouseMoved', 640 + 120 * Math.sin(i / 20), 300 + 60 * Math.cos(i / 13));
    await pause(1000 / 60);
  }
  await mouse('mouseReleased', 640, 300);
}

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

const YARDSTICK = `<!doctype html><body style="margin:0;overflow:hidden"><img id="p" src="/p.jpg" draggable="false" style="width:900px;transform-origin:50% 50%;will-change:transform"><script>
  let x = 0, y = 0, k = 1, down = null; const p = document.getElementById('p'), put = () => { p.style.transform = 'translate(' + x + 'px,' + y + 'px) scale(' + k + ')'; };
  addEventListener('pointerdown', (e) => { down = [e.clientX - x, e.clientY - y]; }); addEventListener('pointerup', () => { down = null; });
  addEventListener('pointermove', (e) => { if (down) { x = e.clientX - down[0]; y = e.clientY - down[1]; put(); } });
  addEventListener('wheel', (e) => { e.preventDefault(); k *= Math.exp(-e.deltaY * 0.0014); put(); }, { passive: false });
</script>`;

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
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.addInitScript(INSTRUMENTS);
    const client = await page.context().newCDPSession(page);
    await client.send('Performance.enable', { timeDomain: 'threadTicks' });

    await page.route('**/yardstick.html', (r) => r.fulfill({ contentType: 'text/html', body: YARDSTICK }));
    await page.route('**/p.jpg', (r) => r.fulfill({ contentType: 'image/jpeg', body: bytes }));
    await page.goto('http://yardstick.test/yardstick.html');
    await page.evaluate("document.getElementById('p').decode()");
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

    const line = (name: string, f: Feel): void =>
      console.log(
        `${name.padEnd(44)} ${String(f.frames).padStart(4)} frames, ${String(f.late).padStart(3)} late, ${f.long} tasks over 50 ms (longest ${f.longest} ms), ${f.work.toFixed(1)} ms of work a frame`,
      );
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
