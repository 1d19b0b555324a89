import { GableError } from '@gable/core';
import type { Canvas } from '@napi-rs/canvas';
import sharp from 'sharp';

const TYPES = { png: 'png', webp: 'webp', jpg: 'jpeg', jpeg: 'jpeg', avif: 'avif' } as const;
export type OutputType = (typeof TYPES)[keyof typeof TYPES];

/** The kind of picture a file name asks for. @throws GableError `bad-output` */
export function outputType(file: string): OutputType {
  const extension = file.slice(file.lastIndexOf('.') + 1).toLowerCase();
  const type = (TYPES as Record<string, OutputType>)[extension];
  if (!type)
    throw new GableError(
      'bad-output',
      `Gable cannot write “.${extension}” pictures yet.`,
      'Name a file ending in .png, .webp, .jpg, .avif, .svg or .html.',
    );
  return type;
}

/** The canvas as a file; the resolution is noted in it. JPEG knows no transparency and gets white behind. */
export async function encode(canvas: Canvas, type: OutputType, ppi: number): Promise<Buffer> {
  const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
  let image = sharp(data, { raw: { width: canvas.width, height: canvas.height, channels: 4 } }).withMetadata({
    density: ppi,
  });
  if (type === 'jpeg') image = image.flatten({ background: '#ffffff' });
  return image.toFormat(type, type === 'png' ? { compressionLevel: 9 } : { quality: 90 }).toBuffer();
}
