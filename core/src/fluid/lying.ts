import type { Frame, Placement, Size } from '../model/frame';
import { deriveView } from '../placement/view';

/** Where a picture lies in a box whose ratio changes: the share of what of it is hidden that is hidden on the left, and at the top. */
export interface Lying {
  x: number;
  y: number;
}

/** How much of a picture shows across and down, at most 1, in a box that it covers: its zoom comes on top. */
export function shownShares(box: Size, picture: Size, zoom: number): Size {
  const [across, down] = [box.width / picture.width, box.height / picture.height];
  const scale = Math.max(across, down) * Math.max(1, zoom);
  return { width: Math.min(1, across / scale), height: Math.min(1, down / scale) };
}

/** Hidden parts smaller than this are none. */
const NONE = 1e-6;

/**
 * Where a picture lies that covers its box; its middle where it shows all on a side.
 * @param placement neither turned nor distorted, as `deriveView` has it
 */
export function lyingOf({ aim, zoom, mirror }: Placement, box: Size, picture: Size): Lying {
  const shown = shownShares(box, picture, zoom);
  const at = (middle: number, part: number): number =>
    1 - part < NONE ? 0.5 : Math.min(1, Math.max(0, (middle - part / 2) / (1 - part)));
  return { x: at(mirror ? 1 - aim.u : aim.u, shown.width), y: at(aim.v, shown.height) };
}

/** The aim at which a picture lies so in a box. */
export function aimLying({ x, y }: Lying, { zoom, mirror }: Placement, box: Size, picture: Size): Placement['aim'] {
  const shown = shownShares(box, picture, zoom);
  const at = (position: number, part: number): number => position * (1 - part) + part / 2;
  const u = at(x, shown.width);
  return { u: mirror ? 1 - u : u, v: at(y, shown.height) };
}

/** Do the positions of a frame for windows of some widths count: does its picture lie as it did when they were found? */
export const positionsThatHold = ({
  positions,
  placement,
}: Pick<Frame, 'positions' | 'placement'>): Frame['positions'] =>
  positions && sameLying(positions.lies, placement) ? positions : undefined;

const sameLying = (a: Placement, b: Placement): boolean =>
  a.fit === b.fit &&
  a.mirror === b.mirror &&
  a.turn === b.turn &&
  Math.abs(a.zoom - b.zoom) < 1e-6 &&
  Math.abs(a.distortion - b.distortion) < 1e-6 &&
  Math.hypot(a.aim.u - b.aim.u, a.aim.v - b.aim.v) < 1e-6;

type Positions = NonNullable<Frame['positions']>;
type Range = Positions['at'][number];

/** The positions of a frame, or the one that it has in all windows. @param picture shown pixels */
export function rangesOf(frame: Frame, picture: Size): readonly Range[] {
  const { placement } = deriveView(frame.placement, frame.box, picture);
  return positionsThatHold(frame)?.at ?? [{ upTo: null, ...lyingOf(placement, frame.box, picture) }];
}

/** The one of them that counts in a window. */
export const rangeAt = (ranges: readonly Range[], window: number): Range =>
  ranges.find(({ upTo }) => upTo === null || window <= upTo)!;

/**
 * The frame with these positions; its picture lies as they say in the window that its box is of.
 * @param seen the width of that window
 */
export function withRanges(frame: Frame, ranges: readonly Range[], picture: Size, seen: number): Frame {
  const { placement } = deriveView(frame.placement, frame.box, picture);
  const lies = { ...placement, aim: aimLying(rangeAt(ranges, seen), placement, frame.box, picture) };
  return { ...frame, placement: lies, positions: { lies, at: [...ranges] } };
}

/** One position moved: that which counts in a window. */
export const movedAt = (ranges: readonly Range[], window: number, to: Partial<Lying>): Range[] =>
  ranges.map((r) => (r === rangeAt(ranges, window) ? { ...r, ...to } : r));

/** The same, with a position of their own for windows up to this width. */
export function partedAt(ranges: readonly Range[], window: number): Range[] {
  const here = rangeAt(ranges, window);
  return here.upTo === window ? [...ranges] : ranges.flatMap((r) => (r === here ? [{ ...r, upTo: window }, r] : [r]));
}
