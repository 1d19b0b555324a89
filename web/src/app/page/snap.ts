import type { Box, Point } from '@gable/core';

/** A line that a box came to rest on, or a gap as wide as another, and why. In the unit of the boxes. */
export interface PageGuide {
  /** What it fixes: a line down the page fixes x. */
  axis: 'x' | 'y';
  at: number;
  /** How far it goes along the other axis; of a gap, along its own. */
  from: number;
  to: number;
  words: string;
  gap?: true;
}

/** How near is near, in CSS pixels. */
export const REACH = 6;

/** What a box can rest on. */
export interface Rests {
  /** What it cannot leave, and why. */
  within?: { box: Box; words: string };
  /** A page, or what of it holds the text: their edges and middles. */
  areas: readonly { box: Box; edge: string; middle: string }[];
  /** What else lies on the page. */
  others: readonly { box: Box; name: string }[];
}

interface Rest {
  by: number;
  guides: PageGuide[];
}

const start = (b: Box, axis: 'x' | 'y'): number => b[axis];
const side = (b: Box, axis: 'x' | 'y'): number => (axis === 'x' ? b.width : b.height);
const end = (b: Box, axis: 'x' | 'y'): number => start(b, axis) + side(b, axis);
const middle = (b: Box, axis: 'x' | 'y'): number => start(b, axis) + side(b, axis) / 2;

/**
 * Brings a box to rest where it makes sense: on edges and middles of the page and its text, in line with what else lies there, or
 * with gaps as wide as each other.
 * @param reach how near is near
 * @returns the step to there, and why
 */
export function snapBox(box: Box, rests: Rests, reach: number): { by: Point; guides: PageGuide[] } {
  const held = rests.within && heldIn(box, rests.within);
  if (held) return held;
  const [x, y] = [snapAlong('x', box, rests, reach), snapAlong('y', box, rests, reach)];
  return { by: { x: x?.by ?? 0, y: y?.by ?? 0 }, guides: [...(x?.guides ?? []), ...(y?.guides ?? [])] };
}

/** A side of a box that comes to rest: how far that is from where it is now. */
export interface EdgeRest extends Rest {
  axis: 'x' | 'y';
}

/** Where the sides that a handle pulls come to rest: on the same lines as whole boxes, the nearest first. */
export function snapEdges(box: Box, handle: { x: -1 | 0 | 1; y: -1 | 0 | 1 }, rests: Rests, reach: number): EdgeRest[] {
  const found = (['x', 'y'] as const).flatMap((axis): EdgeRest[] => {
    if (handle[axis] === 0) return [];
    const at = handle[axis] > 0 ? end(box, axis) : start(box, axis);
    const edge = axis === 'x' ? { ...box, x: at, width: 0 } : { ...box, y: at, height: 0 };
    const rest = snapAlong(axis, edge, rests, reach, false);
    return rest ? [{ axis, ...rest }] : [];
  });
  return found.sort((a, b) => Math.abs(a.by) - Math.abs(b.by));
}

/** Up and down a box cannot leave what holds it. */
function heldIn(
  box: Box,
  { box: page, words }: NonNullable<Rests['within']>,
): { by: Point; guides: PageGuide[] } | null {
  const over = page.y - box.y;
  const below = end(page, 'y') - end(box, 'y');
  const by = over > 0 ? over : below < 0 ? Math.min(0, Math.max(below, over)) : 0;
  if (by === 0) return null;
  const at = by > 0 ? page.y : end(page, 'y');
  return { by: { x: 0, y: by }, guides: [{ axis: 'y', at, from: page.x, to: end(page, 'x'), words }] };
}

function snapAlong(axis: 'x' | 'y', box: Box, { areas, others }: Rests, reach: number, gaps = true): Rest | null {
  const across = axis === 'x' ? 'y' : 'x';
  let best: Rest | null = null;
  /** The first of those that are as near counts. */
  const offer = (by: number, guides: () => PageGuide[]): void => {
    if (Math.abs(by) <= reach && (!best || Math.abs(by) < Math.abs(best.by) - 1e-6)) best = { by, guides: guides() };
  };
  const line = (at: number, b: Box, words: string): PageGuide => ({
    axis,
    at,
    from: Math.min(start(box, across), start(b, across)),
    to: Math.max(end(box, across), end(b, across)),
    words,
  });
  for (const area of areas) {
    const at = middle(area.box, axis);
    offer(at - middle(box, axis), () => [line(at, area.box, area.middle)]);
    for (const edge of [start, end]) {
      const to = edge(area.box, axis);
      offer(to - edge(box, axis), () => [line(to, area.box, area.edge)]);
    }
  }
  for (const { box: other, name } of others) {
    const at = middle(other, axis);
    offer(at - middle(box, axis), () => [line(at, other, `In line with ${name}`)]);
    for (const edge of [start, end])
      for (const theirs of [start, end]) {
        const to = theirs(other, axis);
        offer(to - edge(box, axis), () => [line(to, other, `In line with ${name}`)]);
      }
  }
  if (gaps)
    offerGaps(
      axis,
      box,
      others.map((o) => o.box),
      offer,
    );
  return best;
}

/** Offers places at which two gaps are as wide as each other: beyond two neighbours, or between them. */
function offerGaps(
  axis: 'x' | 'y',
  box: Box,
  others: readonly Box[],
  offer: (by: number, guides: () => PageGuide[]) => void,
): void {
  const across = axis === 'x' ? 'y' : 'x';
  const beside = others.filter((o) => start(o, across) < end(box, across) && end(o, across) > start(box, across));
  const mark = (from: number, to: number): PageGuide => ({
    ...{ axis, at: middle(box, across), from, to, words: 'Equal gaps' },
    gap: true,
  });
  const own = side(box, axis);
  for (const a of beside)
    for (const b of beside) {
      const [from, to] = [end(a, axis), start(b, axis)];
      const gap = to - from;
      if (gap <= 0) continue;
      const [after, before] = [end(b, axis) + gap, start(a, axis) - gap];
      offer(after - start(box, axis), () => [mark(from, to), mark(end(b, axis), after)]);
      offer(before - end(box, axis), () => [mark(before, start(a, axis)), mark(from, to)]);
      if (own > gap) continue;
      const between = (from + to - own) / 2;
      offer(between - start(box, axis), () => [mark(from, between), mark(between + own, to)]);
    }
}
