import {
  paintedBounds,
  paintPage,
  type Box,
  type Frame,
  type PageLayer,
  type PageSurface,
  type PaintedPage,
  type Pixels,
  type Placed,
} from '@gable/core';
import { createCanvas, loadImage, type Canvas } from '@napi-rs/canvas';
import { surfaceOf, toCanvas } from './canvas';
import { registerFonts } from './fonts';
import { renderFrame } from './frame';
import type { Original } from './original';
import { isVeilLayer, layBeneath } from './veil';

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
  scene: PageScene,
  originals: (frame: Frame) => Promise<Original> | Original,
  scale: number,
): Promise<Pixels> {
  const canvas = await canvasOf(scene, originals, scale);
  const { width, height } = canvas;
  return { width, height, data: canvas.getContext('2d').getImageData(0, 0, width, height).data };
}

/** A page, or a part of it, painted. @param part in points */
export async function canvasOf(
  { size, ground, grid, backdrop, layers }: PageScene,
  originals: (frame: Frame) => Promise<Original> | Original,
  scale: number,
  part: Box = { x: 0, y: 0, ...size },
): Promise<Canvas> {
  registerFonts();
  const [width, height] = [Math.max(1, Math.ceil(part.width * scale)), Math.max(1, Math.ceil(part.height * scale))];
  const canvas = createCanvas(width, height);
  const surface = surfaceOf(canvas) as PageSurface;
  const target = { x: -part.x * scale, y: -part.y * scale, scale };
  let waiting: PageLayer[] = [];
  if (backdrop) waiting.push({ image: await loadImage(Buffer.from(backdrop)), box: { x: 0, y: 0, ...size } });
  const lay = (behind: Pick<PaintedPage, 'ground' | 'grid'> = { ground: null }): void => {
    paintPage(surface, { size, ...behind, layers: waiting }, target);
    waiting = [];
  };
  lay({ ground, grid });
  for (const layer of layers) {
    const ready = 'frame' in layer ? await paintedFrame(layer, originals, scale) : layer;
    if (isVeilLayer(ready)) {
      lay();
      layBeneath(surface, canvas, ready, target);
    }
    waiting.push(ready);
  }
  lay();
  return canvas;
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
