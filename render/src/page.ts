import {
  paintedBounds,
  paintPage,
  type Frame,
  type PageLayer,
  type PageSurface,
  type PaintedPage,
  type Pixels,
  type Placed,
} from '@gable/core';
import { createCanvas, loadImage } from '@napi-rs/canvas';
import { surfaceOf, toCanvas } from './canvas';
import { registerFonts } from './fonts';
import { renderFrame } from './frame';
import type { Original } from './rasterise';

/** A frame on a page, in points from its corner, `k` times as large as it is. */
export interface OnPage {
  frame: Frame;
  x: number;
  y: number;
  k: number;
}

/** A page with all that lies on it, from the back to the front. In points. */
export interface PageScene extends Pick<PaintedPage, 'size' | 'ground' | 'grid'> {
  /** What is drawn under everything, as a PNG or JPEG; null for none. */
  backdrop: Uint8Array | null;
  layers: readonly (Placed | OnPage)[];
}

/**
 * Paints a page with its frames.
 * @param originals the picture of a frame
 * @param scale device pixels per point
 */
export async function renderPage(
  { size, ground, grid, backdrop, layers }: PageScene,
  originals: (frame: Frame) => Promise<Original> | Original,
  scale: number,
): Promise<Pixels> {
  registerFonts();
  const [width, height] = [Math.max(1, Math.ceil(size.width * scale)), Math.max(1, Math.ceil(size.height * scale))];
  const ready: PageLayer[] = [];
  if (backdrop) ready.push({ image: await loadImage(Buffer.from(backdrop)), box: { x: 0, y: 0, ...size } });
  for (const layer of layers) ready.push('frame' in layer ? await paintedFrame(layer, originals, scale) : layer);
  const canvas = createCanvas(width, height);
  paintPage(surfaceOf(canvas) as PageSurface, { size, ground, grid, layers: ready }, { x: 0, y: 0, scale });
  return { width, height, data: canvas.getContext('2d').getImageData(0, 0, width, height).data };
}

async function paintedFrame(
  { frame, x, y, k }: OnPage,
  originals: (frame: Frame) => Promise<Original> | Original,
  scale: number,
): Promise<PageLayer> {
  const { bytes, size } = await originals(frame);
  const b = paintedBounds(frame);
  const pixels = await renderFrame(frame, size, bytes, k * scale);
  const box = { x: x + b.x * k, y: y + b.y * k, width: pixels.width / scale, height: pixels.height / scale };
  return { image: toCanvas(pixels), box };
}
