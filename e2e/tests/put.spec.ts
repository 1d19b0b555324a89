/** Pictures put into files that have none: shown where they go, undone, framed, deleted. The files are read by others. */
import { openFile } from '@gable/formats';
import { Document, Header, Packer, Paragraph, Table, TableCell, TableRow, Textbox, WidthType } from 'docx';
import mammoth from 'mammoth';
import type { Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import PptxGenJs from 'pptxgenjs';
import path from 'node:path';
import sharp from 'sharp';
import { expect, painted, saved, test } from './steps';

const demo = (name: string): string => path.resolve(__dirname, '../../demo/files', name);

async function open(page: Page, name: string, buffer: Buffer): Promise<void> {
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Open a file' }).click();
  await (await chooser).setFiles({ name, mimeType: 'application/octet-stream', buffer });
  await page.waitForURL(/\/work\//);
  await expect(page.getByRole('heading', { name: 'Where does the first picture go?' })).toBeVisible();
}

async function fromDisk(page: Page, files: string[]): Promise<void> {
  const file = page.waitForEvent('filechooser');
  await page
    .getByRole('dialog', { name: 'Choose a picture' })
    .getByRole('button', { name: 'From this computer' })
    .click();
  await (await file).setFiles(files.map((f) => demo(`pictures/${f}`)));
}

async function handedOver(page: Page): Promise<Buffer> {
  await page.getByRole('button', { name: 'Hand over' }).click();
  await expect(page.getByRole('dialog', { name: 'Hand over' })).toContainText(/\d pictures? put in\./);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download file' }).click();
  const bytes = await readFile(await (await download).path());
  await page.keyboard.press('Escape');
  return bytes;
}

/** A work from nothing as a file of another kind. */
async function handedAs(page: Page, kind: string): Promise<Buffer> {
  await page.getByRole('button', { name: 'Hand over' }).click();
  const sheet = page.getByRole('dialog', { name: 'Hand over' });
  await sheet.getByRole('radio', { name: `${kind} ${kind.endsWith('png') ? 'Not editable' : 'Editable'}` }).click();
  const download = page.waitForEvent('download');
  await sheet.getByRole('button', { name: 'Download file' }).click();
  expect((await download).suggestedFilename()).toBe(`New graphic${kind.slice(kind.indexOf('.'))}`);
  return readFile(await (await download).path());
}

/** What would be handed over now. */
const fileNow = async (page: Page): Promise<Buffer> =>
  (await page.request.get(`/api/works/${/work\/([\w-]+)/.exec(page.url())![1]}/file`)).body();

const letter = (): Promise<Buffer> => {
  const words = ['Dear Ms Okafor,', 'your bowls are ready.', 'With kind regards'].map(
    (text) => new Paragraph({ text }),
  );
  const header = new Header({ children: [new Paragraph({ text: 'Alder & Moss, 14 Kiln Lane' })] });
  return Packer.toBuffer(new Document({ sections: [{ headers: { default: header }, children: words }] }));
};

/** The words of a text and its pictures, in their order, as `mammoth` reads them. */
async function read(buffer: Buffer): Promise<string> {
  const { value } = await mammoth.convertToHtml({ buffer });
  return value
    .replace(/<img[^>]*>/g, '*')
    .replace(/<[^>]*>/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
}

test('a letter: into its header, round, 32 mm, in eight actions; undone, it is the very same file', async ({
  page,
}) => {
  const before = await letter();
  await open(page, 'letter.docx', before);
  // Actions: open, choose, from disk, header, width, add, shape, hand over.
  await page.getByRole('button', { name: 'Choose a picture' }).click();
  await fromDisk(page, ['portrait-maren.jpg']);
  await page.getByRole('button', { name: 'In the header or footer' }).click();
  const sheet = page.getByRole('dialog', { name: 'Picture in the header or footer' });
  await sheet.getByRole('textbox', { name: 'Width' }).fill('48mm');
  await sheet.getByRole('textbox', { name: 'Width' }).press('Tab');
  await sheet.getByRole('button', { name: 'Add picture' }).click();
  await expect(page.getByRole('group', { name: 'This picture' })).toContainText('In the page header');
  await page.locator('#try-circle').click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  const after = await handedOver(page);
  const [picture, ...more] = openFile(after).pictures;
  expect(more).toEqual([]);
  expect(picture!.where.place).toBe('header');
  expect(picture!.frame.shape.name).toBe('circle');
  // 3:2 and 48 mm wide: the circle is as wide as the picture is high.
  expect(picture!.frame.box.width).toBeCloseTo((32 / 25.4) * 72, 0);
  expect(await read(after)).toBe('Dear Ms Okafor, your bowls are ready. With kind regards');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: 'Undo “picture put in”' }).click();
  await expect(page.getByRole('heading', { name: 'Where does the first picture go?' })).toBeVisible();
  expect((await fileNow(page)).equals(before)).toBe(true);
});

test('between paragraphs by keyboard, several at once, where the mark says; one is deleted and comes back', async ({
  page,
}) => {
  await open(page, 'letter.docx', await letter());
  await page.getByRole('button', { name: 'Add a picture' }).click();
  await fromDisk(page, ['portrait-maren.jpg', 'logo.png']);
  await expect(page.getByText('Click where the 2 pictures go')).toBeVisible();
  const aimer = page.getByRole('application', { name: /Dear Ms Okafor/ });
  await aimer.press('ArrowDown');
  await expect(page.locator('[data-mark]')).toHaveText('Below “Dear Ms Okafor,”');
  await page.locator('[aria-roledescription="place for a picture"]').press('Enter');
  await expect(page.getByRole('button', { name: 'Undo “2 pictures put in”' })).toBeVisible();
  expect(await read(await fileNow(page))).toBe('Dear Ms Okafor, * * your bowls are ready. With kind regards');
  await page.locator('gable-page-view [data-n="2"]').click();
  await page.keyboard.press('Delete');
  await expect(page.getByText('Picture 2 deleted. Undo brings it back.')).toBeVisible();
  expect(openFile(await fileNow(page)).pictures.map((p) => p.media!.type)).toEqual(['jpeg']);
  await page.getByRole('button', { name: 'Undo “picture deleted”' }).click();
  await expect(page.locator('gable-page-view [data-n="2"]')).toBeVisible();
  expect(openFile(await fileNow(page)).pictures.map((p) => p.media!.type)).toEqual(['jpeg', 'png']);
});

test('dropped on a blank slide at the pointer, made a pentagon, moved within: five actions', async ({ page }) => {
  const deck = new PptxGenJs();
  deck.addSlide();
  await open(page, 'blank.pptx', (await deck.write({ outputType: 'nodebuffer' })) as Buffer);
  const slide = (await page
    .locator('gable-page-view .bg-white, gable-page-view [aria-hidden=true]')
    .first()
    .boundingBox())!;
  const [x, y] = [slide.x + slide.width * 0.4, slide.y + slide.height * 0.5];
  const bytes = [...(await readFile(demo('pictures/portrait-maren.jpg')))];
  const data = await page.evaluateHandle((all) => {
    const files = new DataTransfer();
    files.items.add(new File([new Uint8Array(all)], 'maren.jpg', { type: 'image/jpeg' }));
    return files;
  }, bytes);
  const at = page.locator('gable-page-view').locator('div').first();
  const drag = (type: string): Promise<void> => at.dispatchEvent(type, { dataTransfer: data, clientX: x, clientY: y });
  // A browser says it again and again.
  for (let i = 0; i < 2; i++) {
    await drag('dragover');
    await painted(page);
  }
  await expect(page.locator('[data-mark]')).toContainText('from the left');
  await drag('drop');
  const frame = page.locator('gable-page-view [data-n="1"]');
  await expect(frame).toBeVisible();
  await page.locator('#try-pentagon').click();
  await page.getByRole('tab', { name: 'Position' }).click();
  await page.getByRole('textbox', { name: 'Zoom' }).fill('1.4');
  await page.getByRole('textbox', { name: 'Zoom' }).press('Enter');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  const file = openFile(await fileNow(page));
  const [picture] = file.pictures;
  expect(picture!.frame.shape.name).toBe('pentagon');
  expect(picture!.frame.placement.zoom).toBeCloseTo(1.4, 3);
  const { width, height } = file.sheets[0]!;
  const { box } = picture!.frame;
  expect((box.x + box.width / 2) / width).toBeCloseTo(0.4, 2);
  expect((box.y + box.height / 2) / height).toBeCloseTo(0.5, 2);
});

test('from nothing: a graphic, a picture in its middle, a circle, a copy of it; looked at alone; as slides and as pixels', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New', exact: true }).click();
  const sheet = page.getByRole('dialog', { name: 'New' });
  await sheet.getByRole('radio', { name: 'Graphic' }).click();
  await sheet.getByRole('radio', { name: 'Own size' }).click();
  await sheet.getByRole('textbox', { name: 'Width × height' }).fill('large');
  await expect(sheet.getByRole('button', { name: 'Create' })).toBeDisabled();
  await sheet.getByRole('textbox', { name: 'Width × height' }).fill('1200x800px');
  await sheet.getByRole('button', { name: 'Create' }).click();
  await expect(page.getByRole('heading', { name: 'Where does the first picture go?' })).toBeVisible();
  await page.getByRole('button', { name: 'Choose a picture' }).click();
  await fromDisk(page, ['portrait-maren.jpg']);
  await page.locator('[aria-roledescription="place for a picture"]').press('Enter');
  await page.locator('#try-circle').click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.locator('gable-page-view [data-n="1"]').focus();
  await page.keyboard.press('Control+d');
  await expect(page.locator('gable-page-view [data-n="2"]')).toBeVisible();
  const file = openFile(await fileNow(page));
  // 96 px to the inch (CSS Values 4 §6.2).
  expect(file.sheets.map((s) => [s.width, s.height])).toEqual([[900, 600]]);
  expect(file.pictures.map((p) => p.frame.shape.name)).toEqual(['circle', 'circle']);
  const [one, two] = file.pictures.map((p) => p.frame.box);
  expect(one!.x + one!.width / 2).toBeCloseTo(450, 0);
  expect([two!.x - one!.x, two!.y - one!.y, two!.width - one!.width].map(Math.round)).toEqual([14, 14, 0]);
  await page.getByRole('button', { name: 'Full screen' }).click();
  await expect.poll(() => page.evaluate(() => document.fullscreenElement?.localName)).toBe('gable-page-view');
  await expect(page.locator('[data-handle]')).toHaveCount(0);
  await page.evaluate(() => document.exitFullscreen());
  await expect(page.locator('[data-handle]').first()).toBeVisible();
  const slides = openFile(await handedAs(page, 'Slides .pptx'));
  expect(slides.sheets.map((s) => [s.width, s.height])).toEqual([[900, 600]]);
  expect(slides.pictures.map((p) => p.frame.shape.name)).toEqual(['circle', 'circle']);
  expect(await sharp(await handedAs(page, 'Picture .png')).metadata()).toMatchObject({ width: 1200, height: 800 });
});

