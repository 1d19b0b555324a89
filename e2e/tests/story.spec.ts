import { deriveView, viewCrop } from '@gable/core';
import { openFile } from '@gable/formats';
import { unzipSync } from 'fflate';
import { expect, handbook, handOver, openOnBench, ready, saved, savedFrames, test } from './steps';

// As most people see it: with its movements.
test.use({ contextOptions: { reducedMotion: 'no-preference' } });

test('the whole story by mouse: open, circle, drag the face to the middle, 6 pt white, take the file back', async ({
  page,
}) => {
  const id = await openOnBench(page);
  await page.getByRole('option', { name: /^Picture 4,/ }).click();
  await ready(page);

  // The squashed picture says so, and the circle is true all the same.
  await expect(page.getByRole('button', { name: /squashed to 67 % of its true width/ })).toBeVisible();
  const tries = page.getByRole('listbox', { name: 'Tries' });
  await tries.getByRole('option', { name: /^Circle/ }).hover();
  await expect(page.getByRole('application')).toHaveAttribute('aria-label', /Circle/);
  await tries.getByRole('option', { name: /^Circle/ }).click();
  const before = (await savedFrames(page, id))['4']!;
  expect(before.shape.name).toBe('circle');

  // Drag 40 px to the left: the picture moves with the hand, at the board's scale.
  const board = (await page.locator('gable-board').boundingBox())!;
  const [x, y] = [board.x + board.width / 2, board.y + board.height / 2 - 40];
  await page.mouse.move(x, y);
  await page.mouse.wheel(0, -240);
  await page.mouse.down();
  await page.mouse.move(x - 20, y, { steps: 4 });
  await page.mouse.move(x - 40, y + 10, { steps: 4 });
  await page.mouse.up();
  const after = (await savedFrames(page, id))['4']!;
  expect(after.placement.zoom).toBeGreaterThan(1.2);
  expect(after.placement.aim.u).toBeGreaterThan(before.placement.aim.u);

  await page.getByRole('tab', { name: 'Outline' }).click();
  await page.getByRole('option', { name: /^White 6 pt/ }).click();
  expect((await savedFrames(page, id))['4']!.outline).toMatchObject({ weight: 6, paint: { colour: '#ffffff' } });

  const bytes = await handOver(page);
  const file = openFile(bytes);
  const frame = file.pictures[3]!.frame;
  const view = deriveView(frame.placement, frame.box, file.pictures[3]!.size);
  expect(frame.shape.name).toBe('circle');
  expect(frame.box.width).toBeCloseTo(frame.box.height, 3);
  expect(view.scale.x / view.scale.y).toBeCloseTo(1, 3);
  const asked = viewCrop(deriveView(after.placement, after.box, file.pictures[3]!.size));
  expect(viewCrop(view).left).toBeCloseTo(asked.left, 4);
  expect(frame.outline).toMatchObject({ weight: 6, paint: { kind: 'solid', colour: '#ffffff' } });

  // Every untouched part is the same byte for byte; the whole picture is still in the file.
  const [a, b] = [unzipSync(handbook), unzipSync(bytes)];
  expect(Object.keys(b)).toEqual(Object.keys(a));
  for (const name of Object.keys(a))
    if (name !== 'word/document.xml') expect(Buffer.from(b[name]!).equals(Buffer.from(a[name]!))).toBe(true);
  file.pictures.forEach((p, i) => {
    if (i !== 3) expect(p.frame).toEqual(openFile(handbook).pictures[i]!.frame);
  });
});

