import { components, INSIDE, type BrushStroke, type Mask } from '@gable/core';

/**
 * A stroke as a hand would draw it: along the thick part of the largest region that is wrong, with the brush that it needs.
 * @param truth the mask that is wanted, of the same size
 * @returns null where nothing is wrong
 */
export function strokeThroughWrong(mask: Mask, truth: Mask): BrushStroke | null {
  const { width, height } = mask;
  const wrong = (i: number): boolean => mask.data[i]! >= INSIDE !== truth.data[i]! >= INSIDE;
  const { labels, sizes } = components(mask, wrong);
  const largest = sizes.indexOf(Math.max(...sizes));
  if (largest < 0 || sizes[largest]! < 12) return null;
  // Steps to the rim of the region, over rows and columns (two passes).
  const depth = new Float32Array(labels.length);
  const at = (x: number, y: number): number =>
    x < 0 || y < 0 || x >= width || y >= height ? 0 : depth[y * width + x]!;
  for (let i = 0; i < labels.length; i++)
    if (labels[i] === largest) {
      const x = i % width;
      const y = (i - x) / width;
      depth[i] = 1 + Math.min(at(x - 1, y), at(x, y - 1));
    }
  for (let i = labels.length - 1; i >= 0; i--)
    if (labels[i] === largest) {
      const x = i % width;
      const y = (i - x) / width;
      depth[i] = Math.min(depth[i]!, 1 + at(x + 1, y), 1 + at(x, y + 1));
    }
  const most = depth.reduce((a, b) => Math.max(a, b), 0);
  const thick = Array.from(labels.keys()).filter((i) => labels[i] === largest && depth[i]! >= Math.max(1, 0.6 * most));
  const points = thick.map((i) => ({ x: (i % width) + 0.5, y: Math.floor(i / width) + 0.5 }));
  // Along the longer side of the thick part, at most a dozen points.
  const spanX = Math.max(...points.map((p) => p.x)) - Math.min(...points.map((p) => p.x));
  const spanY = Math.max(...points.map((p) => p.y)) - Math.min(...points.map((p) => p.y));
  points.sort((a, b) => (spanX >= spanY ? a.x - b.x : a.y - b.y));
  const some = Array.from({ length: Math.min(12, points.length) }, (_, i, all = Math.min(12, points.length)) =>
    all === 1 ? points[0]! : points[Math.round((i * (points.length - 1)) / (all - 1))]!,
  );
  return {
    brush: truth.data[thick[0]!]! >= INSIDE ? 'subject' : 'background',
    size: Math.max(1.5, most) / Math.max(width, height),
    points: some.map((p) => ({ u: p.x / width, v: p.y / height })),
  };
}
