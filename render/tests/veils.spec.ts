/**
 * A veil shows what lies beneath it blurred: where a format cannot say that, as a picture of it in the veil's shape. Held against the
 * Gaussian blur of libvips (`sharp`), the place by correlation, files by `@resvg/resvg-js` and by what ISO/IEC 29500-1 and ODF 1.2
 * say of a shape filled with a picture.
 */
import { applyAll, isAdded, resolveTies, type Document, type FramedItem } from '@gable/core';
import { CAPABILITIES, openFile, type Source } from '@gable/formats';
import { Resvg } from '@resvg/resvg-js';
import { Workbook } from 'exceljs';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { withPiece } from '../../formats/tests/support/pieces';
import { renderPage } from '../src/page';
import type { Original } from '../src/original';
import { saveRasterised } from '../src/rasterise';
import { sceneOf } from '../src/scene';

async function workbook(): Promise<Uint8Array> {
  const book = new Workbook();
  const image = book.addImage({
    buffer: readFileSync('demo/files/pictures/kiln-glow.jpg') as unknown as ArrayBuffer,
    extension: 'jpeg',
  });
  book.addWorksheet('Glazes').addImage(image, { tl: { col: 2, row: 3 }, ext: { width: 480, height: 320 } });
  return new Uint8Array((await book.xlsx.writeBuffer()) as ArrayBuffer);
}
const read = (name: string) => (): Uint8Array => new Uint8Array(readFileSync(name));
const FILES: Record<string, () => Uint8Array | Promise<Uint8Array>> = {
  pptx: read('demo/files/open-day-talk.pptx'),
  docx: read('demo/files/season-handbook.docx'),
  xlsx: workbook,
  odt: read('formats/tests/fixtures/odfpy.odt'),
  odp: read('formats/tests/fixtures/odfpy.odp'),
  ods: read('formats/tests/fixtures/odfpy.ods'),
  svg: read('demo/files/firing-day-board.svg'),
};

const originalIn =
  (file: Source) =>
  ({ n }: { n: number }): Original => ({
    bytes: file.pictureBytes(n),
    size: file.pictures.find((p) => p.n === n)!.size,
  });
const saved = (file: Source, next: Document): Promise<Uint8Array> =>
  saveRasterised(file, next, { original: originalIn(file) });
const blurOf = ({ fill }: FramedItem): number | undefined => (fill?.kind === 'paint' ? fill.blur : undefined);
const veilIn = ({ items }: Document): FramedItem =>
  Object.values(items).find((i): i is FramedItem => i.kind === 'framed' && blurOf(i) !== undefined)!;

/** The pictures that came into a package. */
function cameIn(was: Uint8Array, is: Uint8Array): Uint8Array[] {
  const known = unzipSync(was);
  return Object.entries(unzipSync(is)).flatMap(([name, bytes]) =>
    /\.(jpe?g|png)$/.test(name) && !known[name] ? [bytes] : [],
  );
}
const pixels = async (picture: Uint8Array | Buffer, size: { width: number; height: number }): Promise<Buffer> =>
  sharp(picture)
    .flatten({ background: '#ffffff' })
    .resize(size.width, size.height, { fit: 'fill', kernel: 'cubic' })
    .raw()
    .toBuffer();
const meanOff = (a: Buffer, b: Buffer): number => a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.length;

/** What a page shows without what was added, under a box; two pixels a point. */
async function beneath(file: Source, box: FramedItem['at']['box'], page = 1): Promise<Buffer> {
  const painted = await renderPage(await sceneOf(file, file.document, page), originalIn(file), 2);
  const [left, top, width, height] = [box.x, box.y, box.width, box.height].map((v) => Math.round(v * 2)) as [
    number,
    number,
    number,
    number,
  ];
  return sharp(Buffer.from(painted.data), { raw: { width: painted.width, height: painted.height, channels: 4 } })
    .flatten({ background: '#ffffff' })
    .extract({ left, top, width, height })
    .png()
    .toBuffer();
}