test('in a cell of a table, and between the words of a line', async ({ page }) => {
  const cell = (text: string): TableCell => new TableCell({ children: [new Paragraph({ text })] });
  const table = new Table({
    width: { size: 100, type: WidthType.PERCENTAGE },
    rows: [new TableRow({ children: [cell('Maren'), cell('')] })],
  });
  const children = [new Paragraph({ text: 'your bowls are ready' }), table, new Paragraph({ text: 'Regards' })];
  await open(page, 'letter.docx', await Packer.toBuffer(new Document({ sections: [{ children }] })));
  // A work without pictures has the key for its first.
  await page.keyboard.press('a');
  await fromDisk(page, ['portrait-maren.jpg']);
  const mark = page.locator('[data-mark]');
  const aimer = page.locator('[aria-roledescription="place for a picture"]');
  /** Goes on until the mark says what is wished; the page answers each step. */
  const go = async (key: string, wished: RegExp): Promise<void> => {
    for (let i = 0; i < 30 && !wished.test((await mark.textContent()) ?? ''); i++) {
      const was = await mark.getAttribute('style');
      await aimer.press(key);
      await expect.poll(() => mark.getAttribute('style')).not.toBe(was);
    }
    await expect(mark).toHaveText(wished);
  };
  await expect(mark).toHaveText('Above “your bowls are ready”');
  await go('ArrowDown', /“Maren”/);
  await go('ArrowRight', /^Into this cell$/);
  await aimer.press('Enter');
  await expect(page.getByRole('group', { name: 'This picture' })).toContainText('in a table');
  await page.getByRole('button', { name: 'Add a picture' }).click();
  await fromDisk(page, ['logo.png']);
  await page.getByRole('radio', { name: 'In a line' }).click();
  // It begins where the chosen picture is: in its cell.
  await expect(mark).toHaveText(/^(Behind “Maren”|Into the empty line)$/);
  await go('ArrowUp', /bowls/);
  await go('ArrowLeft', /^Before “your bowls are”$/);
  await go('ArrowRight', /^Between “your bowls” and “are ready”$/);
  await aimer.press('Enter');
  await expect(page.getByRole('button', { name: 'Undo “picture put in”' })).toBeVisible();
  await expect(page.locator('gable-page-view [data-n]')).toHaveCount(2);
  expect(openFile(await fileNow(page)).pictures).toHaveLength(2);
  expect(await read(await fileNow(page))).toBe('your bowls *are ready Maren * Regards');
});

