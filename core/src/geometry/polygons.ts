import { Clipper, FillRule, type Paths64 } from 'clipper2-ts';
import { flatten, polygon, type Path, type Point } from './path';

/** Whole numbers for the clipper: steps of 1/4,096 pt. */
const STEP = 4096;

const toSteps = (polygons: readonly (readonly Point[])[]): Paths64 =>
  polygons.map((p) => p.map((q) => ({ x: Math.round(q.x * STEP), y: Math.round(q.y * STEP) })));
const fromSteps = (paths: Paths64): Point[][] => paths.map((p) => p.map((q) => ({ x: q.x / STEP, y: q.y / STEP })));

/**
 * What polygons cover together, as polygons that do not cross; holes run the other way.
 * @param rule which windings count as covered
 */
export function merged(
  polygons: readonly (readonly Point[])[],
  rule: 'nonzero' | 'evenodd' | 'positive' = 'nonzero',
): Point[][] {
  const fill = { nonzero: FillRule.NonZero, evenodd: FillRule.EvenOdd, positive: FillRule.Positive }[rule];
  return fromSteps(Clipper.union(toSteps(polygons), fill));
}

/** The polygons of `a` without those of `b`, by the non-zero rule. */
export function difference(a: readonly (readonly Point[])[], b: readonly (readonly Point[])[]): Point[][] {
  return fromSteps(Clipper.difference(toSteps(a), toSteps(b), FillRule.NonZero));
}

/** What the polygons of `a` and those of `b` both cover, by the non-zero rule. */
export function intersection(a: readonly (readonly Point[])[], b: readonly (readonly Point[])[]): Point[][] {
  return fromSteps(Clipper.intersect(toSteps(a), toSteps(b), FillRule.NonZero));
}

/** Polygons as one outline. */
export const fromPolygons = (polygons: readonly (readonly Point[])[]): Path =>
  polygons.filter((p) => p.length > 2).flatMap((p) => polygon(p.map((q) => [q.x, q.y] as const)));

/** An outline whose subpaths do not overlap, so that every fill rule fills the same. */
export const mergedPath = (path: Path, rule: 'nonzero' | 'evenodd', tolerance: number): Path =>
  fromPolygons(merged(flatten(path, tolerance), rule));