describe.each(Object.keys(FILES))('%s', (format) => {
  test('a figure panel is a shape with a picture of what lies beneath, and a veil again when it is opened', async () => {
    const bytes = await FILES[format]!();
    const file = openFile(bytes);
    expect(CAPABILITIES[file.format].blurs).toBe(false);
    const next = withPiece(file, 1, 'figure-panel');
    const wished = veilIn(next);
    const out = await saved(file, next);
    const again = openFile(out);
    // It is no picture of the author's.
    expect(again.pictures.map((p) => p.frame.alt)).toEqual(file.pictures.map((p) => p.frame.alt));
    if (format !== 'odt' && format !== 'docx') expect(veilIn(again.document).fill).toEqual(wished.fill);
    if (format !== 'svg') expect(cameIn(bytes, out)).toHaveLength(1);
    // Written once more, nothing of it is written anew.
    expect(Buffer.compare(await saved(again, again.document), Buffer.from(out))).toBe(0);
  });
});

/** Slide 1 of the talk, with a panel over its picture. */
async function talk(): Promise<{
  bytes: Uint8Array;
  file: Source;
  next: Document;
  out: Uint8Array;
  picture: Uint8Array;
}> {
  const bytes = await FILES['pptx']!();
  const file = openFile(bytes);
  const next = withPiece(file, 1, 'figure-panel');
  const out = await saved(file, next);
  return { bytes, file, next, out, picture: cameIn(bytes, out)[0]! };
}

test('its picture is what libvips makes of the same pixels: blurred, then darkened by as much as the paint is opaque', async () => {
  const { file, next, picture } = await talk();
  const veil = veilIn(next);
  const { width, height } = await sharp(picture).metadata();
  const under = sharp(await pixels(await beneath(file, veil.at.box), { width, height }), {
    raw: { width, height, channels: 3 },
  });
  // Two pixels a point.
  const blurred = await under
    .clone()
    .blur(2 * blurOf(veil)!)
    .raw()
    .toBuffer();
  const opacity = veil.fill?.kind === 'paint' && veil.fill.paint.kind === 'solid' ? veil.fill.paint.opacity : NaN;
  const expected = Buffer.from(blurred.map((v) => Math.round(v * (1 - opacity))));
  const own = await pixels(picture, { width, height });
  expect(meanOff(own, expected)).toBeLessThan(1);
  // Pixels that are only darkened are farther off.
  const sharpOnes = Buffer.from((await under.clone().raw().toBuffer()).map((v) => Math.round(v * (1 - opacity))));
  expect(meanOff(own, expected)).toBeLessThan(meanOff(own, sharpOnes) / 2);
});

test('it lies where what it shows lies: of all offsets to a quarter of a point, none correlates best', async () => {
  const { file, next, picture } = await talk();
  const { box } = veilIn(next).at;
  // Four pixels a point, in one channel.
  const size = { width: Math.round(box.width * 4), height: Math.round(box.height * 4) };
  const grey = async (p: Uint8Array | Buffer): Promise<Buffer> =>
    sharp(await pixels(p, size), { raw: { ...size, channels: 3 } })
      .greyscale()
      .raw()
      .toBuffer();
  const [veil, under] = [await grey(picture), await grey(await beneath(file, box))];
  const EDGE = 60;
  const correlation = (dx: number, dy: number): number => {
    let [n, a, b, ab, aa, bb] = [0, 0, 0, 0, 0, 0];
    for (let y = EDGE; y < size.height - EDGE; y += 3)
      for (let x = EDGE; x < size.width - EDGE; x += 3) {
        const [u, v] = [veil[y * size.width + x]!, under[(y + dy) * size.width + x + dx]!];
        [n, a, b, ab, aa, bb] = [n + 1, a + u, b + v, ab + u * v, aa + u * u, bb + v * v];
      }
    return (ab - (a * b) / n) / Math.sqrt((aa - (a * a) / n) * (bb - (b * b) / n));
  };
  const all = [-3, -2, -1, 0, 1, 2, 3].flatMap((dx) => [-3, -2, -1, 0, 1, 2, 3].map((dy) => ({ dx, dy })));
  const best = all.toSorted((p, q) => correlation(q.dx, q.dy) - correlation(p.dx, p.dy))[0]!;
  expect(Math.abs(best.dx)).toBeLessThanOrEqual(1);
  expect(Math.abs(best.dy)).toBeLessThanOrEqual(1);
});

