import { LRUCache } from 'lru-cache';
import { GableError } from '../errors';
import { bounds } from '../geometry/measure';
import { flatten, type Path, type Point } from '../geometry/path';
import { coveredBy, difference, fromPolygons } from '../geometry/polygons';
import { parseSvgPath, toSvgPath } from '../geometry/svg-path';
import { multiply, transform } from '../geometry/transform';
import { withOverstep, type Frame, type Overstep, type Region, type ShapeChoice, type Size } from '../model/frame';
import { framePath } from '../shapes/index';
import { nudged } from './reframe';
import { deriveView } from './view';

/**
 * The subject of a picture that reaches over the edge of its shape. Its outline lies in the picture, so that it moves, turns
 * and grows with it; the lines that say where it may leave the shape lie in the box.
 */
export type Overstepping = Pick<Frame, 'box' | 'seat' | 'shape' | 'placement' | 'overstep'>;

export const SIDES = ['top', 'right', 'bottom', 'left'] as const;
export type Side = (typeof SIDES)[number];

/** Outlines that were read, and what came of them for the frames that are being worked on. */
const outlines = new LRUCache<string, Path>({ max: 50 });
const paths = new LRUCache<string, Path>({ max: 200 });

/**
 * The longest way round a subject, along its points and handles, in sides of the picture. One that was traced takes a few; what
 * runs to and fro all over the picture is no outline, and would cross itself more often than anybody waits for.
 */
const LONGEST = 80;

/** An outline in shares of the picture; empty where it is none. */
function soundOutline(text: string): Path {
  const path = parsed(text);
  let length = 0;
  let pen: Point = { x: 0, y: 0 };
  for (const s of path) {
    if (s.op === 'Z') continue;
    const way: Point[] = s.op === 'C' ? [{ x: s.x1, y: s.y1 }, { x: s.x2, y: s.y2 }, s] : [s];
    for (const p of way) {
      if (s.op !== 'M') length += Math.hypot(p.x - pen.x, p.y - pen.y);
      pen = p;
    }
  }
  return length <= LONGEST ? path : [];
}

function parsed(text: string): Path {
  try {
    return parseSvgPath(text);
  } catch (error) {
    if (error instanceof GableError) return [];
    throw error;
  }
}

/** The outline of the subject in the box's own space, in points; null where it oversteps nothing, or its picture is tiled. */
export function subjectPath({ overstep, placement, box }: Overstepping): Path | null {
  if (!overstep || placement.fit === 'tile') return null;
  let outline = outlines.get(overstep.subject);
  if (!outline) outlines.set(overstep.subject, (outline = soundOutline(overstep.subject)));
  if (outline.length === 0) return null;
  const { width, height } = overstep.picture;
  const { matrix } = deriveView(placement, box, overstep.picture);
  return transform(outline, multiply(matrix, [width, 0, 0, height, 0, 0]));
}

/** Of curves, in points: how far the polygons of a cut outline may be from them. */
const TOLERANCE = 0.02;
/** Beyond all that is ever shown, in boxes. */
const FAR = 1e3;

/** The part of the box that the subject may not leave the shape beside: between the lines. Null where they cross. */
function held({ lines }: Pick<Overstep, 'lines'>, { width, height }: Size): Point[] | null {
  const left = (lines.left ?? -FAR) * width;
  const right = (lines.right ?? FAR) * width;
  const top = (lines.top ?? -FAR) * height;
  const bottom = (lines.bottom ?? FAR) * height;
  if (left >= right || top >= bottom) return null;
  return [
    { x: left, y: top },
    { x: right, y: top },
    { x: right, y: bottom },
    { x: left, y: bottom },
  ];
}

/** What of the subject lies beyond the lines, over the edge or within it, in the box's own space; null where nothing does. */
export function overstepPath(frame: Overstepping): Path | null {
  return remembered('over', frame, () => {
    const subject = subjectPath(frame);
    if (!subject) return null;
    const between = held(frame.overstep!, frame.box);
    const path = between ? fromPolygons(difference(flatten(subject, TOLERANCE), [between])) : subject;
    return path.length > 0 ? path : null;
  });
}

