import type { Page } from '@playwright/test';
import { openFile, type Source } from '@gable/formats';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { expect, test } from './steps';

const demo = (name: string): string => path.resolve(__dirname, '../../demo/files', name);

/** Opens a file by the button, frames its first picture by two clicks, and takes the file back. */
async function openFrameAndTake(page: Page, name: string): Promise<Buffer> {
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Open a file' }).click();
  await (await chooser).setFiles(demo(name));
  await page.locator('#try-circle').click();
  await expect(page.getByRole('button', { name: 'Undo “circle”' })).toBeVisible();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Hand over' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download file' }).click();
  const taken = await download;
  expect(taken.suggestedFilename()).toBe(name);
  return readFile(await taken.path());
}

const shapes = (file: Source): string[] => file.pictures.map((p) => p.frame.shape.name);

for (const [name, place] of [
  ['open-day-talk.pptx', 'Slide 1'],
  ['firing-day-board.svg', 'Page 1, in a group'],
  ['visit-us.zip', 'Page 1'],
] as const)
  test(`${name}: open, circle, hand over, and the rest stays as it was`, async ({ page }) => {
    const before = openFile(await readFile(demo(name)));
    const bytes = await openFrameAndTake(page, name);
    await page.keyboard.press('Escape');
    await expect(page.getByRole('group', { name: 'This picture' })).toContainText(place);
    const after = openFile(bytes);
    expect(shapes(after)).toEqual(['circle', ...shapes(before).slice(1)]);
    // Square to a thousandth of a point, and true.
    const { box, placement } = after.pictures[0]!.frame;
    expect(Math.abs(box.width - box.height)).toBeLessThan(1e-3);
    expect(placement.distortion).toBeCloseTo(1, 3);
    if (name.endsWith('.svg')) return;
    const [a, b] = [unzipSync(await readFile(demo(name))), unzipSync(bytes)];
    const changed = Object.keys(b).filter((k) => strFromU8(a[k]!, true) !== strFromU8(b[k]!, true));
    expect(changed).toEqual([name.endsWith('.pptx') ? 'ppt/slides/slide1.xml' : 'index.html']);
  });

test('a picture that its file recolours is seen so, and so is its own colour once that is taken off', async ({
  page,
}) => {
  const parts = unzipSync(await readFile(demo('season-handbook.docx')));
  const text = strFromU8(parts['word/document.xml']!);
  const blip = /<a:blip ([^>]*?)\/?>/;
  const effect = '<a:lum bright="70000" contrast="-70000"/>';
  parts['word/document.xml'] = strToU8(text.replace(blip, `<a:blip $1>${effect}</a:blip>`));
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Open a file' }).click();
  await (await chooser).setFiles({ name: 'washed.docx', mimeType: '', buffer: Buffer.from(zipSync(parts)) });
  await page.locator('#step-tone').click();
  await page.getByRole('button', { name: 'More …' }).click();
  await expect(page.getByText('The file shows this picture 35 % lighter, with 70 % less contrast.')).toBeVisible();
  const darkest = (): Promise<number> =>
    page.evaluate(() => {
      const board = [...document.querySelectorAll('canvas')].sort((a, b) => b.width - a.width)[0]!;
      const copy = new OffscreenCanvas(board.width, board.height);
      const ctx = copy.getContext('2d')!;
      ctx.drawImage(board, 0, 0);
      const { data } = ctx.getImageData(0, 0, board.width, board.height);
      let least = 255;
      for (let i = 0; i < data.length; i += 4)
        if (data[i + 3] === 255) least = Math.min(least, Math.max(data[i]!, data[i + 1]!, data[i + 2]!));
      return least;
    });
  // Black comes to 0.7 of white.
  await expect.poll(darkest).toBeGreaterThan(170);
  await page.getByRole('button', { name: 'Remove the file’s recolouring' }).click();
  await expect(page.getByText('The file shows this picture')).toBeHidden();
  await expect.poll(darkest).toBeLessThan(120);
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Hand over' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download file' }).click();
  const taken = unzipSync(await readFile(await (await download).path()));
  expect(strFromU8(taken['word/document.xml']!)).not.toContain('<a:lum');
});

