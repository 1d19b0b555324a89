/**
 * What stands around the pictures of web pages, as Chromium lays it out in windows from 320 to 2,560 pixels: the picture keeps its own
 * box, gaps are those of the rules, nothing leaves the window or covers the words of the page (WCAG 2.2 SC 1.4.10, reflow).
 */
import { openFile } from '@gable/formats';
import type { Page } from '@playwright/test';
import path from 'node:path';
import { withPiece } from '../../formats/tests/support/pieces';
import { expect, openOnBench, saved, test, violations } from './steps';

const PICTURE = `data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='600' height='400'/%3E`;
const img = (more: string): string => `<img id="picture" src="${PICTURE}" alt="Pots" ${more}>`;
const LONG = 'Clay remembers every touch, and so do the hands that gave it. '.repeat(6);
const LAYOUTS: Readonly<Record<string, { css: string; body: string; room: number }>> = {
  'in a paragraph': {
    ...{ css: 'main { max-width: 900px; margin: auto }', room: 1280 },
    body: `<main><p>${LONG}</p><p>${img('width="300" height="200"')}</p><p id="next">${LONG}</p></main>`,
  },
  'as wide as its column': {
    ...{ css: 'main { max-width: 1200px; margin: auto } img { width: 40%; height: auto }', room: 1280 },
    body: `<main><p>${LONG}</p><p>${img('')}</p><p id="next">${LONG}</p></main>`,
  },
  floating: {
    ...{ css: 'img { float: left; width: 30%; height: auto; margin: 0 1em 1em 0 }', room: 1920 },
    body: `<div>${img('')}<p>${LONG}${LONG}</p></div><p id="next" style="clear: both">${LONG}</p>`,
  },
  'in a grid': {
    ...{
      css: 'main { display: grid; grid-template-columns: 1fr 1fr; gap: 20px } img { width: 100%; height: auto }',
      room: 9999,
    },
    body: `<main>${img('')}<p>${LONG}</p></main><p id="next">${LONG}</p>`,
  },
  'with a height of its own': {
    ...{ css: 'img { display: block; width: 100%; height: 300px; object-fit: cover }', room: 9999 },
    body: `${img('')}<p id="next">${LONG}</p>`,
  },
};
const pageOf = ({ css, body }: { css: string; body: string }): string =>
  `<!DOCTYPE html><html lang="en"><head><meta name="viewport" content="width=device-width"><title>Page</title><style>body { font: 16px sans-serif } ${css}</style></head><body>${body}</body></html>`;

function pageWith(html: string, name: string): { html: string; gap: number } {
  const file = openFile(new TextEncoder().encode(html));
  const document = withPiece(file, 1, name);
  const first = Object.values(document.items).find((i) => i.id.startsWith('add-') && i.kind === 'framed' && i.text);
  return {
    html: new TextDecoder().decode(file.write(document)),
    gap: (first?.tie?.gap ?? 0) / 0.75,
  };
}

interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}
const boxOf = (page: Page, selector: string): Promise<Box> =>
  page.evaluate((s) => {
    const { left, top, right, bottom } = document.querySelector(s)!.getBoundingClientRect();
    return { left, top, right, bottom };
  }, selector);
const size = ({ left, top, right, bottom }: Box): number[] => [right - left, bottom - top];
/** The words that stand round it, by their paragraph's element. */
const WORDS = '[data-gable-set] span:has(> span > span):not(:has(img))';
/** On small windows gaps are smaller. */
const gapAt = (gap: number, width: number): number => (gap > 16 ? Math.min(gap, width * 0.08) : gap);
const near = (a: number, b: number): void => expect(Math.abs(a - b)).toBeLessThan(0.6);

for (const [where, layout] of Object.entries(LAYOUTS))
  test(`a picture ${where}: words below, beside and over it at every width`, async ({ page }) => {
    const plain = pageOf(layout);
    for (const width of [320, 390, 768, 1280, 1920, 2560]) {
      await page.setViewportSize({ width, height: 800 });
      await page.setContent(plain);
      const before = await boxOf(page, '#picture');
      for (const name of ['name-below', 'name-beside', 'lower-third', 'ring', 'letterhead']) {
        const { html, gap } = pageWith(plain, name);
        await page.setContent(html);
        const [now, next] = [await boxOf(page, '#picture'), await boxOf(page, '#next')];
        const about = `${name} at ${width}`;
        const across = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
        expect(across, about).toBeLessThanOrEqual(0);
        expect(now.left, about).toBeGreaterThanOrEqual(-0.5);
        if (name === 'ring') continue;
        const words = await boxOf(page, WORDS);
        // What follows on the page stands below all of it.
        if (name !== 'lower-third') expect(next.top, about).toBeGreaterThan(words.bottom - 1);
        if (name === 'name-below' || name === 'lower-third')
          size(now).forEach((v, i) => expect(Math.abs(v - size(before)[i]!), about).toBeLessThan(0.6));
        if (name === 'name-below') {
          near(words.top - now.bottom, gapAt(gap, width));
          near(words.left + words.right, now.left + now.right);
        }
        if (name === 'lower-third') {
          near(now.bottom - words.bottom, gap);
          near(words.right - words.left, now.right - now.left);
        }
        if (name === 'name-beside' && width >= layout.room) {
          near(words.left - now.right, gapAt(gap, width));
          size(now).forEach((v, i) => expect(Math.abs(v - size(before)[i]!), about).toBeLessThan(0.6));
        }
        // Where there is no room beside it, it stands below.
        if (name === 'name-beside' && width === 320 && where !== 'floating' && where !== 'in a grid') {
          expect(words.top, about).toBeGreaterThanOrEqual(now.bottom - 0.6);
          expect(words.right, about).toBeLessThanOrEqual(width);
        }
      }
    }
  });

test('on a web page a name is typed below a picture, stays in its page, and comes back out', async ({ page }) => {
  const id = await openOnBench(page, path.resolve(__dirname, '../../demo/files/visit-us.zip'));
  await page.getByRole('tab', { name: 'Around' }).click();
  await page.getByRole('listbox', { name: 'Tries' }).getByRole('option', { name: 'Name below' }).click();
  await expect(page.getByRole('textbox', { name: 'Words' }).first()).toBeFocused();
  await page.keyboard.type('The wheel <shed>');
  // They are typed in the font of their page.
  const font = (e: Element): string => getComputedStyle(e).fontFamily;
  const typedIn = await page.getByRole('textbox', { name: 'Words' }).first().locator('span').first().evaluate(font);
  await page.keyboard.press('Escape');
  const frame = page.frameLocator('gable-page-view iframe');
  // The page is written anew meanwhile: what was found in it may be gone.
  await expect(frame.locator('[data-gable-set]').first().locator('xpath=..')).toHaveCSS('font-family', typedIn);
  await expect(frame.locator('[data-added]')).toHaveText('The wheel <shed>');
  expect(await violations(page, ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])).toEqual([]);
  await saved(page);
  const bytes = new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
  const { markup } = openFile(bytes);
  expect(markup!(1)).toContain('The wheel &lt;shed&gt;');
});
