import { deriveView, keptOfMark, ontoPicture, pictureOffset, POINTS, wholePicture, type Frame } from '@gable/core';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { expect, openOnBench, ready, saved, savedFrames, test } from './steps';

/** Picture 4 of the demo handbook: a portrait, 2100 × 1400 pixels, in a box of 32 mm. */
const SIZE = { width: 2100, height: 1400 };

async function portrait(
  page: Page,
  shape = 'circle',
): Promise<{ id: string; x: number; y: number; now: () => Promise<Frame> }> {
  const id = await openOnBench(page);
  await page.locator('#run-4').click();
  await ready(page);
  await page.locator(`#try-${shape}`).click();
  await saved(page);
  const canvas = (await page.locator('gable-board').boundingBox())!;
  return {
    id,
    x: canvas.x + canvas.width / 2,
    y: canvas.y + canvas.height / 2 - 30,
    now: async () => (await savedFrames(page, id))['4']!,
  };
}

async function drag(page: Page, from: { x: number; y: number }, dx: number, dy: number): Promise<void> {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  for (let i = 1; i <= 5; i++) await page.mouse.move(from.x + (dx * i) / 5, from.y + (dy * i) / 5);
}

const middleOf = async (page: Page, selector: string): Promise<{ x: number; y: number }> => {
  const b = (await page.locator(selector).boundingBox())!;
  return { x: b.x + b.width / 2, y: b.y + b.height / 2 };
};

/** CSS pixels to the point, read off the width that the board draws. */
async function scaleOf(page: Page, frame: Frame): Promise<number> {
  await page.getByRole('tab', { name: 'Ratio' }).click();
  const [a, b] = await Promise.all([middleOf(page, '[data-handle="-1 0"]'), middleOf(page, '[data-handle="1 0"]')]);
  return (b.x - a.x) / frame.box.width;
}

test('Alt drags the shape over the picture: the picture keeps its scale, the view goes with the hand', async ({
  page,
}) => {
  const { x, y, now } = await portrait(page);
  const before = await now();
  const scale = await scaleOf(page, before);
  await page.keyboard.down('Alt');
  await drag(page, { x, y }, -40, 0);
  await page.mouse.up();
  await page.keyboard.up('Alt');
  const after = await now();
  const [a, b] = [before, after].map((f) => deriveView(f.placement, f.box, SIZE));
  expect(b!.scale.x).toBeCloseTo(a!.scale.x, 6);
  // 40 px to the left on the board are as many points on the picture.
  expect((a!.placement.aim.u - b!.placement.aim.u) * SIZE.width * a!.scale.x).toBeCloseTo(40 / scale, 0);
  expect(after.box).toEqual(before.box);
});

test('the crop is dragged by its sides, free or with its ratio held; its size is shown, and where the picture ends', async ({
  page,
}) => {
  const { now } = await portrait(page, 'rounded');
  const before = await now();
  const scale = await scaleOf(page, before);
  const start = deriveView(before.placement, before.box, SIZE);
  await drag(page, await middleOf(page, '[data-handle="1 0"]'), -60, 0);
  await expect(page.locator('[data-size]')).toHaveText(/^\s*[\d.]+ mm × [\d.]+ mm\s*$/);
  await page.mouse.up();
  const narrower = await now();
  expect(before.box.width - narrower.box.width).toBeCloseTo(60 / scale, 0);
  expect(narrower.box.height).toBeCloseTo(before.box.height, 6);
  const view = deriveView(narrower.placement, narrower.box, SIZE);
  expect([view.scale.x / start.scale.x, view.scale.y / start.scale.y].map((k) => +k.toFixed(4))).toEqual([1, 1]);
  // The left side stayed where it was on the picture.
  const left = (f: Frame, v: typeof view): number => ontoPicture(v.matrix, { x: 0, y: f.box.height / 2 }, SIZE).u;
  expect(left(narrower, view)).toBeCloseTo(left(before, start), 5);

  // With Shift a side crops both ways, and the ratio stays.
  await page.keyboard.down('Shift');
  await drag(page, await middleOf(page, '[data-handle="1 0"]'), -30, 0);
  await page.mouse.up();
  await page.keyboard.up('Shift');
  const held = await now();
  expect(held.box.width / held.box.height).toBeCloseTo(narrower.box.width / narrower.box.height, 6);
  expect(held.box.width).toBeLessThan(narrower.box.width);

  // A crop ends where the picture does, and says so.
  await drag(page, await middleOf(page, '[data-handle="0 1"]'), 0, 200);
  await expect(page.locator('[data-size]')).toContainText('edge of the picture');
  await page.mouse.up();
});

