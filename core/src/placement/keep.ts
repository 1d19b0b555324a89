import { unionOf } from '../analysis/faces';
import type { Point, Rect } from '../geometry/path';
import type { KeepMark, Placement, Size } from '../model/frame';
import { ontoAxes, placedOnAxes, shapeOnAxes, shownRoundOnAxes, type Framed } from './axes';
import { Inside, type Ask, type Cover, type Effort, type Part, type Place } from './inside';
import { deriveView, ontoBox } from './view';

/** What keeping marks in view came to. */
export interface KeepFit {
  placement: Placement;
  /** Which of the marks cannot stay with the others, by their place in the list. */
  lost: readonly number[];
}

/** Keep marks and a shape on the picture's own axes. */
interface Search {
  inside: Inside;
  ask: Ask;
  /** As the picture lies now; scales are points per pixel, down. */
  now: Place;
  /** The scale at which the picture just covers what it must. */
  least: number;
  placed(place: Place): Placement;
}

/** Of the shape's longer side: how far its outline may be from its curves. */
const FLATNESS: Readonly<Record<Effort, number>> = { exact: 1 / 2000, quick: 1 / 400 };

/**
 * @param marks at least one
 * @returns null when the shape has no inside
 */
function searchFor(frame: Framed, marks: readonly KeepMark[], picture: Size, effort: Effort): Search | null {
  const { box, placement } = frame;
  const { distortion } = placement;
  const longer = Math.max(box.width, box.height);
  const inside = Inside.of(shapeOnAxes(frame, longer * FLATNESS[effort]), effort);
  if (!inside) return null;
  const all = unionOf(marks);
  const [cu, cv] = [all.u + all.width / 2, all.v + all.height / 2];
  const [width, height] = [picture.width * distortion, picture.height];
  const parts = marks.map((m) => ({
    x: (m.u + m.width / 2 - cu) * width,
    y: (m.v + m.height / 2 - cv) * height,
    halfWidth: Math.max(1e-6, m.width * width) / 2,
    halfHeight: Math.max(1e-6, m.height * height) / 2,
  }));
  const { matrix, scale } = deriveView(placement, box, picture);
  const now = { at: ontoAxes(frame, ontoBox(matrix, { u: cu, v: cv }, picture)), scale: scale.y };
  const cover = coverOf(frame, inside.area, now, {
    left: cu * width,
    right: (1 - cu) * width,
    top: cv * height,
    bottom: (1 - cv) * height,
  });
  return {
    inside,
    ask: { parts, cover },
    now,
    least: cover ? Math.max(cover.over.width / width, cover.over.height / height) : now.scale * 1e-3,
    placed: ({ at, scale }) =>
      placedOnAxes(frame, picture, scale, { x: at.x - cu * width * scale, y: at.y - cv * height * scale }),
  };
}

/**
 * What the picture covers and must go on covering: corners that are empty already may stay so. Nothing where the picture is
 * contained and shows it.
 */
function coverOf({ placement }: Framed, area: Rect, { at, scale }: Place, reach: Omit<Cover, 'over'>): Cover | null {
  const left = Math.max(area.x, at.x - reach.left * scale);
  const top = Math.max(area.y, at.y - reach.top * scale);
  const width = Math.min(area.x + area.width, at.x + reach.right * scale) - left;
  const height = Math.min(area.y + area.height, at.y + reach.bottom * scale) - top;
  const whole = width >= area.width * (1 - 1e-9) && height >= area.height * (1 - 1e-9);
  return placement.fit === 'contain' && !whole ? null : { ...reach, over: { x: left, y: top, width, height } };
}

/** The place that keeps all: moved as little as can be, zoomed out only where moving does not suffice, never zoomed in. */
function kept({ inside, ask, now, least }: Search): Place | null {
  const here = inside.nearest(ask, now.scale, now.at);
  if (here) return { at: here, scale: now.scale };
  const best = inside.largest(ask, Math.min(least, now.scale), now.scale);
  if (!best) return null;
  // Of all places with room the one nearest to where the picture was.
  const scale = Math.max(Math.min(least, now.scale), best.scale * (1 - 1e-3));
  const near = inside.nearest(ask, scale, now.at);
  return near ? { at: near, scale } : best;
}

