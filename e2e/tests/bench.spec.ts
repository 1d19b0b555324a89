import { deriveView, POINTS } from '@gable/core';
import type { Page } from '@playwright/test';
import path from 'node:path';
import sharp from 'sharp';
import { expect, openOnBench, putOnClipboard, ready, saved, savedFrames, test } from './steps';

const TALK = path.resolve(__dirname, '../../demo/files/open-day-talk.pptx');
const PORTRAIT = path.resolve(__dirname, '../../demo/files/pictures/portrait-ines.jpg');
const settings = (page: Page) => page.getByRole('region', { name: 'Settings' });

/** Controls of the band that are not wholly in sight, by what they are called. */
const outOfSight = (page: Page): Promise<string[]> =>
  settings(page).evaluate((region) => {
    const controls = [...region.querySelectorAll<HTMLElement>('input, button, select, [role=radio]')];
    return controls
      .filter((c) => {
        const { left, top, right, bottom, width } = c.getBoundingClientRect();
        const at = document.elementFromPoint((left + right) / 2, (top + bottom) / 2);
        const covered = at !== c && !c.contains(at) && !at?.contains(c);
        return width === 0 || left < 0 || top < 0 || right > innerWidth || bottom > innerHeight || covered;
      })
      .map((c) => c.getAttribute('aria-label') ?? c.closest('label')?.textContent?.trim() ?? c.outerHTML);
  });

/** What each step can be brought to, so that most of its settings are there. */
const STATES: readonly { step: string; name: string; make: (page: Page) => Promise<void> }[] = [
  { step: 'Shape', name: 'with four knobs', make: (page) => page.locator('#try-rounded-each').click() },
  {
    step: 'Shape',
    name: 'that keeps its ratio in its box',
    make: async (page) => {
      await page.locator('#try-circle').click();
      await settings(page).getByRole('radio', { name: 'Keep ratio' }).click();
    },
  },
  { step: 'Ratio', name: 'as it came', make: async () => undefined },
  {
    step: 'Position',
    name: 'that covers',
    make: (page) => settings(page).getByRole('radio', { name: 'Cover' }).click(),
  },
  { step: 'Position', name: 'tiled', make: (page) => settings(page).getByRole('radio', { name: 'Tile' }).click() },
  {
    step: 'Position',
    name: 'contained',
    make: (page) => settings(page).getByRole('radio', { name: 'Contain' }).click(),
  },
  { step: 'Outline', name: 'none', make: (page) => page.locator('#try-none').click() },
  { step: 'Outline', name: 'with a gap', make: (page) => page.locator('#try-moat').click() },
  { step: 'Outline', name: 'linear', make: (page) => settings(page).getByRole('radio', { name: 'Linear' }).click() },
  { step: 'Outline', name: 'radial', make: (page) => settings(page).getByRole('radio', { name: 'Radial' }).click() },
  { step: 'Shadow', name: 'drop', make: (page) => page.locator('#try-soft').click() },
  { step: 'Tone', name: 'recoloured', make: (page) => page.locator('#try-kiln').click() },
  { step: 'Place', name: 'in the text', make: async () => undefined },
  { step: 'Place', name: 'free', make: (page) => page.locator('#try-free').click() },
];

test('nothing of any step is below a fold, and no family of shapes is out of sight', async ({ page }) => {
  await openOnBench(page);
  const families = page.getByRole('radiogroup', { name: 'Family of shapes' });
  await page.locator('#try-circle').click();
  const row = (await page.getByRole('tabpanel').boundingBox())!;
  for (const family of await families.getByRole('radio').all()) {
    const box = (await family.boundingBox())!;
    expect(box.y + box.height).toBeLessThanOrEqual(row.y + 1);
    expect(box.x + box.width).toBeLessThanOrEqual(row.x + row.width);
  }
  for (const { step, name, make } of STATES) {
    await page.getByRole('tab', { name: step }).click();
    await make(page);
    await saved(page);
    expect([step, name, await outOfSight(page)]).toEqual([step, name, []]);
  }
});

test('names of tries are not cut', async ({ page }) => {
  await openOnBench(page);
  await page.getByRole('radio', { name: 'Arrows' }).click();
  const cut = await page
    .getByRole('listbox', { name: 'Tries' })
    .getByRole('option')
    .evaluateAll((all) =>
      all.flatMap((o) => {
        const name = o.querySelector<HTMLElement>('gable-try-face > span')!;
        return name.scrollWidth > name.clientWidth || name.scrollHeight > name.clientHeight + 1 ? [o.id] : [];
      }),
    );
  expect(cut).toEqual([]);
});

test('undo works right after a figure was typed, and leaves begun typing alone', async ({ page }) => {
  const id = await openOnBench(page);
  const width = settings(page).getByRole('textbox', { name: 'Width', exact: true });
  await width.fill('50mm');
  await width.press('Enter');
  expect((await savedFrames(page, id))['1']!.box.width).toBeCloseTo(50 * POINTS.mm, 6);
  await page.keyboard.press('Control+z');
  expect(await savedFrames(page, id)).toEqual({});
  await width.fill('60mm');
  await width.press('Enter');
  await width.pressSequentially('7');
  await page.keyboard.press('Control+z');
  expect((await savedFrames(page, id))['1']!.box.width).toBeCloseTo(60 * POINTS.mm, 6);
});

