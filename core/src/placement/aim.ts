import { unionOf } from '../analysis/faces';
import { doubleArea, windingNumber } from '../geometry/measure';
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

/** A shape that covers this much of its box is seen as a box, and its picture is laid out as in one. */
const BOX_LIKE = 0.85;
/** Faces that take more than this of the height of a box have no room above them to spare. */
const HEADROOM = 0.4;
/** Where the eyes are between crown and chin (common practice of drawing: halfway, and hair above the crown), and in a box. */
const EYES = 0.45;
const THIRD = 1 / 3;

/** With the eyes on the upper third of a box, where faces leave room enough (common practice); else as it is. */
function eyesAtThird(
  aim: Spot,
  faces: readonly Region[],
  frame: Frame,
  outline: readonly Point[][],
  picture: Size,
): Spot {
  const { box, placement } = frame;
  const boxLike = outline.reduce((sum, p) => sum + Math.abs(doubleArea(p)) / 2, 0) >= BOX_LIKE * box.width * box.height;
  const upright = placement.turn === 0 && frame.turn === 0 && !frame.flip.vertical;
  if (!boxLike || !upright || (placement.fit !== 'cover' && placement.fit !== 'contain')) return aim;
  const all = unionOf(faces);
  const inBox = (picture.height * deriveView(placement, box, picture).scale.y) / box.height;
  if (all.height * inBox > HEADROOM) return aim;
  const v = all.v + EYES * all.height + (1 / 2 - THIRD) / inBox;
  return { u: aim.u, v: Math.min(1, Math.max(0, v)) };
}

/**
 * The point of the picture that belongs in the middle of a frame: that of its subject. Where a picture is about several
 * faces, it is the middle of all of them that the frame can show at its zoom, or of the largest group beside each other
 * that it can. In a box with room above them faces lie a little higher, with their eyes on the upper third.
 */
export function aimAt(subject: Subject, frame: Frame, picture: Size): { u: number; v: number } {
  const regions = subject.regions?.slice(0, MOST) ?? [];
  if (regions.length === 0) return { u: subject.u, v: subject.v };
  const outline = outlineOf(frame);
  const { aim, faces } = middleOfFaces(subject, regions, frame, outline, picture);
  return eyesAtThird(aim, faces, frame, outline, picture);
}

/** The point to be in the middle for as many faces as the frame can show, and which those are. */
function middleOfFaces(
  subject: Subject,
  regions: readonly Region[],
  frame: Frame,
  outline: readonly Point[][],
  picture: Size,
): { aim: Spot; faces: readonly Region[] } {
  if (regions.length === 1) return { aim: { u: subject.u, v: subject.v }, faces: regions };
  const whole = aimShowing(frame, outline, picture, regions);
  if (whole) return { aim: whole, faces: regions };
  // Beside each other along the axis on which they lie farther apart.
  const all = unionOf(regions);
  const across = all.width * picture.width >= all.height * picture.height;
  const along = (r: Region): number => (across ? r.u + r.width / 2 : r.v + r.height / 2);
  const sorted = regions.toSorted((a, b) => along(a) - along(b));
  let best: { aim: Spot; faces: readonly Region[]; weight: number } | null = null;
  for (let from = 0; from < sorted.length; from++)
    for (let to = from + 1; to <= sorted.length; to++) {
      const group = sorted.slice(from, to);
      const aim = aimShowing(frame, outline, picture, group);
      if (!aim) break;
      const weight = group.reduce((sum, r) => sum + Math.sqrt(r.width * r.height), 0);
      if (!best || weight > best.weight) best = { aim, faces: group, weight };
    }
  // Not even one of them: the foremost.
  return best ?? { aim: middleOf(regions[0]!), faces: regions.slice(0, 1) };
}
