/** What a browser feels: frames that come late, tasks that keep the interface waiting, and a page to measure against. */
import { chromium, type Browser, type CDPSession, type Page } from '@playwright/test';
import { randomBytes } from 'node:crypto';
import sharp from 'sharp';

export const SECONDS = 4;
/** A frame is late when it comes more than half a frame after its turn, at 60 Hz. */
const LATE = 25;

/** Noise enlarged: soft shapes all over, as a photograph has them, and a file of a few megabytes. */
export async function picture(): Promise<Buffer> {
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

export interface Feel {
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

export async function feel(page: Page, client: CDPSession, act: (c: CDPSession) => Promise<void>): Promise<Feel> {
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

export const pause = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));

/** Real mouse events, sixty to the second, without waiting for each other. */
export async function drag(client: CDPSession, { x, y } = { x: 640, y: 300 }): Promise<void> {
  const mouse = (type: string, dx = 0, dy = 0): Promise<unknown> =>
    client.send('Input.dispatchMouseEvent', {
      type: type as 'mouseMoved',
      x: x + dx,
      y: y + dy,
      button: 'left',
      buttons: type === 'mouseReleased' ? 0 : 1,
      clickCount: 1,
    });
  await mouse('mousePressed');
  for (let i = 0; i < SECONDS * 60; i++) {
    void mouse('mouseMoved', 120 * Math.sin(i / 20), 60 * Math.cos(i / 13));
    await pause(1000 / 60);
  }
  await mouse('mouseReleased');
}

const YARDSTICK = `<!doctype html><body style="margin:0;overflow:hidden"><img id="p" src="/p.jpg" draggable="false" style="width:900px;transform-origin:50% 50%;will-change:transform"><script>
  let x = 0, y = 0, k = 1, down = null; const p = document.getElementById('p'), put = () => { p.style.transform = 'translate(' + x + 'px,' + y + 'px) scale(' + k + ')'; };
  addEventListener('pointerdown', (e) => { down = [e.clientX - x, e.clientY - y]; }); addEventListener('pointerup', () => { down = null; });
  addEventListener('pointermove', (e) => { if (down) { x = e.clientX - down[0]; y = e.clientY - down[1]; put(); } });
  addEventListener('wheel', (e) => { e.preventDefault(); k *= Math.exp(-e.deltaY * 0.0014); put(); }, { passive: false });
</script>`;

/** A browser, and a page of it that is measured. */
export async function measured(): Promise<{ browser: Browser; page: Page; client: CDPSession }> {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.addInitScript(INSTRUMENTS);
  const client = await page.context().newCDPSession(page);
  await client.send('Performance.enable', { timeDomain: 'threadTicks' });
  return { browser, page, client };
}

/** Opens the page that moves a plain image. */
export async function openYardstick(page: Page, image: Buffer): Promise<void> {
  await page.route('**/yardstick.html', (r) => r.fulfill({ contentType: 'text/html', body: YARDSTICK }));
  await page.route('**/p.jpg', (r) => r.fulfill({ contentType: 'image/jpeg', body: image }));
  await page.goto('http://yardstick.test/yardstick.html');
  await page.evaluate("document.getElementById('p').decode()");
}

export function line(name: string, f: Feel): void {
  console.log(
    `${name.padEnd(44)} ${String(f.frames).padStart(4)} frames, ${String(f.late).padStart(3)} late, ${f.long} tasks over 50 ms (longest ${f.longest} ms), ${f.work.toFixed(1)} ms of work a frame`,
  );
}
