import { expect, test, type Page } from '@playwright/test';
import path from 'node:path';
import { openOnBench } from './steps';

const AXE = path.resolve(__dirname, '../../node_modules/axe-core/axe.min.js');

/** Everything axe-core finds against WCAG 2.2 A and AA. */
async function violations(page: Page): Promise<string[]> {
  // The page's own policy keeps foreign scripts out; the check runs in a page of the same look without it.
  await page.evaluate(await import('node:fs').then((fs) => fs.readFileSync(AXE, 'utf8')));
  return page.evaluate(async () => {
    const { axe } = window as unknown as {
      axe: {
        run: (
          where: Document,
          options: object,
        ) => Promise<{ violations: { id: string; nodes: { target: string[]; failureSummary: string }[] }[] }>;
      };
    };
    const result = await axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] });
    return result.violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.target.join(' ')} — ${n.failureSummary}`));
  });
}

for (const colorScheme of ['light', 'dark'] as const)
  test.describe(`${colorScheme}, with reduced motion`, () => {
    test.use({ colorScheme, contextOptions: { reducedMotion: 'reduce' } });

    test('Shelf and Bench in every step, and the sheet, pass WCAG 2.2 AA', async ({ page }) => {
      await openOnBench(page);
      for (const step of ['Shape', 'Position', 'Outline']) {
        await page.getByRole('tab', { name: step }).click();
        await page.mouse.move(640, 20);
        expect(await violations(page)).toEqual([]);
      }
      await page.locator('#run-4').click();
      expect(await violations(page)).toEqual([]);
      await page.getByRole('button', { name: 'Hand over' }).click();
      expect(await violations(page)).toEqual([]);
      await page.keyboard.press('Escape');
      await page.getByRole('link', { name: 'Back to the Shelf' }).click();
      await expect(page.getByRole('heading', { name: 'On the shelf' })).toBeVisible();
      expect(await violations(page)).toEqual([]);
    });
  });

test('usable at 768 px: nothing is cut off sideways', async ({ page }) => {
  await page.setViewportSize({ width: 768, height: 800 });
  await openOnBench(page);
  await expect(page.getByRole('button', { name: 'Hand over' })).toBeInViewport();
  await expect(page.getByRole('option', { name: /^Circle/ })).toBeInViewport();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(768);
});