/** All that shows of the picture: the shape, and the subject where it reaches over its edge. */
export function silhouettePath(frame: Overstepping): Path {
  const shape = framePath(frame);
  if (!frame.overstep) return shape;
  return (
    remembered('all', frame, () => {
      const over = overstepPath(frame);
      return over && coveredBy([shape, over], TOLERANCE);
    }) ?? shape
  );
}

function remembered(what: string, frame: Overstepping, work: () => Path | null): Path | null {
  const { overstep, box, seat, shape, placement } = frame;
  if (!overstep) return null;
  const { subject, picture, lines } = overstep;
  const key = `${what} ${JSON.stringify([box.width, box.height, seat, shape, placement, picture, lines])} ${subject}`;
  let path = paths.get(key);
  if (!path) paths.set(key, (path = work() ?? []));
  return path.length > 0 ? path : null;
}

/** The outline of a subject as it lies in its picture. @param shape in the box `region`, which is in shares of the picture */
export const subjectOf = (shape: ShapeChoice, region: Region): string =>
  toSvgPath(
    transform(parseSvgPath(shape.drawn?.path ?? ''), [region.width, 0, 0, region.height, region.u, region.v]),
    5,
  );

/** The same of a picture of which only a part is left. @param part its stored pixels, and where shares of the whole lie in it */
export function onPartOf(
  overstep: Overstep,
  { width, height, u, v }: Size & { u: (share: number) => number; v: (share: number) => number },
): Overstep {
  const [left, top] = [u(0), v(0)];
  const moved = transform(parseSvgPath(overstep.subject), [u(1) - left, 0, 0, v(1) - top, left, top]);
  return { ...overstep, subject: toSvgPath(moved, 6), picture: { width, height } };
}

/** Where a line is looked for first, and how finely, in shares of the box. */
const MIDDLE = 0.5;
const STEP = 0.01;
/** Of the box: a subject may be so much wider than the shape where the line cuts it. */
const LOOSE = 0.004;

/**
 * The line beyond which a subject leaves the shape on one side: as near to the middle as can be, where the subject is no
 * wider than the shape, so that its cut is not seen.
 * @returns share of the box from its top or left
 */
export function lineFor(frame: Overstepping, side: Side): number {
  const subject = subjectPath(frame);
  if (!subject) return MIDDLE;
  const { width, height } = frame.box;
  const across = side === 'top' || side === 'bottom';
  // Rows of the box, or its columns laid down as rows.
  const flip = (path: Path): Point[][] =>
    flatten(path, TOLERANCE).map((p) => (across ? p : p.map(({ x, y }) => ({ x: y, y: x }))));
  const [inner, outer] = [flip(subject), flip(framePath(frame))];
  const [length, breadth] = across ? [height, width] : [width, height];
  for (let step = 0; step <= MIDDLE; step += STEP)
    for (const at of [MIDDLE - step, MIDDLE + step]) {
      const room = spansAt(outer, at * length);
      const within = spansAt(inner, at * length).every(([from, to]) =>
        room.some(([a, b]) => a - LOOSE * breadth <= from && to <= b + LOOSE * breadth),
      );
      if (within && room.length > 0) return Math.round(at * 1000) / 1000;
    }
  return MIDDLE;
}

/** Where a row lies inside polygons, by the non-zero rule: pairs from left to right. */
function spansAt(polygons: readonly (readonly Point[])[], y: number): [number, number][] {
  const crossings: { x: number; turn: number }[] = [];
  for (const p of polygons)
    for (let i = 0, j = p.length - 1; i < p.length; j = i++) {
      const [a, b] = [p[j]!, p[i]!];
      if (a.y <= y === b.y <= y) continue;
      crossings.push({ x: a.x + ((y - a.y) / (b.y - a.y)) * (b.x - a.x), turn: b.y > a.y ? 1 : -1 });
    }
  crossings.sort((a, b) => a.x - b.x);
  const out: [number, number][] = [];
  let winding = 0;
  let from = 0;
  for (const { x, turn } of crossings) {
    if (winding === 0) from = x;
    winding += turn;
    if (winding === 0) out.push([from, x]);
  }
  return out;
}

