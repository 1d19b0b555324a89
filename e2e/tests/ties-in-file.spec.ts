/** A deck that Gable wrote, opened again: the name still belongs to its portrait. Read from the file that is handed over. */
import { plainWords, type Box } from '@gable/core';
import { openFile } from '@gable/formats';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { withPiece } from '../../formats/tests/support/pieces';
import { expect, openOnBench, saved, test } from './steps';

const talk = new Uint8Array(readFileSync(path.resolve(__dirname, '../../demo/files/open-day-talk.pptx')));

test('a name below a portrait follows it, is typed anew, and goes when the portrait goes; all of it comes back', async ({
  page,
}) => {
  const file = openFile(talk);
  const buffer = Buffer.from(file.write(withPiece(file, 3, 'name-below')));
  const name = 'talk.pptx';
  const mimeType = 'application/vnd.openxmlformats-officedocument.presentationml.presentation';
  const id = await openOnBench(page, { name, mimeType, buffer });
  const now = async (): Promise<{ said: string; box: Box; picture: Box | undefined }[]> => {
    await saved(page);
    const { document, pictures } = openFile(
      new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body()),
    );
    return Object.values(document.items).flatMap((i) =>
      i.kind === 'framed' && i.tie
        ? [{ said: plainWords(i.text), box: i.at.box, picture: pictures.find((p) => p.n === 3)?.frame.box }]
        : [],
    );
  };
  const [before] = await now();
  await page.getByRole('radio', { name: /^Slide/ }).click();
  await page.getByRole('option', { name: 'Slide 2', exact: true }).click();
  await page.locator('gable-page-view [data-n="3"]').focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowUp');
  await expect(page.getByRole('button', { name: 'Undo “frame moved”' })).toBeVisible();
  const [moved] = await now();
  const by = moved!.picture!.y - before!.picture!.y;
  expect(by).toBeCloseTo((-4 * 72) / 25.4, 2);
  expect(moved!.box.y - before!.box.y).toBeCloseTo(by, 2);
  const words = page.locator('gable-page-view').getByRole('button', { name: '“Maren Holt”' });
  await words.dblclick();
  const field = page.getByRole('region', { name: 'The pages of the file' }).getByRole('textbox', { name: 'Words' });
  await field.fill('Tobias Falk');
  await field.press('Escape');
  await expect(page.getByRole('button', { name: 'Undo “words”' })).toBeVisible();
  expect((await now()).map((w) => w.said)).toEqual(['Tobias Falk']);
  await page.locator('gable-page-view [data-n="3"]').click({ position: { x: 20, y: 20 } });
  await page.keyboard.press('Delete');
  await expect(page.getByText('Picture 3 deleted. Undo brings it back.')).toBeVisible();
  expect(await now()).toEqual([]);
  await page.getByRole('button', { name: 'Undo “picture deleted”' }).click();
  await expect(page.locator('gable-page-view [data-n="3"]')).toBeVisible();
  expect((await now()).map((w) => w.said)).toEqual(['Tobias Falk']);
});

test('in a drawing, too: a name is typed anew and coloured, another colour comes behind it all, and the name is seen on that', async ({
  page,
}) => {
  const file = openFile(new Uint8Array(readFileSync(path.resolve(__dirname, '../../demo/files/firing-day-board.svg'))));
  const buffer = Buffer.from(file.write(withPiece(file, 5, 'name-below')));
  const id = await openOnBench(page, { name: 'board.svg', mimeType: 'image/svg+xml', buffer });
  await page.getByRole('radio', { name: 'Drawing' }).click();
  const words = page.locator('gable-page-view').getByRole('button', { name: '“Maren Holt”' });
  await words.dblclick();
  const field = page.getByRole('region', { name: 'The pages of the file' }).getByRole('textbox', { name: 'Words' });
  await field.fill('Sunniva');
  await field.press('Escape');
  await expect(page.getByRole('button', { name: 'Undo “words”' })).toBeVisible();
  await page.getByRole('button', { name: 'Background' }).click();
  const settings = page.getByRole('region', { name: 'Settings' });
  await settings.getByRole('textbox', { name: 'Colour' }).fill('#224466');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Undo “background”' })).toBeVisible();
  // The words stay chosen, and so does what is being done.
  await expect(settings.getByRole('textbox', { name: 'Colour' })).toBeVisible();
  await settings.getByRole('button', { name: 'Make the words readable' }).click();
  await saved(page);
  const out = openFile(new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body()));
  const [sheet] = out.sheets;
  expect(sheet!.background).toBe('#224466');
  const name = out.document.items[sheet!.apart![0]!]!;
  expect(name).toMatchObject({ tie: { to: 'p5', as: 'beside' } });
  const run = name.kind === 'framed' ? name.text!.paragraphs[0]!.runs[0]! : null;
  expect(run!.text).toBe('Sunniva');
  expect(run!.paint).not.toMatchObject({ colour: '#22302f' });
});

test('in a document: a name beside its portrait is typed anew, and goes along when the portrait moves', async ({
  page,
}) => {
  const file = openFile(new Uint8Array(readFileSync(path.resolve(__dirname, '../../demo/files/season-handbook.docx'))));
  const buffer = Buffer.from(file.write(withPiece(file, 6, 'name-below')));
  const mimeType = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document';
  const id = await openOnBench(page, { name: 'letter.docx', mimeType, buffer });
  await page.getByRole('option', { name: /^Picture 6,/ }).click();
  await page.getByRole('radio', { name: /^Page/ }).click();
  const words = page.locator('gable-page-view').getByRole('button', { name: '“Maren Holt”' });
  const before = (await words.boundingBox())!;
  await words.click();
  const field = page.getByRole('region', { name: 'Settings' }).getByRole('textbox', { name: 'Words' });
  await field.fill('Odd Fennick');
  await expect(page.getByRole('button', { name: 'Undo “words”' })).toBeVisible();
  await page.locator('gable-page-view [data-n="6"]').focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowLeft');
  await expect(page.getByRole('button', { name: 'Undo “frame moved”' })).toBeVisible();
  const now = page.locator('gable-page-view').getByRole('button', { name: '“Odd Fennick”' });
  await expect.poll(async () => (await now.boundingBox())!.x).toBeLessThan(before.x - 8);
  await saved(page);
  const out = openFile(new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body()));
  const said = Object.values(out.document.items).flatMap((i) =>
    i.kind === 'framed' && i.text ? [plainWords(i.text)] : [],
  );
  expect(said).toContain('Odd Fennick');
  expect(said).not.toContain('Maren Holt');
});
