import { unionOf } from '../analysis/faces';
import { windingNumber } from '../geometry/measure';
import { flatten, type Point } from '../geometry/path';
import type { Frame, Region, Size } from '../model/frame';
import type { Subject } from '../model/subject';
import { framePath } from '../shapes/index';
import { deriveView, ontoBox } from './view';

/** More faces than this are no longer looked at one by one. */
const MOST = 12;
/** So much of a box round a face, about its middle, is to be seen: the head, or else the face without hair and ears. */
const HEAD = 0.95;
const FACE = 0.7;

/** Where a part of the picture has its middle, in shares of it. */
const middleOf = ({ u, v, width, height }: Region): { u: number; v: number } => ({
  u: Math.min(1, Math.max(0, u + width / 2)),
  v: Math.min(1, Math.max(0, v + height / 2)),
});

/** The shape as polygons, finely enough to tell what lies in it; its box where it cannot be drawn. */
function outlineOf(frame: Frame): Point[][] {
  const { width, height } = frame.box;
  try {
    return flatten(framePath(frame), Math.max(width, height) / 200);
  } catch {
    return [
      [
        { x: 0, y: 0 },
        { x: width, y: 0 },
        { x: width, y: height },
        { x: 0, y: height },
      ],
    ];
  }
}

interface Spot {
  u: number;
  v: number;
}

const cornersOf = ({ u, v, width, height }: Region, seen: number): Spot[] =>
  [-seen, seen].flatMap((i) =>
    [-seen, seen].map((k) => ({ u: u + (width * (1 + i)) / 2, v: v + (height * (1 + k)) / 2 })),
  );

/** The middle of the smallest circle round these, nearly: a step to the farthest, ever shorter (Bădoiu and Clarkson, 2003). */
function circleMiddle(spots: readonly Spot[], { width, height }: Size): Spot {
  let { u, v } = spots[0]!;
  for (let i = 1; i <= 60; i++) {
    const far = spots.reduce(
      (most, s) => {
        const d = Math.hypot((s.u - u) * width, (s.v - v) * height);
        return d > most.d ? { d, s } : most;
      },
      { d: -1, s: spots[0]! },
    ).s;
    [u, v] = [u + (far.u - u) / (i + 1), v + (far.v - v) / (i + 1)];
  }
  return middleOf({ u, v, width: 0, height: 0 });
}

/** The point that must be in the middle for a frame to show all of these parts; null where none does. */
function aimShowing(frame: Frame, outline: readonly Point[][], picture: Size, parts: readonly Region[]): Spot | null {
  const shows = (aim: Spot, corners: readonly Spot[]): boolean => {
    const { matrix } = deriveView({ ...frame.placement, aim }, frame.box, picture);
    return corners.every((at) => windingNumber(outline, ontoBox(matrix, at, picture)) !== 0);
  };
  const middle = middleOf(unionOf(parts));
  for (const seen of [HEAD, FACE]) {
    const corners = parts.flatMap((part) => cornersOf(part, seen));
    if (shows(middle, corners)) return middle;
    const round = circleMiddle(corners, picture);
    if (shows(round, corners)) return round;
  }
  return null;
}

/**
 * The point of the picture that belongs in the middle of a frame: that of its subject. Where a picture is about several
 * faces, it is the middle of all of them that the frame can show at its zoom, or of the largest group beside each other
 * that it can.
 */
export function aimAt(subject: Subject, frame: Frame, picture: Size): { u: number; v: number } {
  const regions = subject.regions?.slice(0, MOST) ?? [];
  if (regions.length < 2) return { u: subject.u, v: subject.v };
  const outline = outlineOf(frame);
  const whole = aimShowing(frame, outline, picture, regions);
  if (whole) return whole;
  // Beside each other along the axis on which they lie farther apart.
  const all = unionOf(regions);
  const across = all.width * picture.width >= all.height * picture.height;
  const along = (r: Region): number => (across ? r.u + r.width / 2 : r.v + r.height / 2);
  const sorted = regions.toSorted((a, b) => along(a) - along(b));
  let best: { aim: Spot; weight: number } | null = null;
  for (let from = 0; from < sorted.length; from++)
    for (let to = from + 1; to <= sorted.length; to++) {
      const group = sorted.slice(from, to);
      const aim = aimShowing(frame, outline, picture, group);
      if (!aim) break;
      const weight = group.reduce((sum, r) => sum + Math.sqrt(r.width * r.height), 0);
      if (!best || weight > best.weight) best = { aim, weight };
    }
  // Not even one of them: the foremost.
  return best?.aim ?? middleOf(regions[0]!);
}