/** The shape, and all round a subject that reaches over its edge: what is there needs no room in the shape. */
const shownBy = (frame: Framed, effort: Effort): Inside | null =>
  Inside.of(shownRoundOnAxes(frame, Math.max(frame.box.width, frame.box.height) * FLATNESS[effort]), effort);

/**
 * The placement that keeps regions of the picture wholly inside the shape and differs as little as it can from the one that
 * is: the picture is moved no farther than it must, zoomed out only where moving does not suffice, and never zoomed in. No
 * corner of the shape is left empty that is not so already. Where not all can stay, the first of them come first.
 * @param effort `quick` is good to half a percent: for ranking many shapes
 * @returns null when the shape has no inside
 */
export function keepInView(
  frame: Framed,
  marks: readonly KeepMark[],
  picture: Size,
  effort: Effort = 'exact',
): KeepFit | null {
  const asIs: KeepFit = { placement: frame.placement, lost: [] };
  if (marks.length === 0) return asIs;
  const search = searchFor(frame, marks, picture, effort);
  if (!search) return null;
  // As it is, whatever the fit: nothing to be done.
  const here = { parts: search.ask.parts, cover: null };
  if (search.inside.holds(here, search.now)) return asIs;
  if (frame.overstep && shownBy(frame, effort)?.holds(here, search.now)) return asIs;
  const all = kept(search);
  if (all) return { placement: search.placed(all), lost: [] };
  const held: Part[] = [];
  const lost: number[] = [];
  let best: Place | null = null;
  for (const [i, part] of search.ask.parts.entries()) {
    const place = kept({ ...search, ask: { ...search.ask, parts: [...held, part] } });
    if (place) {
      best = place;
      held.push(part);
    } else lost.push(i);
  }
  return { placement: best ? search.placed(best) : frame.placement, lost };
}

/**
 * The largest placement at which all of these regions lie inside the shape, though corners of it may stay empty.
 * @returns null when the shape has no inside
 */
export function showWholly(frame: Framed, marks: readonly KeepMark[], picture: Size): Placement | null {
  const search = marks.length > 0 ? searchFor(frame, marks, picture, 'exact') : null;
  if (!search) return null;
  const { inside, now, placed } = search;
  const ask = { parts: search.ask.parts, cover: null };
  const best = inside.largest(ask, now.scale * 1e-3, now.scale * 1e3);
  if (!best) return null;
  const { x, y, width, height } = inside.area;
  const scale = best.scale * (1 - 1e-3);
  const at = inside.nearest(ask, scale, { x: x + width / 2, y: y + height / 2 });
  return placed(at ? { at, scale } : best);
}

/** The largest zoom at which the whole picture lies inside the shape. @returns null when the shape has no inside */
export const wholePicture = (frame: Framed, picture: Size): Placement | null =>
  showWholly(frame, [{ u: 0, v: 0, width: 1, height: 1 }], picture);

/**
 * The largest upright rectangle of a ratio inside polygons, in the middle as far as that allows.
 * @param ratio width over height
 * @returns null when there is no inside
 */
export function largestRectangle(polygons: readonly (readonly Point[])[], ratio: number): Rect | null {
  const inside = Inside.of(polygons, 'exact');
  if (!inside) return null;
  const { x, y, width, height } = inside.area;
  const ask = { parts: [{ x: 0, y: 0, halfWidth: ratio / 2, halfHeight: 1 / 2 }], cover: null };
  const best = inside.largest(ask, height * 1e-3, height);
  if (!best) return null;
  const scale = best.scale * (1 - 1e-3);
  const at = inside.nearest(ask, scale, { x: x + width / 2, y: y + height / 2 }) ?? best.at;
  return { x: at.x - (scale * ratio) / 2, y: at.y - scale / 2, width: scale * ratio, height: scale };
}
