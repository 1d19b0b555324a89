/**
 * What stands beside pictures of texts, colours behind pages, and words that a file has: what is seen against the file that is handed
 * over; contrasts by WCAG 2.2 SC 1.4.3.
 */
import { contrast, groundOf, papersOf, type FramedItem } from '@gable/core';
import { openFile } from '@gable/formats';
import type { Page } from '@playwright/test';
import ExcelJs from 'exceljs';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { buildWorkbook, sheetPic } from '../../formats/tests/support/deck';
import { buildOpen, graphicStyle, openFrame } from '../../formats/tests/support/open';
import { framesOf, type ToldWork } from '../../server/tests/support/entries';
import { expect, laidOut, openOnBench, saved, test, violations } from './steps';

const DEMO = (name: string): string => path.resolve(__dirname, '../../demo/files', name);
const fileOf = async (page: Page, id: string): Promise<Uint8Array> => {
  await saved(page);
  return new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
};
const piece = async (page: Page, name: string): Promise<void> => {
  await page.getByRole('tab', { name: 'Around' }).click();
  await page.getByRole('listbox', { name: 'Tries' }).getByRole('option', { name }).click();
};
const linesOf = (i: FramedItem): string =>
  i.text?.paragraphs.map((p) => p.runs.map((r) => r.text).join('')).join('|') ?? '';

test('in a document a letterhead is one click: its picture becomes round, and its words are typed in place', async ({
  page,
}) => {
  const id = await openOnBench(page, DEMO('season-handbook.docx'));
  await page.getByRole('option', { name: /^Picture 6,/ }).click();
  await piece(page, 'Letterhead');
  await expect(page.getByRole('textbox', { name: 'Words' }).first()).toBeFocused();
  await page.keyboard.type('Odd Fennick');
  await page.keyboard.press('Escape');
  const words = page.locator('[data-added][aria-label^="“Odd"]');
  await expect(words).toBeVisible();
  // Beside the picture, at the same height.
  const picture = page.locator('gable-page-view [data-n="6"]');
  const middle = async (of: typeof words): Promise<number> => {
    const box = (await of.boundingBox())!;
    return box.y + box.height / 2;
  };
  expect(Math.abs((await middle(words)) - (await middle(picture)))).toBeLessThan(3);
  // The band is in the pages that the frame shows, beneath their text, and follows when these are laid out.
  const band = page.frameLocator('gable-page-view iframe').locator('[data-added]:not([data-unseen])');
  await expect(band).toHaveCount(1);
  expect(await violations(page, ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])).toEqual([]);
  const { document, pictures } = openFile(await fileOf(page, id));
  expect(pictures[5]!.frame.shape.name).toBe('circle');
  const items = Object.values(document.items).filter((i): i is FramedItem => i.kind === 'framed');
  expect(items.map(linesOf)).toContain('Odd Fennick');
  // One step back, and all of it is gone.
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(words).toHaveCount(0);
});

test('a dark background, its words made readable, and a title in another colour are in the file', async ({ page }) => {
  const id = await openOnBench(page, DEMO('open-day-talk.pptx'));
  await page.getByRole('radio', { name: /^Slide/ }).click();
  await page.getByRole('option', { name: 'Slide 2', exact: true }).click();
  await page.getByRole('button', { name: 'Background', exact: true }).click();
  const band = page.getByRole('region', { name: 'Settings' });
  await band
    .getByRole('button', { name: /, dark: .* hard to read$/ })
    .first()
    .click();
  await expect(band.getByRole('status')).toContainText('hard to read');
  await band.getByRole('button', { name: 'Make the words readable' }).click();
  await expect(band.getByRole('status')).toHaveText('All words can be read.');
  expect(await violations(page, ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])).toEqual([]);
  await band.getByRole('button', { name: 'Back to the picture' }).click();
  const { document, sheets } = openFile(await fileOf(page, id));
  const ground = sheets[1]!.background;
  expect(contrast('#ffffff', ground)).toBeGreaterThanOrEqual(7);
  const words = document.pages[1]!.items.map((i) => document.items[i]!).filter(
    (i): i is FramedItem => i.kind === 'framed' && i.text !== null,
  );
  expect(words.length).toBeGreaterThan(2);
  for (const { text } of words)
    for (const { paint, text: letters } of text!.paragraphs.flatMap((p) => p.runs))
      if (letters.trim() && paint.kind === 'solid') expect(contrast(paint.colour, ground)).toBeGreaterThanOrEqual(4.5);
  // The title is the file's own: it is chosen on the slide, and gets another colour.
  await page.locator('[data-own][aria-label^="“Who"]').click();
  await expect(page.getByRole('textbox', { name: 'Words', exact: true })).toHaveAttribute('readonly', '');
  await page.getByRole('textbox', { name: 'Colour', exact: true }).fill('#f4f0e7');
  await page.keyboard.press('Enter');
  const again = openFile(await fileOf(page, id)).document;
  const title = again.pages[1]!.items.map((i) => again.items[i]!).find(
    (i): i is FramedItem => i.kind === 'framed' && linesOf(i).startsWith('Who'),
  )!;
  expect(title.text!.paragraphs[0]!.runs[0]!.paint).toMatchObject({ colour: '#f4f0e7' });
});

