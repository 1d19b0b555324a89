import { aimLying, lyingOf, shownShares, withRanges, type Lying } from './lying';
import type { Frame, Region, Size } from '../model/frame';
import { keptWithin, shownAround } from '../placement/rank';
import { deriveView } from '../placement/view';

/** The box of a frame in a window of this width, all in CSS pixels. */
export interface BoxInWindow extends Size {
  window: number;
}

/** Positions for windows up to so many CSS pixels wide, the last for all that are wider. */
export type Positions = NonNullable<Frame['positions']>;

export interface EveryWidth {
  /** The frame as it lies in the window that it is seen in, with the positions for all others. */
  frame: Frame;
  /** Windows in which no position shows all, by their widths. */
  cut: readonly { from: number; to: number }[];
}

/** From here on nothing of a region is missed. */
const ALL = 0.995;
/** What no position shows whole is shown as far as one can, but for this much. */
const NEARLY = 0.01;
/** Positions that are tried across and down where shapes are no rectangles. */
const STEPS = 40;
/** So far from the edge of what holds a position is chosen, as a share of it: what is measured is never exact. */
const MARGIN = 0.08;

/**
 * A picture in a box whose ratio hangs on the window, so that regions of it stay in view in as many windows as can be, with as few
 * changes of position as can be. A position is kept as long as it holds: greedy from the narrowest window on, which is the fewest
 * (stabbing of intervals in their order; common practice). In a rectangle the positions that show a region are an interval on each
 * axis; of other shapes a grid of positions is tried.
 * @param frame its picture covers it, and is neither turned nor distorted
 * @param picture shown pixels
 * @param boxes by the width of their window, ascending
 * @param seen the width of the window that the frame's own box is of
 * @returns null where such a picture has no positions, or nothing is to be kept
 */
export function atEveryWidth(
  frame: Frame,
  {
    picture,
    regions,
    boxes,
    seen,
  }: { picture: Size; regions: readonly Region[]; boxes: readonly BoxInWindow[]; seen: number },
): EveryWidth | null {
  if (!hasPositions(frame) || regions.length === 0 || boxes.length === 0) return null;
  const { placement } = deriveView(frame.placement, frame.box, picture);
  const own = lyingOf(placement, frame.box, picture);
  const find = isRectangle(frame) ? new Intervals(frame, picture, regions) : new Grid(frame, picture, regions);
  const cut: { from: number; to: number }[] = [];
  const found: { upTo: number | null; at: Lying }[] = [];
  let held: Holding | null = null;
  for (const [i, box] of boxes.entries()) {
    const here = find.at(box);
    if (!here.all) {
      const last = cut.at(-1);
      if (last && i > 0 && last.to === boxes[i - 1]!.window) last.to = box.window;
      else cut.push({ from: box.window, to: box.window });
    }
    const both: Holding | null = held ? held.and(here) : here;
    if (both) held = both;
    else {
      found.push({ upTo: Math.floor((boxes[i - 1]!.window + box.window) / 2), at: held!.nearest(own) });
      held = here;
    }
  }
  found.push({ upTo: null, at: held!.nearest(own) });
  const ranges = found.map(({ upTo, at: { x, y } }) => ({ upTo, x, y }));
  return { frame: withRanges(frame, ranges, picture, seen), cut };
}

/** Does nothing but the edges of its box cut its picture? */
export const isRectangle = ({ shape, seat }: Frame): boolean =>
  seat.fit === 'fill' && (shape.name === 'rectangle' || shape.name === 'square');

/** Can positions say where its picture lies in every window? */
export const hasPositions = ({ placement, overstep }: Pick<Frame, 'placement' | 'overstep'>): boolean =>
  placement.fit === 'cover' &&
  placement.turn === 0 &&
  Math.abs(placement.distortion - 1) < 1e-3 &&
  overstep === undefined;

/**
 * How much of regions shows in boxes, with a picture that lies so: its outline is worked out once for all of them.
 * @returns the least share of one of them
 */
