import type { Frame } from '@gable/core';
import type { Page } from '@playwright/test';
import { JSDOM } from 'jsdom';
import { strFromU8, unzipSync } from 'fflate';
import { expect, handOver, openOnBench, saved, savedFrames, test } from './steps';

const frames = (page: Page): ReturnType<Page['locator']> => page.getByRole('listbox', { name: 'Frames of the work' });
const cell = (page: Page, n: number): ReturnType<Page['locator']> => page.locator(`#frame-${n}`);

/** Chooses one frame. */
async function pick(page: Page, n: number): Promise<void> {
  await cell(page, n).click();
  await expect(page.getByText(`Picture ${n} chosen`)).toBeVisible();
}

/** Opens the handbook and goes from the bench to the survey. */
async function openSurvey(page: Page): Promise<string> {
  const id = await openOnBench(page);
  await page.getByRole('link', { name: 'Survey' }).click();
  await page.waitForURL(/\/survey/);
  await expect(frames(page).getByRole('option')).not.toHaveCount(0);
  return id;
}

/** The drawings of a document as a parser of web pages reads them: preset, and the sides of the extent in EMU. */
function drawingsOf(docx: Buffer): { preset: string | null; cx: string; cy: string }[] {
  const xml = strFromU8(unzipSync(docx)['word/document.xml']!);
  const { document } = new JSDOM(xml, { contentType: 'application/xml' }).window;
  return [...document.getElementsByTagName('pic:pic')].map((pic) => {
    const ext = pic.getElementsByTagName('a:xfrm')[0]?.getElementsByTagName('a:ext')[0];
    return {
      preset: pic.getElementsByTagName('a:prstGeom')[0]?.getAttribute('prst') ?? null,
      cx: ext?.getAttribute('cx') ?? '',
      cy: ext?.getAttribute('cy') ?? '',
    };
  });
}

test('mend all, one finish on all portraits, hand over: true circles of one size', async ({ page }) => {
  const id = await openSurvey(page);
  await page.getByRole('button', { name: /^Fix all faults/ }).click();
  const pairs = page.getByRole('dialog', { name: 'All that is plainly wrong' });
  await expect(pairs.getByRole('listitem')).toHaveCount(5);
  await pairs.getByRole('button', { name: 'Fix 5 frames' }).click();
  const mended = await savedFrames(page, id);
  expect(mended['4']!.placement.distortion).toBe(1);
  expect(mended['3']!.shape.name).toBe('circle');
  await expect(page.getByRole('button', { name: 'Undo “fixed”' })).toBeVisible();

  // The portraits are the pictures 2 to 6: chosen as a range.
  await pick(page, 2);
  await cell(page, 6).click({ modifiers: ['Shift'] });
  await page.getByRole('tab', { name: 'Finish' }).click();
  await page
    .getByRole('listbox', { name: 'Finishes' })
    .getByRole('option', { name: /^Inked round/ })
    .click();
  await page.getByRole('radio', { name: 'One size' }).click();
  const width = page.getByRole('textbox', { name: 'Width' });
  await width.fill('32 mm');
  await width.press('Enter');
  await page.getByRole('button', { name: 'Apply to 5 frames' }).click();
  await expect(page.getByRole('button', { name: 'Undo “Inked round applied”' })).toBeVisible();

  const bytes = await handOver(page);
  const circles = drawingsOf(bytes).filter((d) => d.preset === 'ellipse' && d.cx === '1152000' && d.cy === '1152000');
  // 32 mm are 1,152,000 EMU.
  expect(circles).toHaveLength(5);

  // One undo takes all of it back, another one the mending.
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  expect((await savedFrames(page, id))['2']).toBeUndefined();
  await page.keyboard.press('Control+z');
  expect(await savedFrames(page, id)).toEqual({});
  await page.request.post('/api/finishes/shipped');
});

test('one picture in the place of another, in every frame that shows it', async ({ page }) => {
  const id = await openSurvey(page);
  // The sign of the house stands in the header and in a note.
  await pick(page, 17);
  await page.getByRole('button', { name: 'All 2 with this picture' }).click();
  await expect(page.getByText('2 chosen')).toBeVisible();
  await page.getByRole('button', { name: 'Replace picture' }).click();
  await page.getByRole('dialog', { name: 'Choose a picture' }).getByRole('option').first().click();
  await expect(page.getByRole('button', { name: 'Undo “picture replaced”' })).toBeVisible();
  const now = await savedFrames(page, id);
  expect(Object.keys(now)).toEqual(['17', '18']);
  expect(now['17']!.source!.sha256).toBe(now['18']!.source!.sha256);
  const before = (await (await page.request.get(`/api/works/${id}`)).json()) as { pictures: { frame: Frame }[] };
  for (const n of [17, 18]) expect(now[n]!.box).toEqual(before.pictures[n - 1]!.frame.box);
  await page.keyboard.press('Control+z');
  expect(await savedFrames(page, id)).toEqual({});
});

