import type { Context, Pixels, Surface } from '@gable/core';
import { createCanvas, ImageData, type Canvas } from '@napi-rs/canvas';
import sharp, { type Sharp } from 'sharp';

/** Pixels as something a canvas can draw. */
export function toCanvas({ data, width, height }: Pixels): Canvas {
  const canvas = createCanvas(width, height);
  const view = new Uint8ClampedArray(data.buffer as ArrayBuffer, data.byteOffset, data.byteLength);
  canvas.getContext('2d').putImageData(new ImageData(view, width, height), 0, 0);
  return canvas;
}

/** Pixels to be encoded: RGBA, not premultiplied. */
export function sharpOf({ width, height, data }: Pixels): Sharp {
  const bytes = Buffer.from(data.buffer as ArrayBuffer, data.byteOffset, data.byteLength);
  return sharp(bytes, { raw: { width, height, channels: 4 } });
}

/** How PNG is written: with its filters a low level makes smaller files of photographs than the highest without, far sooner. */
export const PNG = { compressionLevel: 2, adaptiveFiltering: true } as const;

/** A Skia canvas as the painter wants it. */
export function surfaceOf(canvas: Canvas): Surface {
  const { width, height } = canvas;
  return {
    context: canvas.getContext('2d') as unknown as Context,
    width,
    height,
    layer(_depth, width, height) {
      const image = createCanvas(width, height);
      return { context: image.getContext('2d') as unknown as Context, image };
    },
  };
}