export function leastShown(frame: Frame, picture: Size, regions: readonly Region[]): (box: Size, at: Lying) => number {
  const outline = shownAround(frame);
  return (box, at) => {
    const shown = shownShares(box, picture, frame.placement.zoom);
    // A shape stretches with its box: in shares of the box it is what it is in the frame's own.
    const size = { width: frame.box.width / shown.width, height: frame.box.height / shown.height };
    const aim = aimLying(at, frame.placement, box, picture);
    return Math.min(...regions.map((r) => keptWithin(outline, r, aim, size)));
  };
}

/** Positions that hold in some windows. */
interface Holding {
  /** Do they show all that is to be kept? */
  all: boolean;
  /** Those of both; null where there are none. */
  and(other: Holding): Holding | null;
  /** One of them, as near to another as can be, and not at their very edge. */
  nearest(at: Lying): Lying;
}

type Interval = readonly [low: number, high: number];

class Ranges implements Holding {
  constructor(
    readonly all: boolean,
    readonly x: Interval,
    readonly y: Interval,
  ) {}

  and(other: Holding): Ranges | null {
    const { x, y } = other as Ranges;
    const both = (a: Interval, b: Interval): Interval => [Math.max(a[0], b[0]), Math.min(a[1], b[1])];
    const next = new Ranges(this.all && other.all, both(this.x, x), both(this.y, y));
    return next.x[0] > next.x[1] + 1e-9 || next.y[0] > next.y[1] + 1e-9 ? null : next;
  }

  nearest(at: Lying): Lying {
    const within = (p: number, [low, high]: Interval): number => {
      const edge = (high - low) * MARGIN;
      // At the very end of the picture nothing is cut.
      const [from, to] = [low <= 0 ? 0 : low + edge, high >= 1 ? 1 : high - edge];
      return Math.min(Math.max(p, Math.min(from, to)), Math.max(from, to));
    };
    return { x: within(at.x, this.x), y: within(at.y, this.y) };
  }
}

/** A rectangle: what shows is a part of the picture along each axis. */
class Intervals {
  /** From where to where on each axis something is to be kept, as it shows. */
  private readonly kept: { x: Interval; y: Interval };

  constructor(
    private readonly frame: Frame,
    private readonly picture: Size,
    regions: readonly Region[],
  ) {
    const { mirror } = frame.placement;
    const low = (of: (r: Region) => number): number => Math.max(0, Math.min(...regions.map(of)));
    const high = (of: (r: Region) => number): number => Math.min(1, Math.max(...regions.map(of)));
    const [left, right] = [low((r) => r.u), high((r) => r.u + r.width)];
    this.kept = {
      x: mirror ? [1 - right, 1 - left] : [left, right],
      y: [low((r) => r.v), high((r) => r.v + r.height)],
    };
  }

  at(box: Size): Ranges {
    const shown = shownShares(box, this.picture, this.frame.placement.zoom);
    const x = intervalOf(this.kept.x, shown.width);
    const y = intervalOf(this.kept.y, shown.height);
    return new Ranges(x.all && y.all, x.range, y.range);
  }
}

/**
 * The positions at which a part of a picture shows all from `low` to `high`; where it is too small for that, those at which it shows
 * nothing else.
 */
function intervalOf([low, high]: Interval, part: number): { all: boolean; range: Interval } {
  const hidden = 1 - part;
  if (hidden < 1e-6) return { all: true, range: [0, 1] };
  const ends = [(high - part) / hidden, low / hidden].map((p) => Math.min(1, Math.max(0, p))) as [number, number];
  return { all: high - low <= part + 1e-9, range: [Math.min(...ends), Math.max(...ends)] };
}

/** Positions of a grid, each with whether it holds, and the size of the grid. */
class Places implements Holding {
  constructor(
    readonly all: boolean,
    private readonly across: number,
    private readonly holds: Uint8Array,
  ) {}

