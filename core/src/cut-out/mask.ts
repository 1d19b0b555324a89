import { z } from 'zod';

const share = z.number().min(-0.5).max(1.5);

/** How much of each pixel belongs to the subject, 0..255, row by row. */
export interface Mask {
  width: number;
  height: number;
  data: Uint8Array;
}

/** A stroke of one of the two brushes along points of the picture, in shares of it. */
export const BrushStrokeSchema = z.object({
  brush: z.enum(['subject', 'background']),
  /** Diameter in shares of the longer side of the picture. */
  size: z.number().min(0.001).max(0.5),
  points: z
    .array(z.object({ u: share, v: share }))
    .min(1)
    .max(2000),
});
export type BrushStroke = z.infer<typeof BrushStrokeSchema>;

/** Is a pixel on the subject's side? */
export const INSIDE = 128;

/** The smallest upright box round what is inside a mask, in shares of it; null where nothing is. */
export function maskBounds({
  width,
  height,
  data,
}: Mask): { u: number; v: number; width: number; height: number } | null {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let i = 0; i < data.length; i++) {
    if (data[i]! < INSIDE) continue;
    const x = i % width;
    const y = (i - x) / width;
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  return right < 0
    ? null
    : {
        u: left / width,
        v: top / height,
        width: (right + 1 - left) / width,
        height: (bottom + 1 - top) / height,
      };
}

/** Calls a function for every pixel under a stroke, once or more. */
export function underStroke(
  { size, points }: BrushStroke,
  width: number,
  height: number,
  at: (index: number, x: number, y: number) => void,
): void {
  const radius = Math.max(0.5, (size * Math.max(width, height)) / 2);
  const spots = points.map(({ u, v }) => ({ x: u * width, y: v * height }));
  spots.forEach((to, i) => {
    const from = spots[i - 1] ?? to;
    const left = Math.max(0, Math.floor(Math.min(from.x, to.x) - radius));
    const right = Math.min(width - 1, Math.ceil(Math.max(from.x, to.x) + radius));
    const top = Math.max(0, Math.floor(Math.min(from.y, to.y) - radius));
    const bottom = Math.min(height - 1, Math.ceil(Math.max(from.y, to.y) + radius));
    const [dx, dy] = [to.x - from.x, to.y - from.y];
    const length = dx * dx + dy * dy;
    for (let y = top; y <= bottom; y++)
      for (let x = left; x <= right; x++) {
        const [px, py] = [x + 0.5 - from.x, y + 0.5 - from.y];
        const t = length === 0 ? 0 : Math.min(1, Math.max(0, (px * dx + py * dy) / length));
        if (Math.hypot(px - t * dx, py - t * dy) <= radius) at(y * width + x, x, y);
      }
  });
}

/** Pixels that hang together over their sides: a number for each, and how many there are of each. */
export function components(
  { width, height }: { width: number; height: number },
  belongs: (index: number) => boolean,
): { labels: Int32Array; sizes: number[] } {
  const labels = new Int32Array(width * height).fill(-1);
  const sizes: number[] = [];
  const stack: number[] = [];
  for (let start = 0; start < labels.length; start++) {
    if (labels[start]! >= 0 || !belongs(start)) continue;
    const label = sizes.length;
    let count = 0;
    labels[start] = label;
    stack.push(start);
    while (stack.length > 0) {
      const i = stack.pop()!;
      count++;
      const x = i % width;
      const visit = (k: number): void => {
        if (labels[k]! < 0 && belongs(k)) {
          labels[k] = label;
          stack.push(k);
        }
      };
      if (x > 0) visit(i - 1);
      if (x < width - 1) visit(i + 1);
      if (i >= width) visit(i - width);
      if (i < labels.length - width) visit(i + width);
    }
    sizes.push(count);
  }
  return { labels, sizes };
}

/** Of the largest part of a subject: smaller ones apart from it are specks, and so are holes of this share of all. */
const SPECK = 0.05;
const HOLE = 0.004;

/**
 * A mask without specks and pinholes.
 * @param sure pixels that the author painted stay as they are
 */
export function tidied(mask: Mask, sure: (index: number) => boolean = () => false): Mask {
  const data = Uint8Array.from(mask.data);
  const inside = components(mask, (i) => data[i]! >= INSIDE);
  const largest = Math.max(0, ...inside.sizes);
  const kept = new Set<number>();
  inside.labels.forEach((label, i) => {
    if (label >= 0 && sure(i)) kept.add(label);
  });
  inside.labels.forEach((label, i) => {
    if (label >= 0 && inside.sizes[label]! < SPECK * largest && !kept.has(label)) data[i] = 0;
  });
  const outside = components(mask, (i) => data[i]! < INSIDE);
  const open = new Set<number>();
  outside.labels.forEach((label, i) => {
    if (label >= 0 && sure(i)) open.add(label);
  });
  outside.labels.forEach((label, i) => {
    if (label >= 0 && outside.sizes[label]! < HOLE * data.length && !open.has(label)) data[i] = 255;
  });
  return { ...mask, data };
}

/** Intersection over union of two masks of one size. @returns 1 where both are empty */
export function overlap(a: Mask, b: Mask): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < a.data.length; i++) {
    const [p, q] = [a.data[i]! >= INSIDE, b.data[i]! >= INSIDE];
    if (p && q) both++;
    if (p || q) either++;
  }
  return either === 0 ? 1 : both / either;
}
