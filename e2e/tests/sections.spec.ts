/**
 * Sections of web pages, as Chromium lays them out at six widths: from edge to edge, without a scroll bar, with their words inside, read
 * as headings (axe-core, WCAG 2.2), and legible by the pixels that are painted beneath them (SC 1.4.3); what stands elsewhere stays.
 */
import type { Page } from '@playwright/test';
import { zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { expect, openOnBench, saved, test, violations } from './steps';

const SIX = [320, 390, 768, 1280, 1920, 2560];
const picture = (name: string): Buffer =>
  readFileSync(path.resolve(__dirname, `../../demo/files/pictures/${name}.jpg`));
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const HTML =
  '<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Kiln</title>' +
  '<style>body{margin:0 auto;max-width:40em;padding:0 1em;background:#f4f0e7;font:17px/1.5 sans-serif}h2{color:red;letter-spacing:9px}section{border:9px solid}' +
  '.i{display:block;width:100%;height:240px;object-fit:cover}</style></head><body><main><h1>Kiln days</h1><p id="before">Come in by the yard.</p>' +
  '<p><img class="i" src="kiln.jpg" alt="A kiln"></p><p id="after">Tea at four, whatever the weather does.</p></main></body></html>';
const SITE = Buffer.from(
  zipSync({ 'index.html': bytes(HTML), 'kiln.jpg': new Uint8Array(picture('portrait-sunniva')) }),
);

/** The page that is handed over, with its picture in it. */
async function handedOver(page: Page, id: string): Promise<string> {
  await saved(page);
  const response = await page.request.post(`/api/works/${id}/export`, {
    data: { what: 'piece', n: 1, format: 'html' },
  });
  expect(response.ok()).toBe(true);
  const snippet = await response.text();
  return HTML.replace(/<p><img[^>]*><\/p>/, () => snippet);
}

/** Where things stand in the window. */
const measured = (page: Page) =>
  page.evaluate(() => {
    const of = (selector: string) => {
      const { left, right, top, bottom, width, height } = document.querySelector(selector)!.getBoundingClientRect();
      return { left, right, top, bottom, width, height };
    };
    const { scrollWidth, clientWidth } = document.documentElement;
    return {
      ...{ scrollWidth, clientWidth, section: of('section'), image: of('section img'), heading: of('section h2') },
      ...{ before: of('#before'), after: of('#after') },
    };
  });

/** Contrast of white with the pixels of a shot, at the 5th percentile (WCAG 2.2, relative luminance). */
async function contrastOfWhite(shot: Buffer): Promise<number> {
  const { data } = await sharp(shot).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const linear = (v: number): number => (v / 255 <= 0.04045 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4);
  const all: number[] = [];
  for (let i = 0; i < data.length; i += 3)
    all.push(1.05 / (0.05 + 0.2126 * linear(data[i]!) + 0.7152 * linear(data[i + 1]!) + 0.0722 * linear(data[i + 2]!)));
  return all.sort((a, b) => a - b)[Math.floor(all.length / 20)]!;
}

test('one click makes a picture the ground of a section; its words are typed, read at every width, and darkened behind once', async ({
  page,
  context,
}) => {
  test.setTimeout(150_000);
  const id = await openOnBench(page, { name: 'kiln.zip', mimeType: 'application/zip', buffer: SITE });
  await page.getByRole('radio', { name: 'Page', exact: true }).click();
  await page.getByRole('tab', { name: 'Around' }).click();
  await page.locator('#try-around-section').click();
  const field = page.getByRole('textbox', { name: 'Words' }).last();
  await expect(field).toBeVisible();
  const settings = page.getByRole('region', { name: 'Settings' });
  await expect(settings.getByRole('combobox', { name: /^Heading/ })).toHaveValue('2');
  await settings.getByRole('textbox', { name: 'Words' }).fill('Open kiln day\nEvery Friday from ten');
  const shown = page.frameLocator('gable-page-view iframe').locator('section');
  await expect(shown.locator('h2')).toHaveText('Open kiln day');
  await expect(shown.locator('p').last()).toHaveText('Every Friday from ten');
  // The contrast is that of the window in which it is least.
  const contrast = settings.locator('[data-contrast]');
  await expect(contrast).toHaveText(/^Contrast \d/);
  const darken = settings.getByRole('button', { name: 'Darken behind the words' });
  await expect(darken.or(contrast.filter({ hasNotText: 'It needs' })).first()).toBeVisible();
  if (await darken.isVisible()) {
    await darken.click();
    await expect(contrast).not.toContainText('It needs');
  }
  await settings.getByRole('button', { name: 'Back to the picture' }).click();
  await settings.getByLabel('Bottom edge').selectOption('wave');
  await settings.getByLabel('Top edge').selectOption('slope');
  await expect(page.getByRole('button', { name: 'Undo “edge of the section”' })).toBeVisible();
  await expect(shown.locator('svg[data-gable-edge]')).toHaveCount(2);
  // Words in the small pictures lie over canvases, which the check does not see.
  const found = await violations(page, ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']);
  expect(found.filter((v) => !/^color-contrast: .*gable-page-words/.test(v))).toEqual([]);
  const html = await handedOver(page, id);
  expect(html).not.toMatch(/<script|data-gable="/);

  const seen = await context.newPage();
  const plain = HTML.replace('kiln.jpg', `data:image/jpeg;base64,${picture('portrait-sunniva').toString('base64')}`);
  for (const width of SIX) {
    await seen.setViewportSize({ width, height: 800 });
    await seen.setContent(plain);
    const paragraph = await seen.locator('#before').boundingBox();
    await seen.setContent(html);
    await seen.locator('section img').evaluate((e) => (e as HTMLImageElement).decode());
    const at = await measured(seen);
    expect(at.scrollWidth, `no scroll bar at ${width}`).toBe(at.clientWidth);
    expect(Math.abs(at.image.left) + Math.abs(at.image.right - at.clientWidth)).toBeLessThan(1);
    expect(at.image.height).toBeCloseTo(at.section.height, 0);
    expect(at.section.height).toBeGreaterThanOrEqual(439);
    expect(at.heading.left).toBeGreaterThanOrEqual(0);
    expect(at.heading.right).toBeLessThanOrEqual(at.clientWidth);
    expect(at.heading.top).toBeGreaterThan(at.section.top);
    expect(at.heading.bottom).toBeLessThan(at.section.bottom);
    // What stands before and behind is as wide as it was, and where it was from side to side.
    expect(at.before.left).toBeCloseTo(paragraph!.x, 0);
    expect(at.before.width).toBeCloseTo(paragraph!.width, 0);
    expect(at.after.top).toBeGreaterThanOrEqual(at.section.bottom);
    // Legible: what is painted beneath the letters, without them.
    await seen.addStyleTag({ content: 'section h2 *, section p * { color: transparent !important }' });
    const box = (await seen.locator('section h2').boundingBox())!;
    const contrast = await contrastOfWhite(await seen.screenshot({ clip: box }));
    expect(contrast, `at ${width}`).toBeGreaterThan(2.9);
    expect(await violations(seen, ['region', 'heading-order', 'image-alt', 'page-has-heading-one'])).toEqual([]);
  }
  // The page's own rules for headings and sections do not reach it.
  const look = await seen.locator('section h2').evaluate((e) => {
    const { letterSpacing } = getComputedStyle(e);
    return { letterSpacing, border: getComputedStyle(e.closest('section')!).borderTopWidth };
  });
  expect(look).toEqual({ letterSpacing: 'normal', border: '0px' });
  await seen.close();
  // Each thing is one step back, and then the page is the one that came.
  for (const name of ['edge of the section', 'edge of the section'])
    await page.getByRole('button', { name: `Undo “${name}”` }).click();
  await expect(shown.locator('svg[data-gable-edge]')).toHaveCount(0);
  while (await page.getByRole('button', { name: /^Undo “/ }).isVisible())
    await page.getByRole('button', { name: /^Undo “/ }).click();
  await saved(page);
  const file = await page.request.get(`/api/works/${id}/file`);
  expect(Buffer.compare(await file.body(), SITE)).toBe(0);
});

test('a section is as high as half the window where that is asked, and as wide as its column', async ({
  page,
  context,
}) => {
  const id = await openOnBench(page, { name: 'kiln.zip', mimeType: 'application/zip', buffer: SITE });
  await page.getByRole('radio', { name: 'Page', exact: true }).click();
  await page.getByRole('tab', { name: 'Around' }).click();
  await page.locator('#try-around-section').click();
  const settings = page.getByRole('region', { name: 'Settings' });
  await settings.getByRole('button', { name: 'Back to the picture' }).click();
  await settings.getByLabel('Window height').selectOption('1');
  await settings.getByRole('checkbox', { name: 'Edge to edge' }).uncheck();
  await expect(page.getByRole('button', { name: 'Undo “width of the section”' })).toBeVisible();
  const html = await handedOver(page, id);
  const seen = await context.newPage();
  await seen.setViewportSize({ width: 1280, height: 900 });
  await seen.setContent(html);
  const at = await measured(seen);
  expect(at.section.height).toBeCloseTo(900, 0);
  expect(at.image.width).toBeCloseTo(at.before.width, 0);
  await seen.close();
});

test('a page of its own: a new web page, a picture, a section; handed over as a page', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New', exact: true }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('radio', { name: 'Web page' }).click();
  await sheet.getByRole('button', { name: 'Create' }).click();
  await page.waitForURL(/\/work\//);
  const id = page.url().split('/').pop()!;
  await page.getByRole('button', { name: 'Add a picture' }).click();
  await page.getByRole('dialog').getByText('Drying shelves').click();
  await page.getByRole('button', { name: 'Use it' }).click();
  const view = (await page.locator('gable-page-view').boundingBox())!;
  await page.mouse.move(view.x + view.width / 2, view.y + 200);
  await expect(page.getByText('On the empty page')).toBeVisible();
  await page.mouse.click(view.x + view.width / 2, view.y + 200);
  await page.getByRole('tab', { name: 'Around' }).click();
  await page.locator('#try-around-section').click();
  await expect(page.frameLocator('gable-page-view iframe').locator('section h2')).toHaveText('Heading');
  await saved(page);
  const html = await (await page.request.get(`/api/works/${id}/file`)).text();
  expect(html).toMatch(/<body>\s*<section [^>]*data-gable-section/);
  expect(html).toMatch(/<h2 [^>]*>.*Heading/);
});