test('among the letters of an item of a list, and into a text box', async ({ page }) => {
  const numbering = {
    config: [{ reference: 'steps', levels: [{ level: 0, format: 'decimal', text: '%1.', alignment: 'left' }] }],
  } as const;
  const item = (text: string): Paragraph => new Paragraph({ text, numbering: { reference: 'steps', level: 0 } });
  const box = new Textbox({ children: [new Paragraph('In the box')], style: { width: '200pt', height: '90pt' } });
  const children = [item('Bring clay'), item('Let it dry'), box as unknown as Paragraph, new Paragraph('End')];
  await open(page, 'steps.docx', await Packer.toBuffer(new Document({ numbering, sections: [{ children }] })));
  const mark = page.locator('[data-mark]');
  const click = async (text: string, wished: RegExp): Promise<void> => {
    const frame = page.locator('iframe');
    const outer = (await frame.boundingBox())!;
    const scale = outer.width / (await frame.evaluate((e) => (e as HTMLElement).offsetWidth));
    const at = await page.frames()[1]!.evaluate((said) => {
      const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
      let node = walker.nextNode();
      while (node && node.nodeValue !== said) node = walker.nextNode();
      const range = document.createRange();
      range.selectNodeContents(node!);
      const { left, top, height } = range.getBoundingClientRect();
      return { x: left + 1, y: top + height / 2 };
    }, text);
    const [x, y] = [outer.x + at.x * scale, outer.y + at.y * scale];
    // The first place comes by itself, and may come behind the pointer.
    await expect
      .poll(async () => {
        await page.mouse.move(x + 1, y);
        await page.mouse.move(x, y);
        return mark.textContent();
      })
      .toMatch(wished);
    await page.mouse.click(x, y);
  };
  await page.keyboard.press('a');
  await fromDisk(page, ['logo.png']);
  await page.getByRole('radio', { name: 'In a line' }).click();
  await click('Let it dry', /^Before “Let it dry”$/);
  await expect(page.locator('gable-page-view [data-n]')).toHaveCount(1);
  await page.getByRole('button', { name: 'Add a picture' }).click();
  await fromDisk(page, ['portrait-maren.jpg']);
  await click('In the box', /^Before “In the box”$/);
  await expect(page.locator('gable-page-view [data-n]')).toHaveCount(2);
  const bytes = await fileNow(page);
  expect(await read(bytes)).toBe('Bring clay *Let it dry *In the box End');
  expect(openFile(bytes).pictures.map((p) => p.where.textBox)).toEqual([false, true]);
});

