import { GableError, type Pixels, type Size } from '@gable/core';
import type { ReplacementImage } from '@gable/formats';
import { newPdf } from './pdf';
import { PNG, sharpOf } from './canvas';

const FORMATS_BY_NAME = { png: 'png', webp: 'webp', jpg: 'jpeg', jpeg: 'jpeg', avif: 'avif', pdf: 'pdf' } as const;
export type OutputType = (typeof FORMATS_BY_NAME)[keyof typeof FORMATS_BY_NAME];

/** The kind of picture a file name asks for. @throws GableError `bad-output` */
export const outputType = (file: string): OutputType =>
  outputTypeOf(file.slice(file.lastIndexOf('.') + 1).toLowerCase());

export function outputTypeOf(extension: string): OutputType {
  const type = (FORMATS_BY_NAME as Record<string, OutputType>)[extension];
  if (!type)
    throw new GableError(
      'bad-output',
      `Gable cannot write “.${extension}” pictures yet.`,
      'Name a file ending in .png, .webp, .jpg, .avif, .pdf, .svg or .html.',
    );
  return type;
}

/** So many pixels are a large picture. */
const LARGE = 24e6;

/** Pixels as a file; the resolution is noted in it. JPEG knows no transparency and gets white behind. */
export async function encode(pixels: Pixels, type: OutputType, ppi: number): Promise<Buffer> {
  if (type === 'pdf') return toPdf(await sharpOf(pixels).png(PNG).toBuffer(), pixels, ppi);
  let image = sharpOf(pixels).withMetadata({ density: ppi });
  if (type === 'jpeg') image = image.flatten({ background: '#ffffff' });
  if (type === 'png') return image.png(PNG).toBuffer();
  // The best coding is known when all has been coded: that takes half as much memory again as the pixels do.
  const optimiseCoding = pixels.width * pixels.height < LARGE;
  return image.toFormat(type, { quality: 90, optimiseCoding }).toBuffer();
}

/** Pixels as a picture that every reader of documents shows: a JPEG, or a PNG where something shows through. @param size of the part from the top left that counts */
export async function opaqueOrClear(pixels: Pixels, size: Size = pixels): Promise<ReplacementImage> {
  const { width, height } = size;
  const image = sharpOf(pixels).extract({ left: 0, top: 0, width, height });
  const opaque = isOpaque(pixels, height);
  return {
    bytes: opaque
      ? await image.flatten({ background: '#ffffff' }).jpeg({ quality: 92, chromaSubsampling: '4:4:4' }).toBuffer()
      : await image.png(PNG).toBuffer(),
    type: opaque ? 'jpeg' : 'png',
    size: { width, height },
  };
}

/** Does nothing show through? Edges that are smoothed away on the canvas's own rim do not count. */
function isOpaque({ width, data }: Pixels, rows: number): boolean {
  for (let i = 3; i < width * rows * 4; i += 4) if (data[i]! < 250) return false;
  return true;
}

/** One page that is just as large as the frame with all that reaches beyond it; its ground stays transparent. */
async function toPdf(png: Buffer, pixels: Size, ppi: number): Promise<Buffer> {
  const width = (pixels.width / ppi) * 72;
  const height = (pixels.height / ppi) * 72;
  const page = await newPdf({ size: [width, height], margin: 0 });
  const pieces: Buffer[] = [];
  return new Promise((resolve, reject) => {
    page.on('data', (piece: Buffer) => pieces.push(piece));
    page.on('end', () => resolve(Buffer.concat(pieces)));
    page.on('error', reject);
    page.image(png, 0, 0, { width, height });
    page.end();
  });
}
