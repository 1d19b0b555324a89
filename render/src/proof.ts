import { framePath, paintedBounds, toSvgPath, type Frame, type Item, type Mark, type Paint } from '@gable/core';
import type { Sheet } from '@gable/formats';
import { createRequire } from 'node:module';
import type { Original } from './rasterise';
import { newPdf } from './pdf';
import { PNG, sharpOf } from './canvas';
import { renderFrame } from './frame';

/** One frame before and after, and where it stands. */
export interface ProofPair {
  before: Frame;
  after: Frame;
  caption: string;
}

/** A frame on a page, in points from its corner, `k` times as large as it is. */
export interface OnPage {
  frame: Frame;
  x: number;
  y: number;
  k: number;
}

/** A page with all its frames. */
export interface ProofSide {
  sheet: Sheet;
  /** What is drawn on it, as a PNG or JPEG; null where its texts and boxes are told in the sheet. */
  ground: Uint8Array | null;
  frames: readonly OnPage[];
}

/** A page before and after. */
export interface ProofPage {
  caption: string;
  before: ProofSide;
  after: ProofSide;
}

/** ISO 216 A4 in points, its margin, and the room of a picture. */
const PAGE = { width: 595.28, height: 841.89, margin: 48 };
const PICTURE = { width: 236, height: 130 };
const ROW = 168;
const HEAD = 62;
/** Pixels to a point: 200 to the inch, for looking at and for printing on an office printer. */
const SHARPNESS = 200 / 72;

const font = (weight: 400 | 700): string =>
  createRequire(import.meta.url).resolve(
    `@fontsource/bricolage-grotesque/files/bricolage-grotesque-latin-${weight}-normal.woff`,
  );

/** The font has the letters of Western Europe; others become question marks rather than nothing. */
const sayable = (text: string): string => text.replace(/[^\u0020-\u024f\u2010-\u2026\u20ac]/gu, '?');

/**
 * A sheet to send to whoever decides: every changed frame before and after, four to a page of A4, then the pages they are on,
 * as one PDF.
 * @param originals the picture of a frame
 */
export async function makeProof(
  title: string,
  pairs: readonly ProofPair[],
  originals: (frame: Frame) => Promise<Original> | Original,
  progress: (done: number, total: number) => void = () => undefined,
  sheets: readonly ProofPage[] = [],
): Promise<Uint8Array> {
  const pdf = await newPdf({
    size: [PAGE.width, PAGE.height],
    margin: PAGE.margin,
    autoFirstPage: false,
    bufferPages: true,
    info: { Title: title },
  });
  const pieces: Buffer[] = [];
  const ended = new Promise<void>((resolve, reject) => {
    pdf.on('data', (piece: Buffer) => pieces.push(piece));
    pdf.on('end', resolve);
    pdf.on('error', reject);
  });
  pdf.registerFont('plain', font(400)).registerFont('bold', font(700));
  const perPage = Math.floor((PAGE.height - 2 * PAGE.margin - HEAD) / ROW);
  const total = pairs.length + sheets.length;
  const [left, right] = [PAGE.margin, PAGE.width - PAGE.margin - PICTURE.width];
  for (let i = 0; i < Math.max(1, pairs.length); i++) {
    progress(i, total);
    if (i % perPage === 0) head(pdf, title);
    const pair = pairs[i];
    if (!pair) {
      pdf.text('Nothing differs from the file.', left, PAGE.margin + HEAD);
      continue;
    }
    const top = PAGE.margin + HEAD + (i % perPage) * ROW;
    for (const [frame, x] of [
      [pair.before, left],
      [pair.after, right],
    ] as const)
      await place(pdf, frame, await originals(frame), x, top);
    pdf.font('plain').fontSize(9.5).fillColor('#22302f');
    pdf.text(sayable(pair.caption), left, top + PICTURE.height + 8, {
      width: PAGE.width - 2 * PAGE.margin,
      height: 14,
      ellipsis: true,
    });
  }
  let top = Infinity;
  for (const [i, page] of sheets.entries()) {
    progress(pairs.length + i, total);
    const height = Math.max(...[page.before, page.after].map(({ sheet: s }) => (PICTURE.width * s.height) / s.width));
    if (top + height + 26 > PAGE.height - PAGE.margin) {
      head(pdf, title);
      top = PAGE.margin + HEAD;
    }
    await placeSheet(pdf, page.before, originals, left, top);
    await placeSheet(pdf, page.after, originals, right, top);
    pdf
      .font('plain')
      .fontSize(9.5)
      .fillColor('#22302f')
      .text(sayable(page.caption), left, top + height + 8);
    top += height + 42;
  }
  progress(total, total);
  pdf.end();
  await ended;
  return Buffer.concat(pieces);
}

