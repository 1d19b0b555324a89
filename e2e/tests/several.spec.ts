/** Several items of a slide chosen at once, with mouse and keys: their places are read from the file that is handed over. */
import { openFile } from '@gable/formats';
import { plainWords, type Box } from '@gable/core';
import type { Page } from '@playwright/test';
import { parseOffice } from 'officeparser';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { buildWorkbook, sheetPic } from '../../formats/tests/support/deck';
import { buildOpen, openFrame } from '../../formats/tests/support/open';
import { expect, openOnBench, saved, test, violations } from './steps';

const TALK = path.resolve(__dirname, '../../demo/files/open-day-talk.pptx');
/** Of the talk, in points (13.333 × 7.5 in). */
const WIDTH = 960;

async function openTeam(page: Page): Promise<string> {
  const id = await openOnBench(page, TALK);
  await page.getByRole('radio', { name: /^Slide/ }).click();
  await page.getByRole('option', { name: 'Slide 2', exact: true }).click();
  await expect(page.locator('gable-page-view [data-n="5"]')).toBeVisible();
  return id;
}

/** The boxes of the pictures of slide 2, from the left. */
async function boxes(page: Page, id: string): Promise<Box[]> {
  await saved(page);
  const bytes = new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
  const row = openFile(bytes).pictures.filter((p) => p.where.page === 2);
  return row.map((p) => p.frame.box).sort((a, b) => a.x - b.x);
}

/** Draws a box round all four portraits. */
async function drawRound(page: Page): Promise<void> {
  const all = await page.locator('gable-page-view [data-n]').all();
  const spots = await Promise.all(all.map(async (one) => (await one.boundingBox())!));
  const left = Math.min(...spots.map((s) => s.x)) - 12;
  const right = Math.max(...spots.map((s) => s.x + s.width)) + 12;
  const [top, bottom] = [Math.min(...spots.map((s) => s.y)) - 8, Math.max(...spots.map((s) => s.y + s.height)) + 6];
  await page.mouse.move(left, top);
  await page.mouse.down();
  await page.mouse.move((left + right) / 2, bottom, { steps: 3 });
  await page.mouse.move(right, bottom, { steps: 3 });
  await page.mouse.up();
}

const chosen = (page: Page) => page.locator('gable-page-view [data-chosen]');

test('a box is drawn round four portraits: in line, with equal gaps across the page, framed alike, each one step', async ({
  page,
}) => {
  const id = await openTeam(page);
  const before = await boxes(page, id);
  await drawRound(page);
  await expect(chosen(page)).toHaveCount(4);
  await expect(page.getByRole('heading', { name: '4 items' })).toBeVisible();
  expect(await violations(page, ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])).toEqual([]);
  await page.getByRole('button', { name: 'Frame alike' }).click();
  await expect(page.getByRole('button', { name: 'Undo “framed alike”' })).toBeVisible();
  const alike = await boxes(page, id);
  for (const b of alike) expect([b.width, b.height]).toEqual([alike[0]!.width, alike[0]!.height]);
  await page.getByRole('button', { name: 'Middles', exact: true }).click();
  await page.getByRole('radio', { name: 'Page', exact: true }).click();
  await page.getByRole('button', { name: 'Equal gaps across' }).click();
  await expect(page.getByRole('button', { name: 'Undo “equal gaps”' })).toBeVisible();
  const row = await boxes(page, id);
  for (const b of row) expect(b.y + b.height / 2).toBeCloseTo(row[0]!.y + row[0]!.height / 2, 3);
  const gaps = row.slice(1).map((b, i) => b.x - row[i]!.x - row[i]!.width);
  // As wide to the edges of the slide.
  expect(row[0]!.x).toBeCloseTo(gaps[0]!, 3);
  expect(WIDTH - row[3]!.x - row[3]!.width).toBeCloseTo(gaps[0]!, 3);
  for (const gap of gaps) expect(gap).toBeCloseTo(gaps[0]!, 3);
  // Typed as a figure: the first stays.
  const gap = page.getByRole('textbox', { name: 'Gap across' });
  await gap.fill('18pt');
  await gap.press('Enter');
  await expect(page.getByRole('button', { name: 'Undo “gap”' })).toBeVisible();
  const close = await boxes(page, id);
  for (const [i, b] of close.slice(1).entries()) expect(b.x - close[i]!.x - close[i]!.width).toBeCloseTo(18, 3);
  for (const name of ['gap', 'equal gaps', 'aligned', 'framed alike'])
    await page.getByRole('button', { name: `Undo “${name}”` }).click();
  expect(await boxes(page, id)).toEqual(before);
});

