import { bounds, deriveView, ontoBox, silhouettePath } from '@gable/core';
import { openFile } from '@gable/formats';
import { readFileSync } from 'node:fs';
import { expect, openOnBench, ready, saved, savedFrames, test } from './steps';

test('a subject is cut out, mended by a stroke, and has an outline of its own in the file', async ({ page }) => {
  const id = await openOnBench(page);
  await page.locator('#run-6').click();
  await ready(page);
  const now = async () => (await savedFrames(page, id))['6']!;
  await page.getByRole('button', { name: 'Cut out the subject' }).click();
  const dialog = page.getByRole('dialog', { name: 'Cut out the subject' });
  const use = dialog.getByRole('button', { name: 'Subject alone' });
  await expect(use).toBeEnabled();
  const masks = dialog.getByAltText('The picture with its background faded');
  const before = await masks.evaluate((el) => (el as HTMLElement).style.maskImage);
  // The wall at the right is not him (demo/src/portraits.ts).
  await dialog.getByRole('radio', { name: 'Background' }).click();
  const stage = (await dialog.locator('[data-stage]').boundingBox())!;
  await page.mouse.move(stage.x + stage.width * 0.93, stage.y + stage.height * 0.6);
  await page.mouse.down();
  await page.mouse.move(stage.x + stage.width * 0.95, stage.y + stage.height * 0.95, { steps: 6 });
  await page.mouse.up();
  await expect(dialog.getByRole('button', { name: 'Undo stroke' })).toBeEnabled();
  await expect(use).toBeDisabled();
  await expect(use).toBeEnabled();
  await expect.poll(() => masks.evaluate((el) => (el as HTMLElement).style.maskImage)).not.toBe(before);
  await use.click();
  await saved(page);
  const alone = await now();
  expect(alone.shape.drawn!.label).toBe('Subject');
  // His face, which the script draws in the middle at a third of the height, is in the box; the shelves are not.
  const size = { width: 1500, height: 2250 };
  const { matrix } = deriveView(alone.placement, alone.box, size);
  const face = ontoBox(matrix, { u: 0.5, v: 0.35 }, size);
  expect(face.x / alone.box.width).toBeGreaterThan(0.3);
  expect(face.x / alone.box.width).toBeLessThan(0.7);
  expect(ontoBox(matrix, { u: 0.97, v: 0.5 }, size).x).toBeGreaterThan(alone.box.width);

  await page.getByRole('tab', { name: 'Outline' }).click();
  await page.locator('#try-white-6').click();
  await saved(page);
  await page.getByRole('button', { name: 'Hand over' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download file' }).click();
  const again = openFile(readFileSync(await (await download).path())).pictures[5]!.frame;
  expect(again.shape.drawn).toBeDefined();
  expect(again.outline!.weight).toBeCloseTo(6, 6);
  expect(again.box.width).toBeCloseTo(alone.box.width, 1);
});

test('a subject reaches over the edge of its circle: placed by tries, by its line, and one picture again in the file', async ({
  page,
}) => {
  const id = await openOnBench(page);
  await page.locator('#run-8').click();
  await ready(page);
  await page.locator('#try-circle').click();
  await page.getByRole('button', { name: 'Cut out the subject' }).click();
  const over = page.getByRole('dialog').getByRole('button', { name: 'Over the edge' });
  await expect(over).toBeEnabled();
  await over.click();
  await saved(page);
  const now = async () => (await savedFrames(page, id))['8']!;
  const first = await now();
  expect(Object.keys(first.overstep!.lines)).toEqual(['top']);
  // The neck of the vase, which the script draws in the upper third (demo/src/scenes.ts), lies above the box.
  expect(bounds(silhouettePath(first)).y).toBeLessThan(-0.04 * first.box.height);

  await page.getByRole('tab', { name: 'Position' }).click();
  const handle = (await page.locator('[data-line=top]').boundingBox())!;
  await page.mouse.move(handle.x + 12, handle.y + 12);
  await page.mouse.down();
  await page.mouse.move(handle.x + 12, handle.y - 28, { steps: 5 });
  await page.mouse.up();
  await saved(page);
  const dragged = await now();
  expect(dragged.overstep!.lines.top!).toBeLessThan(first.overstep!.lines.top! - 0.05);
  expect(dragged.placement).toEqual(first.placement);

  await page.locator('#try-within').click();
  await saved(page);
  expect((await now()).overstep).toBeUndefined();
  await page.getByLabel('Over the edge').selectOption('All edges');
  await saved(page);
  expect(Object.keys((await now()).overstep!.lines).sort()).toEqual(['bottom', 'left', 'right', 'top']);

  await page.locator('#try-over-top').click();
  await saved(page);
  await page.getByRole('button', { name: 'Hand over' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download file' }).click();
  const file = openFile(readFileSync(await (await download).path()));
  expect(file.pictures).toHaveLength(18);
  const again = file.pictures[7]!.frame;
  expect(again.shape.name).toBe('circle');
  expect(again.overstep).toEqual((await now()).overstep);
});