  and(other: Holding): Places | null {
    const { holds } = other as Places;
    const both = this.holds.map((h, i) => h & holds[i]!);
    return both.some((h) => h === 1) ? new Places(this.all && other.all, this.across, both) : null;
  }

  nearest(at: Lying): Lying {
    // As deep among those that hold as any near it: the mean of the nearest and of all of them, where that holds, too.
    const all = [...this.holds.keys()].filter((i) => this.holds[i] === 1).map((i) => this.lying(i));
    const far = (p: Lying): number => Math.hypot(p.x - at.x, p.y - at.y);
    const near = all.reduce((a, b) => (far(b) < far(a) ? b : a));
    if (far(near) < 0.5 / STEPS) return near;
    const middle = { x: mean(all.map((p) => p.x)), y: mean(all.map((p) => p.y)) };
    const inward = (by: number): Lying => ({
      x: near.x + (middle.x - near.x) * by,
      y: near.y + (middle.y - near.y) * by,
    });
    const grid = (v: number): number => Math.round(v * STEPS);
    const isHeld = ({ x, y }: Lying): boolean => this.holds[grid(y) * this.across + grid(x)] === 1;
    return [2 * MARGIN, MARGIN].map(inward).find(isHeld) ?? near;
  }

  private lying(i: number): Lying {
    return { x: (i % this.across) / STEPS, y: Math.floor(i / this.across) / STEPS };
  }
}

const mean = (all: readonly number[]): number => all.reduce((sum, v) => sum + v, 0) / all.length;

/** Any shape: positions are tried, on an axis along which nothing is hidden only one. */
class Grid {
  private readonly intervals: Intervals;
  private readonly shown: ReturnType<typeof leastShown>;

  constructor(
    private readonly frame: Frame,
    private readonly picture: Size,
    regions: readonly Region[],
  ) {
    this.intervals = new Intervals(frame, picture, regions);
    this.shown = leastShown(frame, picture, regions);
  }

  at(box: Size): Places {
    const shown = shownShares(box, this.picture, this.frame.placement.zoom);
    const free = [shown.width, shown.height].map((part) => 1 - part >= 1e-6);
    // Where the picture can be moved both ways there are many places: every other one is tried.
    const steps = free[0] && free[1] ? STEPS / 2 : STEPS;
    const [nx, ny] = free.map((isFree) => (isFree ? steps : 0)) as [number, number];
    const shares = new Float64Array((nx + 1) * (ny + 1)).fill(-1);
    const tryThose = (among: (at: Lying) => boolean): void => {
      for (let iy = 0; iy <= ny; iy++)
        for (let ix = 0; ix <= nx; ix++) {
          const [i, at] = [iy * (nx + 1) + ix, { x: nx === 0 ? 0.5 : ix / nx, y: ny === 0 ? 0.5 : iy / ny }];
          if (shares[i]! < 0 && among(at)) shares[i] = this.shown(box, at);
        }
    };
    // What its box cuts its shape does: the others are only asked where none holds.
    const { all, x, y } = this.intervals.at(box);
    const isIn = (v: number, [low, high]: Interval): boolean => v >= low - 1e-9 && v <= high + 1e-9;
    if (all) tryThose((at) => isIn(at.x, x) && isIn(at.y, y));
    if (Math.max(...shares) < ALL) tryThose(() => true);
    const best = Math.max(...shares);
    const least = best >= ALL ? ALL : best - NEARLY;
    const holds = new Uint8Array((STEPS + 1) ** 2);
    for (let iy = 0; iy <= STEPS; iy++)
      for (let ix = 0; ix <= STEPS; ix++)
        // Between places that were tried both must hold.
        holds[iy * (STEPS + 1) + ix] = Number(
          [Math.floor, Math.ceil].every((to) => {
            const [x, y] = [to((ix * nx) / STEPS), to((iy * ny) / STEPS)];
            return shares[y * (nx + 1) + x]! >= least;
          }),
        );
    return new Places(best >= ALL, STEPS + 1, holds);
  }
}
