import type { Frame } from '@gable/core';
import type { Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { framesOf, type ToldWork } from '../../server/tests/support/entries';
import { expect, test as base } from '../fixtures';

export { expect };

/** Each test leaves an empty shelf: what earlier ones made would be painted there by the dozen before the next can begin. */
export const test = base.extend<{ shelf: void }>({
  shelf: [
    async ({ request }, use) => {
      await use();
      const { works } = (await (await request.get('/api/works?limit=100')).json()) as { works: { id: string }[] };
      for (const { id } of works) await request.delete(`/api/works/${id}`);
    },
    { auto: true },
  ],
});

export const HANDBOOK = path.resolve(__dirname, '../../demo/files/season-handbook.docx');
export const handbook = readFileSync(HANDBOOK);

/** Opens a file on the Shelf by the button, and waits for the Bench. */
export async function openOnBench(
  page: Page,
  file: string | { name: string; mimeType: string; buffer: Buffer } = HANDBOOK,
): Promise<string> {
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Open a file' }).click();
  await (await chooser).setFiles(file);
  await page.waitForURL(/\/work\//);
  await expect(page.getByRole('listbox', { name: /^(Pictures|Pages) of the work$/ })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Settings' })).toBeVisible();
  // Pages of a fixed size come up whole.
  const closeUp = page.getByRole('radio', { name: 'Close-up' });
  if (await closeUp.isVisible()) await closeUp.click();
  await ready(page);
  return page.url().split('/').pop()!;
}

/** Two frames: what was done is on the screen then. */
export const painted = (page: Page): Promise<void> =>
  page.evaluate(
    () =>
      new Promise<void>((resolve) => {
        requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(resolve)));
      }),
  );

/** Waits until the picture on the board is there in its large copy, and has been looked at. */
export async function ready(page: Page): Promise<void> {
  await painted(page);
  await expect(page.getByRole('application')).toHaveAttribute('aria-busy', 'false');
}

/** Waits until the pages are laid out with what was done last. */
export async function laidOut(page: Page): Promise<void> {
  await painted(page);
  await expect(page.getByRole('region', { name: /^The pages of/ })).toHaveAttribute('aria-busy', 'false');
}

/** Waits until nothing moves any more. */
export const still = (page: Page): Promise<unknown> =>
  page.evaluate(() => Promise.all(document.getAnimations().map((a) => a.finished.catch(() => undefined))));

/** Waits until everything done so far is saved; before what was done is on the screen, the word of the save before is. */
export async function saved(page: Page): Promise<void> {
  await painted(page);
  await expect(page.getByRole('status').filter({ hasText: /^Saved$/ })).toBeVisible();
}

/** The frames as the server has them: results are read from there, not from the screen alone. */
export async function savedFrames(page: Page, id: string): Promise<Record<string, Frame>> {
  await saved(page);
  const response = await page.request.get(`/api/works/${id}`);
  return framesOf((await response.json()) as ToldWork);
}

export async function handOver(page: Page): Promise<Buffer> {
  await saved(page);
  await page.getByRole('button', { name: 'Hand over' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download file' }).click();
  return readFileSync(await (await download).path());
}

/** Puts a picture on the clipboard as a PNG of a width, as another program would. */
export async function putOnClipboard(page: Page, file: string, width: number): Promise<void> {
  const png = await sharp(file).resize(width).png().toBuffer();
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.evaluate(async (text) => {
    const bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
    await navigator.clipboard.write([new ClipboardItem({ 'image/png': new Blob([bytes], { type: 'image/png' }) })]);
  }, png.toString('base64'));
}

const AXE = path.resolve(__dirname, '../../node_modules/axe-core/axe.min.js');

/** What axe-core finds by these rules, or tags of rules. */
export async function violations(page: Page, rules: readonly string[]): Promise<string[]> {
  // The page's own policy keeps foreign scripts out; the check runs in a page of the same look without it.
  await page.evaluate(readFileSync(AXE, 'utf8'));
  return page.evaluate(async (runOnly) => {
    const { axe } = window as unknown as {
      axe: {
        run: (
          where: Document,
          options: object,
        ) => Promise<{ violations: { id: string; nodes: { target: string[]; failureSummary: string }[] }[] }>;
      };
    };
    const result = await axe.run(document, { runOnly, resultTypes: ['violations'] });
    return result.violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.target.join(' ')} — ${n.failureSummary}`));
  }, rules);
}
