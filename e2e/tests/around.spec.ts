/**
 * What stands round pictures, by mouse and keyboard: what is seen against the file that is handed over; contrasts by WCAG 2.2 SC
 * 1.4.3.
 */
import { enclosingCircle, flatten, framePath, type FramedItem } from '@gable/core';
import { openFile } from '@gable/formats';
import type { Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, openOnBench, saved, still, test, violations } from './steps';

const TALK = path.resolve(__dirname, '../../demo/files/open-day-talk.pptx');

async function onSlide(page: Page, number: number): Promise<string> {
  const id = await openOnBench(page, TALK);
  await page.getByRole('radio', { name: /^Slide/ }).click();
  await page.getByRole('option', { name: `Slide ${number}`, exact: true }).click();
  return id;
}
const picture = (page: Page, at: number): ReturnType<Page['locator']> =>
  page.locator('gable-page-view [data-n]').nth(at);
const piece = async (page: Page, name: string): Promise<void> => {
  await page.getByRole('tab', { name: 'Around' }).click();
  await page.getByRole('listbox', { name: 'Tries' }).getByRole('option', { name }).click();
};
const fileOf = async (page: Page, id: string): Promise<Uint8Array> => {
  await saved(page);
  return new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
};
const itemsIn = (bytes: Uint8Array, page: number): FramedItem[] => {
  const { document } = openFile(bytes);
  return document.pages[page - 1]!.items.map((i) => document.items[i]!).filter(
    (i): i is FramedItem => i.kind === 'framed',
  );
};
const wordsOf = (i: FramedItem): string =>
  i.text?.paragraphs.map((p) => p.runs.map((r) => r.text).join('')).join('|') ?? '';

test('a ring and a name are two clicks and the words; they follow the picture, and are in the file', async ({
  page,
}) => {
  const id = await onSlide(page, 2);
  await picture(page, 1).click();
  await piece(page, 'Ring');
  await page.getByRole('button', { name: 'Back to the picture' }).click();
  await piece(page, 'Name below');
  // What stands there is chosen: the author types at once.
  await expect(page.getByRole('textbox', { name: 'Words' }).first()).toBeFocused();
  await page.keyboard.type('Tobias Rehn');
  await page.keyboard.press('Enter');
  await page.keyboard.type('kilns & glazes');
  // One word looks otherwise than the others: by the band, while it is marked, and by the keyboard.
  const typed = page.getByRole('textbox', { name: 'Words' }).first();
  await page.keyboard.press('Control+Shift+ArrowLeft');
  await page.getByRole('region', { name: 'Settings' }).getByRole('checkbox', { name: 'Bold' }).click();
  await typed.focus();
  await page.keyboard.press('Control+i');
  await page.keyboard.press('Escape');
  await expect(typed).not.toBeFocused();
  const name = page.locator('[data-added][aria-label^="“Tobias"]');
  const before = (await name.boundingBox())!;
  // The picture is moved with the keyboard: both go with it.
  await page.getByRole('button', { name: 'Back to the picture' }).click();
  const at = (await picture(page, 1).boundingBox())!;
  await picture(page, 1).focus();
  for (let i = 0; i < 10; i++) await page.keyboard.press('ArrowDown');
  const [now, moved] = [(await name.boundingBox())!, (await picture(page, 1).boundingBox())!];
  expect(moved.y - at.y).toBeGreaterThan(10);
  expect(now.y - before.y).toBeCloseTo(moved.y - at.y, 0);
  expect(now.x).toBeCloseTo(before.x, 0);

  // It is there after a reload, and so it is in the file.
  await saved(page);
  await page.reload();
  await page.getByRole('option', { name: 'Slide 2', exact: true }).click();
  await expect(name).toBeVisible();
  const bytes = await fileOf(page, id);
  const items = itemsIn(bytes, 2);
  const words = items.find((i) => wordsOf(i) === 'Tobias Rehn|kilns & glazes')!;
  const ring = items.find((i) => i.text === null && i.fill === null && i.outline !== null)!;
  expect(words).toBeDefined();
  const looks = words.text!.paragraphs[1]!.runs.map((r) => [r.text, r.weight >= 600, r.italic]);
  expect(looks).toEqual([
    ['kilns & ', true, false],
    ['glazes', false, true],
  ]);
  // Below the ring by the gap; concentric with the picture.
  expect(words.at.box.y).toBeGreaterThan(ring.at.box.y + ring.at.box.height);
  const frame = openFile(bytes).pictures.filter((p) => p.where.page === 2)[1]!.frame.box;
  expect(ring.at.box.x + ring.at.box.width / 2).toBeCloseTo(frame.x + frame.width / 2, 1);
  expect(ring.at.box.y + ring.at.box.height / 2).toBeCloseTo(frame.y + frame.height / 2, 1);
});

