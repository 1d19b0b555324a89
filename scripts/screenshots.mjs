// Refreshes docs/screenshots from the running application: npm start, then npm run screenshots [-- --url http://…].
// Works on a copy of the demo handbook and removes it afterwards.
import { chromium } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { at, fail } from './lib/steps.mjs';

const { values } = parseArgs({ options: { url: { type: 'string', default: 'http://127.0.0.1:4180' } } });
const out = (name) => at('docs', 'screenshots', `${name}.png`);

async function main() {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, locale: 'en-GB' });
  const page = await context.newPage();
  const response = await page.request.post(`${values.url}/api/works?name=Season%20handbook%202.docx`, {
    headers: { 'Content-Type': 'application/octet-stream' },
    data: readFileSync(at('demo/files/season-handbook.docx')),
  });
  const { id } = await response.json();
  try {
    const settle = async (ms = 900) => {
      await page.waitForLoadState('networkidle');
      await page.waitForTimeout(ms);
    };
    const saved = () =>
      page
        .getByRole('status')
        .filter({ hasText: /^Saved$/ })
        .waitFor();
    const choose = async (n, shape, outline) => {
      await page.locator(`#run-${n}`).click();
      await settle(500);
      await page.locator('#step-shape').click();
      await page.locator(`#try-${shape}`).click();
      await page.locator('#step-outline').click();
      await page.locator(`#try-${outline}`).click();
    };
    await page.goto(`${values.url}/work/${id}`);
    await page.locator('#run-4').click();
    await settle(1500);
    await page.locator('#try-circle').hover();
    await settle();
    await page.mouse.move(640, 20);
    await settle();
    await page.getByRole('list', { name: 'Findings' }).getByRole('button').first().focus();
    await settle();
    await page.screenshot({ path: out('finding') });

    for (const [n, shape, outline] of [
      [1, 'rounded', 'white-6'],
      [2, 'circle', 'white-6'],
      [3, 'circle', 'white-6'],
      [5, 'circle', 'white-6'],
      [8, 'heart', 'clay-4'],
      [4, 'circle', 'white-6'],
    ])
      await choose(n, shape, outline);
    await page.locator('#step-shape').click();
    await page.mouse.move(640, 20);
    await page.locator('#try-circle').getByText('cuts').waitFor();
    await settle();
    await page.screenshot({ path: out('bench') });

    const board = await page.locator('gable-board').boundingBox();
    await page.locator('#run-2').click();
    await settle(600);
    await page.getByRole('button', { name: 'Cut out the subject' }).click();
    await page.getByText('Paint over what is missing').waitFor({ timeout: 60_000 });
    await settle(8000);
    await page.getByRole('button', { name: 'Over the edge' }).click();
    await page.locator('#step-position').click();
    await page.mouse.move(640, 20);
    await settle(1200);
    await page.screenshot({ path: out('position') });

    await page.locator('#run-5').click();
    await settle(600);
    await page.locator('#step-shape').click();
    await page.keyboard.press('k');
    await page.getByText('Draw a box round what must stay visible').waitFor();
    await page.getByRole('button', { name: 'Keep Face visible' }).click();
    await page.mouse.move(board.x + board.width / 2 + 60, board.y + 180);
    await page.mouse.down();
    await page.mouse.move(board.x + board.width / 2 + 150, board.y + 290, { steps: 6 });
    await page.mouse.up();
    await page.mouse.move(640, 20);
    await settle(1500);
    await page.screenshot({ path: out('keep-mark') });
    await page.keyboard.press('Control+z');

    await page.locator('#run-6').click();
    await settle(600);
    await page.getByRole('button', { name: 'Cut out the subject' }).click();
    await page.getByText('Paint over what is missing').waitFor({ timeout: 60_000 });
    await settle(8000);
    await page.getByRole('radio', { name: 'Background' }).click();
    const stage = await page.locator('[data-stage]').boundingBox();
    await page.mouse.move(stage.x + stage.width * 0.92, stage.y + stage.height * 0.62);
    await page.mouse.down();
    await page.mouse.move(stage.x + stage.width * 0.95, stage.y + stage.height * 0.93, { steps: 8 });
    await page.screenshot({ path: out('cut-out') });
    await page.mouse.up();
    await page.getByRole('button', { name: 'Cancel' }).last().click();

    await page.locator('#run-3').click();
    await settle(600);
    await page.keyboard.press('w');
    await page.locator('#wall-circle').waitFor();
    await page.keyboard.press('Home');
    await page.keyboard.press('h');
    for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
    await page.keyboard.press('h');
    await settle(2000);
    await page.screenshot({ path: out('wall') });
    await page.keyboard.press('Escape');
    await page.waitForTimeout(250);

    await page.keyboard.press('r');
    await settle(1200);
    // Small copies of the stock are made when they are first asked for.
    for (const image of (await page.locator('dialog[open] img').all()).slice(0, 15))
      await image.evaluate((i) => i.decode());
    await page.screenshot({ path: out('chooser') });
    await page.keyboard.press('Escape');
    await page.waitForTimeout(250);

    await page.keyboard.press('g');
    await settle(400);
    await page.screenshot({ path: out('get-out') });
    await page.keyboard.press('Escape');
    await page.waitForTimeout(250);

    await page.keyboard.press('p');
    // The frame of the pages keeps the network busy in the browser's eyes: there is no waiting for it to be idle.
    await page.locator('gable-page-view [data-n="3"]').waitFor();
    await page.waitForTimeout(2500);
    await page.screenshot({ path: out('page') });
    await page.keyboard.press('p');
    await page.locator('#run-4').click();
    await settle(600);

    await page.emulateMedia({ colorScheme: 'dark' });
    await page.locator('#step-outline').click();
    await page.locator('#try-ochre-4').hover();
    await settle();
    await page.screenshot({ path: out('outline-dark') });
    await page.emulateMedia({ colorScheme: 'light' });
    await page.mouse.move(640, 20);
    await saved();
    await page.getByRole('button', { name: 'Hand over' }).click();
    await settle(400);
    await page.getByText('Checking what this kind of file can hold').waitFor({ state: 'hidden' });
    await page.screenshot({ path: out('hand-over') });
    await page.keyboard.press('Escape');
    await page.waitForTimeout(250);
    // The survey of the handbook as it came: everything is put back first.
    await page.goto(`${values.url}/work/${id}/survey`);
    await page.locator('#frame-1').waitFor();
    await settle(2500);
    await page.getByRole('button', { name: 'Select all' }).click();
    await page.getByRole('button', { name: 'Restore originals' }).click();
    await page.getByRole('button', { name: 'Select none' }).click();
    await settle(2500);
    await page.getByRole('button', { name: /^Fix all/ }).click();
    await settle();
    await page.screenshot({ path: out('fix') });
    await page.keyboard.press('Escape');
    await page.locator('#view-figures').click();
    await settle(1500);
    await page.screenshot({ path: out('figures') });
    await page.locator('#view-texts').click();
    await settle();
    await page.screenshot({ path: out('texts') });
    await page.locator('#view-frames').click();
    await page.locator('#task-finish').click();
    await page.locator('#frame-2').click();
    for (const n of [4, 6]) await page.locator(`#frame-${n}`).click({ modifiers: ['Control'] });
    await page.getByText('Round portrait', { exact: true }).hover();
    await settle(1500);
    await page.screenshot({ path: out('survey') });
    await saved();

    await page.goto(values.url);
    await settle(1500);
    await page.screenshot({ path: out('shelf') });

    // Slides, a drawing and a web page, as far as the demo is on the shelf; what is done to them is undone again.
    for (const [name, shot, picks] of [
      ['Open day talk', 'slides', [2, 3, 4, 5]],
      ['Firing day board', 'drawing', [1, 2, 3, 4]],
      ['Visit us', 'web-page', [4]],
    ]) {
      await page.goto(values.url);
      await page.getByText(name, { exact: true }).click();
      await page.locator('#try-circle').waitFor();
      if (await page.getByRole('radio', { name: 'Close-up', checked: false }).isVisible())
        await page.keyboard.press('p');
      await page.locator(`#run-${picks[0]}`).waitFor();
      for (const n of picks) await choose(n, { slides: 'circle', drawing: 'hexagon' }[shot] ?? 'circle', 'white-6');
      await page.locator(`#run-${picks[0]}`).click();
      await page.locator('#step-shape').click();
      await page.keyboard.press('p');
      await page.waitForTimeout(2500);
      if (shot === 'slides') {
        // The portraits of the second one with their names: kept together, and spread across the slide.
        await page.locator('#page-run-2').click();
        const names = ['Maren, wheels', 'Tobias, kilns', 'Ines, glazes', 'Odd, the rest'];
        await page.locator('gable-page-view [data-n="2"]').click();
        for (const n of [3, 4, 5])
          await page.locator(`gable-page-view [data-n="${n}"]`).click({ modifiers: ['Shift'] });
        for (const words of names)
          await page
            .locator('gable-page-view')
            .getByRole('button', { name: `“${words}”` })
            .click({ modifiers: ['Shift'] });
        await page.getByRole('button', { name: 'Keep together' }).click();
        await page.getByRole('radio', { name: 'Page', exact: true }).click();
        await page.getByRole('button', { name: 'Equal gaps across' }).click();
        await page.getByRole('button', { name: 'Middles', exact: true }).click();
        await page.getByRole('button', { name: 'Undo “aligned”' }).waitFor();
        await page.mouse.move(0, 0);
        await settle();
      }
      if (shot === 'web-page') {
        // The wide picture above as the ground of a section.
        await page.locator('#run-1').click();
        await page.locator('#step-around').click();
        await page.locator('#try-around-section').click();
        const settings = page.getByRole('region', { name: 'Settings' });
        await settings.getByRole('textbox', { name: 'Words' }).fill('Come and see\nOpen from ten to nine');
        await settings.getByText(/^Contrast/).waitFor();
        await settings.getByRole('button', { name: 'Back to the picture' }).click();
        await settings.getByLabel('Bottom edge').selectOption('wave');
        await page.waitForTimeout(2500);
        await page.getByRole('button', { name: 'At every width' }).click();
        await page.getByRole('button', { name: /^1280 px/ }).click();
        await page.getByRole('status').filter({ hasText: 'from 320 to 2,560 px.' }).waitFor();
        await page.mouse.move(0, 0);
        await page.waitForTimeout(1500);
      }
      await page.screenshot({ path: out(shot) });
      if (shot === 'web-page') {
        await page.getByRole('button', { name: 'Back to the picture' }).click();
        for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
      }
      if (shot === 'slides') {
        for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
        await page.locator('#page-run-2').click();
      }
      await page.keyboard.press('p');
      for (let i = 0; i < picks.length * 2; i++) await page.keyboard.press('Control+z');
      await saved();
    }
  } finally {
    await page.request.delete(`${values.url}/api/works/${id}`);
    await browser.close();
  }
}

main().catch(fail);