test('corners size the frame with its picture, in every step; Shift frees the ratio, Alt keeps the middle', async ({
  page,
}) => {
  const { now } = await portrait(page, 'rounded');
  const before = await now();
  for (const step of ['Shape', 'Outline', 'Tone', 'Place']) {
    await page.getByRole('tab', { name: step }).click();
    await expect(page.locator('[data-handle]')).toHaveCount(8);
  }
  await drag(page, await middleOf(page, '[data-handle="1 1"]'), -60, -10);
  await page.mouse.up();
  const small = await now();
  expect(small.box.width).toBeLessThan(before.box.width);
  expect(small.box.width / small.box.height).toBeCloseTo(before.box.width / before.box.height, 6);
  expect(small.placement).toEqual(before.placement);
  await page.keyboard.down('Shift');
  await drag(page, await middleOf(page, '[data-handle="1 1"]'), -60, 0);
  await page.mouse.up();
  await page.keyboard.up('Shift');
  const free = await now();
  expect(free.box.height).toBeCloseTo(small.box.height, 6);
  expect(free.box.width).toBeLessThan(small.box.width);
});

test('a circle keeps its ratio whatever is dragged', async ({ page }) => {
  const { now } = await portrait(page);
  await page.getByRole('tab', { name: 'Ratio' }).click();
  await drag(page, await middleOf(page, '[data-handle="1 0"]'), -40, 0);
  await page.mouse.up();
  const f = await now();
  expect(f.shape.name).toBe('circle');
  expect(f.box.width).toBeCloseTo(f.box.height, 6);
});

test('a knob is turned by its handle on the shape', async ({ page }) => {
  const { now } = await portrait(page, 'rounded');
  const knob = (await now()).shape.knobs;
  const name = Object.keys(knob)[0]!;
  await drag(page, await middleOf(page, `[data-knob="${name}"]`), 45, 0);
  await page.mouse.up();
  const after = (await now()).shape.knobs[name]!;
  expect(after).toBeGreaterThan(knob[name]! + 0.03);
  // One drag is one deed.
  await page.keyboard.press('Control+z');
  expect((await now()).shape.knobs[name]).toBe(knob[name]);
});

test('the lever turns the picture in its shape, in Place the frame; it rests upright and at quarters', async ({
  page,
}) => {
  const { x, now } = await portrait(page);
  await page.getByRole('tab', { name: 'Position' }).click();
  const lever = await middleOf(page, '[data-lever]');
  const reach = x - lever.x;
  // A quarter of the way round: from the left to above, with a little to spare.
  await drag(page, lever, reach + 4, -reach);
  await expect(page.getByText('A quarter right')).toBeVisible();
  await page.mouse.up();
  expect((await now()).placement.turn).toBe(90);
  await page.getByRole('tab', { name: 'Place' }).click();
  await page.keyboard.down('Control');
  await drag(page, await middleOf(page, '[data-lever]'), 6, -reach / 2);
  await page.mouse.up();
  await page.keyboard.up('Control');
  const turn = (await now()).turn;
  expect(turn).toBeGreaterThan(20);
  expect(turn).toBeLessThan(35);
});

test('the subject comes to rest in the middle, and says so; with Ctrl nothing does', async ({ page }) => {
  const { x, y, now } = await portrait(page, 'square');
  const subject = (await now()).placement.aim;
  await page.getByRole('tab', { name: 'Position' }).click();
  await page.mouse.move(x, y);
  await page.mouse.wheel(0, -500);
  await page.locator('#try-subject').click();
  const centred = (await now()).placement;
  await page.keyboard.down('Control');
  await drag(page, { x, y }, 31, 0);
  await page.mouse.up();
  await page.keyboard.up('Control');
  const off = (await now()).placement.aim;
  expect(off.u).toBeLessThan(centred.aim.u - 0.002);
  await drag(page, { x, y }, -27, 0);
  await expect(page.locator('[data-guide]').first()).toHaveText('Subject in the middle');
  await page.mouse.up();
  expect((await now()).placement.aim.u).toBeCloseTo(centred.aim.u, 6);
  await expect(page.locator('[data-guide]')).toHaveCount(0);
  await page.keyboard.down('Control');
  await drag(page, { x, y }, 4, 0);
  await expect(page.locator('[data-guide]')).toHaveCount(0);
  await page.mouse.up();
  await page.keyboard.up('Control');
  expect((await now()).placement.aim.u).not.toBeCloseTo(centred.aim.u, 5);
  expect(subject.u).toBeGreaterThan(0);
});