test('the whole story by keyboard alone', async ({ page }) => {
  const id = await openOnBench(page);
  await page.goto('/');
  // From the top of the Shelf to the newest work.
  await expect(page.getByRole('link', { name: /season-handbook/ }).first()).toBeVisible();
  for (let i = 0; i < 8; i++) {
    await page.keyboard.press('Tab');
    if (await page.evaluate((wanted) => document.activeElement?.getAttribute('href')?.endsWith(wanted), id)) break;
  }
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/work\//);
  await expect(page.getByRole('option', { name: /^Picture 1,/ })).toBeVisible();
  await ready(page);
  const tabTo = async (selector: string): Promise<void> => {
    for (let i = 0; i < 30; i++) {
      if (await page.evaluate((s) => document.activeElement?.matches(s) ?? false, selector)) return;
      await page.keyboard.press('Tab');
    }
    throw new Error(`The keyboard does not reach ${selector}.`);
  };
  await tabTo('[id^=run-]');
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('#run-2')).toBeFocused();
  await ready(page);

  await tabTo('[role=application]');
  await page.keyboard.press('ArrowRight');
  await tabTo('[id^=step-][role=tab]');
  await tabTo('[id^=try-]');
  await page.keyboard.press('Home');
  await expect(page.getByRole('application')).toHaveAttribute('aria-label', /Circle/);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('application')).toHaveAttribute('aria-label', /Rectangle/);
  await page.keyboard.press('End');
  await page.keyboard.press('Home');
  await page.keyboard.press('Enter');
  expect((await savedFrames(page, id))['2']!.shape.name).toBe('circle');

  // Back to the board: one millimetre, then a tenth of one, then closer.
  const width = 32;
  await page.locator('[role=application]').focus();
  const start = (await savedFrames(page, id))['2']!.placement;
  await page.keyboard.press('+');
  await page.keyboard.press('+');
  const zoomedIn = (await savedFrames(page, id))['2']!;
  expect(zoomedIn.placement.zoom / start.zoom).toBeCloseTo(1.05 ** 2, 4);
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Shift+ArrowLeft');
  const nudgedBy = (await savedFrames(page, id))['2']!;
  const size = { width: 2000, height: 1333 };
  const [m0, m1] = [zoomedIn, nudgedBy].map((f) => deriveView(f.placement, f.box, size).matrix);
  expect(((m1![4] - m0![4]) / 72) * 25.4).toBeCloseTo(-1.1, 3);
  expect((nudgedBy.box.width / 72) * 25.4).toBeCloseTo(width, 2);

  await tabTo('[id^=step-][role=tab]');
  await page.keyboard.press('End');
  await expect(page.getByRole('tab', { name: 'Around' })).toHaveAttribute('aria-selected', 'true');
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowLeft');
  await expect(page.getByRole('tab', { name: 'Outline' })).toHaveAttribute('aria-selected', 'true');
  await tabTo('[id^=try-]');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  expect((await savedFrames(page, id))['2']!.outline?.weight).toBe(6);

  await page.keyboard.press('Control+z');
  expect((await savedFrames(page, id))['2']!.outline).toBeNull();
  await page.keyboard.press('Control+y');
  expect((await savedFrames(page, id))['2']!.outline?.weight).toBe(6);

  await saved(page);
  for (let i = 0; i < 40; i++) {
    if (await page.evaluate(() => document.activeElement?.textContent?.trim() === 'Hand over')) break;
    await page.keyboard.press('Shift+Tab');
  }
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Hand over' })).toBeVisible();
  for (let i = 0; i < 5; i++) {
    if (await page.evaluate(() => document.activeElement?.textContent?.includes('Download file'))) break;
    await page.keyboard.press('Tab');
  }
  const download = page.waitForEvent('download');
  await page.keyboard.press('Enter');
  expect((await download).suggestedFilename()).toBe('season-handbook.docx');
});

test('undoing everything gives back the very same file', async ({ page }) => {
  await openOnBench(page);
  for (const name of [/^Heart/, /^Circle/]) await page.getByRole('option', { name }).click();
  await saved(page);
  await page.getByRole('button', { name: 'Undo “circle”' }).click();
  await page.getByRole('button', { name: 'Undo “heart”' }).click();
  await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled();
  expect((await handOver(page)).equals(handbook)).toBe(true);
});

