import {
  applyTo,
  axesMatrix,
  bounds,
  deriveView,
  equal,
  type Frame,
  framePath,
  invert,
  type Matrix,
  multiply,
  type Path,
  placementFromCrop,
  type Size,
  toSvgPath,
  transform,
  turnedBox,
  turnOf,
} from '@gable/core';
import type { Feature } from '../codec/capabilities';
import { shapeOfPath } from '../codec/named-shape';

/**
 * Office formats turn and flip a whole frame, never the picture inside an upright shape, and know no shape that sits in a
 * part of its box. The exact equivalents: a frame turned like its picture, with its shape turned back, in a box on the
 * picture's axes; and the seated shape as a geometry of its own.
 */
const LABEL = 'Shape turned back';

/** Has the frame a picture turned or mirrored inside its shape, or a shape that does not fill its box? */
export const hasInnerTransform = ({ placement: p, seat }: Frame): boolean =>
  p.fit !== 'tile' && (turnOf(p.turn) !== 0 || p.mirror || seat.fit !== 'fill');

/** A gradient runs across the box, which the equivalent changes. */
const plainLine = ({ outline }: Frame): boolean => !outline || outline.paint.kind === 'solid';

/** A frame in a box round an outline, on the axes of its picture, and how lengths of its old box lie in the new one. */
export interface Refitted {
  frame: Frame;
  map: Matrix;
}

/**
 * The frame with another outline as its shape, in the box round that, its picture upright and where it was.
 * @param edge in the old box
 * @param extent what else the new box holds
 */
export function refit(frame: Frame, picture: Size, edge: Path, extent: Path = []): Refitted {
  const { placement: p, box, flip } = frame;
  const mirrored = p.mirror ? !flip.horizontal : flip.horizontal;
  // A frame that is flipped once turns its picture the other way.
  const sense = flip.horizontal === flip.vertical ? 1 : -1;
  const turn = turnOf(frame.turn + sense * p.turn);
  const middle = { x: box.width / 2, y: box.height / 2 };
  // Both maps go from a box about its middle to the page about that same point.
  const axes = axesMatrix({ turn, flip: { horizontal: mirrored, vertical: flip.vertical } });
  const inward = multiply(invert(axes), multiply(axesMatrix(frame), [1, 0, 0, 1, -middle.x, -middle.y]));
  const path = transform(edge, inward);
  const b = bounds([...path, ...transform(extent, inward)]);
  const size = { width: b.width, height: b.height };
  const onPage = applyTo(axes, {
    x: b.x + b.width / 2,
    y: b.y + b.height / 2,
  });
  const view = deriveView(p, box, picture);
  const matrix = multiply([1, 0, 0, 1, -b.x, -b.y], multiply(inward, view.matrix));
  // The picture lies upright now: its matrix has no shares but scales and offsets.
  const [sx, , , sy, e, f] = matrix;
  const [width, height] = [sx * picture.width, sy * picture.height];
  const crop = {
    left: -e / width,
    top: -f / height,
    right: 1 - (b.width - e) / width,
    bottom: 1 - (b.height - f) / height,
  };
  const own = transform(path, [1 / b.width, 0, 0, 1 / b.height, -b.x / b.width, -b.y / b.height]);
  const named = shapeOfPath(own, size, LABEL);
  const shape = named.drawn ? { ...named, drawn: { ...named.drawn, path: toSvgPath(own, 9) } } : named;
  const { shadow, overstep, ...rest } = frame;
  void overstep;
  const cast = shadow && applyTo(inward, { x: shadow.dx + middle.x, y: shadow.dy + middle.y });
  const centre = { x: box.x + middle.x + onPage.x, y: box.y + middle.y + onPage.y };
  const next: Frame = {
    ...rest,
    turn,
    flip: { horizontal: mirrored, vertical: flip.vertical },
    seat: { ...frame.seat, fit: 'fill', repeat: false },
    shape,
    box: {
      x: frame.flow === 'inline' ? box.x : centre.x - size.width / 2,
      y: frame.flow === 'inline' ? box.y : centre.y - size.height / 2,
      ...size,
    },
    placement: placementFromCrop(crop, size, picture),
    shadow: shadow && cast && { ...shadow, dx: cast.x, dy: cast.y },
  };
  return { frame: next, map: multiply([1, 0, 0, 1, -b.x, -b.y], inward) };
}

const folded = (frame: Frame, picture: Size): Frame => refit(frame, picture, framePath(frame)).frame;

/**
 * The frame in the file's own terms, or as it is where it is upright.
 * @param picture stored size in pixels
 */
export const foldInnerTransform = (frame: Frame, picture: Size): Frame =>
  hasInnerTransform(frame) ? folded(frame, picture) : frame;

/**
 * Is there an equivalent for this frame?
 * @param held does text run round its box, or is it a letter in the text? Then what its box takes on the page must not change.
 */
export function canFoldInnerTransform(frame: Frame, picture: Size, held: boolean): boolean {
  if (!hasInnerTransform(frame) || !plainLine(frame)) return false;
  const next = folded(frame, picture);
  if (!(next.box.width > 0.1) || !(next.box.height > 0.1)) return false;
  // Of an outline too long to be carried only the name is left.
  if (next.shape.name === 'custom' && !next.shape.drawn) return false;
  if (!held) return true;
  const slack = 0.05;
  const same = (a: number, b: number): boolean => Math.abs(a - b) <= slack;
  const round = next.shape.name === 'circle';
  const reach = turnedBox(next.box, next.turn);
  return (
    same(next.box.width, frame.box.width) &&
    same(next.box.height, frame.box.height) &&
    (round || (same(reach.width, frame.box.width) && same(reach.height, frame.box.height)))
  );
}

const FOLDABLE: readonly Feature[] = ['turn', 'mirror', 'seat'];

/** The unsupported that are left when an equivalent takes some of them away; what has none is named, however it was read. */
export function withoutFoldable(found: readonly Feature[], was: Frame, next: Frame, can: () => boolean): Feature[] {
  if (!hasInnerTransform(next) || equal(was, next)) return [...found];
  if (can()) return found.filter((m) => !FOLDABLE.includes(m));
  const { turn, mirror } = next.placement;
  const named = [turnOf(turn) !== 0, mirror, next.seat.fit !== 'fill'];
  return [...new Set([...FOLDABLE.filter((_, i) => named[i]), ...found])];
}
