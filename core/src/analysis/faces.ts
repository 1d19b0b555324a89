import { z } from 'zod';
import type { Region } from '../model/frame';
import type { Pixels } from '../model/pixels';
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
  /** How much finer detail it has, for its contrast; only to be compared within one picture. */
  sharpness: z.number().min(0).optional(),
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

/** Cells across a face on which its detail is measured: so many show eyes and mouth, and no grain. */
const CELLS = 32;
/** What a face wholly out of focus still counts, beside one in focus. Our own choice. */
const BLURRED = 0.2;

/**
 * The faces with how sharp each is: its mean Laplacian over its deviation, on a grid of the same number of cells for every
 * face, so that a larger one is not sharper for its size.
 */
export const withSharpness = (faces: readonly Face[], pixels: Pixels): Face[] =>
  faces.map((face) => ({ ...face, sharpness: sharpnessOf(face, pixels) }));

function sharpnessOf(face: Region, { width, height, data }: Pixels): number {
  const grid = new Float32Array(CELLS * CELLS);
  for (let y = 0; y < CELLS; y++)
    for (let x = 0; x < CELLS; x++) {
      const px = Math.floor((face.u + ((x + 0.5) / CELLS) * face.width) * width);
      const py = Math.floor((face.v + ((y + 0.5) / CELLS) * face.height) * height);
      const i = (Math.min(height - 1, Math.max(0, py)) * width + Math.min(width - 1, Math.max(0, px))) * 4;
      grid[y * CELLS + x] = 0.2126 * data[i]! + 0.7152 * data[i + 1]! + 0.0722 * data[i + 2]!;
    }
  const mean = grid.reduce((sum, l) => sum + l, 0) / grid.length;
  const deviation = Math.sqrt(grid.reduce((sum, l) => sum + (l - mean) ** 2, 0) / grid.length);
  let sum = 0;
  for (let y = 1; y < CELLS - 1; y++)
    for (let x = 1; x < CELLS - 1; x++) {
      const i = y * CELLS + x;
      sum += Math.abs(4 * grid[i]! - grid[i - 1]! - grid[i + 1]! - grid[i - CELLS]! - grid[i + CELLS]!);
    }
  // An even patch has no detail that could be told from noise.
  return deviation < 2 ? 0 : sum / (CELLS - 2) ** 2 / deviation;
}

/** How much a picture is about a face: its size, its sharpness beside the sharpest, and a little its nearness to the middle. */
function weightOf({ u, v, width, height, sharpness }: Face, sharpest: number): number {
  const far = Math.hypot(u + width / 2 - 0.5, v + height / 2 - 0.5);
  const focus = sharpness === undefined || sharpest === 0 ? 1 : BLURRED + (1 - BLURRED) * (sharpness / sharpest) ** 2;
  return Math.sqrt(Math.max(0, width * height)) * (1 - 0.4 * Math.min(1, far)) * focus;
}

/** The faces that a picture is about, the foremost first: small ones far behind, and those out of focus, are left out. */
export function foremost(faces: readonly Face[]): Face[] {
  const sharpest = Math.max(0, ...faces.map((f) => f.sharpness ?? 0));
  const weighed = faces.map((face) => ({ face, weight: weightOf(face, sharpest) })).sort((a, b) => b.weight - a.weight);
  const least = weighed[0] ? LEAST_WEIGHT * weighed[0].weight : 0;
  return weighed.filter(({ weight }) => weight >= least).map(({ face }) => face);
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