test('numbers are typed with units; a colour by its name; what is wrong is marked', async ({ page }) => {
  const id = await openOnBench(page);
  await page.getByRole('option', { name: /^Circle/ }).click();
  const across = page.getByRole('region', { name: 'Settings' }).getByRole('textbox', { name: 'Width', exact: true });
  await across.fill('2 in');
  await across.press('Enter');
  expect((await savedFrames(page, id))['1']!.box).toMatchObject({ width: 144, height: 144 });
  await across.fill('wide');
  await across.press('Enter');
  await expect(across).toHaveAttribute('aria-invalid', 'true');
  await expect(page.getByRole('alert')).toHaveText('Type a length such as 32mm, 1.25in or 540px, or 50 %.');
  await across.press('Escape');
  await page.getByRole('tab', { name: 'Outline' }).click();
  await page.getByRole('textbox', { name: 'Colour', exact: true }).fill('teal-ish');
  await page.getByRole('textbox', { name: 'Colour', exact: true }).press('Enter');
  await expect(page.getByRole('textbox', { name: 'Colour', exact: true })).toHaveAttribute('aria-invalid', 'true');
  await page.getByRole('textbox', { name: 'Colour', exact: true }).fill('light gray');
  await page.getByRole('textbox', { name: 'Colour', exact: true }).press('Enter');
  expect((await savedFrames(page, id))['1']!.outline).toMatchObject({ weight: 4, paint: { colour: '#d3d3d3' } });
  await page.getByRole('tab', { name: 'Position' }).click();
  await page.getByRole('region', { name: 'Settings' }).getByRole('textbox', { name: 'Zoom', exact: true }).fill('2');
  await page
    .getByRole('region', { name: 'Settings' })
    .getByRole('textbox', { name: 'Zoom', exact: true })
    .press('Enter');
  expect((await savedFrames(page, id))['1']!.placement.zoom).toBe(2);
  await page.getByRole('button', { name: 'Restore the original' }).click();
  expect(await savedFrames(page, id)).toEqual({});
});

test('work goes on while the server is away, and is saved when it is back; a reload finds it', async ({
  page,
  context,
}) => {
  const id = await openOnBench(page);
  await context.setOffline(true);
  await page.getByRole('option', { name: /^Heart/ }).click();
  await expect(page.getByText('Server away; saving again soon')).toBeVisible();
  await context.setOffline(false);
  expect((await savedFrames(page, id))['1']!.shape.name).toBe('heart');
  await page.reload();
  await expect(page.getByRole('option', { name: /^Heart/, selected: true })).toBeVisible();
});

test('two windows on different frames: what each does joins, and nobody is asked', async ({ page, context }) => {
  const id = await openOnBench(page);
  const other = await context.newPage();
  await other.goto(page.url());
  await other.getByRole('option', { name: /^Picture 2,/ }).click();
  await other.getByRole('option', { name: /^Diamond/ }).click();
  await saved(other);
  await page.getByRole('option', { name: /^Heart/ }).click();
  const frames = await savedFrames(page, id);
  expect([frames['1']!.shape.name, frames['2']!.shape.name]).toEqual(['heart', 'diamond']);
  await expect(page.getByText('This work was changed in another window.')).toHaveCount(0);
  // The other window's change came with the answer, and can be taken back here.
  await page.getByRole('option', { name: /^Picture 2,/ }).click();
  await expect(page.getByRole('option', { name: /^Diamond/, selected: true })).toBeVisible();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  expect(await savedFrames(page, id)).toEqual({});
});

test('two windows: the later one is told, and chooses which version goes on', async ({ page, context }) => {
  const id = await openOnBench(page);
  const other = await context.newPage();
  await other.goto(page.url());
  await other.getByRole('option', { name: /^Diamond/ }).click();
  await saved(other);
  await page.getByRole('option', { name: /^Heart/ }).click();
  await expect(page.getByText('This work was changed in another window.')).toBeVisible();
  expect((await (await page.request.get(`/api/works/${id}/versions`)).json()).versions).toHaveLength(1);
  await page.getByRole('button', { name: 'This one' }).click();
  expect((await savedFrames(page, id))['1']!.shape.name).toBe('heart');
  await other.getByRole('option', { name: /^Ellipse/ }).click();
  await other.getByRole('button', { name: 'The other one' }).click();
  await expect(other.getByRole('option', { name: /^Heart/, selected: true })).toBeVisible();
});
