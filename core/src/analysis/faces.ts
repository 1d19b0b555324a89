import { z } from 'zod';
import type { Region } from '../model/frame';
import type { Subject } from '../model/subject';

const share = z.number().min(-1).max(2);

/** A face in a picture, from crown to chin, in shares of the picture; it may reach beyond its edge. */
export const FaceSchema = z.object({
  u: share,
  v: share,
  width: z.number().min(0).max(2),
  height: z.number().min(0).max(2),
  /** How sure it is that this is one, 0..1. */
  score: z.number().min(0).max(1),
});
export type Face = z.infer<typeof FaceSchema>;

/** Of the weight of the foremost face; one with less is of somebody in the background. Our own choice. */
const LEAST_WEIGHT = 0.35;

/** The smallest region with all of these in it. */
export function unionOf(regions: readonly Region[]): Region {
  const u = Math.min(...regions.map((r) => r.u));
  const v = Math.min(...regions.map((r) => r.v));
  return {
    u,
    v,
    width: Math.max(...regions.map((r) => r.u + r.width)) - u,
    height: Math.max(...regions.map((r) => r.v + r.height)) - v,
  };
}

/** How much a picture is about a face: its size, and a little its nearness to the middle. */
function weightOf({ u, v, width, height }: Region): number {
  const far = Math.hypot(u + width / 2 - 0.5, v + height / 2 - 0.5);
  return Math.sqrt(Math.max(0, width * height)) * (1 - 0.4 * Math.min(1, far));
}

/** The faces that a picture is about, the foremost first: small ones far behind are left out. */
export function foremost(faces: readonly Face[]): Face[] {
  const sorted = faces.toSorted((a, b) => weightOf(b) - weightOf(a));
  const least = sorted[0] ? LEAST_WEIGHT * weightOf(sorted[0]) : 0;
  return sorted.filter((f) => weightOf(f) >= least);
}

/** What a picture with faces is about: all of them that count, or as many as can be shown. @returns null without faces */
export function faceSubject(faces: readonly Face[]): Subject | null {
  const counting = foremost(faces);
  if (counting.length === 0) return null;
  const { u, v, width, height } = unionOf(counting);
  const within = (at: number): number => Math.min(1, Math.max(0, at));
  return {
    u: within(u + width / 2),
    v: within(v + height / 2),
    regions: counting.map((f) => ({ u: f.u, v: f.v, width: f.width, height: f.height })),
  };
}
