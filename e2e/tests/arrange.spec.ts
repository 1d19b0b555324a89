/** Pictures of a page arranged by tries: counted in actions, against the slide that is handed over; text by `officeparser`. */
import { openFile } from '@gable/formats';
import { parseOffice } from 'officeparser';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { expect, openOnBench, painted, saved, test, violations } from './steps';

const demo = (name: string): string => path.resolve(__dirname, '../../demo/files', name);
const POTS = [
  'three-bowls',
  'kiln-glow',
  'teapot',
  'celadon-vase',
  'tall-bottles',
  'stacked-plates',
  'glaze-tests',
  'drying-shelves',
];

test('eight pictures with titles as a slide: eight actions, all alike, none over another', async ({ page }) => {
  await page.goto('/');
  // 1 new, 2 slides, 3 create, 4 drop, 5 arrange, 6 titles, 7 even grid, 8 hand over.
  await page.getByRole('button', { name: 'New', exact: true }).click();
  const sheet = page.getByRole('dialog', { name: 'New' });
  await sheet.getByRole('radio', { name: 'Slides' }).click();
  await sheet.getByRole('button', { name: 'Create' }).click();
  await expect(page.getByRole('heading', { name: 'Where does the first picture go?' })).toBeVisible();
  const slide = (await page
    .locator('gable-page-view .bg-white, gable-page-view [aria-hidden=true]')
    .first()
    .boundingBox())!;
  const all = await Promise.all(
    POTS.map(async (name) => {
      const bytes = await sharp(demo(`pictures/${name}.jpg`))
        .resize(600)
        .jpeg()
        .toBuffer();
      return [name, [...bytes]] as const;
    }),
  );
  const data = await page.evaluateHandle((pictures) => {
    const files = new DataTransfer();
    for (const [name, bytes] of pictures)
      files.items.add(new File([new Uint8Array(bytes)], `${name}.jpg`, { type: 'image/jpeg' }));
    return files;
  }, all);
  const at = page.locator('gable-page-view').locator('div').first();
  const where = { dataTransfer: data, clientX: slide.x + slide.width / 2, clientY: slide.y + slide.height / 2 };
  for (const type of ['dragover', 'dragover', 'drop']) {
    await at.dispatchEvent(type, where);
    await painted(page);
  }
  await expect(page.locator('gable-page-view [data-n="8"]')).toBeVisible();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await page.getByRole('checkbox', { name: 'Titles below, from alt texts' }).check();
  await page.getByRole('button', { name: 'Even grid', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Undo “arrangement”' })).toBeVisible();
  expect(await violations(page, ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])).toEqual([]);
  await page.getByRole('button', { name: 'Hand over' }).click();
  const dialog = page.getByRole('dialog', { name: 'Hand over' });
  await dialog.getByRole('radio', { name: /^Slides \.pptx/ }).click();
  const download = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Download file' }).click();
  const bytes = await readFile(await (await download).path());
  const file = openFile(bytes);
  const boxes = file.pictures.map((p) => p.frame.box);
  expect(boxes).toHaveLength(8);
  for (const [i, b] of boxes.entries()) {
    // Whole EMU.
    expect(b.width).toBeCloseTo(boxes[0]!.width, 3);
    expect(b.height).toBeCloseTo(boxes[0]!.height, 3);
    for (const o of boxes.slice(0, i))
      expect(
        Math.max(o.x - b.x - b.width, b.x - o.x - o.width, o.y - b.y - b.height, b.y - o.y - o.height),
      ).toBeGreaterThan(11);
  }
  expect((await parseOffice(bytes)).toText().match(/Title/g)).toHaveLength(8);
});

test('a row below the title of a slide; another gap; one undo for each', async ({ page }) => {
  const id = await openOnBench(page, demo('open-day-talk.pptx'));
  await page.getByRole('radio', { name: /^Slide/ }).click();
  await page.getByRole('option', { name: 'Slide 2', exact: true }).click();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  const gaps = async (): Promise<number[]> => {
    await saved(page);
    const bytes = new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
    const { pictures } = openFile(bytes);
    const row = pictures.filter((p) => p.where.page === 2).map((p) => p.frame.box);
    expect(Math.min(...row.map((b) => b.y))).toBeGreaterThan(100);
    const inOrder = row.toSorted((a, b) => a.x - b.x);
    return inOrder.slice(1).map((b, i) => Math.round(b.x - inOrder[i]!.x - inOrder[i]!.width));
  };
  await page.getByRole('button', { name: 'Row', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Undo “arrangement”' })).toBeVisible();
  const first = await gaps();
  await page.getByRole('textbox', { name: 'Gap' }).fill('36pt');
  await page.getByRole('textbox', { name: 'Gap' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Undo “gap”' })).toBeVisible();
  expect(await gaps()).toEqual(first.map((g) => g + 24));
  await page.getByRole('button', { name: 'Undo “gap”' }).click();
  expect(await gaps()).toEqual(first);
});

test('a contact strip brings its strips and numbers, and another arrangement takes them away', async ({ page }) => {
  const id = await openOnBench(page, demo('open-day-talk.pptx'));
  await page.getByRole('radio', { name: /^Slide/ }).click();
  await page.getByRole('option', { name: 'Slide 2', exact: true }).click();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  const group = page.getByRole('group', { name: 'Arrangements' });
  // Four pictures have no before and after.
  await expect(group.getByRole('button', { name: 'Before and after' })).toHaveCount(0);
  const put = page.locator('gable-page-view [data-added]');
  await group.getByRole('button', { name: 'Contact strip' }).click();
  await expect(put).toHaveCount(12);
  await saved(page);
  const numbers = openFile(new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body()));
  const said = Object.values(numbers.document.items).flatMap((i) =>
    i.kind === 'framed' && i.tie && i.text ? [i.text.paragraphs[0]!.runs[0]!.text] : [],
  );
  expect(said.sort()).toEqual(['1', '2', '3', '4']);
  await group.getByRole('button', { name: 'Row', exact: true }).click();
  await expect(put).toHaveCount(0);
  // One step back, and they are there again.
  await page.getByRole('button', { name: 'Undo “arrangement”' }).click();
  await expect(put).toHaveCount(12);
  await page.getByRole('button', { name: 'Undo “arrangement”' }).click();
  await expect(put).toHaveCount(0);
});