test('the wheel zooms round the pointer', async ({ page }) => {
  const { x, y, now } = await portrait(page, 'square');
  const before = await now();
  const scale = await scaleOf(page, before);
  await page.getByRole('tab', { name: 'Position' }).click();
  const corner = await middleOf(page, '[data-handle="-1 -1"]');
  const at = { x: (x - 60 - corner.x) / scale, y: (y - 40 - corner.y) / scale };
  await page.mouse.move(x - 60, y - 40);
  await page.mouse.wheel(0, -600);
  const after = await now();
  const [a, b] = [before, after].map((f) => ontoPicture(deriveView(f.placement, f.box, SIZE).matrix, at, SIZE));
  expect(after.placement.zoom).toBeGreaterThan(2);
  expect(b!.u).toBeCloseTo(a!.u, 2);
  expect(b!.v).toBeCloseTo(a!.v, 2);
});

test('the figures on the drawing are typed: millimetres, inches, sums with a paper’s side', async ({ page }) => {
  const { now } = await portrait(page, 'rounded');
  const type = async (name: string, text: string): Promise<Frame> => {
    const field = page.locator('gable-board').getByRole('textbox', { name, exact: true });
    await field.fill(text);
    await field.press('Enter');
    return now();
  };
  const first = await now();
  const ratio = first.box.width / first.box.height;
  const linked = await type('Width', '35mm');
  expect(linked.box.width).toBeCloseTo(35 * POINTS.mm, 6);
  // The sides are linked, until the link is opened.
  expect(linked.box.width / linked.box.height).toBeCloseTo(ratio, 6);
  await page.getByRole('button', { name: 'Keep the ratio of width and height' }).click();
  expect((await type('Height', '2 in')).box.height).toBe(144);
  // A figure stays in the unit that it was typed in.
  await expect(page.locator('gable-board').getByRole('textbox', { name: 'Height', exact: true })).toHaveValue('2 in');
  // ISO 216: A4 is 210 × 297 mm.
  expect((await type('Width', '=A4/3')).box.width).toBeCloseTo(70 * POINTS.mm, 6);
  expect((await type('Height', '=A4/3')).box.height).toBeCloseTo(99 * POINTS.mm, 6);
  expect((await type('Zoom', '1.5')).placement.zoom).toBe(1.5);
  expect((await type('Turn of the picture', '-30')).placement.turn).toBe(330);
  await page.getByRole('tab', { name: 'Outline' }).click();
  await page.locator('#try-white-6').click();
  expect((await type('Line width', '4.5 pt')).outline!.weight).toBe(4.5);
  await page.getByRole('tab', { name: 'Position' }).click();
  const moved = await type('Across', '2mm');
  expect(pictureOffset(moved, SIZE).x).toBeCloseTo(2 * POINTS.mm, 6);
});

test('what must stay is marked by hand; one action keeps all of it, and a shape that cannot says so', async ({
  page,
}) => {
  const { x, y, now } = await portrait(page);
  await page.locator('[role=application]').focus();
  // What was just done is saved meanwhile: marking goes on.
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('k');
  await expect(page.getByText('Draw a box round what must stay visible')).toBeVisible();
  await now();
  await expect(page.getByText('Draw a box round what must stay visible')).toBeVisible();
  await drag(page, { x: x - 155, y: y - 80 }, 130, 130);
  await page.mouse.up();
  const marked = await now();
  const [mark] = marked.keep!;
  expect(mark!.width).toBeGreaterThan(0.1);
  // The picture was moved so that it is in view.
  expect(keptOfMark(marked, SIZE, mark!)).toBeGreaterThan(0.995);
  // Every try is placed so that it keeps as much of it can.
  await page.locator('#try-heart').click();
  expect(keptOfMark(await now(), SIZE, mark!)).toBeGreaterThan(0.9);
  await page.locator('#try-circle').click();
  await page.getByRole('tab', { name: 'Position' }).click();
  await page.locator('#try-closer').click();
  await page.locator('#try-at-right').click();
  await page.getByRole('button', { name: /The shape cuts [\d.]+ % of a keep mark/ }).focus();
  await page.getByRole('button', { name: 'Keep all of it' }).click();
  expect(keptOfMark(await now(), SIZE, mark!)).toBeGreaterThan(0.995);

  // All of the picture in a circle that must be filled: impossible, and said.
  await page.getByRole('button', { name: 'Remove Keep mark' }).click();
  expect((await now()).keep).toBeUndefined();
  const board = (await page.locator('gable-board').boundingBox())!;
  await page.getByRole('button', { name: 'Keep this visible' }).click();
  await expect(page.getByText('Draw a box round what must stay visible')).toBeVisible();
  await drag(page, { x: board.x + 60, y: board.y + 60 }, board.width - 260, board.height - 150);
  await page.mouse.up();
  await page.getByRole('button', { name: /This shape cannot cover and keep all of it/ }).focus();
  await page.getByRole('button', { name: 'Show all of it' }).click();
  const roomy = await now();
  expect(keptOfMark(roomy, SIZE, roomy.keep![0]!)).toBeGreaterThan(0.99);
  expect(wholePicture(roomy, SIZE)).not.toBeNull();
});

