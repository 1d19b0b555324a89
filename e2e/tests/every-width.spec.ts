/**
 * What must be seen of a picture stays in view on a page in windows of every width, as Chromium lays the page out and paints it: boxes
 * measured in steps of 16 px, the picture's place reckoned from the styles that Chromium has worked out (CSS Images 3 §5.5, CSS
 * Transforms 1 §7), and the subject's own pixels counted in six windows.
 */
import {
  atEveryWidth,
  applyAll,
  frameOfItem,
  withFrame,
  type BoxInWindow,
  type Frame,
  type PictureItem,
} from '@gable/core';
import { openFile } from '@gable/formats';
import type { Page } from '@playwright/test';
import { zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { expect, openOnBench, saved, savedFrames, test, violations } from './steps';

const PICTURE = { width: 1500, height: 1000 };
/** A red subject at the upper left of a grey picture. */
const RED = { u: 0.06, v: 0.08, width: 0.16, height: 0.2 };
const WIDTHS = Array.from({ length: 141 }, (_, i) => 320 + 16 * i);
const SIX = [320, 384, 768, 1280, 1920, 2560];

async function picture(): Promise<string> {
  const { width, height } = PICTURE;
  const red = Buffer.from(
    `<svg width="${width}" height="${height}"><rect x="${RED.u * width}" y="${RED.v * height}" width="${RED.width * width}" height="${RED.height * height}" fill="#ff0000"/></svg>`,
  );
  const grey = sharp({ create: { ...PICTURE, channels: 3, background: '#808080' } }).composite([{ input: red }]);
  return (await grey.png().toBuffer()).toString('base64');
}

const LAYOUTS: Record<string, string> = {
  'of a set height': '.i{display:block;width:100%;height:380px;object-fit:cover}',
  'high on telephones, flat on screens':
    '.i{display:block;width:100%;height:520px;object-fit:cover}@media(min-width:800px){.i{height:300px}}',
  'by the window': '.i{display:block;width:100%;height:clamp(220px,38vw,640px);object-fit:cover}',
};

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const pageWith = async (css: string): Promise<string> =>
  `<!DOCTYPE html><html lang="en"><head><meta name="viewport" content="width=device-width"><title>Page</title><style>body{margin:0}${css}</style></head><body><img class="i" src="data:image/png;base64,${await picture()}" alt=""><p>next</p></body></html>`;

/** The box of the image, and where its picture lies: what Chromium says of both. */
const measured = (page: Page) =>
  page.evaluate(() => {
    const image = document.querySelector('img')!;
    const { objectPosition, transform, transformOrigin } = getComputedStyle(image);
    const { offsetWidth: width, offsetHeight: height } = image;
    return { width, height, objectPosition, transform, transformOrigin };
  });

/** From where to where the subject lies, in shares of the box. */
function subjectIn({
  width,
  height,
  objectPosition,
  transform,
  transformOrigin,
}: Awaited<ReturnType<typeof measured>>) {
  const k = Math.max(width / PICTURE.width, height / PICTURE.height);
  const [px, py] = objectPosition.split(' ').map((p) => parseFloat(p) / 100) as [number, number];
  const [ox, oy] = transformOrigin.split(' ').map((p) => parseFloat(p)) as [number, number];
  const [sx = 1, , , sy = 1] = /matrix\(([^)]*)\)/.exec(transform)?.[1]?.split(',').map(Number) ?? [];
  const at = (p: number, o: number, s: number, side: number, length: number, share: number): number =>
    (o + s * (p * (side - length * k) + share * length * k - o)) / side;
  const across = [RED.u, RED.u + RED.width].map((u) => at(px, ox, sx, width, PICTURE.width, u));
  const down = [RED.v, RED.v + RED.height].map((v) => at(py, oy, sy, height, PICTURE.height, v));
  return { left: Math.min(...across), right: Math.max(...across), top: Math.min(...down), bottom: Math.max(...down) };
}

async function boxesOf(page: Page, html: string): Promise<BoxInWindow[]> {
  await page.setContent(html);
  const boxes: BoxInWindow[] = [];
  for (const window of WIDTHS) {
    await page.setViewportSize({ width: window, height: 800 });
    const { width, height } = await measured(page);
    boxes.push({ window, width, height });
  }
  return boxes;
}

