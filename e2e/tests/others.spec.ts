import { solidOutline, withShape } from '@gable/core';
import { openFile, withFrames } from '@gable/formats';
import path from 'node:path';
import { expect, handbook, test } from './steps';

const script = (name: string): string => path.resolve(__dirname, '../../node_modules', name);

test('docx-preview opens what we write and draws the circle’s box at its new size', async ({ page }) => {
  const file = openFile(handbook);
  const circles = file.pictures.map((p) => ({
    ...withShape(p.frame, { name: 'circle', knobs: {} }, p.size),
    outline: solidOutline(6, '#ffffff'),
  }));
  const bytes = file.write(withFrames(file, circles));
  await page.goto('about:blank');
  await page.addScriptTag({ path: script('jszip/dist/jszip.min.js') });
  await page.addScriptTag({ path: script('docx-preview/dist/docx-preview.min.js') });
  const drawn = await page.evaluate(async (data) => {
    const { docx } = window as unknown as {
      docx: { renderAsync: (data: Uint8Array, into: HTMLElement) => Promise<unknown> };
    };
    await docx.renderAsync(
      Uint8Array.from(atob(data), (c) => c.charCodeAt(0)),
      document.body,
    );
    return [...document.querySelectorAll('img')].map((i) => [
      i.parentElement?.style.width ?? '',
      i.parentElement?.style.height ?? '',
    ]);
  }, Buffer.from(bytes).toString('base64'));
  expect(drawn.length).toBeGreaterThanOrEqual(16);
  // The first picture of the body was 160 × 106.667 mm: its circle is 302.36 pt wide and high.
  const points = (v: string | undefined): number => parseFloat(v ?? '');
  expect(
    drawn.filter(([w, h]) => Math.abs(points(w) - 302.36) < 0.05 && Math.abs(points(h) - 302.36) < 0.05),
  ).toHaveLength(1);
  for (const [w, h] of drawn) expect(points(w)).toBeCloseTo(points(h), 1);
});