test('into a shape of a slide: its form, line and words stay, and the subject is in the middle', async ({ page }) => {
  const deck = new PptxGenJs();
  deck.addSlide().addText('Maren', {
    ...{ shape: 'ellipse', x: 1, y: 1, w: 2, h: 3, fill: { color: '2B6A73' } },
    ...{ line: { color: 'B5482A', width: 3 }, valign: 'bottom', align: 'center' },
  });
  await open(page, 'team.pptx', (await deck.write({ outputType: 'nodebuffer' })) as Buffer);
  await page.getByRole('button', { name: 'Choose a picture' }).click();
  await fromDisk(page, ['portrait-maren.jpg']);
  await expect(page.getByText('Click where the picture goes')).toBeVisible();
  const slide = (await page.locator('gable-page-view [data-item]').first().boundingBox())!;
  await page.mouse.move(slide.x + slide.width / 2, slide.y + slide.height / 2);
  await expect(page.locator('[data-mark]')).toHaveText('Into “Maren”');
  await page.mouse.down();
  await page.mouse.up();
  await expect(page.locator('gable-page-view [data-n="1"]')).toBeVisible();
  const [picture] = openFile(await fileNow(page)).pictures;
  expect(picture!.frame).toMatchObject({ shape: { name: 'ellipse' }, outline: { weight: 3 } });
  expect(picture!.words!.paragraphs[0]!.runs[0]!.text).toBe('Maren');
  // Her face is left of the middle of the photograph (demo/src/pictures: a third across).
  expect(picture!.frame.placement.aim.u).toBeLessThan(0.45);
  await expect(page.locator('gable-page-view [data-item="words"]')).toHaveText('Maren');
  await page.getByRole('button', { name: 'Undo “picture put in”' }).click();
  await expect(page.getByRole('heading', { name: 'Where does the first picture go?' })).toBeVisible();
});