test('two are chosen with Shift, dragged together in one step, and deleted with one key', async ({ page }) => {
  const id = await openTeam(page);
  const before = await boxes(page, id);
  await page.locator('gable-page-view [data-n="2"]').click();
  await page.locator('gable-page-view [data-n="3"]').click({ modifiers: ['Shift'] });
  // A third one, and it is let go again.
  await page.locator('gable-page-view [data-n="4"]').click({ modifiers: ['Shift'] });
  await expect(chosen(page)).toHaveCount(3);
  await chosen(page)
    .nth(2)
    .click({ modifiers: ['Shift'] });
  await expect(chosen(page)).toHaveCount(2);
  const spot = (await chosen(page).first().boundingBox())!;
  await page.mouse.move(spot.x + 30, spot.y + 30);
  await page.mouse.down();
  await page.keyboard.down('Control');
  await page.mouse.move(spot.x + 50, spot.y + 70, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Control');
  await expect(page.getByRole('button', { name: 'Undo “moved together”' })).toBeVisible();
  const after = await boxes(page, id);
  const steps = after.map((b, i) => [b.x - before[i]!.x, b.y - before[i]!.y]);
  expect(steps[0]![0]).toBeGreaterThan(5);
  expect(steps[0]![1]).toBeCloseTo(2 * steps[0]![0]!, 1);
  expect(steps[1]![0]).toBeCloseTo(steps[0]![0]!, 3);
  expect(steps[2]).toEqual([0, 0]);
  await page.keyboard.press('Delete');
  await expect(page.getByText('2 items deleted. Undo brings them back.')).toBeVisible();
  expect(await boxes(page, id)).toHaveLength(2);
  await page.getByRole('button', { name: 'Undo “2 items deleted”' }).click();
  await expect(page.locator('gable-page-view [data-n]')).toHaveCount(4);
  expect(await boxes(page, id)).toEqual(after);
});

test('with the keys alone: everything, moved by 1 mm with its words, and one of them again', async ({ page }) => {
  const id = await openTeam(page);
  const before = await boxes(page, id);
  await page.keyboard.press('Control+a');
  // Four portraits, their four names, the title.
  await expect(chosen(page)).toHaveCount(9);
  await chosen(page).first().focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('button', { name: 'Undo “moved together”' })).toBeVisible();
  const mm = 72 / 25.4;
  for (const [i, b] of (await boxes(page, id)).entries()) expect(b.x - before[i]!.x).toBeCloseTo(2 * mm, 3);
  await page.keyboard.press('Escape');
  await expect(chosen(page)).toHaveCount(0);
  await expect(page.getByRole('tab', { name: 'Shape' })).toBeVisible();
  await page.locator('gable-page-view [data-n="2"]').focus();
  await page.locator('gable-page-view [data-own]').first().focus();
  await page.keyboard.press('Shift+Enter');
  await expect(chosen(page)).toHaveCount(2);
});

test('words of a slide are deleted with one key and come back; a picture is sent behind the title and forward again', async ({
  page,
}) => {
  const id = await openTeam(page);
  const said = async (): Promise<string> => {
    await saved(page);
    return (await parseOffice(await (await page.request.get(`/api/works/${id}/file`)).body())).toText();
  };
  const words = page.locator('gable-page-view').getByRole('button', { name: '“Odd, the rest”' });
  await words.click();
  await page.keyboard.press('Delete');
  await expect(words).toHaveCount(0);
  expect(await said()).not.toContain('Odd, the rest');
  await page.getByRole('button', { name: 'Undo ““Odd, the rest” deleted”' }).click();
  await expect(words).toBeVisible();
  expect(await said()).toContain('Odd, the rest');
  const order = async (): Promise<string[]> => {
    await saved(page);
    const bytes = new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
    return openFile(bytes).document.pages[1]!.items;
  };
  const first = await order();
  const menu = async (deed: string): Promise<void> => {
    await page.locator('gable-page-view [data-n="2"]').click({ button: 'right' });
    await page.getByRole('menuitem', { name: deed }).click();
  };
  await menu('Send back');
  await expect(page.getByRole('button', { name: 'Undo “sent back”' })).toBeVisible();
  const title = first[0]!;
  const at = first.indexOf('p2');
  expect(at).toBe(1);
  // The picture lies behind the title now.
  expect((await order()).indexOf(title)).toBe(1);
  await menu('Bring forward');
  await expect(page.getByRole('button', { name: 'Undo “brought forward”' })).toBeVisible();
  expect(await order()).toEqual(first);
});