test('a drawing with one looks elsewhere as it does here', async () => {
  const file = openFile(await FILES['svg']!());
  const next = withPiece(file, 1, 'figure-panel');
  const { fill, at } = veilIn(next);
  // Letters are set in each one's own fonts: without them.
  const bare: Document = {
    ...next,
    items: Object.fromEntries(
      Object.entries(next.items).map(([id, i]) => [
        id,
        i.kind === 'framed' && isAdded(id) && i.text ? { ...i, text: null } : i,
      ]),
    ),
  };
  const out = strFromU8(await saved(file, bare));
  const { width } = file.sheets[0]!;
  const drawn = new Resvg(out, { fitTo: { mode: 'width', value: Math.round(width * 2) } }).render();
  const ours = await renderPage(await sceneOf(file, bare, 1), originalIn(file), 2);
  const cut = (data: Uint8Array | Uint8ClampedArray, size: { width: number; height: number }): Promise<Buffer> =>
    sharp(Buffer.from(data), { raw: { width: size.width, height: size.height, channels: 4 } })
      .extract({
        ...{ left: Math.round(at.box.x * 2) + 2, top: Math.round(at.box.y * 2) + 2 },
        ...{ width: Math.round(at.box.width * 2) - 4, height: Math.round(at.box.height * 2) - 4 },
      })
      .removeAlpha()
      .raw()
      .toBuffer();
  expect(fill).toMatchObject({ kind: 'paint', blur: expect.any(Number) as number });
  expect(meanOff(await cut(drawn.pixels, drawn), await cut(ours.data, ours))).toBeLessThan(2);
});

test('what lies over a picture of a drawing is seen on its page when it is opened again', async () => {
  const file = openFile(await FILES['svg']!());
  const out = await saved(file, withPiece(file, 1, 'figure-panel'));
  const again = openFile(out);
  const ours = await renderPage(await sceneOf(again, again.document, 1), originalIn(again), 2);
  const drawn = new Resvg(strFromU8(out), { fitTo: { mode: 'width', value: ours.width } }).render();
  const { box } = veilIn(again.document).at;
  // The foot of the panel, below its words.
  const part = {
    ...{ left: Math.round(box.x * 2) + 4, top: Math.round((box.y + box.height) * 2) - 9 },
    ...{ width: Math.round(box.width * 2) - 8, height: 6 },
  };
  const cut = ({ width, height }: { width: number; height: number }, data: Uint8Array): Promise<Buffer> =>
    sharp(Buffer.from(data), { raw: { width, height, channels: 4 } })
      .extract(part)
      .removeAlpha()
      .raw()
      .toBuffer();
  expect(meanOff(await cut(ours, Uint8Array.from(ours.data)), await cut(drawn, drawn.pixels))).toBeLessThan(3);
});

test('in a deck its picture is made anew when what lies beneath is another, and otherwise never', async () => {
  const { out } = await talk();
  const again = openFile(out);
  const set = (id: string, path: string, value: unknown): Promise<Uint8Array> =>
    saved(again, resolveTies(applyAll(again.document, [{ op: 'set', id, path, value }]).document));
  const media = (bytes: Uint8Array): string[] => Object.keys(unzipSync(bytes)).filter((n) => n.includes('media/'));
  // Of another slide, or of nothing that is seen.
  expect(media(await set('p3', 'alt', 'A potter'))).toEqual(media(out));
  const p1 = again.document.items['p1'] as FramedItem;
  const changed = await set('p1', 'fill', {
    ...p1.fill,
    placement: { ...(p1.fill as { placement: object }).placement, mirror: true },
  });
  const news = media(changed).filter((n) => !media(out).includes(n));
  expect(news.length).toBeGreaterThan(0);
  const now = openFile(changed);
  expect(now.pictures).toHaveLength(again.pictures.length);
  expect(veilIn(now.document).fill).toEqual(veilIn(again.document).fill);
  // The new one is a mirror of the old one.
  const [a, b] = [cameIn(await FILES['pptx']!(), out)[0]!, cameIn(out, changed).at(-1)!];
  const size = { width: 120, height: 24 };
  const mirrored = await sharp(a).flop().toBuffer();
  expect(meanOff(await pixels(b, size), await pixels(mirrored, size))).toBeLessThan(
    meanOff(await pixels(b, size), await pixels(a, size)) / 2,
  );
});

test('filled with another picture elsewhere, it is that picture', async () => {
  const { out } = await talk();
  const entries = unzipSync(out);
  const SLIDE = 'ppt/slides/slide1.xml';
  const xml = strFromU8(entries[SLIDE]!).replace(/<a:extLst><a:ext uri="\{8E2B7A54[^]*?<\/a:extLst>/, '');
  expect(xml).not.toBe(strFromU8(entries[SLIDE]!));
  const other = openFile(zipSync({ ...entries, [SLIDE]: strToU8(xml) }));
  expect(other.pictures).toHaveLength(openFile(out).pictures.length + 1);
});
