import FlatQueue from 'flatqueue';
import { boundsOfPoints, windingNumber } from '../geometry/measure';
import type { Point, Rect } from '../geometry/path';

/** A rectangle by its middle and its half sides, at a scale of 1 and from a point that all of a group share. */
export interface Part {
  x: number;
  y: number;
  halfWidth: number;
  halfHeight: number;
}

/** Where a group of rectangles lies: that shared point, and the scale. */
export interface Place {
  at: Point;
  scale: number;
}

/** `exact` is good to a thousandth of the shape or better; `quick` to half a percent, for asking about many shapes. */
export type Effort = 'exact' | 'quick';

const GRID: Readonly<Record<Effort, number>> = { exact: 512, quick: 192 };
/** Scales nearer to each other than this are one. */
const SLACK: Readonly<Record<Effort, number>> = { exact: 1e-3, quick: 5e-3 };
/** So many places are looked at before the best so far has to do. */
const LOOKS: Readonly<Record<Effort, number>> = { exact: 20_000, quick: 3_000 };
/** Of a cell of the grid: what lies nearer to a line lies on it. */
const NEAR = 1e-6;

/** Flat bytes of rows with one more column and row of sums before them. */
function sums(cells: Uint8Array, side: number): Int32Array {
  const out = new Int32Array((side + 1) * (side + 1));
  for (let y = 0; y < side; y++) {
    let row = 0;
    for (let x = 0; x < side; x++) {
      row += cells[y * side + x]!;
      out[(y + 1) * (side + 1) + x + 1] = out[y * (side + 1) + x + 1]! + row;
    }
  }
  return out;
}

/** The cells of a grid that lie wholly outside a shape, which has its bounds for a grid of `side` by `side` cells. */
function cellsOutside(polygons: readonly (readonly Point[])[], side: number): Uint8Array {
  const outside = new Uint8Array(side * side);
  const crossed = new Uint8Array(side * side);
  const turns = new Int8Array(side * side);
  for (const polygon of polygons)
    polygon.forEach((p, i) => {
      const q = polygon[(i + 1) % polygon.length]!;
      const [top, bottom] = p.y < q.y ? [p, q] : [q, p];
      const slope = bottom.y > top.y ? (bottom.x - top.x) / (bottom.y - top.y) : 0;
      const at = (y: number): number => top.x + (y - top.y) * slope;
      const last = Math.min(side - 1, Math.floor(bottom.y - NEAR));
      for (let row = Math.max(0, Math.floor(top.y + NEAR)); row <= last; row++) {
        const ends = slope === 0 ? [p.x, q.x] : [at(Math.max(top.y, row)), at(Math.min(bottom.y, row + 1))];
        const right = Math.min(side - 1, Math.ceil(Math.max(...ends) - NEAR) - 1);
        for (let column = Math.max(0, Math.floor(Math.min(...ends) + NEAR)); column <= right; column++)
          crossed[row * side + column] = 1;
        // A line through the middles of the cells counts the edges that it crosses (non-zero).
        const middle = row + 0.5;
        if (top.y > middle || bottom.y <= middle) continue;
        const cell = Math.max(0, Math.ceil(at(middle) - 0.5));
        if (cell < side) turns[row * side + cell]! += p.y < q.y ? 1 : -1;
      }
    });
  for (let row = 0; row < side; row++) {
    let winding = 0;
    for (let i = row * side; i < (row + 1) * side; i++) {
      winding += turns[i]!;
      if (winding === 0 && crossed[i] === 0) outside[i] = 1;
    }
  }
  return outside;
}

/** How far a picture reaches from the shared point at a scale of 1, and what it must cover. */
export interface Cover {
  left: number;
  right: number;
  top: number;
  bottom: number;
  over: Rect;
}

/** What of a search is the same for all its steps. */
export interface Ask {
  parts: readonly Part[];
  cover: Cover | null;
}

/** The same with what follows from it: how far all parts reach from the point that they share, and the farthest. */
interface Search extends Ask {
  reach: Reach;
  far: number;
}

/** Places near a middle, at scales from one to another. */
interface Block {
  x: number;
  y: number;
  halfX: number;
  halfY: number;
  low: number;
  high: number;
}

/**
 * Where rectangles that keep their relation to each other fit inside a shape. The shape lies on a grid with running sums:
 * whether a rectangle has anything outside in it is four look-ups, and so is whether that holds for a whole block of places
 * and scales. Blocks are divided, the most hopeful first (branch and bound); what is found is made exact on the outline.
 */
