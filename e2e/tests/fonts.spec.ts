/** Fonts of the author's own: brought by the list of fonts, seen in words and letters, and in the file where its standard says how. */
import { Document, Packer, Paragraph, TextRun } from 'docx';
import { strFromU8, unzipSync } from 'fflate';
import type { Page } from '@playwright/test';
import path from 'node:path';
import { madeFont } from '../../core/tests/made-font';
import { expect, openOnBench, saved, test } from './steps';

const DEMO = (name: string): string => path.resolve(__dirname, '../../demo/files', name);
const FAMILY = 'Fennick Boxes';

/** Fonts that do not ship with the program. */
async function brought(page: Page): Promise<{ id: string }[]> {
  const { fonts } = (await (await page.request.get('/api/fonts')).json()) as {
    fonts: { id: string; ships?: true }[];
  };
  return fonts.filter((f) => !f.ships);
}

test.afterEach(async ({ page }) => {
  for (const { id } of await brought(page)) await page.request.delete(`/api/fonts/${id}`);
});

/** Chooses “Add a font …” of a list, and a file for it. */
async function bring(page: Page, buffer: Uint8Array, name = 'boxes.otf'): Promise<void> {
  const list = page.getByRole('region', { name: 'Settings' }).getByRole('combobox', { name: 'Font' });
  const chooser = page.waitForEvent('filechooser');
  await list.selectOption({ label: 'Add a font …' });
  await (await chooser).setFiles({ name, mimeType: 'font/otf', buffer: Buffer.from(buffer) });
}
async function piece(page: Page, name: string): Promise<void> {
  await page.getByRole('tab', { name: 'Around' }).click();
  await page.getByRole('listbox', { name: 'Tries' }).getByRole('option', { name }).click();
}

test('words are set in a font that was brought; a document takes it along, which is said beforehand', async ({
  page,
}) => {
  const id = await openOnBench(page, DEMO('season-handbook.docx'));
  await page.getByRole('option', { name: /^Picture 6,/ }).click();
  await piece(page, 'Name below');
  await expect(page.getByRole('textbox', { name: 'Words' }).first()).toBeFocused();
  await page.keyboard.type('Odd Fennick');
  const list = page.getByRole('region', { name: 'Settings' }).getByRole('combobox', { name: 'Font' });
  // What is no font is refused in words, and the list stays as it was.
  const was = await list.inputValue();
  await bring(page, Buffer.from('no font'));
  await expect(page.getByRole('alert').filter({ hasText: 'not a font' })).toBeVisible();
  await expect(list).toHaveValue(was);
  await bring(page, madeFont(FAMILY));
  await expect(list).toHaveValue(FAMILY);
  await expect(page.getByRole('alert').filter({ hasText: 'not a font' })).toBeHidden();
  // Every letter of it is 0.7 em wide, the space too.
  const wide = await page.evaluate((family) => {
    const context = document.createElement('canvas').getContext('2d')!;
    context.font = `100px '${family}'`;
    return context.measureText('Odd Fennick').width;
  }, FAMILY);
  expect(wide).toBeCloseTo(11 * 70, 0);
  await saved(page);
  await page.getByRole('button', { name: 'Hand over' }).click();
  await expect(page.getByText(`The font ${FAMILY} goes into the file.`)).toBeVisible();
  const file = unzipSync(new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body()));
  expect(strFromU8(file['word/fontTable.xml']!)).toContain(`<w:font w:name="${FAMILY}"`);
  expect(Object.keys(file).filter((n) => n.endsWith('.odttf'))).toHaveLength(1);
});

