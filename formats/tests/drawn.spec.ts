/**
 * Pages that began empty, as files of every kind: places on the page as the standards write them (EMU and `relativeFrom` of
 * ISO/IEC 29500-1 §20.4.2.10 and on, lengths and `style:horizontal-rel` of ODF 1.2 Part 1 §20.294), slides by `pptxtojson`, the
 * web by `parse5`, a drawing's pixels by `@resvg/resvg-js`.
 */
import { applyAll, newPicture, type Box, type Document, type Operation, type PictureItem } from '@gable/core';
import { Resvg } from '@resvg/resvg-js';
import { strFromU8, unzipSync } from 'fflate';
import { parse } from 'pptxtojson';
import { BLANKS, drawnAs, openFile, type Drawn, type Format, type ReplacementImage, type Source } from '../src/index';
import { png } from './support/build';

const size = { width: 60, height: 40 };
const PAGE = { width: 400, height: 300 };
const LOWER: Box = { x: 36, y: 72, width: 180, height: 120 };
const UPPER: Box = { x: 120, y: 90, width: 90, height: 60 };
const ALONE: Box = { x: 200, y: 20, width: 60, height: 40 };
const red = png(60, 40, '#ff0000');
const blue = png(60, 40, '#0000ff');

const picture = (id: string, box: Box, colour: string): PictureItem =>
  newPicture(id, { on: 'page', box }, { sha256: colour.repeat(64), name: '', type: 'png', size, orientation: 1 }, id);

/** Two pictures of which one lies on the other, and one on a page behind that; the upper one is round. */
function pages(count = 2): { file: Source; document: Document } {
  const first = openFile(BLANKS.odg!({ size: PAGE, ground: '#e0e0d8' }));
  const plan = ['itself', 'blank'] as const;
  const file = openFile(first.withPages!(plan.slice(0, count).map((as) => ({ page: 1, as }))).bytes);
  const [one, two] = file.document.pages;
  const round = { ...picture('upper', UPPER, 'b'), shape: { name: 'ellipse', knobs: {} } };
  const add = (item: PictureItem, page: string, index: number): Operation => ({
    op: 'add',
    item,
    slot: { in: { page }, index },
  });
  const operations = [add(picture('lower', LOWER, 'a'), one!.id, 0), add(round, one!.id, 1)];
  if (two) operations.push(add(picture('alone', ALONE, 'a'), two.id, 0));
  return { file, document: applyAll(file.document, operations).document };
}

async function written({ file, document }: Drawn): Promise<Uint8Array> {
  const images = new Map<string, ReplacementImage>();
  for (const id of ['lower', 'upper', 'alone'])
    if (document.items[id]) images.set(id, { bytes: await (id === 'upper' ? blue : red), type: 'png', size });
  return file.write(document, images);
}

async function as(format: Format, only?: number): Promise<Uint8Array> {
  const { document } = pages();
  return written(drawnAs(format, document, only));
}

const part = (bytes: Uint8Array, name: string): string => strFromU8(unzipSync(bytes)[name]!);

test.each(['docx', 'odt', 'pptx', 'odp', 'odg', 'html'] as const)('%s: every picture with its look', async (format) => {
  const file = openFile(await as(format));
  expect(file.pictures.map(({ frame }) => [frame.alt, frame.shape.name, Math.round(frame.box.width)])).toEqual([
    ['lower', 'rectangle', 180],
    ['upper', 'ellipse', 90],
    ['alone', 'rectangle', 60],
  ]);
  expect(file.pictures.map((p) => p.problem)).toEqual([null, null, null]);
  for (const sheet of file.sheets) expect(sheet).toMatchObject({ width: 400, height: 300, background: '#e0e0d8' });
});

test('a document: at its place of the page, each on its page, the upper one in front', async () => {
  const text = part(await as('docx'), 'word/document.xml');
  const anchors = [...text.matchAll(/<wp:anchor[^>]*relativeHeight="(\d+)".*?<\/wp:anchor>/gs)];
  const place = ([markup]: RegExpMatchArray): number[] =>
    ['positionH', 'positionV'].map((axis) => {
      const [, from, offset] = new RegExp(
        `<wp:${axis} relativeFrom="(\\w+)"><wp:posOffset>(-?\\d+)</wp:posOffset>`,
      ).exec(markup)!;
      expect(from).toBe('page');
      return Number(offset) / 12_700;
    });
  expect(anchors.map(place)).toEqual([
    [36, 72],
    [120, 90],
    [200, 20],
  ]);
  expect(Number(anchors[1]![1])).toBeGreaterThan(Number(anchors[0]![1]));
  // The second paragraph begins a page, and the third picture is tied to it.
  const [before, after] = text.split('<w:pageBreakBefore/>');
  expect([before, after].map((t) => t!.split('<wp:anchor').length - 1)).toEqual([2, 1]);
});