test('a framed picture is copied from a letter onto a slide, and cut from one slide to another', async ({ page }) => {
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await open(page, 'letter.docx', await letter());
  await page.getByRole('button', { name: 'Choose a picture' }).click();
  await fromDisk(page, ['portrait-maren.jpg']);
  await expect(page.locator('[data-mark]')).toBeVisible();
  await page.locator('[aria-roledescription="place for a picture"]').press('Enter');
  await page.locator('#try-hexagon').click();
  await saved(page);
  const [there] = openFile(await fileNow(page)).pictures;
  expect(there!.frame.shape.name).toBe('hexagon');
  await page.locator('gable-page-view [data-n="1"]').focus();
  await page.keyboard.press('Control+c');
  await expect(page.getByText('Copied. Paste it where you need it.').first()).toBeVisible();

  const deck = new PptxGenJs();
  deck.addSlide();
  deck.addSlide();
  await open(page, 'two.pptx', (await deck.write({ outputType: 'nodebuffer' })) as Buffer);
  await page.keyboard.press('Control+v');
  await expect(page.locator('gable-page-view [data-n="1"]')).toBeVisible();
  const pasted = openFile(await fileNow(page)).pictures;
  expect(pasted.map((p) => [p.where.page, p.frame.shape.name])).toEqual([[1, 'hexagon']]);
  expect(pasted[0]!.frame.placement).toMatchObject({ fit: 'cover', zoom: 1 });
  expect(pasted[0]!.frame.box.width).toBeCloseTo(there!.frame.box.width, 2);
  // The picture itself came, not what is seen of it.
  expect(pasted[0]!.media!.pixels).toEqual(there!.media!.pixels);

  // What stands around it comes along.
  await page.getByRole('tab', { name: 'Around' }).click();
  await page.getByRole('listbox', { name: 'Tries' }).getByRole('option', { name: 'Ring' }).click();
  await page.getByRole('button', { name: 'Back to the picture' }).click();
  await saved(page);
  await page.locator('gable-page-view [data-n="1"]').focus();
  await page.keyboard.press('Control+x');
  await expect(page.getByRole('heading', { name: 'Where does the first picture go?' })).toBeVisible();
  await page.getByRole('option', { name: /2/ }).click();
  await page.keyboard.press('Control+v');
  await expect(page.locator('gable-page-view [data-n]')).toBeVisible();
  expect(openFile(await fileNow(page)).pictures.map((p) => [p.where.page, p.frame.shape.name])).toEqual([
    [2, 'hexagon'],
  ]);
  const { document, pictures } = openFile(await fileNow(page));
  const ring = Object.values(document.items).find((i) => i.kind === 'framed' && i.outline && i.fill === null)!;
  expect(document.pages[1]!.items).toContain(ring.id);
  const middle = ({ x, y, width, height }: typeof ring.at.box): number[] => [x + width / 2, y + height / 2];
  for (const [i, v] of middle(ring.at.box).entries()) expect(v).toBeCloseTo(middle(pictures[0]!.frame.box)[i]!, 1);
  await page.getByRole('button', { name: 'Undo “picture put in”' }).click();
  await page.getByRole('button', { name: 'Undo “picture deleted”' }).click();
  await expect(page.locator('gable-page-view [data-n="1"]')).toBeVisible();
  expect(openFile(await fileNow(page)).pictures.map((p) => p.where.page)).toEqual([1]);
});