test('a deck names it only; letters are made of it; taken off the list it is gone from there', async ({ page }) => {
  const id = await openOnBench(page, DEMO('open-day-talk.pptx'));
  await page.getByRole('radio', { name: /^Slide/ }).click();
  await page.getByRole('option', { name: 'Slide 2', exact: true }).click();
  await page.locator('gable-page-view [data-n]').first().click();
  await piece(page, 'Name below');
  await expect(page.getByRole('textbox', { name: 'Words' }).first()).toBeFocused();
  await bring(page, madeFont(FAMILY));
  const settings = page.getByRole('region', { name: 'Settings' });
  const list = settings.getByRole('combobox', { name: 'Font' });
  await expect(list).toHaveValue(FAMILY);
  await saved(page);
  await page.getByRole('button', { name: 'Hand over' }).click();
  await expect(page.getByText(`The font ${FAMILY} does not go into the file`)).toBeVisible();
  await page.keyboard.press('Escape');
  const file = unzipSync(new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body()));
  expect(strFromU8(file['ppt/slides/slide2.xml']!)).toContain(`<a:latin typeface="${FAMILY}"/>`);

  // As outlines they keep its look; a look that it does not have is told.
  const bold = settings.getByRole('checkbox', { name: 'Bold' });
  if (!(await bold.isChecked())) await bold.click();
  await settings.getByRole('button', { name: 'Turn into outlines' }).click();
  await expect(settings.getByRole('alert')).toContainText(`${FAMILY} is not here as bold.`);
  await bold.click();
  await settings.getByRole('button', { name: 'Turn into outlines' }).click();
  await expect(settings.getByRole('button', { name: 'Turn into outlines' })).toHaveCount(0);
  await saved(page);
  const outlined = unzipSync(new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body()));
  const slide = strFromU8(outlined['ppt/slides/slide2.xml']!);
  expect(slide).not.toContain(FAMILY);
  // Each letter is a box of four corners.
  const drawn = /<p:sp>(?:(?!<\/p:sp>).)*descr="Name"(?:(?!<\/p:sp>).)*<\/p:sp>/s.exec(slide)![0];
  expect(drawn.match(/<a:moveTo>/g)).toHaveLength(4);
  await page.getByRole('button', { name: /^Undo/ }).click();

  await page.getByRole('button', { name: 'Back to the picture' }).click();
  await piece(page, 'Letters');
  const letters = settings.getByRole('combobox', { name: 'Font' });
  await letters.selectOption({ label: FAMILY });
  // Its letters are boxes: four corners each.
  await expect(letters).toHaveValue(/^own:/);
  await expect
    .poll(async () => {
      const shape = page.locator('gable-page-items path').last();
      return ((await shape.getAttribute('d')) ?? '').replace(/[^CA]/g, '');
    })
    .toBe('');
  await page.locator('[data-added][aria-label^="“"]').first().click();
  await list.selectOption({ label: `Remove ${FAMILY} from your fonts` });
  await expect(list.getByRole('option', { name: `Remove ${FAMILY}` })).toHaveCount(0);
  expect(await brought(page)).toEqual([]);
});

test('a letter whose text is set in it is laid out in it, and so are words of a web page', async ({ page }) => {
  await page.request.post('/api/fonts', {
    headers: { 'Content-Type': 'application/octet-stream' },
    data: Buffer.from(madeFont(FAMILY)),
  });
  const letter = new Document({
    sections: [
      { children: [new Paragraph({ children: [new TextRun({ text: 'yourbowls', font: FAMILY, size: 40 })] })] },
    ],
  });
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Open a file' }).click();
  const buffer = await Packer.toBuffer(letter);
  await (await chooser).setFiles({ name: 'letter.docx', mimeType: 'application/octet-stream', buffer });
  await page.waitForURL(/\/work\//);
  const frame = page.frameLocator('gable-page-view iframe');
  // Nine letters, each 0.7 em wide.
  const ems = (): Promise<number> =>
    frame.getByText('yourbowls').evaluate((e) => {
      const range = document.createRange();
      range.selectNodeContents(e);
      return range.getBoundingClientRect().width / parseFloat(getComputedStyle(e).fontSize);
    });
  await expect.poll(ems).toBeCloseTo(9 * 0.7, 1);
  await expect(page.getByText(/approximate/i)).toHaveCount(0);

  await openOnBench(page, DEMO('visit-us.zip'));
  await piece(page, 'Name below');
  await expect(page.getByRole('textbox', { name: 'Words' }).first()).toBeFocused();
  await page.keyboard.type('yourbowls');
  await page.getByRole('region', { name: 'Settings' }).getByRole('combobox', { name: 'Font' }).selectOption(FAMILY);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Back to the picture' }).click();
  await expect.poll(ems).toBeCloseTo(9 * 0.7, 1);
  // The page takes it along.
  await saved(page);
  const id = new URL(page.url()).pathname.split('/').at(-1)!;
  const site = unzipSync(new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body()));
  const pages = Object.entries(site).filter(([name]) => name.endsWith('.html'));
  const carrying = pages.filter(([, bytes]) => strFromU8(bytes).includes(`@font-face{font-family:'${FAMILY}'`));
  expect(carrying).toHaveLength(1);
  expect(strFromU8(carrying[0]![1])).toContain('yourbowls');
});
