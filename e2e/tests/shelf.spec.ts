import { expect, handbook, openOnBench, test } from './steps';

test('works are renamed, duplicated, found by name, sorted, and deleted with undo', async ({ page }) => {
  await openOnBench(page, { name: 'Draft.docx', mimeType: 'application/octet-stream', buffer: handbook });
  await page.getByRole('link', { name: 'Back to the shelf' }).click();
  const works = page.getByRole('listitem');
  const draft = works.filter({ hasText: 'Draft' });
  await draft.hover();
  await draft.getByRole('button', { name: 'Rename Draft' }).click();
  const name = page.getByRole('textbox', { name: 'New name of Draft' });
  await expect(name).toBeFocused();
  await name.fill('Handbook 2027');
  await name.press('Enter');
  const renamed = works.filter({ hasText: 'Handbook 2027' }).first();
  await expect(renamed).toBeVisible();
  await renamed.hover();
  await renamed.getByRole('button', { name: 'Duplicate Handbook 2027' }).click();
  await expect(works.filter({ hasText: 'Handbook 2027 copy' })).toBeVisible();

  await page.getByRole('searchbox', { name: 'Find works by name' }).fill('copy 2027');
  await expect(works).toHaveCount(1);
  await works.hover();
  await works.getByRole('button', { name: /^Delete/ }).click();
  await expect(works).toHaveCount(0);
  await expect(page.getByText('No work has this name.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(works).toHaveCount(1);
  await page.getByRole('searchbox', { name: 'Find works by name' }).fill('');
  await page.getByRole('radio', { name: 'Name' }).click();
  await expect(works.first()).toContainText('Handbook 2027');
  await expect(works).toHaveCount(2);
});

test('colours come from palettes of one’s own, which outlast a work', async ({ page }) => {
  await openOnBench(page);
  await page.getByRole('tab', { name: 'Outline' }).click();
  await page.locator('#try-white-6').click();
  const more = page.getByRole('button', { name: 'Colour: more colours' });
  await more.click();
  const panel = page.getByRole('dialog', { name: 'Colour: more colours' });
  const chooser = page.waitForEvent('filechooser');
  await panel.getByRole('button', { name: 'Open a palette file' }).click();
  await (
    await chooser
  ).setFiles({
    name: 'house.css',
    mimeType: 'text/css',
    buffer: Buffer.from('/* Clayworks */ :root { --kiln-red: #b5482a; --lagoon: teal; }'),
  });
  await panel.getByRole('button', { name: 'Kiln red, #b5482a' }).click();
  await expect(page.getByRole('textbox', { name: 'Colour', exact: true })).toHaveValue('#b5482a');
  // Another work, another visit: it is still there.
  await openOnBench(page);
  await page.getByRole('tab', { name: 'Outline' }).click();
  await more.click();
  await expect(panel.getByRole('button', { name: 'Lagoon, #008080' })).toBeVisible();
  const download = page.waitForEvent('download');
  await panel.getByRole('button', { name: 'Save Clayworks to a file' }).click();
  expect((await download).suggestedFilename()).toBe('Clayworks.css');
  await panel.getByRole('button', { name: 'Remove the palette Clayworks' }).click();
  await expect(panel.getByRole('button', { name: 'Lagoon, #008080' })).toBeHidden();
});

test('the context menu offers what is looked for there, by mouse and by keyboard', async ({ page }) => {
  await openOnBench(page);
  await page.getByRole('application').click({ button: 'right' });
  const menu = page.getByRole('menu');
  await expect(menu.getByRole('menuitem', { name: 'Replace picture …' })).toBeVisible();
  await menu.getByRole('menuitem', { name: 'Alt text …' }).click();
  const sheet = page.getByRole('dialog', { name: 'Alt text' });
  await sheet.getByRole('textbox').fill('Pots on a shelf');
  await sheet.getByRole('button', { name: 'Use it' }).click();
  await expect(page.getByRole('application')).toHaveAttribute('aria-label', /Pots on a shelf/);
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+F10');
  await expect(menu).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(menu).toBeHidden();
});