test('a face is suggested, kept by one click, moved and resized by hand, named and removed; what is refused is gone', async ({
  page,
}) => {
  const { now } = await portrait(page);
  await page.getByRole('tab', { name: 'Position' }).click();
  await page.getByRole('button', { name: 'Keep Face visible' }).click();
  const [face] = (await now()).keep!;
  expect(face!.name).toBe('Face');
  const label = page.getByRole('button', { name: 'Face, kept visible' });
  const at = (await label.boundingBox())!;
  await drag(page, { x: at.x + 12, y: at.y + 12 }, 30, 12);
  await page.mouse.up();
  const moved = (await now()).keep![0]!;
  expect(moved.u).toBeGreaterThan(face!.u + 0.01);
  expect(moved.width).toBeCloseTo(face!.width, 6);
  await page.getByRole('button', { name: /^Face, / }).click();
  const corner = (await page.locator('[data-mark-corner]').nth(2).boundingBox())!;
  await drag(page, { x: corner.x + 12, y: corner.y + 12 }, 20, 10);
  await page.mouse.up();
  expect((await now()).keep![0]!.width).toBeGreaterThan(moved.width + 0.01);
  await page.getByRole('textbox', { name: 'Name of the keep mark' }).fill('Maren');
  await page.keyboard.press('Enter');
  expect((await now()).keep![0]!.name).toBe('Maren');
  await page.getByRole('button', { name: 'Remove Maren' }).click();
  expect((await now()).keep).toBeUndefined();
  await page.getByRole('button', { name: 'Do not suggest Face' }).click();
  await expect(page.getByRole('button', { name: 'Keep Face visible' })).toHaveCount(0);
  await page.reload();
  await page.locator('#run-4').click();
  await page.getByRole('tab', { name: 'Position' }).click();
  await page.getByRole('button', { name: 'Suggest the dismissed area again' }).click();
  await expect(page.getByRole('button', { name: 'Keep Face visible' })).toBeVisible();
});

test('O, held, shows the picture as it came; one step alone is put back', async ({ page }) => {
  const { now } = await portrait(page);
  await page.getByRole('tab', { name: 'Outline' }).click();
  await page.locator('#try-white-6').click();
  const mine = await now();
  const board = page.getByRole('application');
  await board.focus();
  await page.keyboard.down('o');
  await expect(board).toHaveAttribute('aria-label', /Rectangle/);
  await page.keyboard.up('o');
  await expect(board).toHaveAttribute('aria-label', /Circle.*outline 6 pt/);
  expect(await now()).toEqual(mine);
  await page.getByRole('button', { name: 'Reset outline' }).click();
  const back = await now();
  expect(back.outline).toBeNull();
  expect(back.shape.name).toBe('circle');
});