// Without numbers of their own, drawings lie in the order of the document (§19.258, draw:z-index).
test('an OpenDocument text: the same', async () => {
  const text = part(await as('odt'), 'content.xml');
  const frames = [...text.matchAll(/<draw:(?:frame|custom-shape)[^>]*>/g)].map(([tag]) => tag);
  const of = (tag: string, name: string): string | undefined => new RegExp(`${name}="([^"]*)"`).exec(tag)?.[1];
  const points = (length: string): number => {
    const [, number, unit] = /^([\d.]+)(\w+)$/.exec(length)!;
    return Math.round((Number(number) * 720) / ({ cm: 25.4, mm: 254, in: 10, pt: 720 } as never)[unit!]) / 1;
  };
  expect(frames.map((f) => ['svg:x', 'svg:y'].map((n) => points(of(f, n)!)))).toEqual(
    [LOWER, UPPER, ALONE].map((b) => [b.x, b.y]),
  );
  const styles = frames.map(
    (f) => new RegExp(`style:name="${of(f, 'draw:style-name')}".*?</style:style>`, 's').exec(text)![0],
  );
  for (const s of styles)
    expect([of(s, 'style:horizontal-rel'), of(s, 'style:vertical-rel')]).toEqual(['page', 'page']);
  expect(text.split('text:style-name="Next"').map((t) => t.split('text:anchor-type="paragraph"').length - 1)).toEqual([
    2, 1,
  ]);
});

test('slides: as pptxtojson has them', async () => {
  const bytes = await as('pptx');
  const { slides, size: page } = await parse(bytes.slice().buffer, {
    imageMode: 'none',
    videoMode: 'none',
    audioMode: 'none',
  } as never);
  expect([page.width, page.height]).toEqual([400, 300]);
  const boxes = slides.map((s) => s.elements.map((e) => [e.left, e.top, e.width, e.height].map(Math.round)));
  const of = ({ x, y, width, height }: Box): number[] => [x, y, width, height];
  expect(boxes).toEqual([[of(LOWER), of(UPPER)], [of(ALONE)]]);
  expect(slides.map((s) => (s.fill as { value: string }).value.toLowerCase())).toEqual(['#e0e0d8', '#e0e0d8']);
});

test('a drawing has one page; its pixels are those of the pictures', async () => {
  const { document } = pages();
  expect(() => drawnAs('svg', document)).toThrow(/More than one page/);
  const svg = await written(drawnAs('svg', document, 1));
  const { pixels, width } = new Resvg(strFromU8(svg), { fitTo: { mode: 'width', value: 400 } }).render();
  const at = (x: number, y: number): number[] => [...pixels.subarray((y * width + x) * 4, (y * width + x) * 4 + 3)];
  expect([at(50, 80), at(165, 120), at(122, 92), at(390, 290)]).toEqual([
    [255, 0, 0],
    [0, 0, 255],
    // Outside the ellipse, on the one beneath.
    [255, 0, 0],
    [0xe0, 0xe0, 0xd8],
  ]);
});

test('a web page: one below another, from the top', async () => {
  const html = strFromU8(await as('html'));
  const alts = [...html.matchAll(/alt="(\w+)"/g)].map(([, alt]) => alt);
  expect(alts).toEqual(['lower', 'upper', 'alone']);
});

test('what a format cannot say is told before it is written', () => {
  const { document } = pages(1);
  const item = document.items['lower'] as PictureItem;
  const blurred = { ...item, fill: { ...item.fill, tone: { softness: { blur: 4 } } } };
  const wished = { ...document, items: { ...document.items, lower: blurred } };
  const lost = (format: Format): unknown => {
    const drawn = drawnAs(format, wished);
    return drawn.file.fidelity(drawn.document).get('lower')?.unsupported;
  };
  expect([lost('svg'), lost('pptx')]).toEqual([[], ['tone']]);
});