test('the unit of a work is a setting, and every figure follows it', async ({ page }) => {
  await openOnBench(page);
  await page.getByLabel('Units').selectOption('pt');
  const width = settings(page).getByRole('textbox', { name: 'Width', exact: true });
  await expect(width).toHaveValue(/ pt$/);
  await page.reload();
  await expect(width).toHaveValue(/ pt$/);
});

test('pages of a fixed size come up whole, with their pages above', async ({ page }) => {
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Open a file' }).click();
  await (await chooser).setFiles(TALK);
  const pages = page.getByRole('region', { name: 'The pages of the file' });
  await expect(pages).toBeVisible();
  await expect(page.getByRole('radio', { name: 'Slide 1' })).toBeChecked();
  await page
    .getByRole('listbox', { name: 'Pages of the work' })
    .getByRole('option', { name: 'Slide 2', exact: true })
    .click();
  await expect(page.getByRole('radio', { name: 'Slide 2' })).toBeChecked();
  // All of the page is in sight: nothing has to be scrolled.
  expect(await pages.evaluate((e) => [e.scrollHeight <= e.clientHeight, e.scrollWidth <= e.clientWidth])).toEqual([
    true,
    true,
  ]);
  await page.locator('[data-n="2"]').dblclick();
  await expect(page.getByRole('radio', { name: 'Close-up' })).toBeChecked();
  await page.getByRole('application').press('Escape');
  await expect(page.getByRole('radio', { name: 'Slide 2' })).toBeChecked();
});

// Jobs that new users came with, counted in actions from an opened file.
test.describe('jobs', () => {
  test('a round portrait of 32 mm with a white outline of 6 pt: four actions; on four portraits: seven', async ({
    page,
  }) => {
    const id = await openOnBench(page);
    await page.locator('#run-2').click();
    await ready(page);
    await page.locator('#try-circle').click();
    await page.getByRole('tab', { name: 'Outline' }).click();
    await page.locator('#try-white-6').click();
    const one = (await savedFrames(page, id))['2']!;
    expect(one).toMatchObject({ shape: { name: 'circle' }, outline: { weight: 6, paint: { colour: '#ffffff' } } });
    expect(one.box.width).toBeCloseTo(32 * POINTS.mm, 1);
    for (let i = 0; i < 3; i++) {
      await page.getByRole('button', { name: 'Frame the next one like this' }).click();
      await expect(page.locator('[data-told]')).toContainText(`Picture ${3 + i} framed like the last one.`);
    }
    const all = await savedFrames(page, id);
    for (const n of [2, 3, 4, 5]) expect(all[n]).toMatchObject({ shape: { name: 'circle' }, outline: { weight: 6 } });
  });

  test('a circle of 540 × 540 px saved as PNG from a pasted picture: five actions', async ({ page }) => {
    await page.goto('/');
    await expect(page.getByRole('heading', { name: 'On the shelf' })).toBeVisible();
    await putOnClipboard(page, PORTRAIT, 1600);
    await page.keyboard.press('Control+v');
    await page.waitForURL(/\/work\//);
    await ready(page);
    await page.locator('#try-circle').click();
    const width = settings(page).getByRole('textbox', { name: 'Width', exact: true });
    await width.fill('540px');
    await width.press('Enter');
    await expect(width).toHaveValue('540 px');
    await page.getByRole('button', { name: 'Export picture' }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    const png = sharp(await (await download).path());
    expect(await png.metadata()).toMatchObject({ format: 'png', width: 540, height: 540, hasAlpha: true });
  });

  test('a grey ring of 8 px on a portrait of a slide, the face centred and enlarged: seven actions', async ({
    page,
  }) => {
    const id = await openOnBench(page, TALK);
    await page.getByLabel('Units').selectOption('px');
    await page.getByRole('radio', { name: /^Slide/ }).click();
    // From here on it is counted.
    await page.getByRole('option', { name: 'Slide 2', exact: true }).click();
    await page.locator('#try-circle').click();
    await page.getByRole('tab', { name: 'Outline' }).click();
    const weight = settings(page).getByRole('textbox', { name: 'Line width', exact: true });
    await weight.fill('8px');
    await weight.press('Enter');
    await settings(page).getByRole('button', { name: 'Grey', exact: true }).click();
    await page.getByRole('tab', { name: 'Position' }).click();
    await page.locator('#try-closer').click();
    const [frame] = Object.values(await savedFrames(page, id));
    expect(frame).toMatchObject({ shape: { name: 'circle' }, outline: { weight: 6, paint: { colour: '#808080' } } });
    expect(frame!.placement.zoom).toBeGreaterThan(1.2);
  });

  test('a heart, undone, a pentagon, the picture moved in it: five actions', async ({ page }) => {
    const id = await openOnBench(page);
    await page.locator('#try-heart').click();
    await page.keyboard.press('Control+z');
    await page.getByRole('radio', { name: 'Polygons' }).click();
    await page.locator('#try-pentagon').click();
    const board = (await page.getByRole('application').boundingBox())!;
    const before = (await savedFrames(page, id))['1']!;
    await page.mouse.move(board.x + board.width / 2, board.y + board.height / 2);
    await page.mouse.down();
    await page.mouse.move(board.x + board.width / 2 - 60, board.y + board.height / 2, { steps: 5 });
    await page.mouse.up();
    const after = (await savedFrames(page, id))['1']!;
    expect(after.shape.name).toBe('pentagon');
    const aim = (f: typeof after): number =>
      deriveView(f.placement, f.box, { width: 3000, height: 2000 }).placement.aim.u;
    expect(aim(after)).toBeGreaterThan(aim(before));
  });
});
