/**
 * Pages of a site made faster when it is handed over: Chromium itself chooses among the copies in windows of six widths and on dense
 * screens, fetches later what lies further down, and nothing shifts (Layout Instability, https://wicg.github.io/layout-instability/).
 */
import { unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { expect, openOnBench, saved, test } from './steps';

const SIX = [320, 390, 768, 1280, 1920, 2560];
const demo = (name: string): Uint8Array =>
  new Uint8Array(readFileSync(path.resolve(__dirname, `../../demo/files/pictures/${name}.jpg`)));
const HTML =
  '<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Pots</title>' +
  '<style>body{margin:0 auto;max-width:1100px;padding:0 20px}.hero{display:block;width:100%;height:340px;object-fit:cover}' +
  '.row{display:grid;grid-template-columns:repeat(auto-fit,minmax(240px,1fr));gap:16px}.row img{width:100%;height:auto}p{min-height:900px}</style></head>' +
  '<body><h1>Pots</h1><img class="hero" src="shelves.jpg" alt="Shelves"><p>Come in by the yard.</p><div class="row">' +
  '<img src="plates.jpg" alt="Plates"><img src="kiln.jpg" alt="Kiln"><img src="teapot.jpg" alt="Teapot"></div></body></html>';
const SITE = Buffer.from(
  zipSync({
    'index.html': new TextEncoder().encode(HTML),
    'shelves.jpg': demo('drying-shelves'),
    'plates.jpg': demo('stacked-plates'),
    'kiln.jpg': demo('kiln-glow'),
    'teapot.jpg': demo('teapot'),
  }),
);

test('smaller copies and later loading: Chromium takes the copy that suffices, no more, and nothing shifts', async ({
  page,
  browser,
}) => {
  test.setTimeout(180_000);
  await openOnBench(page, { name: 'pots.zip', mimeType: 'application/zip', buffer: SITE });
  await page.locator('#try-circle').click();
  await saved(page);
  await page.getByRole('button', { name: 'Hand over' }).click();
  const sheet = page.getByRole('dialog', { name: 'Hand over' });
  await sheet.getByRole('checkbox', { name: 'Add smaller copies of pictures' }).check();
  await sheet.getByRole('checkbox', { name: 'Load pictures further down later' }).check();
  const download = page.waitForEvent('download');
  await sheet.getByRole('button', { name: 'Download file' }).click();
  const out = unzipSync(readFileSync(await (await download).path()));
  await expect(sheet.getByRole('status')).toContainText(
    /smaller copies of 4 pictures, a telephone fetches [\d.]+ (kB|MB) instead of [\d.]+ (kB|MB), 3 pictures loaded later/,
  );
  // The pictures themselves are there as they came.
  const came = unzipSync(SITE);
  for (const name of Object.keys(came).filter((n) => n.endsWith('.jpg')))
    expect(Buffer.compare(Buffer.from(out[name]!), Buffer.from(came[name]!))).toBe(0);
  const widths = new Map<string, number>();
  for (const name of Object.keys(out).filter((n) => /\.(webp|jpg)$/.test(n)))
    widths.set(name, (await sharp(out[name]).metadata()).width!);
  for (const deviceScaleFactor of [1, 2]) {
    const context = await browser.newContext({ deviceScaleFactor });
    const seen = await context.newPage();
    const asked: string[] = [];
    await seen.route('http://site.test/**', (route) => {
      const name = decodeURIComponent(new URL(route.request().url()).pathname.slice(1)) || 'index.html';
      asked.push(name);
      const body = out[name];
      return body
        ? route.fulfill({ body: Buffer.from(body), contentType: name.endsWith('.html') ? 'text/html' : 'image/*' })
        : route.abort();
    });
    for (const width of SIX) {
      await seen.setViewportSize({ width, height: 800 });
      asked.length = 0;
      await seen.goto('http://site.test/index.html');
      const shift = await seen.evaluate(
        () =>
          new Promise<number>((resolve) => {
            let sum = 0;
            new PerformanceObserver((list) => {
              for (const e of list.getEntries()) sum += (e as PerformanceEntry & { value: number }).value;
            }).observe({ type: 'layout-shift', buffered: true });
            setTimeout(() => resolve(sum), 300);
          }),
      );
      expect(shift, `at ${width}`).toBeLessThan(0.02);
      const images = await seen.evaluate(async () => {
        const all = [...document.images];
        for (const image of all) {
          image.scrollIntoView();
          await image.decode();
        }
        return all.map((i) => ({
          ...{
            current: i.currentSrc,
            loading: i.loading,
            priority: i.fetchPriority,
            sizes: i.sizes,
            // How much closer it is drawn (CSS Transforms 1 §7), and how it fills its box.
            closer: Math.abs(new DOMMatrix(getComputedStyle(i).transform).a),
            fit: getComputedStyle(i).objectFit,
            width: i.offsetWidth,
            height: i.offsetHeight,
          },
          ...{ ratio: i.naturalWidth / i.naturalHeight },
        }));
      });
      for (const [i, image] of images.entries()) {
        const name = decodeURIComponent(new URL(image.current).pathname.slice(1));
        const base = ['shelves', 'plates', 'kiln', 'teapot'][i]!;
        expect(name.startsWith(base)).toBe(true);
        const whole = image.fit === 'fill' ? image.width : Math.max(image.width, image.height * image.ratio);
        const need = whole * image.closer * deviceScaleFactor;
        const all = [...widths].filter(([n]) => n.startsWith(base)).map(([, w]) => w);
        const has = widths.get(name)!;
        expect(has, `${name} at ${width} × ${deviceScaleFactor}`).toBeGreaterThan(
          Math.min(need * 0.93, Math.max(...all) - 1),
        );
        // No more than the next wider one, which browsers may prefer.
        const enough = all.filter((w) => w >= need * 0.97).sort((a, b) => a - b);
        expect(
          has,
          `${name} at ${width} × ${deviceScaleFactor}, ${image.width} × ${image.height}, ${image.sizes}`,
        ).toBeLessThanOrEqual(enough[0] ?? Math.max(...all));
        expect(image.loading).toBe(i === 0 ? 'auto' : 'lazy');
        expect(image.priority).toBe(i === 0 ? 'high' : 'auto');
      }
      expect(asked).toContain('index.html');
    }
    await context.close();
  }
});
