import { openFile } from '@gable/formats';
import { unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, handbook, HANDBOOK, saved, savedFrames, test } from './steps';

const talk = readFileSync(path.resolve(HANDBOOK, '../open-day-talk.pptx'));

test('a folder of files: seen together, one picture replaced in all of them, handed over as its files', async ({
  page,
}) => {
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Open a file' }).click();
  const docx = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document';
  await (
    await chooser
  ).setFiles([
    { name: 'Spring.docx', mimeType: docx, buffer: handbook },
    { name: 'Autumn.docx', mimeType: docx, buffer: handbook },
    { name: 'Open day.pptx', mimeType: 'application/zip', buffer: talk },
  ]);
  await page.waitForURL(/\/work\/.*\/survey/);
  const id = page.url().split('/').at(-2)!;
  const frames = page.getByRole('listbox', { name: 'Frames of the work' });
  await expect(frames.getByRole('option').first()).toBeVisible();
  const all = openFile(handbook).pictures.length * 2 + openFile(talk).pictures.length;
  await expect(page.getByText(`${all} frames`)).toBeVisible();
  await expect(frames.getByText('Autumn').or(frames.getByText('Spring')).first()).toBeVisible();

  // The logo stands twice in each handbook: four frames in two files.
  await page.locator('#frame-17').click();
  await page.getByRole('button', { name: 'All 4 with this picture' }).click();
  await page.getByRole('button', { name: 'Replace picture' }).click();
  const stock = page.getByRole('dialog', { name: 'Choose a picture' });
  await stock.getByRole('searchbox').fill('kiln fire');
  await stock.getByRole('option', { name: /Kiln glow/ }).click();
  await expect(page.getByRole('button', { name: 'Undo “picture replaced”' })).toBeVisible();
  expect(Object.keys(await savedFrames(page, id))).toEqual(['17', '18', '35', '36']);

  await page.getByRole('button', { name: 'Hand over' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download files' }).click();
  const taken = await download;
  expect(taken.suggestedFilename()).toBe('3 files.zip');
  const zip = unzipSync(readFileSync(await taken.path()));
  expect(Object.keys(zip)).toEqual(['Spring.docx', 'Autumn.docx', 'Open day.pptx']);
  expect(Buffer.from(zip['Open day.pptx']!).equals(talk)).toBe(true);
  for (const name of ['Spring.docx', 'Autumn.docx']) {
    const file = openFile(zip[name]!);
    expect(Buffer.from(file.pictureBytes(17)).equals(Buffer.from(openFile(handbook).pictureBytes(17)))).toBe(false);
  }

  // One undo takes it back in both; each file has its own bench.
  await page.keyboard.press('Control+z');
  expect(await savedFrames(page, id)).toEqual({});
  await page.locator('#frame-19').dblclick();
  await expect(page.getByRole('listbox', { name: 'Pictures of the work' })).toBeVisible();
  expect(page.url()).not.toContain(id);
  await saved(page);
  await page.goto('/');
  await page
    .getByRole('link', { name: /3 files/ })
    .first()
    .click();
  await expect(frames.getByRole('option').first()).toBeVisible();
});

test('files that cannot be opened are told by name; the others are there', async ({ page }) => {
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Open a file' }).click();
  await (
    await chooser
  ).setFiles([
    { name: 'Good.docx', mimeType: 'application/zip', buffer: handbook },
    { name: 'Broken.docx', mimeType: 'application/zip', buffer: handbook.subarray(0, 5000) },
    { name: 'Talk.pptx', mimeType: 'application/zip', buffer: talk },
  ]);
  await expect(page.getByText('1 of 3 files could not be opened.')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/Broken\.docx: /)).toBeVisible();
  await expect(page.getByRole('link', { name: /3 files/ }).first()).toBeVisible();
});