for (const [name, css] of Object.entries(LAYOUTS))
  test(`a box ${name}: the subject is whole in every window in which it can be, closer and mirrored, too`, async ({
    page,
  }) => {
    test.setTimeout(180_000);
    const html = await pageWith(css);
    const boxes = await boxesOf(page, html);
    for (const placed of [{}, { zoom: 1.2, mirror: true }]) {
      const file = openFile(bytes(html));
      const item = file.document.items['p1'] as PictureItem;
      const frame = frameOfItem(item, 1);
      const asked: Frame = { ...frame, placement: { ...frame.placement, ...placed } };
      const told = atEveryWidth(asked, { picture: PICTURE, regions: [RED], boxes, seen: 1180 })!;
      expect(told.cut.every(({ from }) => from > 1200)).toBe(true);
      const next = applyAll(file.document, [
        { op: 'set', id: 'p1', path: 'fill', value: withFrame(item, told.frame, PICTURE).fill },
      ]).document;
      const out = new TextDecoder().decode(file.write(next));
      // Opened again it is the same.
      expect(frameOfItem(openFile(bytes(out)).document.items['p1'] as PictureItem, 1).positions).toEqual(
        told.frame.positions,
      );
      await page.setContent(out);
      for (const window of WIDTHS) {
        await page.setViewportSize({ width: window, height: 800 });
        const now = await measured(page);
        const before = boxes.find((b) => b.window === window)!;
        expect(Math.abs(now.width - before.width) + Math.abs(now.height - before.height)).toBeLessThan(1);
        if (told.cut.some(({ from, to }) => window >= from && window <= to)) continue;
        const { left, right, top, bottom } = subjectIn(now);
        expect(Math.min(left, top, 1 - right, 1 - bottom), `${name} at ${window}`).toBeGreaterThan(-0.003);
      }
      for (const window of SIX.filter((w) => !told.cut.some(({ from, to }) => w >= from && w <= to))) {
        await page.setViewportSize({ width: window, height: 800 });
        const shot = await page.locator('span[data-gable]').screenshot();
        const { data, info } = await sharp(shot).removeAlpha().raw().toBuffer({ resolveWithObject: true });
        let red = 0;
        for (let i = 0; i < data.length; i += 3) if (data[i]! > 200 && data[i + 1]! < 60) red++;
        const { width, height } = boxes.find((b) => b.window === window) ?? info;
        const k = Math.max(width / PICTURE.width, height / PICTURE.height) * (placed.zoom ?? 1);
        const whole = RED.width * PICTURE.width * RED.height * PICTURE.height * k * k;
        expect(red / whole, `${name} at ${window}`).toBeGreaterThan(0.97);
      }
    }
  });

/** A portrait across the top of a page. */
function teamPage(rules = '.hero{height:440px}'): Buffer {
  const portrait = readFileSync(path.resolve(__dirname, '../../demo/files/pictures/portrait-sunniva.jpg'));
  const html =
    '<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Team</title><style>body{margin:0}.hero{display:block;width:100%;object-fit:cover;object-position:50% 0}' +
    `${rules}</style></head><body><img class="hero" src="portrait.jpg" alt="Sunniva"><h1>Who we are</h1></body></html>`;
  return Buffer.from(zipSync({ 'index.html': bytes(html), 'portrait.jpg': new Uint8Array(portrait) }));
}

test('on the page: what is cut at which widths, kept in view by one click, seen in any window, taken back in one step', async ({
  page,
}) => {
  const id = await openOnBench(page, { name: 'team.zip', mimeType: 'application/zip', buffer: teamPage() });
  await page.getByRole('radio', { name: 'Page', exact: true }).click();
  await page.getByRole('button', { name: 'At every width' }).click();
  const settings = page.getByRole('region', { name: 'Settings' });
  await expect(settings.getByRole('status')).toContainText(/^The face is cut .*\d+ px/);
  const strip = settings.getByRole('group', { name: 'Windows' });
  await expect(strip.getByRole('button')).toHaveCount(6);
  await expect(strip.getByRole('button', { name: '320 px in view' })).toBeVisible();
  expect(await violations(page, ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])).toEqual([]);
  const cutBefore = await strip.getByRole('button', { name: / (cut|not seen)$/ }).count();
  await settings.getByRole('button', { name: 'Keep it in view' }).click();
  await expect(page.getByRole('button', { name: 'Undo “in view at every width”' })).toBeVisible();
  await expect.poll(() => strip.getByRole('button', { name: / (cut|not seen)$/ }).count()).toBeLessThan(cutBefore);
  await saved(page);
  const frame = Object.values(await savedFrames(page, id))[0]!;
  expect(frame.positions!.at.length).toBeGreaterThan(0);
  // The page in a narrow window: as wide as that, and its picture with it.
  await strip.getByRole('button', { name: /^390 px/ }).click();
  const shown = page.frameLocator('gable-page-view iframe').locator('img');
  await expect.poll(() => shown.evaluate((e) => e.clientWidth)).toBe(390);
  await settings.getByRole('slider', { name: 'Width of the window' }).press('End');
  await expect.poll(() => shown.evaluate((e) => e.clientWidth)).toBe(2560);
  // A narrow window gets a position of its own, moved by hand.
  await strip.getByRole('button', { name: /^390 px/ }).click();
  await settings.getByRole('button', { name: 'Set a position up to 390 px' }).click();
  await settings.getByRole('textbox', { name: 'Across' }).fill('0 %');
  await page.keyboard.press('Enter');
  await expect.poll(() => shown.evaluate((e) => getComputedStyle(e).objectPosition)).toMatch(/^0%/);
  await saved(page);
  const parted = Object.values(await savedFrames(page, id))[0]!.positions!.at;
  expect(parted[0]).toMatchObject({ upTo: 390, x: 0 });
  expect(parted.at(-1)).toEqual(frame.positions!.at.at(-1));
  await settings.getByRole('button', { name: 'Use one position' }).click();
  await expect(page.getByRole('button', { name: 'Undo “one position for all widths”' })).toBeVisible();
  await settings.getByRole('button', { name: 'Back to the picture' }).click();
  await expect.poll(() => shown.evaluate((e) => e.clientWidth)).toBe(1180);
});

