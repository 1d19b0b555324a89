import { FrameSchema } from '@gable/core';
import { openFile, readHeader } from '@gable/formats';
import type { Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { expect, openOnBench, putOnClipboard, ready, saved, savedFrames, test } from './steps';

const picture = (name: string): string => path.resolve(__dirname, '../../demo/files/pictures', name);
const TEAPOT = picture('teapot.jpg');

async function clipboardPng(page: Page): Promise<Buffer> {
  const text = await page.evaluate(async () => {
    const [item] = await navigator.clipboard.read();
    const blob = await item!.getType('image/png');
    const bytes = new Uint8Array(await blob.arrayBuffer());
    let out = '';
    for (const b of bytes) out += String.fromCharCode(b);
    return btoa(out);
  });
  return Buffer.from(text, 'base64');
}

const drop = (page: Page, on: string, files: { name: string; type: string; bytes: Buffer }[]): Promise<void> =>
  page
    .evaluateHandle(
      (all) => {
        const transfer = new DataTransfer();
        for (const f of all) {
          const bytes = Uint8Array.from(atob(f.text), (c) => c.charCodeAt(0));
          transfer.items.add(new File([bytes], f.name, { type: f.type }));
        }
        return transfer;
      },
      files.map(({ name, type, bytes }) => ({ name, type, text: bytes.toString('base64') })),
    )
    .then((dataTransfer) => page.dispatchEvent(on, 'drop', { dataTransfer }));

test('ten seconds without a file: paste, take a shape, copy; three actions, and it stays on the Shelf', async ({
  page,
}) => {
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'On the shelf' })).toBeVisible();
  await putOnClipboard(page, TEAPOT, 600);
  let actions = 0;
  const act = async (what: Promise<unknown>): Promise<void> => {
    actions++;
    await what;
  };

  await act(page.keyboard.press('Control+v'));
  await page.waitForURL(/\/work\//);
  const id = page.url().split('/').pop()!;
  await expect(page.locator('#try-circle')).toBeVisible();
  await act(page.locator('#try-circle').click());
  await act(page.keyboard.press('Control+c'));
  await expect(page.getByText('Copied. Paste it where you need it.').first()).toBeVisible();
  expect(actions).toBe(3);

  // A circle with nothing round it: clear in the corner, covered in the middle.
  const image = sharp(await clipboardPng(page)).ensureAlpha();
  const { data, info } = await image.raw().toBuffer({ resolveWithObject: true });
  expect(Math.abs(info.width - info.height)).toBeLessThanOrEqual(1);
  const alpha = (x: number, y: number): number => data[(y * info.width + x) * 4 + 3]!;
  expect(alpha(1, 1)).toBe(0);
  expect(alpha(info.width >> 1, info.height >> 1)).toBe(255);
  expect((await savedFrames(page, id))['1']!.shape.name).toBe('circle');

  await page.goto('/');
  await expect(page.locator(`a[href="/work/${id}"]`)).toBeVisible();
});

