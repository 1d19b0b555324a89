import type { Rect } from '../geometry/path';

/** What text in a column keeps away from; from the column's own corner, in points. */
export interface Kept extends Rect {
  /** On which sides of it text runs; `none` where it goes on only below. */
  sides: 'both' | 'left' | 'right' | 'larger' | 'none';
}

/** A stretch of a column in which text is narrower: how much is taken on its left and its right; all of it where there is no text. */
export interface Stretch {
  y: number;
  height: number;
  left: number;
  right: number;
  /** Text runs on one side only, where it would run on both. */
  oneSided?: true;
}

/** Text does not run where there is less room than this (common practice: an inch). */
export const LEAST_ROOM = 72;

/**
 * The stretches of a column beside what its text keeps away from, from its top. CSS cannot set one line on both sides of something:
 * of two sides the wider one is taken.
 */
export function stretchesOf(width: number, kept: readonly Kept[]): Stretch[] {
  const within = kept
    .map((k) => ({ ...k, left: Math.max(0, k.x), right: Math.min(width, k.x + k.width) }))
    .filter((k) => k.height > 0 && k.y + k.height > 0 && k.right > k.left);
  const edges = [...new Set([0, ...within.flatMap((k) => [Math.max(0, k.y), k.y + k.height])])].sort((a, b) => a - b);
  const stretches: Stretch[] = [];
  for (const [i, y] of edges.entries()) {
    const end = edges[i + 1];
    if (end === undefined) break;
    const stretch = stretchAt(
      width,
      within.filter((k) => k.y < end - 1e-6 && k.y + k.height > y + 1e-6),
    );
    const last = stretches.at(-1);
    if (last && last.left === stretch.left && last.right === stretch.right && last.oneSided === stretch.oneSided)
      last.height += end - y;
    else stretches.push({ y, height: end - y, ...stretch });
  }
  return stretches;
}

type Inside = Kept & { left: number; right: number };

function stretchAt(width: number, kept: readonly Inside[]): Omit<Stretch, 'y' | 'height'> {
  if (kept.some((k) => k.sides === 'none')) return { left: width, right: 0 };
  // The gaps between what stands here, where text may run on that side of all of it.
  const gaps: { from: number; to: number }[] = [];
  let from = 0;
  for (const k of [...kept].sort((a, b) => a.left - b.left)) {
    if (k.left > from) gaps.push({ from, to: k.left });
    from = Math.max(from, k.right);
  }
  if (from < width) gaps.push({ from, to: width });
  const open = gaps.filter((g) => kept.every((k) => sideOpen(k, g.to <= k.left ? 'left' : 'right', width)));
  const wide = open.filter((g) => g.to - g.from >= Math.min(LEAST_ROOM, width));
  const best = wide.reduce<(typeof wide)[number] | null>(
    (most, g) => (most === null || g.to - g.from > most.to - most.from ? g : most),
    null,
  );
  if (!best) return kept.length > 0 ? { left: width, right: 0 } : { left: 0, right: 0 };
  return { left: best.from, right: width - best.to, ...(wide.length > 1 && { oneSided: true as const }) };
}

function sideOpen({ sides, left, right }: Inside, side: 'left' | 'right', width: number): boolean {
  if (sides === 'both') return true;
  if (sides !== 'larger') return sides === side;
  return left >= width - right === (side === 'left');
}
