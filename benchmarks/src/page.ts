/**
 * How a page feels with 200 items on it, most of which follow others, against a yardstick page that moves a plain image, in the same
 * browser and the same run: `npm start`, then `npm run page -w @gable/benchmarks -- --url http://127.0.0.1:4200`.
 * A picture is dragged with what stands around it, and then many items at once.
 */
import {
  addedId,
  applyAll,
  newPicture,
  pieceContext,
  PIECES,
  puttingPiece,
  resolveTies,
  WAITING,
  type Document,
} from '@gable/core';
import { BLANKS, openFile } from '@gable/formats';
import { createHash } from 'node:crypto';
import { parseArgs } from 'node:util';
import sharp from 'sharp';
import { drag, feel, line, measured, openYardstick, pause, picture } from './browser';

const { values } = parseArgs({ options: { url: { type: 'string', default: 'http://127.0.0.1:4200' } } });
const SLIDE = { width: 960, height: 540 };
const [ACROSS, DOWN] = [8, 5];
/** With its picture five items each: 200 on the slide. */
const AROUND = ['ring', 'name-below', 'block-behind', 'ring'];

/** A slide with forty pictures, each with four items that follow it. */
async function deck(bytes: Buffer): Promise<Uint8Array> {
  const small = await sharp(bytes).resize(600, 400).jpeg().toBuffer();
  const size = { width: 600, height: 400 };
  const sha256 = createHash('sha256').update(small).digest('hex');
  const source = { sha256, name: 'noise.jpg', type: 'jpeg' as const, size, orientation: 1 };
  const file = openFile(BLANKS.pptx!({ size: SLIDE, ground: null }));
  const page = file.document.pages[0]!.id;
  let document: Document = file.document;
  let made = 0;
  const images = new Map<string, { bytes: Uint8Array; type: 'jpeg'; size: typeof size }>();
  for (let i = 0; i < ACROSS * DOWN; i++) {
    const id = `p${i + 1}`;
    const [column, row] = [i % ACROSS, Math.floor(i / ACROSS)];
    const box = { x: 30 + column * 115, y: 20 + row * 102, width: 72, height: 48 };
    const item = newPicture(id, { on: 'page', box }, source, `Pot ${i + 1}`);
    document = applyAll(document, [
      { op: 'add', item, slot: { in: { page }, index: document.pages[0]!.items.length } },
    ]).document;
    images.set(id, { bytes: small, type: 'jpeg', size });
    for (const name of AROUND) {
      const newId = (): string => addedId(String(made++));
      const context = pieceContext(document, id, { words: { ...WAITING, name: `Pot ${i}` }, letters: null, newId })!;
      const piece = PIECES.find((p) => p.name === name)!.items(context);
      document = resolveTies(applyAll(document, puttingPiece(document, context, piece)).document);
    }
  }
  return file.write(document, images);
}

async function main(): Promise<void> {
  const bytes = await picture();
  const body = Uint8Array.from(await deck(bytes));
  const made = await fetch(`${values.url}/api/works?name=Benchmark.pptx`, { method: 'POST', body });
  const { id } = (await made.json()) as { id: string };
  const { browser, page, client } = await measured();
  try {
    await openYardstick(page, bytes);
    const plain = await feel(page, client, drag);
    await page.goto(`${values.url}/work/${id}`);
    const first = page.locator('gable-page-view [data-n="20"]');
    await first.waitFor();
    await page.waitForLoadState('networkidle');
    await pause(2000);
    const spot = async (what = first): Promise<{ x: number; y: number }> => {
      const { x, y, width, height } = (await what.boundingBox())!;
      return { x: x + width / 2, y: y + height / 2 };
    };
    const at = await spot();
    const one = await feel(page, client, (c) => drag(c, at));
    await page.keyboard.press('Control+a');
    const chosen = page.locator('gable-page-view [data-chosen]');
    await chosen.first().waitFor();
    const count = await chosen.count();
    await pause(1500);
    const from = await spot(chosen.first());
    const all = await feel(page, client, (c) => drag(c, from));
    line('yardstick: a plain image dragged', plain);
    line('Gable: a picture with four that follow it', one);
    line(`Gable: ${count} items at once`, all);
  } finally {
    await browser.close();
    await fetch(`${values.url}/api/works/${id}`, { method: 'DELETE' });
  }
}

await main();
