import { expect, openOnBench, still, test, violations } from './steps';

/** WCAG 2.2 A and AA; in the dark only colours are others. */
const RULES = {
  light: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
  dark: ['color-contrast', 'link-in-text-block'],
};

for (const colorScheme of ['light', 'dark'] as const)
  test.describe(`${colorScheme}, with reduced motion`, () => {
    test.use({ colorScheme });

    test('every view passes WCAG 2.2 AA', async ({ page }) => {
      test.slow();
      await openOnBench(page);
      const check = async (view: string): Promise<void> => {
        await page.mouse.move(640, 20);
        expect.soft(await violations(page, RULES[colorScheme]), view).toEqual([]);
      };
      await page.locator('#run-4').click();
      await page.locator('#try-circle').click();
      for (const step of ['Shape', 'Ratio', 'Position', 'Outline', 'Shadow', 'Tone', 'Place']) {
        await page.getByRole('tab', { name: step }).click();
        if (step === 'Outline') await page.locator('#try-kiln').click();
        if (step === 'Shadow') await page.locator('#try-soft').click();
        await check(step);
      }
      await page.keyboard.press('1');
      const views: [string, string, string][] = [
        ['Wall', 'w', 'All shapes'],
        ['Chooser', 'r', 'Choose a picture'],
        ['Getting out', 'g', 'Export picture'],
        ['Keys', '?', 'Keys'],
      ];
      for (const [view, key, name] of views) {
        await page.keyboard.press(key);
        await expect(page.getByRole('dialog', { name })).toBeVisible();
        await still(page);
        await check(view);
        await page.keyboard.press('Escape');
      }
      await page.getByRole('button', { name: 'Cut out the subject' }).click();
      await expect(page.getByRole('button', { name: 'Over the edge' })).toBeEnabled();
      await check('Cutting out');
      await page.keyboard.press('Escape');
      await page.getByRole('button', { name: 'Hand over' }).click();
      await check('Hand over');
      await page.keyboard.press('Escape');
      await page.getByRole('radio', { name: /^(Page|Slide|Sheet|Drawing)/ }).click();
      await expect(page.locator('gable-page-view [data-n="4"]')).toBeVisible();
      await check('Pages');
      await page.getByRole('button', { name: 'Add a picture' }).click();
      const stock = page.getByRole('dialog', { name: 'Choose a picture' }).filter({ visible: true });
      await stock.getByText('Maren', { exact: true }).click();
      await stock.getByRole('button', { name: 'Use it' }).click();
      await expect(page.locator('[data-mark]')).toBeVisible();
      await check('Choosing a place');
      await page.getByRole('button', { name: 'In the header or footer' }).click();
      await check('Header or footer');
      await page.keyboard.press('Escape');
      await page.getByRole('button', { name: 'Cancel', exact: true }).filter({ visible: true }).click();
      await page.getByRole('link', { name: 'Survey' }).click();
      await page.locator('#frame-4').click();
      for (const task of ['Fix', 'Make alike', 'Finish']) {
        await page.getByRole('tab', { name: task }).click();
        await check(`Survey, ${task}`);
      }
      for (const view of ['Figures', 'Texts']) {
        await page.getByRole('tab', { name: view }).click();
        await still(page);
        await check(`Survey, ${view}`);
      }
      await page.getByRole('tab', { name: 'Frames' }).click();
      await page.getByRole('tab', { name: 'Fix' }).click();
      await page.getByRole('button', { name: /^Fix all/ }).click();
      await check('Before and after');
      await page.keyboard.press('Escape');
      await page.getByRole('link', { name: 'Back to the shelf' }).click();
      await expect(page.getByRole('heading', { name: 'On the shelf' })).toBeVisible();
      await check('Shelf');
      await page.getByRole('button', { name: 'New', exact: true }).click();
      await check('New');
    });
  });

test('usable at 768 px: nothing is cut off sideways', async ({ page }) => {
  await page.setViewportSize({ width: 768, height: 800 });
  await openOnBench(page);
  await expect(page.getByRole('button', { name: 'Hand over' })).toBeInViewport();
  await expect(page.getByRole('option', { name: /^Circle/ })).toBeInViewport();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(768);
});