test('several come forward and go back together, in one step, and stay chosen', async ({ page }) => {
  const id = await openTeam(page);
  const order = async (): Promise<string[]> => {
    await saved(page);
    const { document } = openFile(new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body()));
    return document.pages[1]!.items;
  };
  const first = await order();
  await page.locator('gable-page-view [data-n="2"]').click();
  await page.locator('gable-page-view [data-n="3"]').click({ modifiers: ['Shift'] });
  await page.getByRole('button', { name: 'Send back', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Undo “sent back”' })).toBeVisible();
  await expect(page.getByText('2 items')).toBeVisible();
  const back = await order();
  expect(back).not.toEqual(first);
  expect(back.indexOf('p2')).toBe(first.indexOf('p2') - 1);
  expect(back.indexOf('p3')).toBe(first.indexOf('p3') - 1);
  await page.getByRole('button', { name: /^Undo/ }).click();
  expect(await order()).toEqual(first);
});

test('several are duplicated in one step, the copies are chosen, and one step takes them back', async ({ page }) => {
  const id = await openTeam(page);
  const count = async (): Promise<number> => {
    await saved(page);
    const { document } = openFile(new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body()));
    return document.pages[1]!.items.length;
  };
  const before = await count();
  await page.locator('gable-page-view [data-n="2"]').click();
  await page.locator('gable-page-view [data-n="3"]').click({ modifiers: ['Shift'] });
  await page
    .locator('gable-page-view')
    .getByRole('button', { name: '“Tobias, kilns”' })
    .click({ modifiers: ['Shift'] });
  await page.getByRole('region', { name: 'Settings' }).getByRole('button', { name: 'Duplicate', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Undo “3 items duplicated”' })).toBeVisible();
  await expect(page.getByText('3 items', { exact: true })).toBeVisible();
  expect(await count()).toBe(before + 3);
  // The copies move, and those that were there do not.
  const lies = async (n: number): Promise<number> =>
    Math.round((await page.locator(`gable-page-view [data-n="${n}"]`).boundingBox())!.y);
  const was = await lies(2);
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('button', { name: 'Undo “moved together”' })).toBeVisible();
  expect(await lies(2)).toBe(was);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(page.getByText('3 items', { exact: true })).toBeHidden();
  expect(await count()).toBe(before);
});

test('portraits and the names below them are kept together: moved, arranged and handed over, each with its own', async ({
  page,
}) => {
  const id = await openTeam(page);
  const names = ['Maren, wheels', 'Tobias, kilns', 'Ines, glazes', 'Odd, the rest'];
  const gaps = async (): Promise<number[][]> => {
    await saved(page);
    const bytes = new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
    const { document, pictures } = openFile(bytes);
    const team = pictures.filter((p) => p.where.page === 2).map((p) => p.frame.box);
    const below = names.map((name) => {
      const words = Object.values(document.items).find(
        (i) => i.kind === 'framed' && i.text && plainWords(i.text) === name,
      );
      return words!.at.box;
    });
    return team.map((b, i) => [below[i]!.x - b.x, below[i]!.y - b.y - b.height].map((v) => Math.round(v * 100) / 100));
  };
  const before = await gaps();
  await page.locator('gable-page-view [data-n="2"]').click();
  for (const n of [3, 4, 5]) await page.locator(`gable-page-view [data-n="${n}"]`).click({ modifiers: ['Shift'] });
  for (const name of names)
    await page
      .locator('gable-page-view')
      .getByRole('button', { name: `“${name}”` })
      .click({ modifiers: ['Shift'] });
  await page.getByRole('button', { name: 'Keep together' }).click();
  await expect(page.getByText('4 of them follow another.')).toBeVisible();
  await page.keyboard.press('Escape');
  // One alone has the keys once the others are let go.
  await expect(page.getByText('4 of them follow another.')).toBeHidden();
  const third = page.locator('gable-page-view [data-n="3"]');
  await third.focus();
  await expect(third).toBeFocused();
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowUp');
  await expect(page.getByRole('button', { name: 'Undo “frame moved”' })).toBeVisible();
  const after = await gaps();
  for (const [i, gap] of after.entries())
    for (const [axis, v] of gap.entries()) expect(v).toBeCloseTo(before[i]![axis]!, 1);
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await page.getByRole('button', { name: 'Grid', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Undo “arrangement”' })).toBeVisible();
  // Below each its own name, as far off as before.
  for (const [i, [, gap]] of (await gaps()).entries()) expect(gap).toBeCloseTo(before[i]![1]!, 1);
});

test('a portrait and its name are grouped: dragged, both move; with Alt one alone; in the file it is a group, and Ungroup takes it apart', async ({
  page,
}) => {
  const id = await openTeam(page);
  const frame = page.locator('gable-page-view [data-n="2"]');
  const name = page.getByRole('button', { name: '“Maren, wheels”' });
  await frame.click();
  await name.click({ modifiers: ['Shift'] });
  await expect(chosen(page)).toHaveCount(2);
  await page.getByRole('button', { name: 'Group', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Undo “grouped”' })).toBeVisible();
  await expect(page.getByText('They are a group.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.locator('[data-group]')).toBeVisible();
  /** How far both move where the portrait is dragged by 40 px. */
  const dragged = async (alt: boolean): Promise<number[]> => {
    const before = [await frame.boundingBox(), await name.boundingBox()].map((b) => b!);
    const [x, y] = [before[0]!.x + before[0]!.width / 2, before[0]!.y + before[0]!.height / 2];
    if (alt) await page.keyboard.down('Alt');
    await page.keyboard.down('Control');
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 20, y + 10);
    await page.mouse.move(x + 40, y + 10);
    await page.mouse.up();
    await page.keyboard.up('Control');
    await page.keyboard.up('Alt');
    const after = [await frame.boundingBox(), await name.boundingBox()].map((b) => b!);
    return after.map((b, i) => Math.round(b.x - before[i]!.x));
  };
  expect(await dragged(false)).toEqual([40, 40]);
  await expect(page.getByRole('button', { name: 'Undo “group moved”' })).toBeVisible();
  expect(await dragged(true)).toEqual([40, 0]);
  await saved(page);
  const file = async (): Promise<Uint8Array> =>
    new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
  const groups = async (): Promise<number> =>
    Object.values(openFile(await file()).document.items).filter((i) => i.kind === 'group').length;
  const withGroup = await groups();
  await frame.click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Choose its group' }).click();
  await expect(chosen(page)).toHaveCount(2);
  await page.keyboard.press('Control+Shift+G');
  await expect(page.getByRole('button', { name: 'Undo “ungrouped”' })).toBeVisible();
  await saved(page);
  expect(await groups()).toBe(withGroup - 1);
  for (const step of ['ungrouped', 'frame moved', 'group moved', 'grouped'])
    await page.getByRole('button', { name: `Undo “${step}”` }).click();
  await saved(page);
  expect(openFile(await file()).document.items).toEqual(openFile(new Uint8Array(readFileSync(TALK))).document.items);
});

test('a locked portrait stays where it is: no drag, no handle, no key moves or deletes it; unlocked, it moves', async ({
  page,
}) => {
  const id = await openTeam(page);
  const frame = page.locator('gable-page-view [data-n="2"]');
  await frame.click();
  await expect(page.locator('[data-handle]')).toHaveCount(8);
  await frame.click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Lock in place' }).click();
  await expect(page.getByRole('button', { name: 'Undo “locked”' })).toBeVisible();
  await expect(page.locator('[data-handle]')).toHaveCount(0);
  const lies = async (): Promise<number[]> => {
    const { x, y, width, height } = (await frame.boundingBox())!;
    return [x, y, width, height].map(Math.round);
  };
  const before = await lies();
  const drag = async (): Promise<void> => {
    const { x, y } = (await frame.boundingBox())!;
    await page.mouse.move(x + 50, y + 50);
    await page.mouse.down();
    await page.mouse.move(x + 90, y + 90, { steps: 4 });
    await page.mouse.up();
  };
  await drag();
  await frame.press('ArrowRight');
  await frame.press('Delete');
  await expect(page.getByText('It is locked. Unlock it, then delete it.')).toBeVisible();
  expect(await lies()).toEqual(before);
  // Everything that is not locked is chosen, and moves without it.
  await page.keyboard.press('Control+A');
  await expect(chosen(page).first()).toBeVisible();
  expect(await page.locator('[data-chosen="p2"]').count()).toBe(0);
  await page.keyboard.press('ArrowDown');
  expect(await lies()).toEqual(before);
  await saved(page);
  const bytes = new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
  expect(Object.values(openFile(bytes).document.items).filter((i) => i.locked)).toHaveLength(1);
  await page.keyboard.press('Escape');
  await frame.click();
  await page.getByRole('tab', { name: 'Place', exact: true }).click();
  await page.getByRole('checkbox', { name: 'Locked in place' }).click();
  await expect(page.getByRole('button', { name: 'Undo “unlocked”' })).toBeVisible();
  await drag();
  await expect(page.getByRole('button', { name: 'Undo “frame moved”' })).toBeVisible();
});

/** Three pictures of one size, at different heights and unevenly apart, in cells of a workbook. */
const WORKBOOKS = {
  xlsx: () => {
    const marker = (name: string, col: number, row: number): string =>
      `<xdr:${name}><xdr:col>${col}</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>${row}</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:${name}>`;
    const at = (col: number, row: number): string =>
      `<xdr:twoCellAnchor>${marker('from', col, row)}${marker('to', col + 2, row + 5)}${sheetPic('<a:ext cx="1219200" cy="952500"/>')}<xdr:clientData/></xdr:twoCellAnchor>`;
    return buildWorkbook(at(1, 2) + at(4, 4) + at(9, 3));
  },
  ods: () => {
    const cell = (x: string): string =>
      `<table:table-cell>${openFrame(`svg:x="${x}" svg:y="0cm"`)}<text:p/></table:table-cell>`;
    const row = (cells: string): string => `<table:table-row>${cells}</table:table-row>`;
    return buildOpen({
      kind: 'spreadsheet',
      body: `<table:table table:name="Bowls">${row(cell('0cm'))}${row(`<table:table-cell/>${cell('6cm')}`)}${row(`<table:table-cell table:number-columns-repeated="5"/>${cell('7cm')}`)}</table:table>`,
    });
  },
} as const;

for (const kind of ['xlsx', 'ods'] as const)
  test(`three pictures on a sheet of an .${kind} are brought in line and get equal gaps; each counts from its cell as before`, async ({
    page,
  }) => {
    const bytes = await WORKBOOKS[kind]();
    const id = await openOnBench(page, { name: `bowls.${kind}`, mimeType: '', buffer: Buffer.from(bytes) });
    const onSheet = async (): Promise<Box[]> => {
      await saved(page);
      const file = new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
      return openFile(file).pictures.map(({ frame: { box }, origin = { x: 0, y: 0 } }) => ({
        ...box,
        x: box.x + origin.x,
        y: box.y + origin.y,
      }));
    };
    const before = await onSheet();
    expect(new Set(before.map((b) => b.y)).size).toBe(3);
    await page.getByRole('radio', { name: /^Sheet/ }).click();
    await page.locator('gable-page-view [data-n="1"]').click();
    for (const n of [2, 3]) await page.locator(`gable-page-view [data-n="${n}"]`).click({ modifiers: ['Shift'] });
    await expect(page.getByRole('heading', { name: '3 items' })).toBeVisible();
    await expect(page.getByRole('radio', { name: 'Margins' })).toHaveCount(0);
    await page.getByRole('button', { name: 'Top edges', exact: true }).click();
    await page.getByRole('button', { name: 'Equal gaps across', exact: true }).click();
    await expect(page.getByRole('button', { name: 'Duplicate', exact: true })).toHaveCount(0);
    const after = await onSheet();
    const top = Math.min(...before.map((b) => b.y));
    for (const b of after) expect(b.y).toBeCloseTo(after[0]!.y, 1);
    expect(after[0]!.y).toBeCloseTo(top, 1);
    const gap = (i: number): number => after[i + 1]!.x - after[i]!.x - after[i]!.width;
    expect(gap(0)).toBeCloseTo(gap(1), 1);
    for (const [i, b] of after.entries()) expect(b.width).toBeCloseTo(before[i]!.width, 3);
    // They come to a group of the file, and out of it, and lie where they lay.
    const groups = async (): Promise<number> => {
      await saved(page);
      const file = new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
      return Object.values(openFile(file).document.items).filter((i) => i.kind === 'group').length;
    };
    await page.getByRole('button', { name: 'Group', exact: true }).click();
    await expect(page.getByText('They are a group.')).toBeVisible();
    expect(await groups()).toBe(1);
    expect(await onSheet()).toEqual(after);
    await page.getByRole('button', { name: 'Ungroup', exact: true }).click();
    expect(await groups()).toBe(0);
    expect(await onSheet()).toEqual(after);
    // All are deleted in one step, and come back in one.
    await page.getByRole('button', { name: 'Delete all' }).click();
    await expect(page.getByRole('button', { name: /^Undo “3 items deleted”/ })).toBeVisible();
    await page.getByRole('button', { name: /^Undo “3 items deleted”/ }).click();
    expect(await onSheet()).toEqual(after);
  });