test('what is typed before the field is there is not lost, nor a shortcut of the bench', async ({ page }) => {
  // The editor's chunk is the only one that comes late.
  await page.route('**/*.js', async (route) => {
    const answer = await route.fetch();
    const code = await answer.text();
    if (code.includes('ProseMirror')) await new Promise((done) => setTimeout(done, 8000));
    await route.fulfill({ response: answer, body: code });
  });
  const id = await onSlide(page, 3);
  await picture(page, 0).click();
  await piece(page, 'Name below');
  await page.keyboard.type('A bowl');
  await page.keyboard.press('Enter');
  await page.keyboard.type('stone');
  await expect(page.locator('[contenteditable=true]')).toHaveText('A bowlstone');
  await page.keyboard.type('ware');
  await page.keyboard.press('Escape');
  const words = itemsIn(await fileOf(page, id), 3).map(wordsOf);
  expect(words).toContain('A bowl|stoneware');
});

test('each piece is one step back; all undone, the file is the very same', async ({ page }) => {
  const id = await onSlide(page, 1);
  for (const name of ['Block behind', 'Band', 'Name over it']) {
    await piece(page, name);
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Back to the picture' }).click();
  }
  await expect(page.locator('[data-added]')).toHaveCount(3);
  expect(Buffer.compare(Buffer.from(await fileOf(page, id)), readFileSync(TALK))).not.toBe(0);
  for (let i = 2; i >= 0; i--) {
    await page.getByRole('button', { name: /^Undo/ }).click();
    await expect(page.locator('[data-added]')).toHaveCount(i);
  }
  expect(Buffer.compare(Buffer.from(await fileOf(page, id)), readFileSync(TALK))).toBe(0);
});

test('words over a picture say how well they can be read, and are made readable by one click', async ({ page }) => {
  await onSlide(page, 1);
  await piece(page, 'Heading over');
  await page.keyboard.type('Come and throw a pot');
  await page.keyboard.press('Escape');
  const contrast = page.locator('[data-contrast]');
  await expect(contrast).toContainText(/Contrast [\d.]+ : 1/);
  const settings = page.getByRole('region', { name: 'Settings' });
  // Small words need more than large ones: 4.5 : 1.
  await settings.getByRole('textbox', { name: 'Size' }).fill('12');
  await settings.getByRole('textbox', { name: 'Size' }).press('Enter');
  await settings.getByRole('checkbox', { name: 'Bold' }).click();
  await expect(contrast).toContainText('It needs 4.5 : 1.');
  await settings.getByRole('button', { name: 'Darken behind the words' }).click();
  await expect(contrast).not.toContainText('It needs');
  const figure = Number(/([\d.]+) : 1/.exec((await contrast.textContent())!)![1]);
  expect(figure).toBeGreaterThanOrEqual(4.5);
  // The least that suffices: not black.
  expect(figure).toBeLessThan(6);
});

test('words that are too large for their shape are told, and made as large as they fit', async ({ page }) => {
  const id = await onSlide(page, 3);
  await picture(page, 0).click();
  await piece(page, 'Name below');
  await expect(page.getByRole('textbox', { name: 'Words' }).first()).toBeFocused();
  await page.keyboard.type('A bowl from the wheel');
  await page.keyboard.press('Escape');
  const settings = page.getByRole('region', { name: 'Settings' });
  const enter = async (name: string, value: string): Promise<void> => {
    await settings.getByRole('textbox', { name, exact: true }).fill(value);
    await settings.getByRole('textbox', { name, exact: true }).press('Enter');
  };
  await enter('Fill', '#d9d2c3');
  await enter('Size', '60');
  await enter('Height', '12mm');
  const contrast = page.locator('[data-contrast]');
  await expect(contrast).toContainText('The words do not fit their shape.');
  await settings.getByRole('button', { name: 'As large as fits' }).click();
  await expect(contrast).not.toContainText('do not fit');
  const words = itemsIn(await fileOf(page, id), 3).find((i) => wordsOf(i).startsWith('A bowl'))!;
  const { size } = words.text!.paragraphs[0]!.runs[0]!;
  // One line of it is no higher than the box: 12 mm are 34 pt, and lines of this font 1.14 em.
  expect(size).toBeLessThan(34 / 1.13);
  expect(size).toBeGreaterThan(8);
});