export class Inside {
  readonly area: Rect;
  private readonly side: number;
  /** Running sums of the cells outside. */
  private readonly outside: Int32Array;

  private constructor(
    private readonly polygons: readonly (readonly Point[])[],
    private readonly effort: Effort,
    area: Rect,
  ) {
    this.area = area;
    this.side = GRID[effort];
    const [kx, ky] = [this.side / area.width, this.side / area.height];
    const onGrid = polygons.map((p) => p.map((q) => ({ x: (q.x - area.x) * kx, y: (q.y - area.y) * ky })));
    this.outside = sums(cellsOutside(onGrid, this.side), this.side);
  }

  /** @returns null for a shape that encloses nothing */
  static of(polygons: readonly (readonly Point[])[], effort: Effort): Inside | null {
    const area = boundsOfPoints(polygons.flat());
    return area.width > 0 && area.height > 0 ? new Inside(polygons, effort, area) : null;
  }

  /** Are all the rectangles inside? Exactly, by the outline. */
  holds({ parts, cover }: Ask, { at, scale }: Place): boolean {
    return (
      this.covered(cover, at, scale) &&
      parts.every((p) => {
        const middle = { x: at.x + p.x * scale, y: at.y + p.y * scale };
        return (
          windingNumber(this.polygons, middle) !== 0 &&
          !this.crossed(middle, p.halfWidth * scale * (1 - 1e-9), p.halfHeight * scale * (1 - 1e-9))
        );
      })
    );
  }

  private covered(cover: Cover | null, { x, y }: Point, scale: number): boolean {
    if (!cover) return true;
    const { left, right, top, bottom, over } = cover;
    const slack = 1e-9 * Math.max(this.area.width, this.area.height);
    return (
      x - left * scale <= over.x + slack &&
      x + right * scale >= over.x + over.width - slack &&
      y - top * scale <= over.y + slack &&
      y + bottom * scale >= over.y + over.height - slack
    );
  }

