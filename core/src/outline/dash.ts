import { closedLength } from '../geometry/measure';
import { flatten, type Path, type Segment } from '../geometry/path';
import type { Outline } from '../model/frame';

/** Lengths of dashes and gaps in line weights: ISO/IEC 29500-1 §20.1.10.49 (ST_PresetLineDashVal). */
export const DASH_PATTERN: Readonly<Record<Outline['dash'], readonly number[]>> = {
  solid: [],
  dot: [1, 3],
  dash: [4, 3],
  'long-dash': [8, 3],
  'dash-dot': [4, 3, 1, 3],
  'long-dash-dot': [8, 3, 1, 3],
  'long-dash-dot-dot': [8, 3, 1, 3, 1, 3],
};

/** A subpath with the dash pattern that closes evenly round it; an empty pattern is a solid line. */
export interface DashedPath {
  path: Path;
  pattern: readonly number[];
}

/**
 * Splits an outline into its subpaths, each with the pattern stretched or pressed so that a whole number of repeats goes
 * round it. A way round too short for one repeat stays solid.
 * @param weight points
 */
export function evenDashes(path: Path, dash: Outline['dash'], weight: number): DashedPath[] {
  const pattern = DASH_PATTERN[dash];
  if (pattern.length === 0) return [{ path, pattern: [] }];
  const period = pattern.reduce((a, b) => a + b, 0) * weight;
  return subpaths(path).map((one) => {
    const length = flatten(one, 0.005).reduce((sum, p) => sum + closedLength(p), 0);
    const repeats = Math.round(length / period);
    const k = repeats === 0 ? 0 : (length / repeats / period) * weight;
    return { path: one, pattern: k === 0 ? [] : pattern.map((d) => d * k) };
  });
}

export function subpaths(path: Path): Path[] {
  const out: Segment[][] = [];
  for (const s of path) {
    if (s.op === 'M' || out.length === 0) out.push([]);
    out[out.length - 1]!.push(s);
  }
  return out;
}