test('a picture is saved with its ring, clear where neither is', async ({ page }) => {
  await openOnBench(page, DEMO('open-day-talk.pptx'));
  await page.getByRole('radio', { name: /^Slide/ }).click();
  await page.getByRole('option', { name: 'Slide 2', exact: true }).click();
  await page.locator('gable-page-view [data-n]').nth(1).click();
  await piece(page, 'Ring');
  await page.getByRole('button', { name: 'Back to the picture' }).click();
  await page.getByRole('button', { name: 'Export picture' }).click();
  await page.getByRole('radio', { name: 'With what is around it' }).click();
  await page.getByRole('radio', { name: 'By width' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  const file = await (await download).path();
  const { data, info } = await sharp(file).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  const alpha = (x: number, y: number): number => data[(y * info.width + x) * 4 + 3]!;
  const middle = Math.round(info.height / 2);
  // Ring, gap, picture; nothing in the corners.
  expect([alpha(1, 1), alpha(Math.round(info.width / 2), middle)]).toEqual([0, 255]);
  const across = Array.from({ length: Math.round(info.width / 6) }, (_, x) => alpha(x, middle));
  expect(across.indexOf(255)).toBeLessThan(across.lastIndexOf(0));
});

test('white words on black are softened in one click; what they say, and what else they look like, stays', async ({
  page,
}) => {
  const id = await openOnBench(page, DEMO('quote-slide.pptx'));
  await page.getByRole('radio', { name: /^Slide/ }).click();
  await page.locator('[data-own]').first().click();
  await expect(page.locator('[data-contrast]')).toHaveText('Contrast 21 : 1');
  await page.getByRole('button', { name: 'Soften' }).click();
  await expect(page.locator('[data-contrast]')).toHaveText(/Contrast 1[12](\.\d)? : 1/);
  await expect(page.getByRole('button', { name: 'Soften' })).toHaveCount(0);
  const { document } = openFile(await fileOf(page, id));
  const words = Object.values(document.items).find((i): i is FramedItem => i.kind === 'framed' && i.text !== null)!;
  const runs = words.text!.paragraphs.flatMap((p) => p.runs);
  expect(runs.map((r) => [r.text, r.size, r.weight])).toEqual([
    ['Clay remembers every touch, so touch it kindly.', 32, 400],
    ['Maren Holt', 18, 700],
  ]);
  // WCAG 2.2: white on black is 21 : 1.
  for (const { paint } of runs) expect(contrast((paint as { colour: string }).colour, '#000000')).toBeLessThan(12.1);
});

test('a picture is duplicated with its ring, and the ring goes with the copy', async ({ page }) => {
  const id = await openOnBench(page, DEMO('open-day-talk.pptx'));
  await page.getByRole('radio', { name: /^Slide/ }).click();
  await page.getByRole('option', { name: 'Slide 2', exact: true }).click();
  await page.locator('gable-page-view [data-n]').nth(1).click();
  await piece(page, 'Ring');
  await page.getByRole('button', { name: 'Back to the picture' }).click();
  const rings = page.locator('[data-added]');
  await expect(rings).toHaveCount(1);
  await page.locator('gable-page-view [data-n][aria-selected=true], gable-page-view [data-n]').nth(1).focus();
  await page.keyboard.press('Control+d');
  await expect(rings).toHaveCount(2);
  const { document } = openFile(await fileOf(page, id));
  const on = document.pages[1]!.items.map((i) => document.items[i]!);
  const ringed = on.filter(
    (i): i is FramedItem => i.kind === 'framed' && i.fill === null && i.outline !== null && !i.text,
  );
  expect(ringed).toHaveLength(2);
  // 14 pt to the right and below, as the copy of the picture.
  const [a, b] = ringed.map((r) => r.at.box) as [FramedItem['at']['box'], FramedItem['at']['box']];
  expect([b.x - a.x, b.y - a.y].map(Math.round)).toEqual([14, 14]);
});

test('a figure panel blurs the picture beneath it, as much as is wished, here and in the deck', async ({ page }) => {
  const id = await openOnBench(page, DEMO('open-day-talk.pptx'));
  await page.getByRole('radio', { name: /^Slide/ }).click();
  await piece(page, 'Figure panel');
  await expect(page.getByRole('textbox', { name: 'Words' }).first()).toBeFocused();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Back to the picture' }).click();
  await page.locator('gable-around-knobs').getByRole('button', { name: 'Panel' }).click();
  const veil = page.locator('[data-veil]');
  // Between the panel's left edge and its first figure.
  const detail = async (): Promise<number> => {
    const box = (await veil.boundingBox())!;
    const clip = { x: box.x + 8, y: box.y + 8, width: box.width * 0.6, height: box.height - 16 };
    const { data, info } = await sharp(await page.screenshot({ clip }))
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true });
    let sum = 0;
    for (let y = 0; y < info.height; y++)
      for (let x = 1; x < info.width; x++) {
        const at = y * info.width + x;
        sum += Math.abs(data[at]! - data[at - 1]!);
      }
    return sum / (info.width * info.height);
  };
  await expect(veil).toHaveCount(1);
  const figures = page.locator('[data-added][aria-label^="“"]');
  await expect(figures).toHaveCount(3);
  const soft = await detail();
  const field = page.getByRole('textbox', { name: 'Blur behind' });
  await field.fill('20');
  await field.press('Enter');
  await expect.poll(detail).toBeLessThan(soft * 0.97);
  expect(await violations(page, ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])).toEqual([]);
  const file = openFile(await fileOf(page, id));
  const blurs = Object.values(file.document.items).flatMap((i) =>
    i.kind === 'framed' && i.fill?.kind === 'paint' && i.fill.blur ? [i.fill.blur] : [],
  );
  expect(blurs).toEqual([20]);
  await page.getByRole('button', { name: 'Hand over' }).click();
  await expect(page.getByRole('dialog')).toContainText('The blur behind 1 of them becomes a picture.');
  await page.keyboard.press('Escape');
  // Without any it is a paint alone.
  await field.fill('0');
  await field.press('Enter');
  await expect(veil).toHaveCount(0);
});

