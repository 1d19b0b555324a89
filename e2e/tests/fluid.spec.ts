/**
 * An image that is framed keeps the box that its page gives it, in every window: as Chromium lays both pages out, each side within half
 * a pixel, and what follows stands where it stood. What is stretched in a narrow window is no such page: that is mended.
 */
import { applyAll, type Operation, type PictureItem } from '@gable/core';
import { openFile } from '@gable/formats';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { FLUID_LAYOUTS, type FluidLayout } from './fluid-layouts';
import { expect, test } from './steps';

const WIDTHS = [320, 390, 768, 1280, 1920, 2560];
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const text = (file: Uint8Array): string => new TextDecoder().decode(file);

async function pageWith({ css, body }: FluidLayout): Promise<string> {
  const grey = { width: 1200, height: 800, channels: 3, background: '#888888' } as const;
  const data = (await sharp({ create: grey }).png().toBuffer()).toString('base64');
  const image = `<img id="picture" class="i" src="data:image/png;base64,${data}" alt="">`;
  const head = `<meta name="viewport" content="width=device-width"><title>Page</title><style>body{margin:16px;font:16px sans-serif}${css}</style>`;
  return `<!DOCTYPE html><html lang="en"><head>${head}</head><body>${body.replace('{img}', image)}<p id="next">next</p></body></html>`;
}

/** What the picture fills, where what follows begins, and how wide the page is. */
async function laid(page: Page, html: string): Promise<number[]> {
  await page.setContent(html);
  return page.evaluate(() => {
    const image = document.querySelector('#picture')!;
    const own = image.closest('[data-gable]') ?? image;
    const { left, top, width, height } = own.getBoundingClientRect();
    const style = getComputedStyle(own);
    const round = (side: string): number =>
      parseFloat(style.getPropertyValue(`padding-${side}`)) +
      parseFloat(style.getPropertyValue(`border-${side}-width`));
    const next = document.querySelector('#next')!.getBoundingClientRect();
    return [
      left + round('left'),
      top + round('top'),
      width - round('left') - round('right'),
      height - round('top') - round('bottom'),
      next.top,
      document.documentElement.scrollWidth,
    ];
  });
}

const framings: Record<string, (item: PictureItem) => Operation[]> = {
  'a heart': () => [{ op: 'set', id: 'p1', path: 'shape', value: { name: 'heart', knobs: {} } }],
  'nearer, and aimed at its left': ({ fill }) => [
    {
      ...{ op: 'set', id: 'p1', path: 'fill.placement' },
      value: { ...fill.placement, fit: 'cover', aim: { u: 0.3, v: 0.4 }, zoom: 1.2 },
    },
  ],
};
const OUTLINE = {
  ...{ paint: { kind: 'solid', colour: '#b5482a', opacity: 1 }, weight: 3, side: 'on' },
  ...{ dash: 'solid', join: 'mitre', cap: 'butt' },
};

const framedAs = (html: string, operations: (item: PictureItem) => Operation[]): string => {
  const file = openFile(bytes(html));
  const item = file.document.items['p1'] as PictureItem;
  return text(file.write(applyAll(file.document, operations(item)).document));
};

const SIX = Math.ceil(FLUID_LAYOUTS.length / 6);
for (let i = 0; i < 6; i++)
  test(`boxes of images stay what they are, whatever their shape: ${FLUID_LAYOUTS[i * SIX]!.name} and so on`, async ({
    page,
  }) => {
    test.setTimeout(120_000);
    for (const layout of FLUID_LAYOUTS.slice(i * SIX, (i + 1) * SIX)) {
      const plain = await pageWith(layout);
      const once = Object.entries(framings).map(([how, framing]) => [how, framedAs(plain, framing)] as const);
      // Opened again and framed again, too.
      const again = framedAs(once[0]![1], () => [{ op: 'set', id: 'p1', path: 'outline', value: OUTLINE }]);
      for (const width of WIDTHS) {
        await page.setViewportSize({ width, height: 800 });
        const before = await laid(page, plain);
        for (const [how, html] of [once[1]!, ['a heart, with an outline later', again] as const]) {
          const after = await laid(page, html);
          const off = Math.max(...after.map((v, k) => Math.abs(v - before[k]!)));
          expect(off, `${layout.name}, ${how}, at ${width}: ${before.join(' ')} and ${after.join(' ')}`).toBeLessThan(
            0.5,
          );
        }
      }
    }
  });
