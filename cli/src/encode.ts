import { GableError } from '@gable/core';
import type { Canvas } from '@napi-rs/canvas';
import PDFDocument from 'pdfkit';
import { PNG, sharpOf } from './render';

const TYPES = { png: 'png', webp: 'webp', jpg: 'jpeg', jpeg: 'jpeg', avif: 'avif', pdf: 'pdf' } as const;
export type OutputType = (typeof TYPES)[keyof typeof TYPES];

/** The kind of picture a file name asks for. @throws GableError `bad-output` */
export const outputType = (file: string): OutputType =>
  outputTypeOf(file.slice(file.lastIndexOf('.') + 1).toLowerCase());

export function outputTypeOf(extension: string): OutputType {
  const type = (TYPES as Record<string, OutputType>)[extension];
  if (!type)
    throw new GableError(
      'bad-output',
      `Gable cannot write “.${extension}” pictures yet.`,
      'Name a file ending in .png, .webp, .jpg, .avif, .pdf, .svg or .html.',
    );
  return type;
}

/** The canvas as a file; the resolution is noted in it. JPEG knows no transparency and gets white behind. */
export async function encode(canvas: Canvas, type: OutputType, ppi: number): Promise<Buffer> {
  if (type === 'pdf') return toPdf(await sharpOf(canvas).png(PNG).toBuffer(), canvas, ppi);
  let image = sharpOf(canvas).withMetadata({ density: ppi });
  if (type === 'jpeg') image = image.flatten({ background: '#ffffff' });
  return image.toFormat(type, type === 'png' ? PNG : { quality: 90 }).toBuffer();
}

/** One page that is just as large as the frame with all that reaches beyond it; its ground stays transparent. */
function toPdf(png: Buffer, canvas: Canvas, ppi: number): Promise<Buffer> {
  const width = (canvas.width / ppi) * 72;
  const height = (canvas.height / ppi) * 72;
  const page = new PDFDocument({ size: [width, height], margin: 0, info: { Creator: 'Gable' } });
  const pieces: Buffer[] = [];
  return new Promise((resolve, reject) => {
    page.on('data', (piece: Buffer) => pieces.push(piece));
    page.on('end', () => resolve(Buffer.concat(pieces)));
    page.on('error', reject);
    page.image(png, 0, 0, { width, height });
    page.end();
  });
}