/** A picture that is busy but for its right end, which is dark: black and white from pixel to pixel. */
async function halfBusy(): Promise<Buffer> {
  const [width, height] = [600, 300];
  const grey = Buffer.from(
    Array.from({ length: width * height }, (_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      return x > 330 ? 24 : (Math.floor(x / 6) + Math.floor(y / 6)) % 2 === 0 ? 250 : 120;
    }),
  );
  return sharp(grey, { raw: { width, height, channels: 1 } })
    .png()
    .toBuffer();
}

test('words that are hard to read are told in the survey, and moved to where the picture is calm', async ({ page }) => {
  const picture = (await halfBusy()).toString('base64');
  const drawing =
    '<svg xmlns="http://www.w3.org/2000/svg" width="900" height="500">' +
    `<image x="150" y="100" width="600" height="300" href="data:image/png;base64,${picture}"/></svg>`;
  const buffer = Buffer.from(drawing);
  const id = await openOnBench(page, { name: 'board.svg', mimeType: 'image/svg+xml', buffer });
  await page.getByRole('radio', { name: /^(Drawing|Page|Graphic)/ }).click();
  await piece(page, 'Heading over');
  await page.getByRole('textbox', { name: 'Words' }).first().fill('Kiln');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Back to the picture' }).click();
  // Without its veil it lies on what is busy.
  await page.locator('gable-around-knobs').getByRole('button', { name: 'Veil' }).click();
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await page.getByRole('link', { name: 'Survey' }).click();
  await expect(page.getByText('Words hard to read')).toBeVisible();
  await page.goBack();
  await page.getByRole('tab', { name: 'Around' }).click();
  await page.locator('gable-around-knobs').getByRole('button', { name: '“Kiln”' }).click();
  const told = page.locator('[data-contrast]');
  await expect(told).toContainText('It needs 3');
  await page.getByRole('button', { name: 'Move to a calm place' }).click();
  await expect(told).not.toContainText('It needs');
  const words = (await page.locator('[data-added][aria-label="“Kiln”"]').boundingBox())!;
  const whole = (await page.locator('gable-page-view [data-n="1"]').boundingBox())!;
  // The calm end begins at 331 of 600 pixels.
  expect(words.x).toBeGreaterThan(whole.x + (331 / 600) * whole.width - 1);
  expect(words.x + words.width).toBeLessThan(whole.x + whole.width);
  // In one step, and back in one.
  await saved(page);
  const { document } = openFile(await fileOf(page, id));
  expect(Object.values(document.items).some((i) => i.kind === 'framed' && i.text)).toBe(true);
  await page.getByRole('button', { name: 'Undo “words in a calm place”' }).click();
  await expect(told).toContainText('It needs 3');
  await page.getByRole('link', { name: 'Survey' }).click();
  await expect(page.getByText('Words hard to read')).toBeVisible();
});