test('slides are shown with their words, and a frame is dragged on its slide', async ({ page }) => {
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Open a file' }).click();
  await (await chooser).setFiles(demo('open-day-talk.pptx'));
  await page.locator('#try-circle').waitFor();
  await page.getByRole('radio', { name: /^(Page|Slide|Sheet|Drawing)/ }).click();
  const pages = page.getByRole('region', { name: 'The pages of the file' });
  await expect(pages.getByText('Saturday from ten', { exact: false })).toBeVisible();
  const frame = pages.getByRole('button', { name: /^Picture 1,/ });
  const at = (await frame.boundingBox())!;
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2);
  await page.mouse.down();
  // Ctrl keeps it from snapping.
  await page.keyboard.down('Control');
  await page.mouse.move(at.x + at.width / 2 + 48, at.y + at.height / 2 + 24, { steps: 6 });
  await page.mouse.up();
  await page.keyboard.up('Control');
  await expect(page.getByRole('button', { name: 'Undo “frame moved”' })).toBeVisible();
  const moved = (await frame.boundingBox())!;
  expect(moved.x - at.x).toBeCloseTo(48, 0);
  expect(moved.y - at.y).toBeCloseTo(24, 0);

  // Near the middle of the slide it comes to rest there, and says why; gone again when it is let go of.
  const slide = (await pages.locator('[data-n]').first().locator('xpath=..').boundingBox())!;
  await page.mouse.move(moved.x + moved.width / 2, moved.y + moved.height / 2);
  await page.mouse.down();
  await page.mouse.move(slide.x + slide.width / 2 + 60, slide.y + slide.height / 2 + 30, { steps: 4 });
  await page.mouse.move(slide.x + slide.width / 2 + 3, slide.y + slide.height / 2 - 3, { steps: 4 });
  await expect(pages.getByText('Middle of the page')).toBeVisible();
  await expect(pages.locator('[data-guide]')).toHaveCount(2);
  await page.mouse.up();
  await expect(pages.locator('[data-guide]')).toHaveCount(0);
  const middle = (await frame.boundingBox())!;
  expect(Math.abs(middle.x + middle.width / 2 - slide.x - slide.width / 2)).toBeLessThan(1);
  expect(Math.abs(middle.y + middle.height / 2 - slide.y - slide.height / 2)).toBeLessThan(1);
});

test('a drawing that holds no pictures is a picture itself', async ({ page }) => {
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Pictures from disk' }).click();
  await (
    await chooser
  ).setFiles({
    name: 'sign.svg',
    mimeType: 'image/svg+xml',
    buffer: Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" width="60" height="40"><rect width="60" height="40"/></svg>',
    ),
  });
  await page.locator('#try-circle').waitFor();
  await expect(page.getByRole('button', { name: 'Add pictures' })).toBeVisible();
});

test('a page with scripts in it is framed, and none of them runs here', async ({ page }) => {
  const pixel = (await readFile(demo('pictures/logo.png'))).toString('base64');
  const evil = `<!doctype html><html><head><script>window.top.hurt = 1</script></head><body onload="window.top.hurt = 2"><img src="data:image/png;base64,${pixel}" width="120" onload="window.top.hurt = 3" alt="<img src=x onerror='window.top.hurt=4'>"><svg onload="window.top.hurt = 5"></svg></body></html>`;
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Open a file' }).click();
  await (await chooser).setFiles({ name: 'evil.html', mimeType: 'text/html', buffer: Buffer.from(evil) });
  await page.locator('#try-circle').click();
  await expect(page.getByRole('button', { name: 'Undo “circle”' })).toBeVisible();
  await page.getByRole('button', { name: 'Hand over' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download file' }).click();
  const text = (await readFile(await (await download).path())).toString();
  // Its scripts are still its own, untouched.
  expect(text).toContain('<script>window.top.hurt = 1</script>');
  expect(await page.evaluate('window.hurt')).toBeUndefined();
});

test('an outline that is a second shape behind the picture becomes a real one by one click', async ({ page }) => {
  const handbook = openFile(await readFile(demo('season-handbook.docx')));
  const { n } = handbook.pictures.find((p) => p.faked)!;
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Open a file' }).click();
  await (await chooser).setFiles(demo('season-handbook.docx'));
  await page.locator(`#run-${n}`).click();
  await page.getByRole('button', { name: /imitated by a second shape/ }).focus();
  await page.getByRole('button', { name: 'Make it a real outline' }).click();
  await expect(page.getByRole('button', { name: 'Undo “real outline”' })).toBeVisible();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Hand over' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download file' }).click();
  const bytes = await readFile(await (await download).path());
  const text = strFromU8(unzipSync(bytes)['word/document.xml']!);
  const before = strFromU8(unzipSync(await readFile(demo('season-handbook.docx')))['word/document.xml']!);
  expect(before.split('name="Ring ').length - text.split('name="Ring ').length).toBe(1);
  const { frame } = openFile(bytes).pictures[n - 1]!;
  expect(frame.outline).toMatchObject({ side: 'outside', paint: { colour: '#c9b48c' } });
  // 50 mm behind 46 mm: two to see.
  expect(frame.outline!.weight).toBeCloseTo((2 / 25.4) * 72, 1);
});

test('a file that takes long to open can be let go of', async ({ page }) => {
  await page.goto('/');
  let held = 0;
  await page.route('**/api/works?name=*', () => void held++);
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Open a file' }).click();
  await (await chooser).setFiles(demo('open-day-talk.pptx'));
  await expect(page.getByRole('status').filter({ hasText: 'open-day-talk.pptx' })).toBeVisible();
  await expect(page.getByRole('progressbar')).toBeVisible();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByRole('button', { name: 'Open a file' })).toBeVisible();
  expect(held).toBe(1);
});