  /** Does the outline run through the inside of a rectangle? (Liang and Barsky, 1984) */
  private crossed(middle: Point, halfWidth: number, halfHeight: number): boolean {
    return this.polygons.some((polygon) => {
      for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
        const ax = polygon[j]!.x - middle.x;
        const ay = polygon[j]!.y - middle.y;
        const dx = polygon[i]!.x - middle.x - ax;
        const dy = polygon[i]!.y - middle.y - ay;
        if (Math.min(ax, ax + dx) >= halfWidth || Math.max(ax, ax + dx) <= -halfWidth) continue;
        if (Math.min(ay, ay + dy) >= halfHeight || Math.max(ay, ay + dy) <= -halfHeight) continue;
        const [x0, x1] = dx === 0 ? [0, 1] : [(-halfWidth - ax) / dx, (halfWidth - ax) / dx];
        const [y0, y1] = dy === 0 ? [0, 1] : [(-halfHeight - ay) / dy, (halfHeight - ay) / dy];
        const enters = Math.max(0, Math.min(x0, x1), Math.min(y0, y1));
        const leaves = Math.min(1, Math.max(x0, x1), Math.max(y0, y1));
        if (enters < leaves) return true;
      }
      return false;
    });
  }

  /** The place at one scale that is nearest to another; null where there is none. */
  nearest(ask: Ask, scale: number, from: Point): Point | null {
    const search = searchOf(ask);
    const first = this.contracted(search, { ...this.everywhere(), low: scale, high: scale });
    if (!first) return null;
    const distance = (b: Block): Point => ({
      x: Math.min(b.x + b.halfX, Math.max(b.x - b.halfX, from.x)),
      y: Math.min(b.y + b.halfY, Math.max(b.y - b.halfY, from.y)),
    });
    const queue = new FlatQueue<Block>();
    const put = (b: Block): void => {
      const p = distance(b);
      queue.push(b, Math.hypot(p.x - from.x, p.y - from.y));
    };
    put(first);
    for (let looks = 0; looks < LOOKS[this.effort]; looks++) {
      const block = queue.pop();
      if (!block) return null;
      const at = distance(block);
      if (this.heldAt(ask, at, scale)) return this.effort === 'exact' ? this.drawnTo(ask, { at, scale }, from) : at;
      for (const part of this.divided(search, block)) put(part);
    }
    return null;
  }

  /** The place with the largest scale between two; null where there is none. */
  largest(ask: Ask, low: number, high: number): Place | null {
    const { area } = this;
    // Nothing can be larger than the room that there is for all of them.
    const search = searchOf(ask);
    const { reach, far } = search;
    const most = Math.min(high, area.width / (reach.right - reach.left), area.height / (reach.bottom - reach.top));
    const first = most >= low ? this.contracted(search, { ...this.everywhere(), low, high: most }) : null;
    if (!first) return null;
    // A change of scale that moves no side by more than a cell is below what the sums can tell.
    const grain = Math.max(area.width, area.height) / this.side / far;
    const queue = new FlatQueue<Block>();
    queue.push(first, -first.high);
    let best: Place | null = null;
    for (let looks = 0; looks < LOOKS[this.effort]; looks++) {
      const block = queue.pop();
      if (!block || (best && block.high <= best.scale + Math.max(best.scale * SLACK[this.effort], grain))) break;
      const at = { x: block.x, y: block.y };
      for (const scale of [block.high, (block.low + block.high) / 2, block.low])
        if ((!best || scale > best.scale) && this.heldAt(ask, at, scale)) best = { at, scale };
      for (const part of this.divided(search, block)) queue.push(part, -part.high);
    }
    return best && (this.effort === 'exact' ? this.grown(ask, best, most) : best);
  }

  private everywhere(): Pick<Block, 'x' | 'y' | 'halfX' | 'halfY'> {
    const { x, y, width, height } = this.area;
    return { x: x + width / 2, y: y + height / 2, halfX: width, halfY: height };
  }

  /** Does it hold at a place? The sums are asked first: they know most places that cannot. */
  private heldAt(ask: Ask, at: Point, scale: number): boolean {
    const apart = ask.parts.some((p) => {
      const [x, y] = [at.x + p.x * scale, at.y + p.y * scale];
      const [w, h] = [p.halfWidth * scale, p.halfHeight * scale];
      return this.outsideOf(x - w, y - h, x + w, y + h) > 0;
    });
    return !apart && this.holds(ask, { at, scale });
  }

  /** Cells outside that a rectangle touches; what reaches beyond the grid is outside, too. */
  private outsideOf(x0: number, y0: number, x1: number, y1: number): number {
    const { area, side } = this;
    const [kx, ky] = [side / area.width, side / area.height];
    const left = Math.floor((x0 - area.x) * kx + NEAR);
    const top = Math.floor((y0 - area.y) * ky + NEAR);
    const right = Math.ceil((x1 - area.x) * kx - NEAR);
    const bottom = Math.ceil((y1 - area.y) * ky - NEAR);
    if (left < 0 || top < 0 || right > side || bottom > side) return 1;
    if (right <= left || bottom <= top) return 0;
    const stride = side + 1;
    return (
      this.outside[bottom * stride + right]! -
      this.outside[bottom * stride + left]! -
      this.outside[top * stride + right]! +
      this.outside[top * stride + left]!
    );
  }

  /** A block without the places that the cover and the bounds rule out; null where none is left. */
  private contracted({ parts, cover, reach }: Search, b: Block): Block | null {
    const { area } = this;
    let [x0, x1] = [b.x - b.halfX, b.x + b.halfX];
    let [y0, y1] = [b.y - b.halfY, b.y + b.halfY];
    // Each bound holds at one of the two scales at least.
    const most = (k: number): number => Math.max(k * b.low, k * b.high);
    x0 = Math.max(x0, area.x + Math.min(-reach.left * b.low, -reach.left * b.high));
    x1 = Math.min(x1, area.x + area.width + most(-reach.right));
    y0 = Math.max(y0, area.y + Math.min(-reach.top * b.low, -reach.top * b.high));
    y1 = Math.min(y1, area.y + area.height + most(-reach.bottom));
    if (cover) {
      const { over } = cover;
      x0 = Math.max(x0, over.x + over.width - most(cover.right));
      x1 = Math.min(x1, over.x + most(cover.left));
      y0 = Math.max(y0, over.y + over.height - most(cover.bottom));
      y1 = Math.min(y1, over.y + most(cover.top));
    }
    const slack = 1e-9 * Math.max(area.width, area.height);
    if (x1 < x0 - slack || y1 < y0 - slack) return null;
    const block: Block = {
      ...b,
      x: (x0 + x1) / 2,
      y: (y0 + y1) / 2,
      halfX: Math.max(0, x1 - x0) / 2,
      halfY: Math.max(0, y1 - y0) / 2,
    };
    return this.hopeless(parts, block) ? null : block;
  }

  /** Is a part outside wherever in the block all lies? What it covers at every place and scale is looked at. */
  private hopeless(parts: readonly Part[], { x, y, halfX, halfY, low, high }: Block): boolean {
    return parts.some((p) => {
      const left = x + halfX + Math.max((p.x - p.halfWidth) * low, (p.x - p.halfWidth) * high);
      const right = x - halfX + Math.min((p.x + p.halfWidth) * low, (p.x + p.halfWidth) * high);
      if (right <= left) return false;
      const top = y + halfY + Math.max((p.y - p.halfHeight) * low, (p.y - p.halfHeight) * high);
      const bottom = y - halfY + Math.min((p.y + p.halfHeight) * low, (p.y + p.halfHeight) * high);
      return bottom > top && this.outsideOf(left, top, right, bottom) > 0;
    });
  }

  /** A block in two, along what matters most in it; nothing below the grain of the grid. */
  private divided(search: Search, b: Block): Block[] {
    const { area, side } = this;
    const [dx, dy] = [(b.halfX / area.width) * side, (b.halfY / area.height) * side];
    const ds = (((b.high - b.low) / 2) * search.far * side) / Math.max(area.width, area.height);
    const halves: Block[] = [];
    if (ds >= Math.max(dx, dy)) {
      if (ds < 0.25) return [];
      const middle = (b.low + b.high) / 2;
      halves.push({ ...b, low: middle }, { ...b, high: middle });
    } else if (Math.max(dx, dy) < 0.5) {
      return [];
    } else if (dx >= dy) {
      const halfX = b.halfX / 2;
      halves.push({ ...b, x: b.x - halfX, halfX }, { ...b, x: b.x + halfX, halfX });
    } else {
      const halfY = b.halfY / 2;
      halves.push({ ...b, y: b.y - halfY, halfY }, { ...b, y: b.y + halfY, halfY });
    }
    return halves.flatMap((half) => this.contracted(search, half) ?? []);
  }

  /** From a place that holds as far towards another as it holds all the way. */
  private drawnTo(ask: Ask, { at, scale }: Place, from: Point): Point {
    let [held, not] = [0, 1];
    const along = (t: number): Point => ({ x: at.x + (from.x - at.x) * t, y: at.y + (from.y - at.y) * t });
    for (let i = 0; i < 24; i++) {
      const t = (held + not) / 2;
      if (this.holds(ask, { at: along(t), scale })) held = t;
      else not = t;
    }
    return along(held);
  }

  /** The grid is coarse: steps from the best place, ever smaller, as long as the outline leaves more room there. */
  private grown(ask: Ask, start: Place, most: number): Place {
    const { area, side } = this;
    let best = { ...start, scale: this.roomAt(ask, start, most) };
    for (let step = 2; step > 1 / 128; step /= 2)
      for (const [i, k] of [
        [-1, 0],
        [1, 0],
        [0, -1],
        [0, 1],
        [-1, -1],
        [1, 1],
        [1, -1],
        [-1, 1],
      ] as const) {
        const at = { x: best.at.x + (i * step * area.width) / side, y: best.at.y + (k * step * area.height) / side };
        const next = { at, scale: best.scale * (1 + 1e-7) };
        if (next.scale <= most && this.holds(ask, next)) best = { at, scale: this.roomAt(ask, next, most) };
      }
    return best;
  }

  /** The largest scale at a place, near one that holds. */
  private roomAt(ask: Ask, { at, scale }: Place, most: number): number {
    let [held, not] = [scale, Math.min(most, scale * 1.02)];
    if (this.holds(ask, { at, scale: not })) return not;
    for (let i = 0; i < 20; i++) {
      const middle = (held + not) / 2;
      if (this.holds(ask, { at, scale: middle })) held = middle;
      else not = middle;
    }
    return held;
  }
}

interface Reach {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** How far parts reach, at a scale of 1: worked out once, not for each block. */
function searchOf(ask: Ask): Search {
  const reach: Reach = {
    left: Math.min(...ask.parts.map((p) => p.x - p.halfWidth)),
    right: Math.max(...ask.parts.map((p) => p.x + p.halfWidth)),
    top: Math.min(...ask.parts.map((p) => p.y - p.halfHeight)),
    bottom: Math.max(...ask.parts.map((p) => p.y + p.halfHeight)),
  };
  return { ...ask, reach, far: Math.max(-reach.left, reach.right, -reach.top, reach.bottom) };
}
