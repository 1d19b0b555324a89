import { openFile } from '@gable/formats';
import ExcelJs from 'exceljs';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import type { ToldWork } from '../../server/tests/support/entries';
import { expect, handOver, laidOut, openOnBench, ready, saved, savedFrames, test } from './steps';

test('the pages show text and frames; a picture in the text is let free, dragged, and put back', async ({ page }) => {
  const id = await openOnBench(page);
  const work = (await (await page.request.get(`/api/works/${id}`)).json()) as {
    pictures: { n: number; freeable: boolean; frame: { flow: string } }[];
  };
  const { n } = work.pictures.find((p) => p.freeable && p.frame.flow === 'inline' && p.n > 1)!;
  await page.locator(`#run-${n}`).click();
  await ready(page);
  await page.locator('#try-circle').click();
  await page.getByRole('radio', { name: /^(Page|Slide|Sheet|Drawing)/ }).click();
  const pages = page.getByRole('region', { name: 'The pages of the document' });
  const frame = pages.locator(`[data-n="${n}"]`);
  await expect(frame).toBeVisible();
  await expect(page.frameLocator('iframe').getByText('Tobias, kilns')).toBeAttached();
  await expect(frame).toBeInViewport();

  // It cannot be dragged yet; the try says why, and offers the way out.
  const drag = async (dx: number, dy: number): Promise<void> => {
    const b = (await frame.boundingBox())!;
    await page.mouse.move(b.x + b.width / 2, b.y + b.height / 2);
    await page.mouse.down();
    await page.mouse.move(b.x + b.width / 2 + dx / 2, b.y + b.height / 2 + dy / 2, { steps: 3 });
    await page.mouse.move(b.x + b.width / 2 + dx, b.y + b.height / 2 + dy, { steps: 3 });
    await page.mouse.up();
  };
  await drag(40, 20);
  const offer = page.getByRole('alertdialog');
  await expect(offer).toContainText('the text wraps round it');
  await offer.getByRole('button', { name: 'Let it move freely' }).click();
  const free = (await savedFrames(page, id))[n]!;
  expect(free.flow).toBe('floating');
  // The pages are laid out anew; then it goes with the hand.
  await laidOut(page);
  await drag(60, 30);
  const moved = (await savedFrames(page, id))[n]!;
  expect(moved.box.x - free.box.x).toBeGreaterThan(40);
  expect(moved.box.y - free.box.y).toBeGreaterThan(15);

  // In the file it is an anchor now, placed where it was dragged to (ISO/IEC 29500-1, 20.4.2.3).
  const bytes = await handOver(page);
  const again = openFile(bytes).pictures[n - 1]!.frame;
  expect(again.flow).toBe('floating');
  expect(again.box.x).toBeCloseTo(moved.box.x, 3);
  expect(again.shape.name).toBe('circle');
  expect(Object.keys(unzipSync(bytes))).toContain('word/document.xml');

  await page.getByRole('tab', { name: 'Place' }).click();
  await page.getByRole('combobox', { name: 'Text wrap' }).selectOption('In line');
  expect((await savedFrames(page, id))[n]!.flow).toBe('inline');
  await page.getByRole('radio', { name: 'Close-up' }).click();
  await expect(page.getByRole('application')).toBeVisible();
});

test('a page is zoomed about the pointer by the wheel, and by keys', async ({ page }) => {
  await openOnBench(page);
  await page.getByRole('radio', { name: /^(Page|Slide|Sheet|Drawing)/ }).click();
  await laidOut(page);
  const frame = page.getByRole('region', { name: 'The pages of the document' }).locator('[data-n="1"]').first();
  const middle = async (): Promise<{ x: number; y: number; width: number }> => {
    const b = (await frame.boundingBox())!;
    return { x: b.x + b.width / 2, y: b.y + b.height / 2, width: b.width };
  };
  const before = await middle();
  await page.mouse.move(before.x, before.y);
  await page.keyboard.down('Control');
  await page.mouse.wheel(0, -280);
  await page.keyboard.up('Control');
  await expect.poll(async () => (await middle()).width).toBeGreaterThan(before.width * 1.8);
  const after = await middle();
  expect(Math.hypot(after.x - before.x, after.y - before.y)).toBeLessThan(8);
  await frame.press('Control+Alt+ArrowDown');
  await expect.poll(async () => (await middle()).width / after.width).toBeCloseTo(0.8, 2);
});