/** A new page, with its title and what the two columns are. */
function head(pdf: PDFKit.PDFDocument, title: string): void {
  pdf.addPage();
  const [left, right] = [PAGE.margin, PAGE.width - PAGE.margin - PICTURE.width];
  pdf.font('bold').fontSize(17).fillColor('#22302f');
  pdf.text(sayable(title), left, PAGE.margin, { width: PAGE.width - 2 * PAGE.margin - 60, height: 22, ellipsis: true });
  pdf.font('plain').fontSize(9.5).fillColor('#5a6560');
  pdf.text(String(pdf.bufferedPageRange().count), right, PAGE.margin + 6, { width: PICTURE.width, align: 'right' });
  pdf.text('As it came', left, PAGE.margin + 34).text('As it will be', right, PAGE.margin + 34);
}

/** A whole page, small: its ground, its texts and boxes roughly, its frames. */
async function placeSheet(
  pdf: PDFKit.PDFDocument,
  { sheet, ground, frames }: ProofSide,
  originals: (frame: Frame) => Promise<Original> | Original,
  x: number,
  y: number,
): Promise<void> {
  const { width, height } = sheet;
  const k = PICTURE.width / width;
  pdf.save().translate(x, y).scale(k);
  pdf.rect(0, 0, width, height).clip().rect(0, 0, width, height).fill(sheet.background);
  if (ground) pdf.image(Buffer.from(ground), 0, 0, { width, height });
  if (sheet.lines) {
    for (const v of sheet.lines.x) pdf.moveTo(v, 0).lineTo(v, height);
    for (const v of sheet.lines.y) pdf.moveTo(0, v).lineTo(width, v);
    pdf.lineWidth(0.5).stroke('#ddd6c7');
  }
  const place = async (at: ProofSide['frames'][number]): Promise<void> => {
    const { bytes, size } = await originals(at.frame);
    const b = paintedBounds(at.frame);
    const pixels = await renderFrame(at.frame, size, bytes, k * at.k * SHARPNESS);
    const png = await sharpOf(pixels).png(PNG).toBuffer();
    pdf.image(png, at.x + b.x * at.k, at.y + b.y * at.k, { width: b.width * at.k, height: b.height * at.k });
  };
  const waiting = new Set(frames);
  for (const item of sheet.items) {
    if (!('picture' in item)) {
      drawItem(pdf, item);
      continue;
    }
    const at = frames.find((f) => f.frame.n === item.picture);
    if (at && waiting.delete(at)) await place(at);
  }
  for (const at of waiting) await place(at);
  pdf.restore();
  pdf
    .rect(x, y, width * k, height * k)
    .lineWidth(0.5)
    .stroke('#d9d2c3');
}

const ALIGN = { start: 'left', centre: 'center', end: 'right', justify: 'justify' } as const;

