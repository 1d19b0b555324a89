/** What lies over a picture is seen, on web pages and in texts, before and after its frame has changed. */
import {
  Document,
  HorizontalPositionRelativeFrom as FromX,
  ImageRun,
  Packer,
  Paragraph,
  TextRun,
  TextWrappingType as Wrap,
  VerticalPositionRelativeFrom as FromY,
} from 'docx';
import type { Page } from '@playwright/test';
import { isPictureItem, stackOf } from '@gable/core';
import { openFile } from '@gable/formats';
import { strToU8, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { buildDeck, PLACED, slidePic } from '../../formats/tests/support/deck';
import { expect, laidOut, openOnBench, saved, test } from './steps';

const colours = (width: number, height: number): Promise<Buffer> =>
  sharp({ create: { width, height, channels: 3, background: '#1a4d8f' } })
    .png()
    .toBuffer();

/** Colours that are seen on the page, from a corner on, with how many pixels have each. */
async function seen(
  page: Page,
  at: { x: number; y: number; width: number; height: number },
): Promise<Map<string, number>> {
  const { data, info } = await sharp(await page.screenshot({ clip: at }))
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const out = new Map<string, number>();
  for (let i = 0; i < info.width * info.height; i++) {
    const key = [...data.subarray(3 * i, 3 * i + 3)].join(' ');
    out.set(key, (out.get(key) ?? 0) + 1);
  }
  return out;
}

/** Words of this colour are on the picture in the middle of its frame, and its own colour round them. */
async function expectWordsOn(page: Page, words: string): Promise<void> {
  const box = (await page
    .getByRole('region', { name: /^The pages of/ })
    .locator('[data-n="1"]')
    .boundingBox())!;
  const at = {
    x: box.x + box.width * 0.3,
    y: box.y + box.height * 0.3,
    width: box.width * 0.4,
    height: box.height * 0.4,
  };
  await expect
    .poll(async () => {
      const found = await seen(page, at);
      return [found.get(words) ?? 0, found.get('26 77 143') ?? 0].map((count) => count > 100);
    })
    .toEqual([true, true]);
}

const shape = async (page: Page, name: string): Promise<void> => {
  await page
    .getByRole('option', { name: new RegExp(`^${name}`) })
    .first()
    .click();
  await laidOut(page);
};

test('a heading over a wide picture of a web page', async ({ page }) => {
  const html =
    '<!doctype html><style>body{margin:0}section{position:relative}img{display:block;width:100%;height:480px;object-fit:cover}' +
    'h1{position:absolute;inset:0;margin:0;display:grid;place-items:center;font:900 150px/1 sans-serif;color:#fd0}</style>' +
    '<section><img src="a.png" alt=""><h1>HHHH</h1></section><iframe src="https://example.org/" width="300" height="90"></iframe>';
  const site = zipSync({ 'index.html': strToU8(html), 'a.png': new Uint8Array(await colours(600, 400)) });
  await openOnBench(page, { name: 'hero.zip', mimeType: 'application/zip', buffer: Buffer.from(site) });
  await page.getByRole('radio', { name: 'Page' }).click();
  await laidOut(page);
  await expectWordsOn(page, '255 221 0');
  // As high as it says, and from edge to edge.
  await expect(page.getByRole('region', { name: 'Settings' }).getByRole('textbox', { name: 'Height' })).toHaveValue(
    /^(5 in|12.7 cm|127 mm)/,
  );
  await shape(page, 'Ellipse');
  await expectWordsOn(page, '255 221 0');
  const frame = page.frames().find((f) => f.url().endsWith('/page/index.html'))!;
  await expect(frame.locator('[data-laid]')).toHaveText('Another page');
  const { x, y, width, height } = (await frame.locator('[data-laid]').boundingBox())!;
  const inner = (await frame.locator('iframe').boundingBox())!;
  for (const [a, b] of [
    [x, inner.x],
    [y, inner.y],
    [width, inner.width],
    [height, inner.height],
  ] as const)
    expect(Math.abs(a - b)).toBeLessThan(1);
});

test('slides show all that is on them, on their layouts and on their masters', async ({ page }) => {
  const talk = path.resolve(__dirname, '../../demo/files/open-day-talk.pptx');
  const logo = slidePic(PLACED, '', ' descr="Logo"');
  const block = (x: number): string =>
    `<p:sp><p:nvSpPr><p:cNvPr id="9" name="b"/><p:cNvSpPr/><p:nvPr/></p:nvSpPr><p:spPr><a:xfrm><a:off x="${x}" y="0"/><a:ext cx="1270000" cy="635000"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="B5482A"/></a:solidFill></p:spPr></p:sp>`;
  const deck = await buildDeck([block(0), block(2_540_000) + block(5_080_000)], '', logo);
  for (const [name, bytes] of [
    ['open-day-talk.pptx', readFileSync(talk)],
    ['master.pptx', Buffer.from(deck)],
  ] as const) {
    const { document } = openFile(new Uint8Array(bytes));
    const type = 'application/vnd.openxmlformats-officedocument.presentationml.presentation';
    await openOnBench(page, { name, mimeType: type, buffer: bytes });
    await page.getByRole('radio', { name: 'Slide' }).click();
    const sheet = page.getByRole('region', { name: 'The pages of the file' });
    const slides = page.getByRole('listbox', { name: 'Pages of the work' }).getByRole('option');
    for (const [i, slide] of document.pages.entries()) {
      await slides.nth(i).click();
      const stack = stackOf(document, slide).map(({ item }) => item);
      const drawn = stack.filter((item) =>
        item.kind === 'framed' ? !isPictureItem(item) : item.kind === 'foreign' && item.look,
      );
      await expect(sheet.locator('[data-item]'), `${name}, slide ${i + 1}`).toHaveCount(drawn.length);
      await expect(sheet.locator('[data-n]'), `${name}, slide ${i + 1}`).toHaveCount(
        stack.filter(isPictureItem).length,
      );
    }
  }
});

test('a text over the picture behind it', async ({ page }) => {
  const picture = new ImageRun({
    type: 'png',
    data: await colours(600, 400),
    transformation: { width: 600, height: 400 },
    floating: {
      behindDocument: true,
      horizontalPosition: { relative: FromX.MARGIN, offset: 0 },
      verticalPosition: { relative: FromY.MARGIN, offset: 0 },
      wrap: { type: Wrap.NONE },
    },
  });
  const words = new TextRun({ text: 'HHHHHHHH '.repeat(12), size: 72, bold: true, color: 'FFDD00', font: 'Arial' });
  const file = new Document({ sections: [{ children: [new Paragraph({ children: [picture, words] })] }] });
  await openOnBench(page, {
    name: 'behind.docx',
    mimeType: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
    buffer: await Packer.toBuffer(file),
  });
  await page.getByRole('radio', { name: 'Page' }).click();
  await laidOut(page);
  await expectWordsOn(page, '255 221 0');
  await shape(page, 'Ellipse');
  await expectWordsOn(page, '255 221 0');
});

test('a card of a drawing is recoloured and moved with its group, its words too: the page shows what the file has then', async ({
  page,
}) => {
  const drawing = path.resolve(__dirname, '../../demo/files/firing-day-board.svg');
  const id = await openOnBench(page, drawing);
  await page.getByRole('radio', { name: /^Drawing/ }).click();
  const view = page.getByRole('region', { name: /^The pages of/ });
  const card = view.getByRole('button', { name: 'Block' }).first();
  await expect(card).toBeVisible();
  const box = (await card.boundingBox())!;
  await page.mouse.click(box.x + box.width / 2, box.y + box.height - 5);
  const fill = page.getByRole('textbox', { name: /^Fill/ });
  await fill.fill('#f2d9a0');
  await fill.press('Enter');
  /** Is a colour seen near the foot of the card, as the picture behind the page shows it? */
  const seenBelow = async (by: number): Promise<boolean> => {
    const at = { x: box.x + 8 + by, y: box.y + box.height - 14, width: box.width - 16, height: 8 };
    return [...(await seen(page, at))].some(([colour, count]) => colour === '242 217 160' && count > 200);
  };
  await expect.poll(() => seenBelow(0)).toBe(true);
  await expect.poll(() => view.locator('img').first().getAttribute('src')).toContain('&state=');
  // The words on it can be chosen though the card is: they lie over it.
  const label = (await view.getByRole('button', { name: '“Load”' }).boundingBox())!;
  await page.mouse.click(label.x + label.width / 2, label.y + label.height / 2);
  await expect(
    page.getByRole('heading', { name: '“Load”' }).or(page.getByRole('heading', { name: 'Words' })),
  ).toBeVisible();
  await expect(page.getByRole('textbox', { name: /^Fill/ })).toHaveCount(0);
  const ink = page.getByRole('textbox', { name: /^Colour/ });
  await ink.fill('#b5482a');
  await ink.press('Enter');
  // All of its group goes along.
  await card.focus();
  for (let i = 0; i < 5; i++) await card.press('ArrowDown');
  await expect(page.getByRole('button', { name: 'Undo “group moved”' })).toBeVisible();
  await saved(page);
  const fileNow = async (): Promise<Uint8Array> =>
    new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
  const was = openFile(new Uint8Array(readFileSync(drawing)));
  const downBy = ({ document }: ReturnType<typeof openFile>, name: string): number =>
    document.items[name]!.at.box.y - was.document.items[name]!.at.box.y;
  await expect.poll(async () => downBy(openFile(await fileNow()), 'drawing-4')).toBeGreaterThan(14);
  const bytes = await fileNow();
  expect(new TextDecoder().decode(bytes)).toContain('fill:#b5482a');
  const now = openFile(bytes);
  const group = Object.values(was.document.items).find((i) => i.kind === 'group' && i.children.includes('drawing-4'));
  expect(group?.kind).toBe('group');
  for (const child of group?.kind === 'group' ? group.children : [])
    expect(downBy(now, child)).toBeCloseTo((5 * 72) / 25.4, 1);
});