test('several pictures dropped on the Shelf are laid out in a row; more join by paste, by choice, or as empty frames', async ({
  page,
}) => {
  await page.goto('/');
  const files = ['teapot.jpg', 'celadon-vase.jpg', 'logo.png'].map((name) => ({
    name,
    type: name.endsWith('png') ? 'image/png' : 'image/jpeg',
    bytes: readFileSync(picture(name)),
  }));
  await drop(page, 'gable-shelf', files);
  await page.waitForURL(/\/work\//);
  const id = page.url().split('/').pop()!;
  await ready(page);
  const run = page.getByRole('listbox', { name: 'Pictures of the work' }).getByRole('option');
  await expect(run).toHaveCount(3);
  const work = await (await page.request.get(`/api/works/${id}`)).json();
  const boxes = work.pictures.map((p: { frame: unknown }) => FrameSchema.parse(p.frame).box);
  expect(boxes[1].x).toBeGreaterThan(boxes[0].x + boxes[0].width);
  expect(boxes[2].x).toBeGreaterThan(boxes[1].x + boxes[1].width);

  await putOnClipboard(page, TEAPOT, 600);
  await page.keyboard.press('Control+v');
  await expect(run).toHaveCount(4);
  await page.getByRole('button', { name: 'Add an empty frame' }).click();
  await expect(run).toHaveCount(5);
  // The empty frame waits; the stock is searched by word, and the framing it already has is kept.
  await expect(page.getByRole('note')).toContainText('waits for a picture');
  await page.locator('#try-circle').click();
  await page.getByRole('note').getByRole('button', { name: 'Choose a picture' }).click();
  const chooser = page.getByRole('dialog', { name: 'Choose a picture' });
  await chooser.getByRole('searchbox').fill('kiln fire');
  await expect(chooser.getByRole('option')).toHaveCount(1);
  await chooser.getByRole('option', { name: /Kiln glow/ }).click();
  await expect(page.getByRole('note')).toHaveCount(0);
  await expect.poll(async () => (await savedFrames(page, id))['5']?.source?.name).toBe('Kiln glow');
  expect((await savedFrames(page, id))['5']!.shape.name).toBe('circle');
  // Earlier pictures of one's own are found by their names.
  await page.keyboard.press('r');
  await chooser.getByRole('searchbox').fill('pasted');
  await expect(chooser.getByRole('option', { name: /Pasted picture/ }).first()).toBeVisible();
  await chooser.getByRole('searchbox').fill('no such thing');
  await expect(chooser.getByText('No picture goes by that word.')).toBeVisible();
  await page.keyboard.press('Escape');
  // They are seen together on a sheet.
  await page.getByRole('radio', { name: 'All pictures' }).click();
  await expect(page.getByRole('region', { name: 'The pictures on a sheet' }).locator('[data-n]')).toHaveCount(5);
});

test('a row of pictures becomes a slide that is handed over, each as it was framed; the row stays', async ({
  page,
}) => {
  await page.goto('/');
  const files = ['three-bowls', 'tall-bottles', 'teapot'].map((name) => picture(`${name}.jpg`));
  await page.locator('input[type=file]').first().setInputFiles(files);
  await ready(page);
  await page.getByRole('option', { name: /^Circle/ }).click();
  await page.getByRole('button', { name: 'Make a page' }).click();
  const sheet = page.getByRole('dialog', { name: 'Make a page' });
  await expect(sheet.getByRole('radio', { name: 'Web page' })).toHaveCount(0);
  await sheet.getByRole('radio', { name: 'Slides' }).click();
  await sheet.getByRole('button', { name: 'Create' }).click();
  await expect(page.getByRole('radio', { name: 'Slide', exact: true })).toBeChecked();
  const id = page.url().split('/').pop()!;
  const file = openFile(await (await page.request.get(`/api/works/${id}/file`)).body());
  expect(file.pictures.map((p) => p.frame.shape.name)).toEqual(['circle', 'rectangle', 'rectangle']);
  await page.goto('/');
  await expect(page.getByText('Three bowls')).toHaveCount(2);
});

test('a picture dropped on the board takes the place of the old one and keeps its framing', async ({ page }) => {
  const id = await openOnBench(page);
  await page.locator('#run-4').click();
  await ready(page);
  await page.locator('#try-circle').click();
  await page.getByRole('tab', { name: 'Outline' }).click();
  await page.locator('#try-white-6').click();
  const before = (await savedFrames(page, id))['4']!;
  await drop(page, 'gable-board', [{ name: 'logo.png', type: 'image/png', bytes: readFileSync(picture('logo.png')) }]);
  await expect.poll(async () => (await savedFrames(page, id))['4']?.source?.type).toBe('png');
  const after = (await savedFrames(page, id))['4']!;
  expect([after.shape, after.box, after.outline]).toEqual([before.shape, before.box, before.outline]);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await savedFrames(page, id))['4']?.source).toBeUndefined();
});

