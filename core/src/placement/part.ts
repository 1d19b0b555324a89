import { bounds } from '../geometry/measure';
import type { Rect } from '../geometry/path';
import { keepMarks, withKeepMarks, type Frame, type KeepMark, type Size } from '../model/frame';
import { onPartOf, silhouettePath } from './overstep';
import { coverScale, deriveView, ontoPicture } from './view';

/**
 * What of its picture a frame can show, as the upright rectangle round it in shares of the picture; it may reach beyond the
 * picture, where that does not fill the frame. A shape or a subject that leaves its box shows what lies there
 * too.
 */
export function shownPart(frame: Frame, picture: Size): Rect {
  const { matrix } = deriveView(frame.placement, frame.box, picture);
  const b = bounds(silhouettePath(frame));
  const xs = [Math.min(0, b.x), Math.max(frame.box.width, b.x + b.width)];
  const ys = [Math.min(0, b.y), Math.max(frame.box.height, b.y + b.height)];
  const corners = xs.flatMap((x) => ys.map((y) => ontoPicture(matrix, { x, y }, picture)));
  const us = corners.map((c) => c.u);
  const vs = corners.map((c) => c.v);
  const [x, y] = [Math.min(...us), Math.min(...vs)];
  return { x, y, width: Math.max(...us) - x, height: Math.max(...vs) - y };
}

/**
 * The same view of a picture of which only a part is left, with more or fewer pixels than it had.
 * @param picture size of the whole picture, in pixels
 * @param part what is left of it, in those pixels
 * @param now the size that the part is stored with, in pixels
 */
export function ontoPart(frame: Frame, picture: Size, part: Rect, now: Size): Frame {
  const { scale, placement } = deriveView(frame.placement, frame.box, picture);
  // A stretched picture stays stretched over its box; tiles are laid whole.
  if (placement.fit === 'stretch' || placement.fit === 'tile') return frame;
  const sx = (scale.x * part.width) / now.width;
  const sy = (scale.y * part.height) / now.height;
  const u = (share: number): number => (share * picture.width - part.x) / part.width;
  const v = (share: number): number => (share * picture.height - part.y) / part.height;
  const turned = { ...placement, distortion: sx / sy };
  const next: Frame = {
    ...frame,
    ...(frame.overstep && { overstep: onPartOf(frame.overstep, { ...now, u, v }) }),
    placement: {
      ...turned,
      aim: { u: u(placement.aim.u), v: v(placement.aim.v) },
      zoom: sy / coverScale(turned, frame.box, now),
    },
  };
  return withKeepMarks(
    next,
    keepMarks(frame).map((mark) => keptPart(mark, u, v)),
  );
}

function keptPart(keep: KeepMark, u: (share: number) => number, v: (share: number) => number): KeepMark {
  const within = (share: number): number => Math.min(1, Math.max(0, share));
  const [left, top] = [within(u(keep.u)), within(v(keep.v))];
  return {
    ...keep,
    u: left,
    v: top,
    width: within(u(keep.u + keep.width)) - left,
    height: within(v(keep.v + keep.height)) - top,
  };
}
