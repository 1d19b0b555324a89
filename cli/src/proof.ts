import { paintedBounds, type Frame } from '@gable/core';
import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';
import sharp from 'sharp';
import type { Original } from './bake';
import { renderFrame } from './render';

/** One frame before and after, and where it stands. */
export interface ProofPair {
  before: Frame;
  after: Frame;
  caption: string;
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
 * A sheet to send to whoever decides: every changed frame before and after, four to a page of A4, as one PDF.
 * @param originals the picture of a frame
 */
export async function makeProof(
  title: string,
  pairs: readonly ProofPair[],
  originals: (frame: Frame) => Promise<Original> | Original,
  progress: (done: number, total: number) => void = () => undefined,
): Promise<Uint8Array> {
  const pdf = new PDFDocument({
    size: [PAGE.width, PAGE.height],
    margin: PAGE.margin,
    autoFirstPage: false,
    info: { Title: title, Creator: 'Gable' },
  });
  const pieces: Buffer[] = [];
  const ended = new Promise<void>((resolve, reject) => {
    pdf.on('data', (piece: Buffer) => pieces.push(piece));
    pdf.on('end', resolve);
    pdf.on('error', reject);
  });
  pdf.registerFont('plain', font(400)).registerFont('bold', font(700));
  const perPage = Math.floor((PAGE.height - 2 * PAGE.margin - HEAD) / ROW);
  const pages = Math.max(1, Math.ceil(pairs.length / perPage));
  const [left, right] = [PAGE.margin, PAGE.width - PAGE.margin - PICTURE.width];
  for (let i = 0; i < Math.max(1, pairs.length); i++) {
    progress(i, pairs.length);
    if (i % perPage === 0) {
      pdf.addPage();
      pdf.font('bold').fontSize(17).fillColor('#22302f');
      pdf.text(sayable(title), left, PAGE.margin, {
        width: PAGE.width - 2 * PAGE.margin - 60,
        height: 22,
        ellipsis: true,
      });
      pdf.font('plain').fontSize(9.5).fillColor('#5a6560');
      pdf.text(`${i / perPage + 1} of ${pages}`, right, PAGE.margin + 6, { width: PICTURE.width, align: 'right' });
      pdf.text('As it came', left, PAGE.margin + 34).text('As it will be', right, PAGE.margin + 34);
    }
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
  progress(pairs.length, pairs.length);
  pdf.end();
  await ended;
  return Buffer.concat(pieces);
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
  const canvas = await renderFrame(frame, size, bytes, fit * SHARPNESS);
  const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
  const raw = { width: canvas.width, height: canvas.height, channels: 4 as const };
  const jpeg = await sharp(Buffer.from(data.buffer), { raw })
    .flatten({ background: '#ffffff' })
    .jpeg({ quality: 88 })
    .toBuffer();
  const [width, height] = [b.width * fit, b.height * fit];
  pdf.image(jpeg, x + (PICTURE.width - width) / 2, y + (PICTURE.height - height) / 2, { width, height });
}