test('the frame that lays out pages has no rights: no origin, no network, no storage', async ({ page }) => {
  await openOnBench(page);
  await page.getByRole('radio', { name: /^(Page|Slide|Sheet|Drawing)/ }).click();
  const frame = page.frameLocator('iframe');
  await expect(frame.getByText('Tobias, kilns')).toBeAttached();
  const inside = page.frames().find((f) => f.url().includes('/page/'))!;
  const can = await inside.evaluate(async () => ({
    origin: window.origin,
    reached: await fetch('/api/works').then(
      () => true,
      () => false,
    ),
    stored: ((): boolean => {
      try {
        localStorage.setItem('a', 'b');
        return true;
      } catch {
        return false;
      }
    })(),
  }));
  expect(can).toEqual({ origin: 'null', reached: false, stored: false });
});

test('undo has no end: after a reload every step is still named, and can be undone and done again', async ({
  page,
}) => {
  const id = await openOnBench(page);
  await page.locator('#try-heart').click();
  await page.getByRole('tab', { name: 'Outline' }).click();
  await page.locator('#try-white-6').click();
  await page.getByRole('tab', { name: 'Shadow' }).click();
  await page.locator('#try-soft').click();
  await page.keyboard.press('Control+z');
  const before = await savedFrames(page, id);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Undo “outline white”' })).toBeVisible();
  await page.getByRole('button', { name: 'Redo “shadow soft”' }).click();
  expect((await savedFrames(page, id))['1']!.shadow).not.toBeNull();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Undo “heart”' })).toBeVisible();
  expect((await savedFrames(page, id))['1']!.outline).toBeNull();
  expect(before['1']!.outline!.weight).toBe(6);
  await page.keyboard.press('Control+z');
  expect(await savedFrames(page, id)).toEqual({});
  await saved(page);
});

test('five hundred steps: those from long ago are fetched when they are wanted', async ({ page }) => {
  const id = await openOnBench(page);
  const { revision } = (await (await page.request.get(`/api/works/${id}`)).json()) as ToldWork;
  const entries = Array.from({ length: 500 }, (_, i) => ({
    id: `step-${i + 1}`,
    name: `step ${i + 1}`,
    operations: [{ op: 'set', id: 'p1', path: 'alt', value: `step ${i + 1}` }],
  }));
  const saved = await page.request.post(`/api/works/${id}/entries`, { data: { base: revision, entries } });
  expect(saved.status()).toBe(200);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Undo “step 500”' })).toBeVisible();
  for (let i = 500; i > 180; i--) await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Undo “step 180”' })).toBeVisible();
  expect((await savedFrames(page, id))['1']!.alt).toBe('step 180');
});

test('the pages before and now: side by side from handing over and back to it, by a switch and by a held key', async ({
  page,
}) => {
  const requests: string[] = [];
  const complaints: string[] = [];
  page.on('request', (r) => requests.push(new URL(r.url()).pathname));
  page.on('console', (m) => ['warning', 'error'].includes(m.type()) && complaints.push(m.text()));
  await openOnBench(page);
  await page.locator('#try-circle').click();
  await page.getByRole('button', { name: 'Hand over' }).click();
  await page.getByRole('checkbox', { name: 'Remove place, time, camera and names' }).click();
  await page.getByRole('button', { name: 'See the pages side by side' }).click();
  const before = page.getByRole('region', { name: 'The pages of the document, before' });
  const now = page.getByRole('region', { name: 'The pages of the document', exact: true });
  await expect(before.locator('[data-n="1"]')).toHaveAttribute('aria-label', /rectangle/i);
  await expect(now.locator('[data-n="1"]')).toHaveAttribute('aria-label', /circle/i);
  // They scroll together.
  await now.evaluate((e) => e.scrollTo(0, (e.scrollHeight - e.clientHeight) / 2));
  await expect
    .poll(() => before.evaluate((e) => Math.round((100 * e.scrollTop) / (e.scrollHeight - e.clientHeight))))
    .toBe(50);
  // The divider gives one of them more room.
  const divider = page.getByRole('separator', { name: 'Width of the page before' });
  const d = (await divider.boundingBox())!;
  const width = async (): Promise<number> => (await before.boundingBox())!.width;
  const half = await width();
  await page.mouse.move(d.x + d.width / 2, d.y + 40);
  await page.mouse.down();
  await page.mouse.move(d.x + d.width / 2 - 120, d.y + 60, { steps: 4 });
  await page.mouse.up();
  expect(half - (await width())).toBeCloseTo(120, -1);
  await divider.focus();
  await page.keyboard.press('End');
  expect(await width()).toBeGreaterThan(1.5 * half);
  // Back to where they were asked for, with what was chosen there.
  await page.getByRole('button', { name: 'Back to hand over' }).click();
  await expect(page.getByRole('dialog', { name: 'Hand over' })).toBeVisible();
  await expect(page.getByRole('checkbox', { name: 'Remove place, time, camera and names' })).toBeChecked();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByRole('application')).toBeVisible();

  await page.getByRole('radio', { name: /^Page/ }).click();
  const first = now.locator('[data-n="1"]');
  await expect(first).toHaveAttribute('aria-label', /circle/i);
  await first.focus();
  await page.keyboard.down('o');
  await expect(before.locator('[data-n="1"]')).toHaveAttribute('aria-label', /rectangle/i);
  await page.keyboard.up('o');
  await expect(first).toHaveAttribute('aria-label', /circle/i);
  // What is done is seen at once.
  await page.getByRole('radio', { name: 'Before' }).click();
  await page.locator('#try-hexagon').click();
  await expect(page.getByRole('radio', { name: 'Now' })).toBeChecked();
  // A picture in a footnote has its place; what a document lacks is not asked of the server.
  await laidOut(page);
  await expect(now.locator('[data-n="18"]')).toBeAttached();
  expect(requests.filter((path) => /null|undefined/.test(path))).toEqual([]);
  expect(complaints).toEqual([]);
});

