import { area } from '../geometry/measure';
import type { Frame, Region, Size } from '../model/frame';
import { framePath } from '../shapes/index';
import { unionOf } from '../analysis/faces';
import type { Subject } from '../model/subject';
import { deriveView } from './view';

/** Where a part of the picture has its middle, in shares of it. */
const middleOf = ({ u, v, width, height }: Region): { u: number; v: number } => ({
  u: Math.min(1, Math.max(0, u + width / 2)),
  v: Math.min(1, Math.max(0, v + height / 2)),
});

/** So much of its box a shape shows along each axis. A circle: √(π/4). */
function opening(frame: Frame): number {
  try {
    return Math.min(1, Math.sqrt(area(framePath(frame)) / (frame.box.width * frame.box.height)));
  } catch {
    return 1;
  }
}

/**
 * The point of the picture that belongs in the middle of a frame: that of its subject. Where a picture is about several
 * faces, it is the middle of all of them that the frame can show at its zoom, or of the largest group beside each other
 * that it can.
 */
export function aimAt(subject: Subject, frame: Frame, picture: Size): { u: number; v: number } {
  const { regions } = subject;
  if (!regions || regions.length < 2) return { u: subject.u, v: subject.v };
  const { corners } = deriveView(frame.placement, frame.box, picture);
  const open = opening(frame);
  const room = {
    u: open * (Math.max(...corners.map((c) => c.x)) - Math.min(...corners.map((c) => c.x))),
    v: open * (Math.max(...corners.map((c) => c.y)) - Math.min(...corners.map((c) => c.y))),
  };
  const fits = (of: Region): boolean => of.width <= room.u && of.height <= room.v;
  const all = unionOf(regions);
  if (fits(all)) return middleOf(all);
  // Along the axis on which they lack the most room.
  const across = all.width / room.u >= all.height / room.v;
  const sorted = regions.toSorted((a, b) =>
    across ? a.u + a.width / 2 - b.u - b.width / 2 : a.v + a.height / 2 - b.v - b.height / 2,
  );
  let best: { region: Region; weight: number } | null = null;
  for (let from = 0; from < sorted.length; from++)
    for (let to = from + 1; to <= sorted.length; to++) {
      const group = sorted.slice(from, to);
      const region = unionOf(group);
      if (!fits(region)) break;
      const weight = group.reduce((sum, r) => sum + Math.sqrt(r.width * r.height), 0);
      if (!best || weight > best.weight) best = { region, weight };
    }
  // Not even one of them: the foremost.
  return middleOf(best?.region ?? regions[0]!);
}