test('by keyboard: along the frames, up and down, choose, open on the bench and come back', async ({ page }) => {
  await openSurvey(page);
  await cell(page, 1).focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press(' ');
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByText('3 chosen')).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await expect(cell(page, 4)).not.toBeFocused();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+a');
  await expect(page.getByText('18 chosen')).toBeVisible();
  await page.keyboard.press('Home');
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/work\/[^/]+\?picture=1$/);
  await expect(page.getByRole('option', { name: /^Circle/ })).toBeVisible();
  await page.keyboard.press('v');
  await page.waitForURL(/\/survey/);
});

test('unevenness: a family is evened out with a look before, or said to be meant so, which is remembered', async ({
  page,
}) => {
  const id = await openSurvey(page);
  await page.getByRole('tab', { name: 'Make alike' }).click();
  const families = page.getByRole('list', { name: 'Nearly alike' }).getByRole('listitem');
  await expect(families).toHaveCount(2);
  await families.nth(1).getByRole('button', { name: 'Ignore' }).click();
  await families
    .nth(0)
    .getByRole('button', { name: /^Make them all/ })
    .click();
  await page.getByRole('button', { name: 'Change 2 frames' }).click();
  const evened = await savedFrames(page, id);
  // One of the two was so already.
  expect(Object.keys(evened).length).toBeGreaterThanOrEqual(1);
  await expect(families).toHaveCount(1);
  await page.reload();
  await page.getByRole('tab', { name: 'Make alike' }).click();
  await expect(families.getByRole('button', { name: /^Ignored/ })).toBeVisible();
});

test('alternative texts are typed beside their pictures and written into the file', async ({ page }) => {
  await openSurvey(page);
  await page.getByRole('tab', { name: 'Texts' }).click();
  await page.getByRole('textbox', { name: 'Alt text of picture 4' }).fill('Ines with glasses & a yellow shirt');
  await saved(page);
  const xml = strFromU8(unzipSync(await handOver(page))['word/document.xml']!);
  const { document } = new JSDOM(xml, { contentType: 'application/xml' }).window;
  const texts = [...document.getElementsByTagName('wp:docPr')].map((e) => e.getAttribute('descr'));
  expect(texts).toContain('Ines with glasses & a yellow shirt');
});

test('words and findings narrow what is seen; figures are drawn, and a mark chooses its frame', async ({ page }) => {
  await openSurvey(page);
  await page.getByRole('button', { name: 'Hairlines' }).click();
  await expect(frames(page).getByRole('option')).toHaveCount(1);
  await expect(page.getByText('Picture 16 chosen')).toBeVisible();
  await page.getByRole('button', { name: /^Only: Hairlines/ }).click();
  await page.getByRole('searchbox', { name: 'Find frames by words' }).fill('turquoise bowl');
  await expect(frames(page).getByRole('option')).toHaveCount(1);
  await page.getByRole('searchbox', { name: 'Find frames by words' }).fill('');
  await page.getByRole('tab', { name: 'Figures' }).click();
  await page.getByRole('button', { name: 'Select none' }).click();
  const chart = page.getByRole('img', { name: /^Sharpness: 1 of 18/ });
  await expect(chart.getByText('1 below 150')).toBeVisible();
  await expect(chart.getByText('17 above 300')).toBeVisible();
  // Dots on a linear scale to 600, a picture a line: the eleventh is the soft one, of 38 ppi.
  const dot = async (): Promise<[number, number]> => {
    const box = (await chart.boundingBox())!;
    const [left, right, top, bottom] = [box.x + 64, box.x + box.width - 90, box.y + 26, box.y + box.height - 44];
    return [left + ((right - left) * 38) / 600, top + ((bottom - top) * 11) / 19];
  };
  // It is drawn anew for each size and each choice: there has to be a dot where it is clicked.
  const drawn = async (): Promise<string | undefined> =>
    page.evaluate(([x, y]) => document.elementFromPoint(x, y)?.tagName, await dot());
  // A click that falls between two drawings hits nothing: then there is another one.
  await expect(async () => {
    await expect.poll(drawn).toBe('path');
    await page.mouse.click(...(await dot()));
    await expect(page.getByText('Picture 11 chosen')).toBeVisible({ timeout: 3000 });
  }).toPass();
});

test('a finish of one’s own is kept, saved to a file and read again', async ({ page }) => {
  await openSurvey(page);
  await pick(page, 7);
  await page.getByRole('tab', { name: 'Finish' }).click();
  const manage = async (deed: string): Promise<void> => {
    await page.getByRole('button', { name: 'Manage' }).click();
    await page.getByRole('menuitem', { name: deed }).click();
  };
  await manage('Save picture 7’s look as a finish');
  const name = page.getByRole('textbox', { name: 'Name of the finish' });
  await expect(name).toHaveValue('As picture 7');
  const download = page.waitForEvent('download');
  await manage('Save to a file');
  const file = await (await download).path();
  await manage('Remove');
  await expect(name).not.toHaveValue('As picture 7');
  await page.getByLabel('File of a finish').setInputFiles(file);
  await expect(name).toHaveValue('As picture 7');
  await manage('Remove');
  await page.getByLabel('File of a finish').setInputFiles({
    name: 'x.json',
    mimeType: 'application/json',
    buffer: Buffer.from('{"name":"x"}'),
  });
  await expect(page.getByRole('alert')).toContainText('This is not a finish');
});
