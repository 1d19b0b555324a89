import { expect, openOnBench, ready, saved, savedFrames, test } from './steps';

const DRAWING = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><path fill="#000" d="M10 10h80v80H10zM35 35v30h30V35z" fill-rule="evenodd"/></svg>`;

test('every step offers tries: a look puts nothing away, leaving puts back, one click takes', async ({ page }) => {
  const id = await openOnBench(page);
  await page.locator('#run-2').click();
  await ready(page);
  const board = page.getByRole('application');
  const steps: [string, string, RegExp][] = [
    ['Shape', 'hexagon', /Hexagon/],
    ['Ratio', 'ratio-16-9', /39.7 mm by 22.3 mm/],
    ['Position', 'closer', /zoom 1\.73/],
    ['Outline', 'double', /outline 7 pt/],
    ['Shadow', 'soft', /with a shadow/],
    ['Tone', 'warm', /toned/],
    ['Place', 'tilt-right', /frame turned 4°/],
  ];
  for (const [step, name, words] of steps) {
    await page.getByRole('tab', { name: step }).click();
    const before = await board.getAttribute('aria-label');
    const option = page.locator(`[id="try-${name}"]`);
    await option.scrollIntoViewIfNeeded();
    await option.hover();
    await expect(board, step).toHaveAttribute('aria-label', words);
    await page.mouse.move(640, 300);
    await expect(board, step).toHaveAttribute('aria-label', before!);
    await option.click();
    await page.mouse.move(640, 300);
    await expect(board, step).toHaveAttribute('aria-label', words);
  }
  const frame = (await savedFrames(page, id))['2']!;
  expect(frame).toMatchObject({
    shape: { name: 'hexagon' },
    outline: { weight: 7, lines: 'double' },
    shadow: { kind: 'outer' },
    tone: { colour: { warmth: 0.35 } },
    turn: 4,
  });
  expect(frame.box.width / frame.box.height).toBeCloseTo(16 / 9, 4);
});

test('shapes say what they keep, and are found by family, by name and by ratio', async ({ page }) => {
  await openOnBench(page);
  await page.locator('#run-4').click();
  await ready(page);
  const tries = page.getByRole('listbox', { name: 'Tries' });
  await expect(tries.locator('#try-circle')).toContainText(/cuts (\d+ %|nothing)/);
  await expect(tries.getByRole('option').first()).toHaveAttribute('id', 'try-circle');
  await page.getByRole('radio', { name: 'Windows' }).click();
  await expect(tries.locator('#try-circle')).toHaveCount(0);
  await expect(tries.locator('#try-gable')).toBeVisible();
  await tries.locator('#try-gable').click();
  await page.getByRole('radio', { name: 'Recent' }).click();
  await expect(tries.getByRole('option')).toHaveCount(1);
  await page.getByRole('radio', { name: 'All', exact: true }).click();

  await page.getByRole('button', { name: 'Wall' }).click();
  const wall = page.getByRole('dialog', { name: 'All shapes' });
  await expect(wall.locator('[id^=wall-][role=option]').nth(99)).toBeAttached();
  await wall.getByRole('searchbox').fill('star');
  await expect(wall.locator('#wall-star-5')).toBeVisible();
  await expect(wall.locator('#wall-circle')).toHaveCount(0);
  await wall.getByRole('searchbox').fill('');
  await wall.getByRole('combobox', { name: 'Ratio of the shape' }).selectOption('locked');
  await expect(wall.locator('#wall-circle')).toBeVisible();
  await expect(wall.locator('#wall-ellipse')).toHaveCount(0);
});

test('the wall holds up to four side by side and takes one, by keyboard', async ({ page }) => {
  const id = await openOnBench(page);
  await page.keyboard.press('w');
  const wall = page.getByRole('dialog', { name: 'All shapes' });
  await expect(wall.locator('#wall-circle')).toBeVisible();
  await page.keyboard.press('Home');
  for (let i = 0; i < 5; i++) {
    await page.keyboard.press('h');
    await page.keyboard.press('ArrowRight');
  }
  const held = wall.getByRole('region', { name: 'Side by side' });
  await expect(held.locator('canvas')).toHaveCount(4);
  // All four are painted at the same size, once each has been measured.
  await expect
    .poll(() =>
      held.locator('canvas').evaluateAll((all) => new Set(all.map((c) => (c as HTMLCanvasElement).width)).size),
    )
    .toBe(1);
  await expect(held.getByText('Circle', { exact: true })).toHaveCount(0);
  await held.getByRole('button', { name: 'Remove Square' }).click();
  await expect(held.locator('canvas')).toHaveCount(3);
  await held.getByRole('button', { name: 'Use Ellipse' }).click();
  await expect(wall).toBeHidden();
  expect((await savedFrames(page, id))['1']!.shape.name).toBe('ellipse');
});

test('a drawing becomes a shape with its hole, is kept for later, and can be taken again', async ({ page }) => {
  const { silhouettes } = (await (await page.request.get('/api/silhouettes')).json()) as {
    silhouettes: { id: string }[];
  };
  for (const s of silhouettes) await page.request.delete(`/api/silhouettes/${s.id}`);
  const id = await openOnBench(page);
  await page.getByRole('radio', { name: 'Your own' }).click();
  await expect(page.getByText('You have no shapes of your own yet. Add a drawing')).toBeVisible();
  const add = async (name: string, drawing: string): Promise<void> => {
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: 'Add a drawing' }).click();
    await (await chooser).setFiles({ name, mimeType: 'image/svg+xml', buffer: Buffer.from(drawing) });
  };
  await add('tile.svg', DRAWING);
  const own = page.getByRole('option', { name: /^tile/ }).first();
  await own.click();
  const frame = (await savedFrames(page, id))['1']!;
  expect(frame.shape.drawn?.path.match(/M/gi)).toHaveLength(2);
  await page.reload();
  await page.getByRole('radio', { name: 'Your own' }).click();
  await expect(page.getByRole('option', { name: /^tile/ }).first()).toBeVisible();
  // The same drawing again is the shape that is there; text is no part of one; both are said.
  await add('other name.svg', DRAWING);
  await expect(page.getByText('You have this shape already: tile.')).toBeVisible();
  await add(
    'sign.svg',
    '<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0H20V9H0Z"/><text y="5">Open</text></svg>',
  );
  await expect(page.getByText('The text in this drawing was left out.')).toBeVisible();
  await page.getByRole('button', { name: 'Rename or remove' }).click();
  const name = page.getByRole('textbox', { name: 'Name of the shape tile' });
  await name.fill('Glaze tile');
  await name.press('Enter');
  await page.getByRole('button', { name: 'Remove sign' }).click();
  await page.getByRole('button', { name: 'Remove Glaze tile' }).click();
  await page.getByRole('button', { name: 'Undo Glaze tile' }).click();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByRole('option', { name: /^sign/ })).toHaveCount(0);
  await expect(page.getByRole('option', { name: /^Glaze tile/ })).toBeVisible();
  // Nothing in it: refused with the reason.
  await add('empty.svg', '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"></svg>');
  await expect(page.getByRole('alert')).toBeVisible();
});

test('the stops of a gradient are dragged, added, recoloured and removed', async ({ page }) => {
  const id = await openOnBench(page);
  await page.getByRole('tab', { name: 'Outline' }).click();
  await page.locator('#try-kiln').click();
  const stops = async (): Promise<{ at: number; colour: string }[]> => {
    const paint = (await savedFrames(page, id))['1']!.outline!.paint;
    return paint.kind === 'solid' ? [] : paint.stops;
  };
  expect(await stops()).toHaveLength(3);
  const bar = (await page.getByTitle('Click to add a stop').boundingBox())!;
  await page.mouse.click(bar.x + bar.width * 0.25, bar.y + 4);
  expect((await stops()).map((s) => +s.at.toFixed(1))).toContain(0.3);
  const middle = (await page.getByRole('slider', { name: /^Stop 2/ }).boundingBox())!;
  await page.mouse.move(middle.x + middle.width / 2, middle.y + middle.height / 2);
  await page.mouse.down();
  await page.mouse.move(bar.x + bar.width * 0.7, middle.y + 8, { steps: 4 });
  await page.mouse.up();
  expect((await stops())[1]!.at).toBeCloseTo(0.7, 1);
  await page.getByRole('textbox', { name: 'Stop colour' }).fill('#123456');
  await page.getByRole('textbox', { name: 'Stop colour' }).press('Enter');
  expect((await stops())[1]!.colour).toBe('#123456');
  // By keyboard: five steps at once with Shift, and away with Delete.
  await page.getByRole('slider', { name: /^Stop 2/ }).focus();
  await page.keyboard.press('Shift+ArrowLeft');
  expect((await stops())[1]!.at).toBeCloseTo(0.65, 1);
  await page.keyboard.press('Delete');
  expect(await stops()).toHaveLength(3);
});

test('the knobs of every step are typed and slid', async ({ page }) => {
  const id = await openOnBench(page);
  const now = async () => (await savedFrames(page, id))['1']!;
  const type = async (name: string, text: string): Promise<void> => {
    const field = page.getByRole('region', { name: 'Settings' }).getByRole('textbox', { name, exact: true });
    await field.fill(text);
    await field.press('Enter');
  };
  // A circle that keeps its ratio in its box stays one in any box.
  await page.locator('#try-circle').click();
  await page.getByRole('radio', { name: 'Keep ratio' }).click();
  await page.getByRole('button', { name: 'Keep the ratio of width and height' }).click();
  await type('Width', '160mm');
  expect(await now()).toMatchObject({ shape: { name: 'circle' }, seat: { fit: 'keep' } });
  await page.keyboard.press('Control+z');
  await page.getByRole('tab', { name: 'Ratio' }).click();
  await type('Ratio', '3:2');
  expect((await now()).box.width / (await now()).box.height).toBeCloseTo(1.5, 6);
  await page.getByRole('tab', { name: 'Position' }).click();
  await page.getByRole('radio', { name: 'Contain' }).click();
  expect((await now()).placement.fit).toBe('contain');
  // A turned picture stays turned when it is tiled, and when its tiles change their size.
  await type('Turn', '30');
  await page.getByRole('radio', { name: 'Tile', exact: true }).click();
  const tiled = (await now()).placement;
  await type('Tile size', '12 %');
  expect((await now()).placement).toMatchObject({ fit: 'tile', turn: 30, aim: tiled.aim });
  await page.getByRole('radio', { name: 'Contain' }).click();
  await type('Turn', '0');
  await type('Background', '#f4f0e7');
  expect((await now()).backing).toMatchObject({ kind: 'solid' });
  await page.getByRole('tab', { name: 'Shadow' }).click();
  await page.getByRole('radio', { name: 'Drop' }).click();
  await type('Blur', '12 pt');
  const strength = page.getByRole('region', { name: 'Settings' }).getByRole('slider', { name: 'Opacity' });
  await strength.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
  expect((await now()).shadow).toMatchObject({ kind: 'outer', blur: 12, opacity: 0.4 });
  await page.getByRole('tab', { name: 'Tone' }).click();
  await type('Contrast', '20 %');
  await type('Blur', '1.5 pt');
  expect((await now()).tone).toMatchObject({ light: { contrast: 0.2 }, softness: { blur: 1.5 } });
  await page.getByRole('tab', { name: 'Place' }).click();
  await type('Turn', '-12');
  expect((await now()).turn).toBe(-12);
  await saved(page);
});