test('over the edge: a portrait is cut out as it is taken, its head reaches out of its circle, and its ring lies behind', async ({
  page,
}) => {
  const id = await openOnBench(page, DEMO('quote-slide.pptx'));
  await page.getByRole('radio', { name: /^Slide/ }).click();
  await piece(page, 'Over the edge');
  await expect(page.getByRole('textbox', { name: 'Words' }).first()).toBeFocused({ timeout: 30_000 });
  await page.keyboard.type('Maren Holt, potter');
  await page.keyboard.press('Escape');
  await saved(page);
  const work = (await (await page.request.get(`/api/works/${id}`)).json()) as ToldWork;
  const frame = framesOf(work)['1']!;
  expect(frame.shape.name).toBe('circle');
  expect(Object.keys(frame.overstep!.lines)).toEqual(['top']);
  const { document } = openFile(await fileOf(page, id));
  const items = document.pages[0]!.items.map((i) => document.items[i]!);
  const ring = items.findIndex((i) => i.kind === 'framed' && i.tie?.as === 'around');
  const picture = items.findIndex((i) => i.kind === 'framed' && i.fill?.kind === 'picture');
  expect(ring).toBeGreaterThanOrEqual(0);
  expect(ring).toBeLessThan(picture);
  expect(items.map((i) => (i.kind === 'framed' ? linesOf(i) : ''))).toContain('Maren Holt, potter');
  // One step back, and it is as it was.
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: 'Undo “over the edge”' }).click();
  await expect(page.locator('gable-page-view [data-added]')).toHaveCount(0);
});

test('a figure on the panel of a workbook shows a cell, its label below it; what is no cell is told', async ({
  page,
}, info) => {
  const book = new ExcelJs.Workbook();
  const sheet = book.addWorksheet('Sales');
  sheet.getCell('B2').value = 4812;
  const picture = await sharp({ create: { width: 640, height: 360, channels: 3, background: '#8a6f4d' } })
    .png()
    .toBuffer();
  const image = book.addImage({ buffer: picture as unknown as ArrayBuffer, extension: 'png' });
  sheet.addImage(image, { tl: { col: 2, row: 3 }, ext: { width: 640, height: 360 } });
  const file = info.outputPath('sales.xlsx');
  writeFileSync(file, Buffer.from((await book.xlsx.writeBuffer()) as ArrayBuffer));
  const id = await openOnBench(page, file);
  await piece(page, 'Figure panel');
  await page.keyboard.press('Escape');
  await page.locator('[data-added][aria-label^="“12"]').click();
  const cell = page.getByRole('textbox', { name: 'Shows cell' });
  await cell.fill('Total');
  await cell.press('Enter');
  await expect(page.getByRole('alert')).toContainText('“Total” is not a cell.');
  await cell.fill('b2');
  await cell.press('Enter');
  await expect(page.locator('[data-added][aria-label="“4812”"]')).toBeVisible();
  await expect(page.locator('[data-added][aria-label="“First”"]')).toBeVisible();
  await expect(cell).toHaveValue('B2');
  // What it says is the workbook's.
  await expect(page.getByRole('textbox', { name: 'Words' })).toHaveAttribute('readonly');
  const { document } = openFile(await fileOf(page, id));
  const linked = Object.values(document.items).find(
    (i): i is FramedItem => i.kind === 'framed' && i.text?.cell !== undefined,
  );
  expect([linked?.text?.cell, linesOf(linked!)]).toEqual(['B2', '4812']);
});

