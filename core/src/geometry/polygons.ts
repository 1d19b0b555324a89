import { Clipper, Clipper64, ClipType, FillRule, type Paths64 } from 'clipper2-ts';
import { flatten, polygon, type Path, type Point, type Segment } from './path';

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

/** Ends that are no farther apart than this are one, in steps: the clipper rounds. */
const SAME = 2;

/** The outline as far as it runs outside of an area: closed where it never enters that, else open pieces. */
export function outsideOf(outline: Path, area: readonly (readonly Point[])[], tolerance: number): Path {
  const clip = toSteps(area);
  return flatten(outline, tolerance).flatMap((ring): Path => {
    const clipper = new Clipper64();
    const pieces: Paths64 = [];
    clipper.addOpenSubject(toSteps([[...ring, ring[0]!]]));
    clipper.addClip(clip);
    clipper.execute(ClipType.Difference, FillRule.NonZero, [], pieces);
    const near = (a: Paths64[0][0], b: Paths64[0][0]): boolean =>
      Math.abs(a.x - b.x) <= SAME && Math.abs(a.y - b.y) <= SAME;
    // The ring was opened at one of its points: the pieces that meet there are one.
    const [start] = toSteps([ring])[0]!;
    const first = pieces.find((p) => near(p[0]!, start!));
    const last = pieces.find((p) => near(p.at(-1)!, start!));
    if (first && first === last) return polygon(ring.map((q) => [q.x, q.y] as const));
    const joined =
      first && last ? [...pieces.filter((p) => p !== first && p !== last), [...last, ...first.slice(1)]] : pieces;
    return fromSteps(joined).flatMap((p) => p.map((q, i): Segment => ({ op: i === 0 ? 'M' : 'L', x: q.x, y: q.y })));
  });
}

/** Polygons as one outline. */
export const fromPolygons = (polygons: readonly (readonly Point[])[]): Path =>
  polygons.filter((p) => p.length > 2).flatMap((p) => polygon(p.map((q) => [q.x, q.y] as const)));

/** What outlines cover together, whichever way each of them runs, as one that does not overlap itself. */
export const coveredBy = (outlines: readonly Path[], tolerance: number): Path =>
  fromPolygons(merged(outlines.flatMap((outline) => merged(flatten(outline, tolerance)))));

/** An outline whose subpaths do not overlap, so that every fill rule fills the same. */
export const mergedPath = (path: Path, rule: 'nonzero' | 'evenodd', tolerance: number): Path =>
  fromPolygons(merged(flatten(path, tolerance), rule));