/** Of the box: how far a subject is brought beyond the edge where it did not reach over it. */
const REACH = 0.16;
/** Less than this of the box is seen as no overstep, and the picture is moved. */
const SEEN = 0.05;
/** The picture is made larger by no more than this for it. */
const MOST = 1.8;

/** How far the subject reaches beyond a side of the box, in points; less than 0 where it ends inside. */
function beyond(frame: Overstepping, side: Side): number {
  const { x, y, width, height } = bounds(subjectPath(frame) ?? []);
  const { box } = frame;
  return { top: -y, left: -x, bottom: y + height - box.height, right: x + width - box.width }[side];
}

/**
 * The frame with its subject reaching over these sides. Where it would not reach over a side at all, and a single one is
 * asked for, the picture is moved, and made larger as far as it must, so that it does.
 * @param subject outline in shares of the picture
 * @param picture stored pixels
 */
export function oversteppingAt(frame: Frame, subject: string, sides: readonly Side[], picture: Size): Frame {
  const shadow = frame.overstep?.shadow;
  const lines = (of: Overstepping): Overstep['lines'] =>
    sides.length === SIDES.length
      ? ALL_ROUND
      : Object.fromEntries(sides.map((side) => [side, lineFor(of, side)] as const));
  const over: Frame = {
    ...frame,
    overstep: { subject, picture, lines: ALL_ROUND, ...(shadow && { shadow }) },
  };
  const [side, ...more] = sides;
  const moved = side && more.length === 0 ? reaching(over, side, picture) : over;
  return { ...moved, overstep: { ...moved.overstep!, lines: lines(moved) } };
}

/** The frame with its subject reaching over a side from another line on. @param at share of the box from its top or left */
export const withLine = (frame: Frame, side: Side, at: number): Frame =>
  frame.overstep ? withOverstep(frame, { ...frame.overstep, lines: { ...frame.overstep.lines, [side]: at } }) : frame;

/** Lines that cross: nothing lies between them. */
export const ALL_ROUND: Required<Overstep['lines']> = { top: 0.5, right: 0.5, bottom: 0.5, left: 0.5 };

/** Does the subject reach over on every side? */
export const isAllRound = (overstep: Pick<Overstep, 'lines'>, box: Size): boolean => held(overstep, box) === null;

/** Does the subject come out of its shape on these sides, so far that it is seen? Of many sides two will do. */
export function reachesOver(frame: Overstepping, sides: readonly Side[]): boolean {
  const { width, height } = frame.box;
  const out = sides.filter(
    (side) => beyond(frame, side) >= SEEN * (side === 'top' || side === 'bottom' ? height : width),
  );
  return out.length >= Math.min(2, sides.length);
}

const MOVABLE: ReadonlySet<string> = new Set(['cover', 'contain']);

function reaching(frame: Frame, side: Side, picture: Size): Frame {
  const { box, placement } = frame;
  const along = side === 'top' || side === 'bottom' ? box.height : box.width;
  if (!subjectPath(frame) || beyond(frame, side) >= SEEN * along || !MOVABLE.has(placement.fit)) return frame;
  const shown = deriveView(placement, box, picture);
  // A picture that does not fill its box has nothing to be moved within.
  if (shown.placement.zoom < 1) return frame;
  const at = (zoom: number): Frame => {
    // The subject's end a little beyond the edge, and its middle in the middle of the box.
    const larger: Frame = { ...frame, placement: { ...placement, fit: 'cover', aim: shown.placement.aim, zoom } };
    const b = bounds(subjectPath(larger)!);
    const far = REACH * along;
    const step = { x: b.x + b.width / 2 - box.width / 2, y: b.y + b.height / 2 - box.height / 2 };
    const to: Record<Side, Point> = {
      top: { x: step.x, y: b.y + far },
      bottom: { x: step.x, y: b.y + b.height - box.height - far },
      left: { x: b.x + far, y: step.y },
      right: { x: b.x + b.width - box.width - far, y: step.y },
    };
    return nudged(larger, -to[side].x, -to[side].y, picture);
  };
  const least = shown.placement.zoom;
  for (let k = 1; k <= MOST; k *= 1.08) {
    const next = at(least * k);
    if (beyond(next, side) >= SEEN * 2 * along) return next;
  }
  return at(least * MOST);
}