test('what is no picture is refused by name, and the rest is taken', async ({ page }) => {
  await page.goto('/');
  await drop(page, 'gable-shelf', [{ name: 'broken.png', type: 'image/png', bytes: Buffer.from('not a picture') }]);
  await expect(page.getByRole('alert')).toContainText('broken.png');
  await drop(page, 'gable-shelf', [{ name: 'notes.txt', type: 'text/plain', bytes: Buffer.from('words') }]);
  await expect(page.getByRole('alert')).toBeVisible();
  expect(page.url()).not.toContain('/work/');
});

test('one key frames the next picture like the last, its own subject in the middle', async ({ page }) => {
  const id = await openOnBench(page);
  await page.locator('#run-2').click();
  await ready(page);
  await page.locator('#try-circle').click();
  await page.getByRole('tab', { name: 'Outline' }).click();
  await page.locator('#try-clay-4').click();
  await page.locator('[role=application]').focus();
  await page.keyboard.press('n');
  await expect(page.locator('#run-3')).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('n');
  await expect(page.locator('#run-4')).toHaveAttribute('aria-selected', 'true');
  const frames = await savedFrames(page, id);
  for (const n of ['3', '4']) {
    expect(frames[n]).toMatchObject({ shape: { name: 'circle' }, outline: { weight: 4 } });
    expect(frames[n]!.box.width).toBeCloseTo(frames['2']!.box.width, 6);
  }
  expect(frames['3']!.placement.aim).not.toEqual(frames['4']!.placement.aim);
});

test('a framed picture is copied as SVG and as HTML with CSS, and saved as any kind at a chosen size', async ({
  page,
}) => {
  await openOnBench(page);
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.locator('#try-heart').click();
  await saved(page);
  await page.locator('[role=application]').focus();
  await page.keyboard.press('g');
  const out = page.getByRole('dialog', { name: 'Export picture' });
  await out.getByRole('button', { name: 'SVG' }).click();
  await expect(out.getByText('Copied.')).toBeVisible();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toMatch(/^<svg[\s\S]*<image/);
  await out.getByRole('button', { name: 'HTML and CSS' }).click();
  await expect.poll(() => page.evaluate(() => navigator.clipboard.readText())).toMatch(/clip-path[\s\S]*<figure/);

  const save = async (kind: string): Promise<Buffer> => {
    await out.getByRole('radio', { name: kind }).click();
    const download = page.waitForEvent('download');
    await out.getByRole('button', { name: 'Save' }).click();
    return readFileSync(await (await download).path());
  };
  await out.getByRole('radio', { name: 'By width' }).click();
  await out.getByRole('textbox', { name: 'Width in pixels' }).fill('640');
  await out.getByRole('textbox', { name: 'Width in pixels' }).press('Enter');
  for (const [kind, type] of [
    ['PNG', 'png'],
    ['JPEG', 'jpeg'],
    ['WebP', 'webp'],
    ['AVIF', 'avif'],
  ] as const) {
    const header = readHeader(await save(kind));
    expect(header?.type, kind).toBe(type);
    expect(header?.pixels?.width, kind).toBe(640);
  }
  expect((await save('SVG')).toString()).toMatch(/^<svg/);
  expect((await save('PDF')).subarray(0, 5).toString()).toBe('%PDF-');
  await out.getByRole('radio', { name: 'By ppi' }).click();
  await out.getByRole('radio', { name: 'PNG' }).click();
  const fine = readHeader(await save('PNG'))!.pixels!.width;
  await out.getByRole('textbox', { name: 'Pixels per inch' }).fill('150');
  await out.getByRole('textbox', { name: 'Pixels per inch' }).press('Enter');
  expect(readHeader(await save('PNG'))!.pixels!.width).toBeCloseTo(fine / 2, -1);
});