/** A zip of a text with one picture beside its words, as the standard has it (ISO/IEC 26300, ODF 1.2 Part 3 §2.2.1). */
function openText(picture: Uint8Array): Buffer {
  const ns = ['office', 'style', 'text', 'drawing', 'svg-compatible', 'xsl-fo-compatible']
    .map(
      (n) =>
        `xmlns:${n.replace('drawing', 'draw').replace(/-compatible|xsl-/g, '')}="urn:oasis:names:tc:opendocument:xmlns:${n}:1.0"`,
    )
    .join(' ');
  const frame =
    '<draw:frame text:anchor-type="as-char" svg:width="6cm" svg:height="4cm"><draw:image xlink:href="Pictures/a.png"/></draw:frame>';
  return Buffer.from(
    zipSync({
      mimetype: [strToU8('application/vnd.oasis.opendocument.text'), { level: 0 }],
      'content.xml': strToU8(
        `<office:document-content ${ns} xmlns:xlink="http://www.w3.org/1999/xlink"><office:body><office:text><text:h>The kiln</text:h><text:p>Look at the arch.</text:p><text:p>${frame}</text:p></office:text></office:body></office:document-content>`,
      ),
      'styles.xml': strToU8(`<office:document-styles ${ns}><office:styles/></office:document-styles>`),
      'META-INF/manifest.xml': strToU8('<manifest xmlns="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"/>'),
      'Pictures/a.png': picture,
    }),
  );
}

test('the pages of a text and of a web page show what stands round frames, and make room for them anew', async ({
  page,
}) => {
  const picture = await sharp({ create: { width: 300, height: 200, channels: 3, background: '#c87137' } })
    .png()
    .toBuffer();
  const address = `data:image/png;base64,${picture.toString('base64')}`;
  const html = `<!doctype html><title>t</title><style>body{margin:0}p{margin:0 0 10px;line-height:20px}img{display:block}</style><p>Look at the arch.<p><img src="${address}" width="300" height="200" alt=""><p id="after">Under it`;
  const files = [
    { name: 'kiln.html', mimeType: 'text/html', buffer: Buffer.from(html) },
    { name: 'kiln.odt', mimeType: 'application/vnd.oasis.opendocument.text', buffer: openText(picture) },
  ];
  for (const file of files) {
    await openOnBench(page, file);
    await page.getByRole('radio', { name: /^(Page|Slide|Sheet|Drawing)/ }).click();
    const frame = page.getByRole('region', { name: 'The pages of the document' }).locator('[data-n="1"]');
    await expect(frame).toBeVisible();
    await expect(page.frameLocator('iframe').getByText('Look at the arch.')).toBeVisible();
    const before = (await frame.boundingBox())!;
    expect(before.width / before.height).toBeCloseTo(1.5, 1);
    // Our frame lies over the room that the page has for it, which is shown at 72 %.
    const room = async (): Promise<{ x: number; y: number; width: number }> => {
      const around = (await page.locator('iframe').boundingBox())!;
      const at = await page
        .frameLocator('iframe')
        .locator('[data-picture="1"]')
        .evaluate((e) => e.getBoundingClientRect().toJSON() as { x: number; y: number; width: number });
      return { x: around.x + at.x * 0.72, y: around.y + at.y * 0.72, width: at.width * 0.72 };
    };
    const at = await room();
    expect(Math.hypot(at.x - before.x, at.y - before.y, at.width - before.width)).toBeLessThan(1);
    await page.locator('#try-circle').click();
    await expect(async () => {
      const after = (await frame.boundingBox())!;
      expect(after.width).toBeCloseTo(after.height, 0);
      expect((await room()).width).toBeCloseTo(after.width, 0);
    }).toPass({ timeout: 60_000 });
  }
});

