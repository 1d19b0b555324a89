/** Several pictures beside the words of a text chosen at once: their places are read from the file that is handed over. */
import { openFile } from '@gable/formats';
import type { Page } from '@playwright/test';
import { anchored, buildDocument } from '../../formats/tests/support/build';
import { expect, laidOut, openOnBench, saved, test, violations } from './steps';

const WORDS = 'The kiln is unloaded on Friday at noon, when the bricks of its door can be touched with a bare hand. ';
const paragraph = (times: number): string => `<w:p><w:r><w:t>${WORDS.repeat(times)}</w:t></w:r></w:p>`;

/** A picture of 1.5 × 1 in, so far from the column and from its paragraph, in inches. */
const beside = (id: number, across: number, down: number): string =>
  anchored({ cx: 1_371_600, cy: 914_400 }, '<wp:wrapSquare wrapText="bothSides"/>')
    .replace('<wp:posOffset>914400', `<wp:posOffset>${across * 914_400}`)
    .replace('<wp:posOffset>-457200', `<wp:posOffset>${down * 914_400}`)
    .replace('<wp:docPr id="8"', `<wp:docPr id="${id}"`);

/** Three on the first page, each beside a paragraph of its own, and one on the second. */
const text = (): Promise<Uint8Array> =>
  buildDocument({
    body:
      beside(11, 0.2, 0.3) +
      paragraph(8) +
      beside(12, 2.4, 0.1) +
      paragraph(8) +
      beside(13, 4.1, 0.4) +
      paragraph(8) +
      '<w:p><w:r><w:br w:type="page"/></w:r></w:p>' +
      beside(14, 1, 0.2) +
      paragraph(6),
  });

async function openText(page: Page): Promise<string> {
  const id = await openOnBench(page, {
    name: 'letter.docx',
    mimeType: 'application/octet-stream',
    buffer: Buffer.from(await text()),
  });
  await page.getByRole('radio', { name: 'Page', exact: true }).click();
  await expect(page.locator('gable-page-view [data-n="3"]')).toBeVisible();
  return id;
}

interface Spot {
  x: number;
  y: number;
  width: number;
  height: number;
}

const chosen = (page: Page) => page.locator('gable-page-view [data-chosen]');

/** The upper left corners of the pictures on their pages, as the screen shows them, in CSS pixels. */
async function spots(page: Page): Promise<Spot[]> {
  await laidOut(page);
  return Promise.all(
    [1, 2, 3].map(async (n) => (await page.locator(`gable-page-view [data-n="${n}"]`).boundingBox())!),
  );
}

const spread = (all: readonly number[]): number => Math.max(...all) - Math.min(...all);

/** The boxes of the file that is handed over. */
async function boxes(page: Page, id: string): Promise<{ x: number; y: number }[]> {
  await saved(page);
  const bytes = new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
  return openFile(bytes).pictures.map((p) => p.frame.box);
}

test('three pictures beside a text are chosen together, moved, brought in line and spaced evenly, each in one step', async ({
  page,
}) => {
  const id = await openText(page);
  const before = await boxes(page, id);
  await page.locator('gable-page-view [data-n="1"]').click();
  await page.locator('gable-page-view [data-n="3"]').click({ modifiers: ['Shift'] });
  await page.locator('gable-page-view [data-n="2"]').click({ modifiers: ['Shift'] });
  await expect(chosen(page)).toHaveCount(3);
  await expect(page.getByRole('heading', { name: '3 items' })).toBeVisible();
  expect(await violations(page, ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])).toEqual([]);
  // What a text cannot do is not offered.
  for (const name of ['Group', 'Duplicate', 'Bring forward', 'Keep together'])
    await expect(page.getByRole('button', { name, exact: true })).toHaveCount(0);
  await page.getByRole('button', { name: 'Top edges', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Undo “aligned”' })).toBeVisible();
  // Words run otherwise round them now, and take along what is tied to them.
  await expect.poll(async () => spread((await spots(page)).map((s) => s.y))).toBeLessThan(0.75);
  await page.getByRole('radio', { name: 'Margins', exact: true }).click();
  await page.getByRole('button', { name: 'Equal gaps across' }).click();
  const gaps = async (): Promise<number[]> => {
    const all = (await spots(page)).toSorted((p, q) => p.x - q.x);
    return all.slice(1).map((s, i) => s.x - all[i]!.x - all[i]!.width);
  };
  await expect.poll(async () => spread(await gaps())).toBeLessThan(0.75);
  // A millimetre down for all.
  const rest = await boxes(page, id);
  await chosen(page).first().press('ArrowDown');
  const moved = await boxes(page, id);
  for (const i of [0, 1, 2]) expect(moved[i]!.y - rest[i]!.y).toBeCloseTo(72 / 25.4, 3);
  expect(moved[3]).toEqual(before[3]);
  for (const name of ['moved together', 'equal gaps', 'aligned'])
    await page.getByRole('button', { name: `Undo “${name}”` }).click();
  expect(await boxes(page, id)).toEqual(before);
});

test('a box drawn round them and Ctrl + A choose those of a page; one of another page, or in a line, is chosen alone', async ({
  page,
}) => {
  const id = await openText(page);
  const [a, b] = (await spots(page)) as [Spot, Spot];
  await page.mouse.move(a.x - 24, a.y - 24);
  await page.mouse.down();
  await page.mouse.move(b.x + b.width, b.y, { steps: 3 });
  await page.mouse.move(b.x + b.width + 6, b.y + b.height + 6, { steps: 3 });
  await page.mouse.up();
  await expect(chosen(page)).toHaveCount(2);
  // Dragged together, they stay on their page.
  const rest = await boxes(page, id);
  await page.mouse.move(a.x + a.width / 2, a.y + a.height / 2);
  await page.mouse.down();
  await page.keyboard.down('Control');
  await page.mouse.move(a.x + a.width / 2 + 40, a.y + a.height / 2 + 30, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Control');
  const moved = await boxes(page, id);
  for (const i of [0, 1]) {
    expect(moved[i]!.x - rest[i]!.x).toBeGreaterThan(20);
    expect(moved[i]!.x - rest[i]!.x).toBeCloseTo(moved[0]!.x - rest[0]!.x, 3);
    expect(moved[i]!.y - rest[i]!.y).toBeCloseTo(moved[0]!.y - rest[0]!.y, 3);
  }
  expect(moved.slice(2)).toEqual(rest.slice(2));
  await page.locator('gable-page-view [data-n="4"]').click({ modifiers: ['Shift'] });
  await expect(chosen(page)).toHaveCount(0);
  await expect(page.getByRole('option', { name: /^Picture 4/ })).toHaveAttribute('aria-selected', 'true');
  await page.locator('gable-page-view [data-n="1"]').click();
  await page.keyboard.press('Control+a');
  await expect(chosen(page)).toHaveCount(3);
  await page.getByRole('button', { name: 'Delete all' }).click();
  await expect(page.getByRole('option', { name: /^Picture/ })).toHaveCount(1);
  expect(await boxes(page, id)).toEqual(rest.slice(3));
  await page.getByRole('button', { name: 'Undo “3 items deleted”' }).click();
  await expect(page.getByRole('option', { name: /^Picture/ })).toHaveCount(4);
  expect(await boxes(page, id)).toEqual(moved);
});