/** A shape with its words, or what stands for something that is not edited. */
function drawItem(pdf: PDFKit.PDFDocument, item: Item): void {
  if (item.kind === 'foreign') for (const mark of item.preview ?? []) drawMark(pdf, mark);
  if (item.kind !== 'framed') return;
  const { at, turn, flip, fill, outline, shape, seat, text } = item;
  const { box } = at;
  const path = toSvgPath(framePath({ box, shape, seat }));
  pdf.save().translate(box.x, box.y);
  pdf.rotate(turn, { origin: [box.width / 2, box.height / 2] });
  if (flip.horizontal) pdf.scale(-1, 1, { origin: [box.width / 2, 0] });
  if (flip.vertical) pdf.scale(1, -1, { origin: [0, box.height / 2] });
  const paint = fill?.kind === 'paint' ? inkOf(fill.paint) : null;
  if (paint) pdf.path(path).fillOpacity(paint.opacity).fill(paint.colour, 'even-odd').fillOpacity(1);
  const line = outline && inkOf(outline.paint);
  if (line) pdf.path(path).lineWidth(outline.weight).strokeOpacity(line.opacity).stroke(line.colour).strokeOpacity(1);
  pdf.restore();
  const words = text?.paragraphs.map((p) => p.runs.map((r) => r.text).join('')).join('\n') ?? '';
  const [first] = text?.paragraphs.flatMap((p) => p.runs) ?? [];
  if (!text || !first || words.trim() === '') return;
  const { inset } = text;
  pdf.save().rotate(turn, { origin: [box.x + box.width / 2, box.y + box.height / 2] });
  pdf
    .font(first.weight >= 600 ? 'bold' : 'plain')
    .fontSize(first.size)
    .fillColor(inkOf(first.paint)?.colour ?? '#22302f');
  const width = Math.max(1, box.width - inset.left - inset.right);
  const room = Math.max(first.size, box.height - inset.top - inset.bottom);
  const align = ALIGN[text.paragraphs[0]!.align];
  const needs = Math.min(room, pdf.heightOfString(sayable(words), { width, align }));
  const down = text.anchor === 'middle' ? (room - needs) / 2 : text.anchor === 'bottom' ? room - needs : 0;
  pdf.text(sayable(words), box.x + inset.left, box.y + inset.top + down, { width, height: room, align });
  pdf.restore();
}

/** The colour of a paint, of a gradient its middle. */
function inkOf(paint: Paint): { colour: string; opacity: number } | null {
  return paint.kind === 'solid' ? paint : (paint.stops[Math.floor((paint.stops.length - 1) / 2)] ?? null);
}

function drawMark(pdf: PDFKit.PDFDocument, { box, turn, fill, text, size, colour, align, inset }: Mark): void {
  pdf.save().rotate(turn, { origin: [box.x + box.width / 2, box.y + box.height / 2] });
  if (fill) pdf.rect(box.x, box.y, box.width, box.height).fill(fill);
  pdf.font('plain').fontSize(size).fillColor(colour);
  const edge = inset ?? 4;
  // A cell's words stand at its foot, on one line; others in their box from its top.
  const top = inset === undefined ? box.y + edge : box.y + box.height - 1.2 * size;
  const width = Math.max(1, box.width - 2 * edge);
  if (text)
    pdf.text(sayable(text), box.x + edge, top, {
      width,
      height: inset === undefined ? box.height : 1.1 * size,
      align,
    });
  pdf.restore();
}

/** Paints a frame into the middle of its room. */
async function place(
  pdf: PDFKit.PDFDocument,
  frame: Frame,
  { bytes, size }: Original,
  x: number,
  y: number,
): Promise<void> {
  const b = paintedBounds(frame);
  const fit = Math.min(PICTURE.width / b.width, PICTURE.height / b.height);
  const pixels = await renderFrame(frame, size, bytes, fit * SHARPNESS);
  const jpeg = await sharpOf(pixels).flatten({ background: '#ffffff' }).jpeg({ quality: 88 }).toBuffer();
  const [width, height] = [b.width * fit, b.height * fit];
  pdf.image(jpeg, x + (PICTURE.width - width) / 2, y + (PICTURE.height - height) / 2, { width, height });
}