test('slides are duplicated, moved and deleted; the file has them so, and undone they are as they were', async ({
  page,
}) => {
  const deck = new PptxGenJs();
  for (const [words, x] of [
    ['One', 1],
    ['Two', 2],
  ] as const)
    deck.addSlide().addText(words, { shape: 'rect', x, y: 1, w: 2, h: 1, fill: { color: '2B6A73' } });
  const before = (await deck.write({ outputType: 'nodebuffer' })) as Buffer;
  await open(page, 'two.pptx', before);
  const slides = async (): Promise<string[]> => {
    const { document } = openFile(await fileNow(page));
    return document.pages.map((p) => p.items.map((id) => document.items[id]!.at.box.x / 72).join());
  };
  const edit = page.getByRole('button', { name: 'Edit slides' });
  await edit.click();
  await page.getByRole('menuitem', { name: 'Duplicate this slide' }).click();
  await expect(page.getByRole('option', { name: 'Slide 3', exact: true })).toBeVisible();
  await expect(page.getByRole('option', { name: 'Slide 2', exact: true })).toHaveAttribute('aria-selected', 'true');
  expect(await slides()).toEqual(['1', '1', '2']);
  // By keyboard: the copy goes behind all others, and the second one goes.
  await expect(page.getByRole('option', { name: 'Slide 2', exact: true })).toBeFocused();
  await page.keyboard.press('Alt+ArrowRight');
  await expect(page.getByRole('option', { name: 'Slide 3', exact: true })).toHaveAttribute('aria-selected', 'true');
  expect(await slides()).toEqual(['1', '2', '1']);
  await page.getByRole('option', { name: 'Slide 2', exact: true }).click();
  await page.getByRole('option', { name: 'Slide 2', exact: true }).press('Delete');
  await expect(page.getByRole('option', { name: 'Slide 3', exact: true })).toHaveCount(0);
  expect(await slides()).toEqual(['1', '1']);
  for (const name of ['slide deleted', 'slide moved', 'slide duplicated'])
    await page.getByRole('button', { name: `Undo “${name}”` }).click();
  await expect(page.getByRole('button', { name: /^Undo/ })).toBeDisabled();
  expect((await fileNow(page)).equals(before)).toBe(true);
});