test('a shape that a workbook has itself gets another colour and another place, and is locked; it neither goes nor comes forward', async ({
  page,
}) => {
  const marker = (name: string, col: number, row: number): string =>
    `<xdr:${name}><xdr:col>${col}</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>${row}</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:${name}>`;
  const anchored = (object: string, col: number): string =>
    `<xdr:twoCellAnchor>${marker('from', col, 2)}${marker('to', col + 3, 12)}${object}<xdr:clientData/></xdr:twoCellAnchor>`;
  const oval =
    '<xdr:sp><xdr:nvSpPr><xdr:cNvPr id="5" name="s"/><xdr:cNvSpPr/></xdr:nvSpPr><xdr:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="1828800" cy="1905000"/></a:xfrm><a:prstGeom prst="ellipse"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="F4F0E7"/></a:solidFill></xdr:spPr><xdr:txBody><a:bodyPr anchor="ctr"/><a:p><a:pPr algn="ctr"/><a:r><a:rPr lang="en-GB" sz="1800"/><a:t>12 bowls</a:t></a:r></a:p></xdr:txBody></xdr:sp>';
  const bytes = await buildWorkbook(anchored(oval, 1) + anchored(sheetPic('<a:ext cx="1828800" cy="1905000"/>'), 6));
  const id = await openOnBench(page, { name: 'bowls.xlsx', mimeType: '', buffer: Buffer.from(bytes) });
  await page.getByRole('radio', { name: /^Sheet/ }).click();
  await page.getByRole('button', { name: '“12 bowls”' }).click();
  const settings = page.getByRole('region', { name: 'Settings' });
  await expect(settings.getByText('The text stays as it is in the file.')).toBeVisible();
  for (const name of ['Delete', 'Bring forward', 'Send back'])
    await expect(settings.getByRole('button', { name, exact: true })).toHaveCount(0);
  await page.keyboard.press('Delete');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByRole('button', { name: /^Undo “moved”/ })).toBeVisible();
  await settings.getByRole('textbox', { name: 'Fill' }).fill('#22302f');
  await page.keyboard.press('Enter');
  const file = openFile(await fileOf(page, id));
  const shape = Object.values(file.document.items).find(
    (i): i is FramedItem => i.kind === 'framed' && i.text !== null,
  )!;
  expect(shape.fill).toEqual({ kind: 'paint', paint: { kind: 'solid', colour: '#22302f', opacity: 1 } });
  expect(shape.at.box.x).toBeGreaterThan(48);
  expect(file.pictures[0]!.frame.box.x).toBe(288);
  // Locked it stays where it is.
  await settings.getByRole('button', { name: 'Lock', exact: true }).click();
  await page.getByRole('button', { name: '“12 bowls”' }).focus();
  await page.keyboard.press('ArrowRight');
  const locked = openFile(await fileOf(page, id)).document.items[shape.id]!;
  expect([locked.locked, locked.at]).toEqual([true, shape.at]);
});

