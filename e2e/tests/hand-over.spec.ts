import type { Page } from '@playwright/test';
import { strFromU8, unzipSync } from 'fflate';
import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { expect, openOnBench, test } from './steps';

interface Job {
  id: string;
  state: string;
}
const jobsOf = async (page: Page, id: string): Promise<Job[]> =>
  ((await (await page.request.get(`/api/works/${id}/jobs`)).json()) as { jobs: Job[] }).jobs;

/** Begins to hand over every frame as pictures that take long to make. */
async function beginLong(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Hand over' }).click();
  await page.getByRole('radio', { name: 'Pictures' }).click();
  await page.getByRole('radio', { name: 'AVIF' }).click();
  await page.getByRole('textbox', { name: /^Widths/ }).fill('2400, 2000, 1600, 1200');
  await page.getByRole('button', { name: 'Download pictures' }).click();
  await expect(page.getByRole('status').filter({ hasText: /of 18/ })).toBeVisible();
}

test('every frame as a picture, at chosen widths, with a list and the elements for a page', async ({ page }) => {
  await openOnBench(page);
  await page.getByRole('button', { name: 'Hand over' }).click();
  await page.getByRole('radio', { name: 'Pictures' }).click();
  await page.getByRole('textbox', { name: /^Widths/ }).fill('120, 60');
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download pictures' }).click();
  const taken = await download;
  expect(taken.suggestedFilename()).toBe('season-handbook, pictures.zip');
  const zip = unzipSync(await readFile(await taken.path()));
  const { pictures } = JSON.parse(strFromU8(zip['manifest.json']!)) as { pictures: { n: number }[] };
  expect(pictures).toHaveLength(18);
  expect((await sharp(zip['picture-05-60w.png']).metadata()).width).toBe(60);
});

test('what is under way outlives a reload, and can be stopped', async ({ page }) => {
  const id = await openOnBench(page);
  await beginLong(page);
  await page.reload();
  await expect(page.getByRole('listbox', { name: 'Pictures of the work' })).toBeVisible();
  await page.getByRole('button', { name: 'Hand over' }).click();
  await expect(page.getByRole('status').filter({ hasText: /of 18/ })).toBeVisible();
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.getByRole('button', { name: 'Download file' })).toBeEnabled();
  expect((await jobsOf(page, id)).map((j) => j.state)).toEqual(['cancelled']);
  // The thread that was at it has been ended: the next one is made at once.
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download file' }).click();
  await download;
  expect((await jobsOf(page, id)).map((j) => j.state)).toEqual(['done', 'cancelled']);
});

test('the file is made smaller on the way: what no frame shows is gone, every frame is as it was', async ({ page }) => {
  const id = await openOnBench(page);
  await page.getByRole('button', { name: 'Hand over' }).click();
  await expect(page.getByText('4.2 MB now')).toBeVisible();
  await page.getByRole('checkbox', { name: 'Cut off what no frame shows' }).check();
  await page.getByRole('checkbox', { name: 'Reduce pictures to the resolution they need' }).check();
  await page.getByRole('radio', { name: '150 ppi, for screens' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download file' }).click();
  const bytes = await readFile(await (await download).path());
  await expect(page.getByText(/instead of 4\.2 MB: hidden parts cut off/)).toBeVisible();
  expect(bytes.length).toBeLessThan(1_500_000);
  await page.getByRole('button', { name: 'Done' }).click();
  // Opened again, every frame has its box, shape and view.
  interface Seen {
    pictures: { frame: { box: object; shape: object; alt: string } }[];
  }
  const was = (await (await page.request.get(`/api/works/${id}`)).json()) as Seen;
  const again = (await (
    await page.request.post('/api/works?name=small.docx', {
      data: bytes,
      headers: { 'content-type': 'application/octet-stream' },
    })
  ).json()) as Seen;
  const frames = (s: Seen): object[] => s.pictures.map(({ frame: { box, shape, alt } }) => ({ box, shape, alt }));
  expect(frames(again)).toEqual(frames(was));
});
