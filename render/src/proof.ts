import { paintedBounds, type Frame } from '@gable/core';
import { fontFile } from './fonts';
import type { Original } from './original';
import { newPdf } from './pdf';
import { PNG, sharpOf } from './canvas';
import { renderFrame } from './frame';
import { renderPage, type PageScene } from './page';

/** One frame before and after, and where it stands. */
export interface ProofPair {
  before: Frame;
  after: Frame;
  caption: string;
}

/** A page before and after. */
export interface ProofPage {
  caption: string;
  before: PageScene;
  after: PageScene;
}

/** ISO 216 A4 in points, its margin, and the room of a picture. */
const PAGE = { width: 595.28, height: 841.89, margin: 48 };
const PICTURE = { width: 236, height: 130 };
const ROW = 168;
const HEAD = 62;
/** Pixels to a point: 200 to the inch, for looking at and for printing on an office printer. */
const SHARPNESS = 200 / 72;

/** The font has the letters of Western Europe; others become question marks rather than nothing. */
const sayable = (text: string): string => text.replace(/[^\u0020-\u024f\u2010-\u2026\u20ac]/gu, '?');

/**
 * A sheet for the person who decides: every changed frame before and after, four to a page of A4, then the pages they are on,
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
  pdf.registerFont('plain', fontFile(400)).registerFont('bold', fontFile(700));
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
    const height = Math.max(...[page.before, page.after].map(({ size: s }) => (PICTURE.width * s.height) / s.width));
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

/** A whole page, small. */
async function placeSheet(
  pdf: PDFKit.PDFDocument,
  scene: PageScene,
  originals: (frame: Frame) => Promise<Original> | Original,
  x: number,
  y: number,
): Promise<void> {
  const k = PICTURE.width / scene.size.width;
  const pixels = await renderPage(scene, originals, k * SHARPNESS);
  const size = { width: PICTURE.width, height: scene.size.height * k };
  pdf.image(await sharpOf(pixels).removeAlpha().png(PNG).toBuffer(), x, y, size);
  pdf.rect(x, y, size.width, size.height).lineWidth(0.5).stroke('#d9d2c3');
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