test('the pages of a document get a background: seen on all of them, told what it does to the text, and in the file', async ({
  page,
}) => {
  const id = await openOnBench(page, DEMO('season-handbook.docx'));
  await page.getByRole('radio', { name: 'Page', exact: true }).click();
  await laidOut(page);
  await page.getByRole('button', { name: 'Background', exact: true }).click();
  const settings = page.getByRole('region', { name: 'Settings' });
  await expect(settings.getByRole('heading', { name: 'Background of all pages' })).toBeVisible();
  await settings.getByRole('textbox', { name: 'Colour' }).fill('#22302f');
  await page.keyboard.press('Enter');
  await expect(settings.getByRole('status')).toHaveText('Black text is hard to read on it.');
  await settings
    .getByRole('button', { name: /^#.* pale: readable$/ })
    .nth(1)
    .click();
  await expect(settings.getByRole('status')).toHaveText('The text can be read on it.');
  const file = openFile(await fileOf(page, id));
  const ground = groundOf(papersOf(file.document)[0]!);
  expect(contrast('#000000', ground)).toBeGreaterThan(15);
  expect(ground).not.toBe('#ffffff');
  const pages = page.frameLocator('iframe').locator('.page');
  const behind = (): Promise<string[]> =>
    pages.evaluateAll((all) => [...new Set(all.map((e) => getComputedStyle(e).backgroundColor))]);
  const [r, g, b] = [1, 3, 5].map((i) => parseInt(ground.slice(i, i + 2), 16));
  expect(await behind()).toEqual([`rgb(${r}, ${g}, ${b})`]);
  await page.getByRole('radio', { name: 'Before' }).click();
  await expect.poll(behind).toEqual(['rgb(255, 255, 255)']);
  await page.getByRole('radio', { name: 'Now' }).click();
  await settings.getByRole('button', { name: 'Reset background' }).click();
  await expect.poll(behind).toEqual(['rgb(255, 255, 255)']);
  expect(Buffer.compare(Buffer.from(await fileOf(page, id)), readFileSync(DEMO('season-handbook.docx')))).toBe(0);
});

test('a text box of a document gets another fill and another colour of its words; the picture in it is chosen as before', async ({
  page,
}) => {
  const id = await openOnBench(page, DEMO('season-handbook.docx'));
  await page.getByRole('radio', { name: 'Page', exact: true }).click();
  await laidOut(page);
  const box = page.getByRole('button', { name: /^“House rules/ });
  await box.scrollIntoViewIfNeeded();
  await box.click({ position: { x: 20, y: 8 } });
  const settings = page.getByRole('region', { name: 'Settings' });
  // The text has its order.
  for (const name of ['Delete', 'Bring forward', 'Lock'])
    await expect(settings.getByRole('button', { name, exact: true })).toHaveCount(0);
  await page.keyboard.press('Delete');
  await settings.getByRole('textbox', { name: 'Fill' }).fill('#22302f');
  await page.keyboard.press('Enter');
  await settings.getByRole('textbox', { name: 'Colour' }).fill('#ffffff');
  await page.keyboard.press('Enter');
  await laidOut(page);
  const shown = page.frameLocator('iframe').locator('[data-own]', { hasText: 'House rules' });
  await expect(shown.locator('svg path').first()).toHaveAttribute('fill', '#22302f');
  await expect(shown.locator('span', { hasText: 'House rules' }).last()).toHaveCSS('color', 'rgb(255, 255, 255)');
  const file = openFile(await fileOf(page, id));
  const own = Object.values(file.document.items).find(
    (i): i is FramedItem => i.kind === 'framed' && linesOf(i).startsWith('House rules'),
  )!;
  expect(own.fill).toEqual({ kind: 'paint', paint: { kind: 'solid', colour: '#22302f', opacity: 1 } });
  expect(own.text!.paragraphs.flatMap((p) => p.runs.map((r) => r.paint))).toContainEqual({
    ...{ kind: 'solid', colour: '#ffffff', opacity: 1 },
  });
  const came = openFile(new Uint8Array(readFileSync(DEMO('season-handbook.docx'))));
  expect(file.pictures.map((p) => p.frame)).toEqual(came.pictures.map((p) => p.frame));
  // A picture in it lies over it.
  const picture = came.pictures.find((p) => p.where.textBox)!;
  await page.locator(`gable-page-view [data-n="${picture.n}"]`).click();
  await expect(page.getByRole('tab', { name: 'Shape' })).toBeVisible();
  for (const name of ['colour of the words', 'fill'])
    await page.getByRole('button', { name: `Undo “${name}”` }).click();
  await expect(page.getByRole('button', { name: /^Undo “/ })).toHaveCount(0);
  expect(Buffer.compare(Buffer.from(await fileOf(page, id)), readFileSync(DEMO('season-handbook.docx')))).toBe(0);
});

test('a text box of a document is moved and sized on its page, and its words with it', async ({ page }) => {
  const id = await openOnBench(page, DEMO('season-handbook.docx'));
  await page.getByRole('radio', { name: 'Page', exact: true }).click();
  await laidOut(page);
  const button = page.getByRole('button', { name: /^“House rules/ });
  await button.scrollIntoViewIfNeeded();
  await button.click({ position: { x: 20, y: 8 } });
  const shown = page.frameLocator('iframe').locator('[data-own]', { hasText: 'House rules' });
  const boxOf = (file: ReturnType<typeof openFile>): FramedItem['at']['box'] =>
    Object.values(file.document.items).find(
      (i): i is FramedItem => i.kind === 'framed' && linesOf(i).startsWith('House rules'),
    )!.at.box;
  const came = openFile(new Uint8Array(readFileSync(DEMO('season-handbook.docx'))));
  // The picture that stands among them.
  const picture = page.locator(`gable-page-view [data-n="${came.pictures.find((p) => p.where.textBox)!.n}"]`);
  const held = (await picture.boundingBox())!;
  const [before, was] = [(await button.boundingBox())!, (await shown.boundingBox())!];
  // Boxes in the frame are told as large as they are in it.
  const k = before.width / was.width;
  // To the right and up, by the mouse.
  const at = { x: before.x + 20, y: before.y + 8 };
  await page.mouse.move(at.x, at.y);
  await page.mouse.down();
  await page.mouse.move(at.x + 30, at.y - 15, { steps: 4 });
  // Its words are where it is, before the pages are laid out anew.
  await expect.poll(async () => (await shown.boundingBox())!.x).toBeCloseTo(was.x + 30 / k, 0);
  expect((await picture.boundingBox())!.x).toBeCloseTo(held.x + 30, 0);
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Undo “moved”' })).toBeVisible();
  await laidOut(page);
  await expect.poll(async () => (await shown.boundingBox())!.x).toBeCloseTo(was.x + 30 / k, 0);
  await expect.poll(async () => (await button.boundingBox())!.x).toBeCloseTo(before.x + 30, 0);
  await button.press('ArrowRight');
  const settings = page.getByRole('region', { name: 'Settings' });
  await settings.getByRole('textbox', { name: 'Width' }).fill('70mm');
  await page.keyboard.press('Enter');
  await laidOut(page);
  const now = boxOf(openFile(await fileOf(page, id)));
  const scale = before.width / boxOf(came).width;
  expect(now.x - boxOf(came).x).toBeCloseTo(30 / scale + 72 / 25.4, 1);
  expect(now.y - boxOf(came).y).toBeCloseTo(-15 / scale, 1);
  expect(now.width).toBeCloseTo((70 * 72) / 25.4, 1);
  await expect.poll(async () => (await shown.boundingBox())!.width).toBeCloseTo((now.width * 4) / 3, 0);
  for (const name of ['size', 'moved', 'moved']) await page.getByRole('button', { name: `Undo “${name}”` }).click();
  await expect(page.getByRole('button', { name: /^Undo “/ })).toHaveCount(0);
  expect(Buffer.compare(Buffer.from(await fileOf(page, id)), readFileSync(DEMO('season-handbook.docx')))).toBe(0);
});

test('the same in an .odt: its box has a border and a background, as programs for texts have them', async ({
  page,
}) => {
  const buffer = Buffer.from(
    await buildOpen({
      styles: graphicStyle('G1', 'fo:border="0.5pt solid #000000" fo:background-color="#f1e9d8" fo:padding="0.1cm"'),
      body:
        '<text:p>The body stays.<draw:frame draw:name="Box" draw:style-name="G1" text:anchor-type="paragraph" svg:x="1cm" svg:y="2cm" svg:width="6cm" svg:height="3cm"><draw:text-box><text:p>Firing on Friday</text:p></draw:text-box></draw:frame></text:p>' +
        `<text:p>${openFrame('text:anchor-type="as-char"')}</text:p>`,
    }),
  );
  const id = await openOnBench(page, { name: 'firing.odt', mimeType: '', buffer });
  await page.getByRole('radio', { name: 'Page', exact: true }).click();
  await laidOut(page);
  await page.getByRole('button', { name: '“Firing on Friday”' }).click();
  const settings = page.getByRole('region', { name: 'Settings' });
  await expect(settings.getByRole('textbox', { name: 'Fill' })).toHaveValue(/f1e9d8/i);
  await settings.getByRole('textbox', { name: 'Fill' }).fill('#22302f');
  await page.keyboard.press('Enter');
  await settings.getByRole('textbox', { name: 'Colour' }).fill('#ffffff');
  await page.keyboard.press('Enter');
  await laidOut(page);
  const shown = page.frameLocator('iframe').locator('[data-own]', { hasText: 'Firing' });
  await expect(shown.locator('svg path').first()).toHaveAttribute('fill', '#22302f');
  await expect(shown.locator('span', { hasText: 'Firing' }).last()).toHaveCSS('color', 'rgb(255, 255, 255)');
  const own = Object.values(openFile(await fileOf(page, id)).document.items).find(
    (i): i is FramedItem => i.kind === 'framed' && linesOf(i) === 'Firing on Friday',
  )!;
  expect(own).toMatchObject({ fill: { paint: { colour: '#22302f' } }, outline: { weight: 0.5 } });
});
