/**
 * A shape that keeps its ratio at one of nine places in a box that is fluid, alone or repeated: at every width Chromium shows what the
 * shape is in a box of that size, but for two pixels at its edges.
 */
import { applyAll, framePath, toSvgPath, type Operation, type Seat } from '@gable/core';
import { openFile } from '@gable/formats';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { expect, test } from './steps';

const WIDTHS = [320, 768, 1280, 1920];
const HEIGHT = 240;

async function pageWith(css: string): Promise<string> {
  const grey = { width: 1200, height: 800, channels: 3, background: '#444444' } as const;
  const data = (await sharp({ create: grey }).png().toBuffer()).toString('base64');
  return `<!DOCTYPE html><html lang="en"><head><meta name="viewport" content="width=device-width"><title>Page</title><style>body{margin:0;background:#fff}img{${css}}</style></head><body><img id="picture" src="data:image/png;base64,${data}" alt=""></body></html>`;
}

/** Points of the page, and whether they are dark. */
async function shown(
  page: Page,
  html: string,
  width: number,
): Promise<{ dark(x: number, y: number): boolean; box: DOMRect }> {
  await page.setViewportSize({ width, height: 500 });
  await page.setContent(html);
  const box = await page.evaluate(() => {
    const image = document.querySelector('#picture')!;
    return (image.closest('[data-gable]') ?? image).getBoundingClientRect().toJSON() as DOMRect;
  });
  const { data, info } = await sharp(await page.screenshot())
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { box, dark: (x, y) => data[(Math.floor(y) * info.width + Math.floor(x)) * info.channels]! < 160 };
}

const LAYOUTS = [
  // As high as it was said, and of a share of its column.
  `display:block;width:100%;height:${HEIGHT}px;object-fit:cover`,
  'display:block;width:60%;height:auto',
];
const SEATS: Record<string, Seat> = {
  'at its left': { fit: 'keep', anchor: 'left', repeat: false },
  'at its bottom right': { fit: 'keep', anchor: 'bottom-right', repeat: false },
  'repeated from its middle': { fit: 'keep', anchor: 'centre', repeat: true },
  'repeated from its top left': { fit: 'keep', anchor: 'top-left', repeat: true },
};

for (const [name, seat] of Object.entries(SEATS))
  test(`a circle in pictures of any ratio, ${name}`, async ({ page }) => {
    for (const css of LAYOUTS) {
      const file = openFile(new TextEncoder().encode(await pageWith(css)));
      const operations: Operation[] = [
        { op: 'set', id: 'p1', path: 'shape', value: { name: 'circle', knobs: {} } },
        { op: 'set', id: 'p1', path: 'seat', value: seat },
      ];
      const html = new TextDecoder().decode(file.write(applyAll(file.document, operations).document));
      for (const width of WIDTHS) {
        const { box, dark } = await shown(page, html, width);
        const path = framePath({
          box: { width: box.width, height: box.height },
          shape: { name: 'circle', knobs: {} },
          seat,
        });
        const points: [number, number][] = [];
        for (let y = 3; y < Math.min(box.height, 490) - 3; y += 7)
          for (let x = 3; x < box.width - 3; x += 7) points.push([x, y]);
        const inside = await page.evaluate(
          ([d, all]) => {
            const context = document.createElement('canvas').getContext('2d')!;
            const own = new Path2D(d as string);
            const at = (x: number, y: number): boolean => context.isPointInPath(own, x, y);
            // Null at an edge.
            return (all as [number, number][]).map(([x, y]) => {
              const near = [at(x, y), at(x - 2, y), at(x + 2, y), at(x, y - 2), at(x, y + 2)];
              return near.every((n) => n === near[0]) ? near[0]! : null;
            });
          },
          [toSvgPath(path), points] as const,
        );
        const wrong = points.filter(([x, y], i) => inside[i] !== null && inside[i] !== dark(box.x + x, box.y + y));
        expect(inside.filter((i) => i === true).length).toBeGreaterThan(50);
        // Where two circles touch, a point or two is at an edge of both.
        expect([width, wrong.length > 2, wrong.slice(0, 3)]).toEqual([width, false, expect.anything()]);
      }
    }
  });