test('findings stand on the frame, each with its remedy', async ({ page }) => {
  const id = await openOnBench(page);
  const findings = page.getByRole('list', { name: 'Findings' });
  await page.locator('#run-4').click();
  await ready(page);
  await expect(findings).toContainText('squashed to 67 % of its true width');
  await findings.getByRole('button', { name: /squashed to 67 %/ }).focus();
  await findings.getByRole('button', { name: 'Restore proportions' }).click();
  const mended = (await savedFrames(page, id))['4']!;
  const view = deriveView(mended.placement, mended.box, SIZE);
  expect(view.scale.x / view.scale.y).toBeCloseTo(1, 3);
  // A white line on a pale rim and white paper hardly reads.
  await page.locator('#try-rounded').click();
  const width = page.getByRole('region', { name: 'Settings' }).getByRole('textbox', { name: 'Width', exact: true });
  await width.fill('500 mm');
  await width.press('Enter');
  await findings.getByRole('button', { name: /Only \d+ ppi at this size/ }).hover();
  await findings.getByRole('button', { name: 'Make it that size' }).click();
  const sharp = (await savedFrames(page, id))['4']!;
  // 150 ppi is the least for print: common practice.
  expect(72 / deriveView(sharp.placement, sharp.box, SIZE).scale.x).toBeGreaterThan(149);
  await page.getByRole('tab', { name: 'Outline' }).click();
  const hex = page.getByRole('textbox', { name: 'Colour', exact: true });
  await hex.fill('#d8c8c0');
  await hex.press('Enter');
  await findings.getByRole('button', { name: /Outline contrast is/ }).focus();
  await findings.getByRole('button', { name: 'Improve the contrast' }).click();
  await expect(findings.getByText('Outline contrast is')).toHaveCount(0);
});

test('what stays empty in a shape shows a check pattern inside the ring, and no other place is marked', async ({
  page,
}) => {
  const { now } = await portrait(page);
  await page.getByRole('tab', { name: 'Outline' }).click();
  await page
    .getByRole('option', { name: /^White/ })
    .first()
    .click();
  await page.getByRole('tab', { name: 'Position' }).click();
  await page.getByRole('radio', { name: 'Contain' }).click();
  expect((await now()).placement.fit).toBe('contain');
  await ready(page);
  await page.mouse.move(640, 20);
  const [top, side] = await Promise.all([
    middleOf(page, '[data-handle="0 -1"]'),
    middleOf(page, '[data-handle="-1 0"]'),
  ]);
  // A strip between the upper edge and the picture, which is 3 : 2 in a square: a sixth of its height is empty.
  const height = 2 * (side.y - top.y);
  const clip = { x: top.x - 24, y: Math.round(top.y + height / 24), width: 48, height: Math.round(height / 16) };
  const { data, info } = await sharp(await page.screenshot({ clip }))
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const tones = new Map<number, number>();
  for (const v of data) tones.set(v, (tones.get(v) ?? 0) + 1);
  const [first, second] = [...tones].sort((a, b) => b[1] - a[1]);
  // Two quiet tones in equal parts, side by side (the check pattern is common practice for what is clear).
  expect(Math.min(first![1], second![1]) / (info.width * info.height)).toBeGreaterThan(0.3);
  expect(Math.abs(first![0] - second![0])).toBeGreaterThan(8);
  expect(Math.abs(first![0] - second![0])).toBeLessThan(60);
  const chosen = page.getByRole('listbox', { name: 'Tries' }).locator('[aria-selected="true"]');
  for (const label of await chosen.allTextContents()) expect(label).not.toMatch(/Middle|Centred/);
});

test('a card says one share: what it cuts', async ({ page }) => {
  await openOnBench(page, 'demo/files/visit-us.zip');
  for (const step of ['Shape', 'Ratio']) {
    await page.getByRole('tab', { name: step }).click();
    const cards = page.getByRole('listbox', { name: 'Tries' }).getByRole('option');
    await expect(cards.first()).toBeVisible();
    for (const text of await cards.allTextContents()) {
      expect(text.match(/cuts/g) ?? [], text).toHaveLength(1);
      expect((text.match(/\d %/g) ?? []).length, text).toBeLessThanOrEqual(1);
    }
  }
});

test('one colour is the whole picture in that colour, kept in the file’s own terms', async ({ page }) => {
  const id = await openOnBench(page);
  // The mark in the header: black on clear.
  await page.locator('#run-17').click();
  await ready(page);
  await page.getByRole('tab', { name: 'Tone' }).click();
  await page.getByRole('radiogroup', { name: 'Recolour' }).getByRole('radio', { name: 'One', exact: true }).click();
  const field = page.getByRole('textbox', { name: 'Colour', exact: true });
  await field.fill('#bfbfbf');
  await field.press('Enter');
  expect((await savedFrames(page, id))['17']!.tone!.colour!.only).toEqual(['#bfbfbf', '#bfbfbf']);
  await page.getByRole('button', { name: 'Hand over' }).click();
  await expect(page.getByRole('dialog')).toContainText('It stays editable in any program.');
  await expect(page.getByRole('list', { name: 'Painted into the picture' })).toHaveCount(0);
});