test('a page that changes all at once is told by the very window in which it does', async ({ page }) => {
  const rules = '.hero{height:110vw}@media(min-width:805px){.hero{height:250px}}';
  await openOnBench(page, { name: 'team.zip', mimeType: 'application/zip', buffer: teamPage(rules) });
  await page.getByRole('radio', { name: 'Page', exact: true }).click();
  await page.getByRole('button', { name: 'At every width' }).click();
  const settings = page.getByRole('region', { name: 'Settings' });
  await expect(settings.getByRole('status')).toHaveText('The face is cut from 805 px on.');
});

test('a linked picture shows its focus, grows while it is pointed at or focused, and stays as it is where less motion is asked for', async ({
  page,
}) => {
  const data = await picture();
  const images = [LAYOUTS['of a set height']!, '.i{width:400px;max-width:100%}'].map(
    (css) =>
      `<!DOCTYPE html><html lang="en"><head><title>Page</title><style>body{margin:24px}${css}</style></head><body><a href="#there"><img class="i" src="data:image/png;base64,${data}" alt="Red"></a></body></html>`,
  );
  for (const html of images) {
    const file = openFile(bytes(html));
    const next = applyAll(file.document, [
      { op: 'set', id: 'p1', path: 'shape', value: { name: 'ellipse', knobs: {} } },
      { op: 'set', id: 'p1', path: 'fill.hover', value: { zoom: 1.1 } },
    ]).document;
    const out = new TextDecoder().decode(file.write(next));
    expect(frameOfItem(openFile(bytes(out)).document.items['p1'] as PictureItem, 1).hover).toEqual({ zoom: 1.1 });
    const boxed = (): Promise<DOMRect> =>
      page.locator('img').evaluate((e) => e.getBoundingClientRect().toJSON() as DOMRect);
    const middle = ({ x, y, width, height }: DOMRect): number[] => [x + width / 2, y + height / 2];
    await page.emulateMedia({ reducedMotion: 'no-preference' });
    await page.setContent(out);
    await page.mouse.move(1, 1);
    const rest = await boxed();
    const plain = await page.screenshot();
    await page.keyboard.press('Tab');
    await expect.poll(async () => (await boxed()).width / rest.width).toBeCloseTo(1.1, 3);
    const grown = await boxed();
    for (const [i, v] of middle(grown).entries()) expect(v).toBeCloseTo(middle(rest)[i]!, 1);
    // The ring of the focus is seen round the frame, at its corner, which the shape leaves free.
    const at = {
      left: Math.max(0, Math.floor(rest.x) - 4),
      top: Math.max(0, Math.floor(rest.y) - 4),
      width: 14,
      height: 14,
    };
    const corner = async (shot: Buffer): Promise<Buffer> => sharp(shot).extract(at).removeAlpha().raw().toBuffer();
    expect((await corner(await page.screenshot())).equals(await corner(plain))).toBe(false);
    await page.emulateMedia({ reducedMotion: 'reduce' });
    await page.setContent(out);
    await page.locator('img').hover();
    expect((await boxed()).width).toBeCloseTo(rest.width, 3);
  }
});