test('a web page that would run, fetch or lead away does none of it on our page', async ({ page }) => {
  const outside: string[] = [];
  // What the policy of the page stops is told as a request, but never sent.
  await page.route('http://elsewhere.test/**', (route) => {
    outside.push(route.request().url());
    return route.fulfill({ body: '' });
  });
  const picture = `data:image/png;base64,${(
    await sharp({ create: { width: 30, height: 20, channels: 3, background: '#c87137' } })
      .png()
      .toBuffer()
  ).toString('base64')}`;
  const evil = `<!doctype html><title>t</title><base href="http://elsewhere.test/"><meta http-equiv="refresh" content="0;url=http://elsewhere.test/m">
    <link rel="stylesheet" href="http://elsewhere.test/a.css"><style>@import "http://elsewhere.test/b.css"; body{background:url(http://elsewhere.test/c.png)} @font-face{font-family:f;src:url(http://elsewhere.test/f.woff)} p{font-family:f}</style>
    <script>window.ran = 1; top.location = 'http://elsewhere.test/top'</script><body onload="window.ran = 2">
    <p>Look at the arch.</p><img src="${picture}" width="300" height="200" onload="window.ran = 3" alt="">
    <img src="http://elsewhere.test/x.png" onerror="window.ran = 4"><svg onload="window.ran = 5"><image href="http://elsewhere.test/s.png"/><script>window.ran = 6</script></svg>
    <iframe srcdoc="<script>parent.ran = 7</script>"></iframe><video src="http://elsewhere.test/v.mp4" autoplay></video><form action="http://elsewhere.test/f"><input autofocus onfocus="window.ran = 8"></form>
    <noscript><img src="http://elsewhere.test/n.png"></noscript><template><img src="http://elsewhere.test/t.png"></template></body>`;
  await openOnBench(page, { name: 'evil.html', mimeType: 'text/html', buffer: Buffer.from(evil) });
  await page.getByRole('radio', { name: /^(Page|Slide|Sheet|Drawing)/ }).click();
  await expect(page.frameLocator('iframe').getByText('Look at the arch.')).toBeVisible();
  const inside = page.frames().find((f) => f.url().includes('/page/'))!;
  await laidOut(page);
  await inside.waitForLoadState('load');
  expect(await inside.evaluate('[window.ran, window.origin]')).toEqual([undefined, 'null']);
  expect(new URL(page.url()).pathname).toMatch(/^\/work\//);
  expect(outside).toEqual([]);
  // What is sent would have been seen.
  await page.goto('http://elsewhere.test/seen');
  expect(outside).toEqual(['http://elsewhere.test/seen']);
});

test('the cells of a workbook stand round its frames', async ({ page }) => {
  const book = new ExcelJs.Workbook();
  const sheet = book.addWorksheet('Orders');
  sheet.getCell('B2').value = 'Celadon';
  const picture = await sharp({ create: { width: 300, height: 200, channels: 3, background: '#c87137' } })
    .png()
    .toBuffer();
  const image = book.addImage({ buffer: picture as unknown as ExcelJs.Buffer, extension: 'png' });
  sheet.addImage(image, { tl: { col: 2, row: 3 }, ext: { width: 150, height: 100 } });
  const buffer = Buffer.from(await book.xlsx.writeBuffer());
  await openOnBench(page, { name: 'orders.xlsx', mimeType: 'application/octet-stream', buffer });
  await page.getByRole('radio', { name: /^(Page|Slide|Sheet|Drawing)/ }).click();
  const pages = page.getByRole('region', { name: 'The pages of the file' });
  const cell = (await pages.getByText('Celadon').boundingBox())!;
  const frame = (await pages.locator('[data-n="1"]').boundingBox())!;
  // Column C begins 64 px right of B, row 4 forty px under row 2, at 150 px of picture (common practice).
  const scale = frame.width / 150;
  expect((frame.x - cell.x) / scale).toBeCloseTo(64, 0);
  expect((frame.y - cell.y) / scale).toBeCloseTo(40, 0);
});

test('a proof sheet of a document ends with its pages, which the browser lays out', async ({ page }) => {
  await openOnBench(page);
  await page.locator('#try-circle').click();
  await saved(page);
  await page.getByRole('button', { name: 'Hand over' }).click();
  await page.getByRole('radio', { name: 'Proof sheet' }).click();
  await expect(page.getByRole('dialog')).toContainText('then the whole pages they are on');
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download PDF' }).click();
  const pdf = readFileSync(await (await download).path()).toString('latin1');
  // One page of pairs, one of pages (ISO 32000-1 §7.7.3.3).
  expect(pdf.match(/\/Type \/Page\b(?!s)/g)).toHaveLength(2);
  const grounds = [...pdf.matchAll(/\/Width (\d+)\s+\/Height (\d+)/g)].filter(
    ([, w, h]) => Number(h) > 1.3 * Number(w),
  );
  expect(grounds.length).toBeGreaterThanOrEqual(2);
  await expect(page.locator('iframe[title="Pages for the proof sheet"]')).toHaveCount(0);
});
