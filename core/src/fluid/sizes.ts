import type { Frame, Size } from '../model/frame';
import { deriveView } from '../placement/view';
import type { BoxInWindow } from './every-width';

/** How wide a picture is drawn in a window, whole, in CSS pixels. */
export interface DrawnInWindow {
  window: number;
  width: number;
}

/**
 * How wide a picture is drawn, with what of it is hidden, in the box that its frame has in a window.
 * @param picture shown pixels
 */
export function drawnIn(frame: Frame, picture: Size, { window, width, height }: BoxInWindow): DrawnInWindow {
  const { placement } = deriveView(frame.placement, frame.box, picture);
  const [across, down] = [width, (height / picture.height) * picture.width];
  // Turned, either side may have to be as long as both.
  if (placement.turn % 180 !== 0) return { window, width: Math.hypot(across, down) * Math.max(1, placement.zoom) };
  const whole = placement.fit === 'contain' ? Math.min(across, down) : Math.max(across, down);
  return { window, width: whole * Math.max(placement.fit === 'contain' ? 0.01 : 1, placement.zoom) };
}

/** From one copy to the next smaller one (common practice: less saves little, more wastes much). */
const STEP = 1.5;
/** Screens have up to so many pixels to the CSS pixel that are worth their bytes (common practice). */
const DENSE = 2;
/** A picture that has so much more than any screen needs is no choice itself. */
const SPARE = 1.2;
const MOST_COPIES = 6;

/**
 * The widths in pixels that copies of a picture are worth having, the widest first, and whether the picture itself is one of the choices.
 * @param natural its own width
 */
export function copyWidths(drawn: readonly DrawnInWindow[], natural: number): { copies: number[]; self: boolean } {
  const least = Math.max(32, Math.min(...drawn.map((d) => d.width)));
  const most = Math.max(...drawn.map((d) => d.width)) * DENSE;
  const self = natural <= most * SPARE;
  const copies: number[] = self ? [] : [Math.round(most)];
  for (let w = (self ? natural : most) / STEP; w >= least && copies.length < MOST_COPIES; w /= STEP)
    copies.push(Math.round(w));
  return { copies, self };
}

/** So far a width may be told beside what is drawn, in shares of it: too little is worse than too much. */
const SHORT = 0.02;
const LONG = 0.05;

/** A width that grows with the window: a share of that, and more, in CSS pixels. */
interface Line {
  share: number;
  more: number;
}

function lineThrough(from: DrawnInWindow, to: DrawnInWindow): Line {
  if (from.window === to.window) return { share: from.width / from.window, more: 0 };
  const share = (to.width - from.width) / (to.window - from.window);
  return { share, more: from.width - share * from.window };
}

const fits = (all: readonly DrawnInWindow[], { share, more }: Line): boolean =>
  all.every(({ window, width }) => {
    const told = share * window + more;
    return told >= width * (1 - SHORT) && told <= width * (1 + LONG);
  });

const n = (v: number): string => String(Math.round(v * 100) / 100);

function written({ share, more }: Line): string {
  if (Math.abs(share) < 0.002) return `${Math.ceil(more + share * 1000)}px`;
  if (Math.abs(more) < 1) return `${n(share * 100)}vw`;
  return `calc(${n(share * 100)}vw ${more < 0 ? '-' : '+'} ${n(Math.abs(more))}px)`;
}

/**
 * How wide a picture is in windows of every width, as `sizes` says it (HTML §4.8.4.2.2).
 * @param drawn in some windows, at least one
 */
export function sizesOf(drawn: readonly DrawnInWindow[]): string {
  const all = drawn.toSorted((a, b) => a.window - b.window);
  const parts: string[] = [];
  for (let i = 0; i < all.length;) {
    let j = i;
    while (j + 1 < all.length && fits(all.slice(i, j + 2), lineThrough(all[i]!, all[j + 1]!))) j++;
    const told = written(lineThrough(all[i]!, all[j]!));
    parts.push(j + 1 < all.length ? `(max-width: ${all[j]!.window}px) ${told}` : told);
    i = j + 1;
  }
  return parts.join(', ');
}