test('what was added is dragged with its tie, by numbers too, goes up and down, and is deleted', async ({ page }) => {
  const id = await onSlide(page, 3);
  await picture(page, 0).click();
  await piece(page, 'Name below');
  await page.keyboard.type('A bowl');
  await page.keyboard.press('Escape');
  const name = page.locator('[data-added]');
  const settings = page.getByRole('region', { name: 'Settings' });
  const gap = settings.getByRole('textbox', { name: 'Gap' });
  const was = await gap.inputValue();
  const b = (await name.boundingBox())!;
  await page.mouse.move(b.x + b.width / 2, b.y + b.height / 2);
  await page.mouse.down();
  await page.mouse.move(b.x + b.width / 2, b.y + b.height / 2 + 30, { steps: 4 });
  await page.mouse.up();
  await expect(gap).not.toHaveValue(was);
  await gap.fill('10mm');
  await gap.press('Enter');
  const items = itemsIn(await fileOf(page, id), 3);
  const words = items.find((i) => wordsOf(i) === 'A bowl')!;
  const frame = openFile(await fileOf(page, id)).pictures.find((p) => p.where.page === 3)!.frame.box;
  expect(words.at.box.y - frame.y - frame.height).toBeCloseTo((10 / 25.4) * 72, 1);
  const order = async (): Promise<number> => {
    const { document } = openFile(await fileOf(page, id));
    return document.pages[2]!.items.findIndex((i) => wordsOf(document.items[i] as FramedItem) === 'A bowl');
  };
  const top = await order();
  await settings.getByRole('button', { name: 'Send back' }).click();
  await expect.poll(order).toBeLessThan(top);
  await still(page);
  expect(await violations(page, ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])).toEqual([]);
  await name.focus();
  await page.keyboard.press('Delete');
  await expect(name).toHaveCount(0);
});

test('letters are concentric with the picture, by the circle round their ink, and are spelt anew', async ({ page }) => {
  const id = await onSlide(page, 1);
  await piece(page, 'Letters inside');
  const settings = page.getByRole('region', { name: 'Settings' });
  const field = settings.getByRole('textbox', { name: 'Letters' });
  await field.fill('FC');
  await field.press('Enter');
  await expect(page.locator('[data-added][aria-label="Letters “FC”"]')).toBeVisible();
  // What the font does not have is said beside the field, and nothing changes.
  await field.fill('漢');
  await field.press('Enter');
  await expect(settings.getByRole('alert')).toContainText('Choose another letter or font.');
  const bytes = await fileOf(page, id);
  const letters = itemsIn(bytes, 1).find((i) => i.shape.drawn)!;
  const { box } = openFile(bytes).pictures.find((p) => p.where.page === 1)!.frame;
  const own = letters.at.box;
  const path = flatten(framePath({ box: own, shape: letters.shape, seat: letters.seat }), 0.01).flat();
  const ink = enclosingCircle(path);
  const most = 0.001 * ink.r + 2 / 12_700;
  expect(Math.abs(own.x + ink.x - box.x - box.width / 2)).toBeLessThan(most);
  expect(Math.abs(own.y + ink.y - box.y - box.height / 2)).toBeLessThan(most);
});

test('words along the edge are typed at once, stand on a circle round the picture, and follow it', async ({ page }) => {
  const id = await onSlide(page, 2);
  await picture(page, 1).click();
  await piece(page, 'Words along the edge');
  const settings = page.getByRole('region', { name: 'Settings' });
  await expect(settings.getByRole('textbox', { name: 'Words' })).toBeFocused();
  await page.keyboard.type('Tobias minds the kilns');
  await page.keyboard.press('Enter');
  await settings.getByRole('combobox', { name: 'Side' }).selectOption('Bottom');
  const shown = page.locator('[data-added][aria-label="Words “Tobias minds the kilns”"]');
  await expect(shown).toBeVisible();
  const onCircle = async (): Promise<{ x: number; y: number; r: number }> => {
    const bytes = await fileOf(page, id);
    const item = itemsIn(bytes, 2).find((i) => i.alt === 'Tobias minds the kilns')!;
    const { box } = openFile(bytes).pictures.filter((p) => p.where.page === 2)[1]!.frame;
    const [x, y, r] = [box.x + box.width / 2, box.y + box.height / 2, box.width / 2];
    const own = item.at.box;
    const ink = flatten(framePath({ box: own, shape: item.shape, seat: item.seat }), 0.01)
      .flat()
      .map((p) => ({ x: own.x + p.x - x, y: own.y + p.y - y }));
    // Outside the circle of the picture, all of it below its middle.
    expect(Math.min(...ink.map((p) => Math.hypot(p.x, p.y)))).toBeGreaterThan(r);
    expect(Math.min(...ink.map((p) => p.y))).toBeGreaterThan(0);
    return { x, y, r };
  };
  const before = await onCircle();
  await page.getByRole('button', { name: 'Back to the picture' }).click();
  await picture(page, 1).focus();
  for (let i = 0; i < 10; i++) await page.keyboard.press('ArrowDown');
  const after = await onCircle();
  expect(after.y).toBeGreaterThan(before.y + 5);
});
