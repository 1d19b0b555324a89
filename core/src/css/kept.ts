import { toSvgPath } from '../geometry/svg-path';
import { FULL_SEAT, type Frame } from '../model/frame';
import { anchorShares, framePath, seatOf } from '../shapes/index';
import { trimNumber } from '../units';

/** How a shape that keeps its ratio lies in a box of any ratio. */
export interface KeptShape {
  /** A value of `mask` (CSS Masking 1 §7.1). */
  mask: string;
  /** Of a drawing over that box, in the coordinates of the frame's own. */
  viewBox: string;
  /** How that drawing lies in the box (SVG 2 §8.7, preserveAspectRatio). */
  aspect: string;
}

const n = (x: number): string => trimNumber(x, 4);
const ALONG = ['Min', 'Mid', 'Max'] as const;

/**
 * A shape that keeps its ratio, for a box whose ratio is the window's: a mask as large as fits, at one of nine places, alone or repeated
 * (CSS Backgrounds 3 §2.9, `contain`; §2.4, `repeat`). Null for a shape that takes all of its box, and for repeated ones with lines or
 * shadows round them, which no mask draws.
 */
export function keptShape(frame: Frame): KeptShape | null {
  const { seat, outline, shadow, overstep } = frame;
  const at = seatOf(frame);
  if (!at || overstep || (seat.repeat && (outline || shadow))) return null;
  const d = toSvgPath(framePath({ ...frame, box: at, seat: FULL_SEAT }), 3);
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${n(at.width)} ${n(at.height)}"><path d="${d}"/></svg>`;
  const [across, down] = anchorShares(seat.anchor);
  const data = encodeURIComponent(svg).replace(/'/g, '%27');
  return {
    mask: `url("data:image/svg+xml,${data}") ${across * 100}% ${down * 100}%/contain ${seat.repeat ? 'repeat' : 'no-repeat'}`,
    viewBox: [at.x, at.y, at.width, at.height].map(n).join(' '),
    aspect: `x${ALONG[across * 2]!}Y${ALONG[down * 2]!}`,
  };
}
