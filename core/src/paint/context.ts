import type { PathSink } from '../geometry/path';

export interface Gradient {
  addColorStop(at: number, colour: string): void;
}

/**
 * The common subset of the 2-D canvas that the painter uses: an OffscreenCanvas in a browser worker and a Skia canvas on
 * the server both have it, under these names (HTML, CanvasRenderingContext2D).
 */
export interface Context extends PathSink {
  save(): void;
  restore(): void;
  beginPath(): void;
  rect(x: number, y: number, width: number, height: number): void;
  fill(rule?: 'nonzero' | 'evenodd'): void;
  fillRect(x: number, y: number, width: number, height: number): void;
  stroke(): void;
  translate(x: number, y: number): void;
  rotate(angle: number): void;
  scale(x: number, y: number): void;
  transform(a: number, b: number, c: number, d: number, e: number, f: number): void;
  setLineDash(pattern: number[]): void;
  createLinearGradient(x0: number, y0: number, x1: number, y1: number): Gradient;
  createRadialGradient(x0: number, y0: number, r0: number, x1: number, y1: number, r1: number): Gradient;
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- each home has its own image types
  drawImage(image: any, dx: number, dy: number, dw: number, dh: number): void;
  drawImage(
    // eslint-disable-next-line @typescript-eslint/no-explicit-any -- as above
    image: any,
    sx: number,
    sy: number,
    sw: number,
    sh: number,
    dx: number,
    dy: number,
    dw: number,
    dh: number,
  ): void;
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- colour string or that home's gradient
  fillStyle: any;
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- as above
  strokeStyle: any;
  lineWidth: number;
  lineJoin: string;
  lineCap: string;
  miterLimit: number;
  setTransform(a: number, b: number, c: number, d: number, e: number, f: number): void;
  globalAlpha: number;
  globalCompositeOperation: string;
  shadowColor: string;
  shadowBlur: number;
  shadowOffsetX: number;
  shadowOffsetY: number;
  imageSmoothingEnabled: boolean;
  imageSmoothingQuality: string;
}

/**
 * A surface of device pixels. The painter never clips: a browser worker's canvas clips without anti-aliasing, a Skia
 * canvas with it. Instead it composes on further surfaces, as large as what the frame paints: three, since one layer can
 * be laid on another, and a paint may take one. A layer is clear when it is handed out. A larger one does too, its top left
 * is used; but edges may then come out some levels different in single pixels.
 */
export interface Surface {
  context: Context;
  width: number;
  height: number;
  layer(depth: 0 | 1 | 2, width: number, height: number): { context: Context; image: unknown };
}
