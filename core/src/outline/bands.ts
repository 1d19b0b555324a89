import type { Outline } from '../model/frame';

/** A line of an outline by its distances from the edge of the shape, in points; outside is positive. */
export interface Band {
  from: number;
  to: number;
}

/**
 * How compound lines share the weight, from the outside in: line, space, line, … in parts of it. The standard
 * (ISO/IEC 29500-1 §20.1.10.15, ST_CompoundLine) names the kinds and leaves the shares open; these are ours.
 */
const SHARES: Record<NonNullable<Outline['lines']>, readonly number[]> = {
  single: [1],
  double: [1 / 3, 1 / 3, 1 / 3],
  'thick-thin': [0.55, 0.2, 0.25],
  'thin-thick': [0.25, 0.2, 0.55],
  triple: [1 / 6, 1 / 6, 1 / 3, 1 / 6, 1 / 6],
};

/** The lines of an outline, the outermost first. */
export function outlineBands(outline: Outline): Band[] {
  const { weight, side } = outline;
  const gap = side === 'on' ? 0 : (outline.gap ?? 0);
  const outer = side === 'on' ? weight / 2 : side === 'outside' ? gap + weight : -gap;
  const bands: Band[] = [];
  let at = outer;
  SHARES[outline.lines ?? 'single'].forEach((share, i) => {
    const next = at - share * weight;
    if (i % 2 === 0) bands.push({ from: snap(next), to: snap(at) });
    at = next;
  });
  return bands;
}

/** Sums of thirds and twentieths meet the edge exactly. */
const snap = (x: number): number => (Math.abs(x) < 1e-9 ? 0 : x);

/** How far an outline reaches beyond the edge, in points; 0 for one that stays inside. */
export const outlineReach = (outline: Outline | null): number =>
  outline ? Math.max(0, outlineBands(outline)[0]!.to) : 0;
