import type { Frame, Placement, ShapeChoice, Size } from '../model/frame';
import { defaultKnobs, shapeOf } from '../shapes/index';
import { GableError } from '../errors';
import { alongPicture, coverScale, deriveView, viewCrop } from './view';

/** Distortion below this is rounding (whole EMU, 1/1000 %), not squashing. */
export const DISTORTION_NOISE = 0.005;

/** The point of a picture that matters most, in shares of the picture. */
export interface Subject {
  u: number;
  v: number;
}

/**
 * Gives the frame a new size. A floating frame keeps its centre; one in the text keeps its baseline. The aim stays; the
 * picture keeps its scale (as when a crop edge is dragged) or its zoom (as when the frame is resized).
 */
export function withSize(frame: Frame, size: Size, picture: Size, keep: 'scale' | 'zoom'): Frame {
  const { box } = frame;
  const placement = settle(frame.placement);
  let zoom = placement.zoom;
  if (keep === 'scale') zoom *= coverScale(placement, box, picture) / coverScale(placement, size, picture);
  const moved =
    frame.flow === 'floating'
      ? { x: box.x + (box.width - size.width) / 2, y: box.y + (box.height - size.height) / 2 }
      : { x: box.x, y: box.y };
  return { ...frame, box: { ...moved, width: size.width, height: size.height }, placement: { ...placement, zoom } };
}

/** Rounding in the file is not carried into a new crop. */
function settle(placement: Placement): Placement {
  return Math.abs(placement.distortion - 1) < DISTORTION_NOISE ? { ...placement, distortion: 1 } : placement;
}

/** The largest size of this ratio inside a box. */
export function insideRatio(box: Size, ratio: number): Size {
  const width = Math.min(box.width, box.height * ratio);
  return { width, height: width / ratio };
}

/**
 * Gives the frame another ratio without distorting: the longer side is cut. Where all of the picture was visible along
 * an axis, the subject decides what is cut; where it was already cut, the aim stays.
 */
export function withRatio(frame: Frame, ratio: number, picture: Size, subject?: Subject): Frame {
  if (!(ratio > 0) || !Number.isFinite(ratio))
    throw new GableError(
      'bad-ratio',
      `A ratio of ${ratio} is not possible.`,
      'Give two numbers above 0, such as 3:2.',
      { ratio },
    );
  const cut = withSize(frame, insideRatio(frame.box, ratio), picture, 'scale');
  return subject ? { ...cut, placement: { ...cut.placement, aim: firstAim(frame, picture, subject) } } : cut;
}

/** The aim with the subject put in along each axis on which nothing has been cut so far. */
function firstAim(frame: Frame, picture: Size, subject: Subject): Placement['aim'] {
  const crop = viewCrop(deriveView(frame.placement, frame.box, picture));
  const { aim } = frame.placement;
  const whole = (a: number, b: number): boolean => Math.abs(a) < 0.001 && Math.abs(b) < 0.001;
  return {
    u: whole(crop.left, crop.right) ? subject.u : aim.u,
    v: whole(crop.top, crop.bottom) ? subject.v : aim.v,
  };
}

/**
 * Puts the picture into another shape. A shape with a locked ratio (circle, square, hexagon) gives the box that ratio by
 * its shorter side, on a true picture: a crop that distorted is mended on the way, so that a circle is a circle on any
 * picture. Every other shape keeps the box.
 */
export function withShape(frame: Frame, choice: ShapeChoice, picture: Size, subject?: Subject): Frame {
  const shape = shapeOf(choice);
  if (!shape) return { ...frame, shape: choice };
  const knobs = { ...defaultKnobs(shape), ...choice.knobs };
  const shaped: Frame = { ...frame, shape: { ...choice, knobs } };
  if (shape.locked === null || frame.seat.fit === 'keep') return shaped;
  const size = insideRatio(frame.box, shape.locked);
  const same = Math.abs(frame.box.width / frame.box.height / shape.locked - 1) < 1e-6;
  const cut =
    same && !isDistorted(frame.placement)
      ? { ...shaped, box: { ...shaped.box, ...size } }
      : withRatio(shaped, shape.locked, picture, subject);
  const mend = mended(cut, picture);
  // What is left of the file's rounding goes too: a circle is true to the last digit.
  return { ...mend, placement: settle(mend.placement) };
}

export const isDistorted = (placement: Placement): boolean =>
  Math.abs(placement.distortion - 1) >= DISTORTION_NOISE || placement.fit === 'stretch';

/** The nearest placement that does not distort: same box, same centre, the same area of the picture where possible. */
export function mended(frame: Frame, picture: Size): Frame {
  if (!isDistorted(frame.placement)) return frame;
  const view = deriveView(frame.placement, frame.box, picture);
  const { fit, aim } = frame.placement;
  const placement: Placement = {
    ...view.placement,
    aim: fit === 'stretch' ? view.placement.aim : aim,
    fit: fit === 'contain' ? 'contain' : 'cover',
    distortion: 1,
  };
  placement.zoom = Math.sqrt(view.scale.x * view.scale.y) / coverScale(placement, frame.box, picture);
  if (placement.fit === 'cover') placement.zoom = Math.max(1, placement.zoom);
  return { ...frame, placement };
}

/** The shape follows a box that stopped being square: a circle becomes an ellipse, a square a rectangle. */
export function freed(shape: ShapeChoice, box: Size): ShapeChoice {
  const round = Math.abs(box.width / box.height - 1) < 1e-6;
  if (round) return shape;
  if (shape.name === 'circle') return { ...shape, name: 'ellipse' };
  if (shape.name === 'square') return { ...shape, name: 'rectangle' };
  return shape;
}

/**
 * Moves the picture under the shape by a distance on the page, starting from what is really shown.
 * @param dx points to the right @param dy points down
 */
export function nudged(frame: Frame, dx: number, dy: number, picture: Size): Frame {
  const view = deriveView(frame.placement, frame.box, picture);
  const step = alongPicture(view.matrix, { x: dx, y: dy }, picture);
  const aim = { u: view.placement.aim.u - step.u, v: view.placement.aim.v - step.v };
  return { ...frame, placement: { ...frame.placement, zoom: view.placement.zoom, aim: holdAim(frame, aim, picture) } };
}

/** Zooms round a point of the box (points from its top left), which stays where it is. */
export function zoomed(frame: Frame, zoom: number, at: { x: number; y: number }, picture: Size): Frame {
  const before = deriveView(frame.placement, frame.box, picture);
  const wanted = Math.min(40, Math.max(frame.placement.fit === 'cover' ? 1 : 0.05, zoom));
  const k = before.placement.zoom / wanted;
  const step = alongPicture(before.matrix, { x: at.x - frame.box.width / 2, y: at.y - frame.box.height / 2 }, picture);
  const { aim } = before.placement;
  const next: Frame = { ...frame, placement: { ...frame.placement, zoom: wanted } };
  const moved = { u: aim.u + step.u * (1 - k), v: aim.v + step.v * (1 - k) };
  return { ...next, placement: { ...next.placement, aim: holdAim(next, moved, picture) } };
}

/** Moving by hand stops at the edge: the aim that is shown, so that the way back does not start beyond it. */
function holdAim(frame: Frame, aim: Placement['aim'], picture: Size): Placement['aim'] {
  return deriveView({ ...frame.placement, aim }, frame.box, picture).placement.aim;
}
