/** A portrait with its name, laid on the rest of the team as a finish; words as `officeparser` finds them in the file. */
import { openFile } from '@gable/formats';
import { parseOffice } from 'officeparser';
import path from 'node:path';
import { expect, handOver, openOnBench, painted, saved, test } from './steps';

const TALK = path.resolve(__dirname, '../../demo/files/open-day-talk.pptx');

// What is kept for all works is not left to other tests.
test.afterEach(async ({ request }) => {
  const { finishes } = (await (await request.get('/api/finishes')).json()) as {
    finishes: { id: string; shipped: boolean }[];
  };
  for (const { id, shipped } of finishes) if (!shipped) await request.delete(`/api/finishes/${id}`);
});

test('a name below one portrait is put below all of them in one step: each its own, where it has one', async ({
  page,
}) => {
  await openOnBench(page, TALK);
  await page.getByRole('radio', { name: /^Slide/ }).click();
  await page.getByRole('option', { name: 'Slide 2', exact: true }).click();
  await page.locator('gable-page-view [data-n="3"]').click();
  await page.getByRole('tab', { name: 'Around' }).click();
  await page.getByRole('option', { name: /^Captioned circle/ }).click();
  const field = page.getByRole('region', { name: 'The pages of the file' }).getByRole('textbox', { name: 'Words' });
  await field.pressSequentially('Tobias Falk');
  await field.press('Escape');
  await saved(page);
  await page.getByRole('link', { name: 'Survey' }).click();
  await page.getByRole('tab', { name: 'Finish' }).click();
  const frames = page.getByRole('listbox', { name: 'Frames of the work' });
  await frames.getByRole('option').nth(2).click();
  await page.getByRole('button', { name: 'Manage' }).click();
  await page.getByRole('menuitem', { name: 'Save picture 3’s look as a finish' }).click();
  await expect(page.getByRole('option', { name: /^As picture 3 name around/ })).toBeVisible();
  for (const n of [1, 3, 4])
    await frames
      .getByRole('option')
      .nth(n)
      .click({ modifiers: ['Control'] });
  await expect(page.getByText('4 chosen')).toBeVisible();
  await page.getByRole('button', { name: 'Apply to 4 frames' }).click();
  // What does not suit one of them is shown before.
  const sheet = page.getByRole('dialog').getByRole('button', { name: /^Apply to/ });
  const undo = page.getByRole('button', { name: 'Undo “As picture 3 applied”' });
  await expect(undo.or(sheet)).toBeVisible();
  if (await sheet.isVisible()) {
    for (const any of await page.getByRole('radio', { name: 'Apply anyway' }).all()) await any.click();
    await sheet.click();
  }
  await expect(undo).toBeVisible();
  const bytes = await handOver(page);
  const said = (await parseOffice(bytes)).toText();
  // Maren has an alt text, Tobias a name that was typed; two wait for theirs.
  for (const [words, count] of [
    ['Maren in a teal apron', 1],
    ['Tobias Falk', 1],
  ] as const)
    expect(said.split(words)).toHaveLength(count + 1);
  expect(said.match(/^Name$/gm)).toHaveLength(2);
  const file = openFile(bytes);
  const team = file.pictures.filter((p) => p.where.page === 2);
  expect(team).toHaveLength(4);
  for (const { frame } of team) {
    expect(frame.shape.name).toBe('ellipse');
    expect(frame.box.width / frame.box.height).toBeCloseTo(team[1]!.frame.box.width / team[1]!.frame.box.height, 3);
  }
  await page.keyboard.press('Escape');
  await painted(page);
  await undo.click();
  await saved(page);
  const id = page.url().split('/')[4]!;
  const back = await (await page.request.get(`/api/works/${id}/file`)).body();
  expect((await parseOffice(back)).toText().match(/^(Name|Maren in a teal apron)$/gm)).toBeNull();
});
