import type { Region } from '../model/frame';
import type { Pixels } from '../model/pixels';

/** How much each part of a picture matters: rows of numbers ≥ 0, which stay as they were made. */
export interface Weights {
  width: number;
  height: number;
  data: Float32Array;
}

/** What a pixel of a face weighs more than its colour says. */
const FACE_WEIGHT = 1.2;

/**
 * A weight for each pixel: detail (Laplacian of the luma), strength of colour, and tones of skin, as `smartcrop` weighs
 * them; a little for everything, so that a blank picture has its middle everywhere.
 * @param pixels best at most 256 on the longer side
 * @param faces parts of the picture that weigh most
 */
export function weigh(pixels: Pixels, faces: readonly Region[] = []): Weights {
  const { width, height, data } = pixels;
  const luma = new Float32Array(width * height);
  for (let i = 0; i < luma.length; i++)
    luma[i] = (0.2126 * data[i * 4]! + 0.7152 * data[i * 4 + 1]! + 0.0722 * data[i * 4 + 2]!) / 255;
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const l = luma[i]!;
      const around =
        luma[i - (x > 0 ? 1 : 0)]! +
        luma[i + (x < width - 1 ? 1 : 0)]! +
        luma[i - (y > 0 ? width : 0)]! +
        luma[i + (y < height - 1 ? width : 0)]!;
      const detail = Math.min(1, Math.abs(4 * l - around));
      const [r, g, b, a] = [data[i * 4]!, data[i * 4 + 1]!, data[i * 4 + 2]!, data[i * 4 + 3]! / 255];
      const most = Math.max(r, g, b);
      const colour = most === 0 ? 0 : (most - Math.min(r, g, b)) / most;
      // Square roots: `Math.hypot` takes several times as long, and this is done for each pixel.
      const length = Math.sqrt(r * r + g * g + b * b) || 1;
      // Distance from a mean skin direction in RGB, as smartcrop has it (0.78, 0.57, 0.44).
      const off = Math.sqrt((r / length - 0.78) ** 2 + (g / length - 0.57) ** 2 + (b / length - 0.44) ** 2);
      const skin = Math.max(0, 1 - off / 0.2);
      const lit = l > 0.2 && l < 0.95 ? 1 : 0;
      out[i] = a * (0.02 + 0.5 * detail + 0.15 * colour * lit + 1.2 * skin * lit);
    }
  for (const face of faces) {
    const part = weighRegion(face, width, height).data;
    for (let i = 0; i < out.length; i++) out[i] = out[i]! + FACE_WEIGHT * part[i]!;
  }
  return { width, height, data: out };
}

/** Weights of a region: 1 inside, 0 outside, parts of pixels in their measure. */
export function weighRegion(region: Region, width: number, height: number): Weights {
  const data = new Float32Array(width * height);
  const part = (i: number, from: number, to: number): number => Math.max(0, Math.min(i + 1, to) - Math.max(i, from));
  for (let y = 0; y < height; y++) {
    const down = part(y, region.v * height, (region.v + region.height) * height);
    if (down > 0)
      for (let x = 0; x < width; x++)
        data[y * width + x] = down * part(x, region.u * width, (region.u + region.width) * width);
  }
  return { width, height, data };
}

/** Weights on a coarser grid; their sum stays the same. */
export function coarser(weights: Weights, side: number): Weights {
  const k = Math.max(weights.width, weights.height) / side;
  if (k <= 1) return weights;
  const width = Math.max(1, Math.round(weights.width / k));
  const height = Math.max(1, Math.round(weights.height / k));
  const data = new Float32Array(width * height);
  for (let y = 0; y < weights.height; y++) {
    const row = Math.min(height - 1, Math.floor(((y + 0.5) * height) / weights.height)) * width;
    for (let x = 0; x < weights.width; x++) {
      const at = row + Math.min(width - 1, Math.floor(((x + 0.5) * width) / weights.width));
      data[at] = data[at]! + weights.data[y * weights.width + x]!;
    }
  }
  return { width, height, data };
}