test('beside the text: wrapped, aligned, placed from the page, copied, and shown on every page', async ({ page }) => {
  const before = await letter();
  await open(page, 'letter.docx', before);
  await page.getByRole('button', { name: 'Choose a picture' }).click();
  await fromDisk(page, ['portrait-maren.jpg']);
  await expect(page.locator('[data-mark]')).toBeVisible();
  await page.locator('[aria-roledescription="place for a picture"]').press('Enter');
  await page.getByRole('tab', { name: 'Place', exact: true }).click();
  await page.getByRole('combobox', { name: 'Text wrap' }).selectOption('Tight');
  await page.getByRole('combobox', { name: 'Left from' }).selectOption('Margin');
  await page.getByRole('combobox', { name: 'Top from' }).selectOption('Page');
  await page.getByRole('radiogroup', { name: 'Align' }).getByRole('radio', { name: 'top right' }).click();
  const top = page.getByRole('textbox', { name: 'Top', exact: true });
  await page.getByRole('button', { name: 'aligned: top' }).click();
  await top.fill('40mm');
  await top.press('Tab');
  const gap = page.getByRole('textbox', { name: 'Text gap left' });
  await gap.fill('4mm');
  await gap.press('Tab');
  await saved(page);
  const [placed] = openFile(await fileNow(page)).pictures;
  expect(placed!.frame.anchor).toMatchObject({
    from: { x: 'margin', y: 'page' },
    align: { x: 'right' },
    wrap: 'tight',
    behind: false,
  });
  expect(placed!.frame.anchor!.align).not.toHaveProperty('y');
  expect(placed!.frame.box.y).toBeCloseTo((40 / 25.4) * 72, 1);
  expect(placed!.frame.anchor!.distances.left).toBeCloseTo((4 / 25.4) * 72, 1);

  await page.locator('gable-page-view [data-n="1"]').focus();
  await page.keyboard.press('Control+d');
  await expect(page.getByRole('button', { name: 'Undo “picture duplicated”' })).toBeVisible();
  const two = openFile(await fileNow(page)).pictures;
  expect(two).toHaveLength(2);
  expect(two[1]!.frame.box.y - two[0]!.frame.box.y).toBeCloseTo(14, 1);
  await page.getByRole('button', { name: 'Undo “picture duplicated”' }).click();
  await expect(page.getByRole('button', { name: 'Undo “picture duplicated”' })).toBeHidden();
  await expect(page.locator('gable-page-view [data-n]')).toHaveCount(1);

  await page.locator('gable-page-view [data-n="1"]').click();
  await page.getByRole('button', { name: 'More …' }).click();
  await page.getByRole('button', { name: 'Same place on every page' }).click();
  await expect(page.getByRole('group', { name: 'This picture' })).toContainText('In the page header');
  const [every, ...more] = openFile(await fileNow(page)).pictures;
  expect(more).toEqual([]);
  expect([every!.where.place, every!.frame.anchor]).toEqual(['header', placed!.frame.anchor]);
  expect(await read(await fileNow(page))).toBe('Dear Ms Okafor, your bowls are ready. With kind regards');
  const undo = page.getByRole('button', { name: /^Undo/ });
  await expect(async () => {
    await saved(page);
    if (await undo.isEnabled()) await undo.click();
    await expect(undo).toBeDisabled({ timeout: 300 });
  }).toPass();
  await saved(page);
  expect((await fileNow(page)).equals(before)).toBe(true);
});

test('into an element of a web page, behind what is in it', async ({ page }) => {
  const html =
    '<!doctype html><title>Visit</title><h1>Visit us</h1><div class="card">Open daily</div><ul><li>Bus 4</li></ul>';
  await open(page, 'visit.html', Buffer.from(html));
  await page.getByRole('button', { name: 'Choose a picture' }).click();
  await fromDisk(page, ['logo.png']);
  await page.getByRole('radio', { name: 'Inside' }).click();
  const mark = page.locator('[data-mark]');
  const aimer = page.locator('[aria-roledescription="place for a picture"]');
  await expect(mark).toHaveText('Into “Visit us”');
  await aimer.press('ArrowDown');
  await expect(mark).toHaveText('Into “Open daily”');
  // A list holds its items and nothing else.
  await aimer.press('ArrowDown');
  await expect(mark).toHaveText('Into “Open daily”');
  await aimer.press('Enter');
  await expect(page.getByRole('button', { name: 'Undo “picture put in”' })).toBeVisible();
  const after = (await fileNow(page)).toString();
  expect(after.replace(/<img [^>]*>/, '*')).toBe(html.replace('daily</div>', 'daily*</div>'));
});
