import { axesMatrix } from '../geometry/frame-matrix';
import { parseSvgPath, toSvgPath } from '../geometry/svg-path';
import { applyTo, transform } from '../geometry/transform';
import { withOverstep, type Frame, type Region, type ShapeChoice, type Size } from '../model/frame';
import { isDistorted, mended } from './reframe';
import { coverScale, deriveView, ontoBox } from './view';

/**
 * The frame with its subject alone: the outline of the subject is its shape, and the picture lies in it in register. The
 * subject stays where it was seen, as large as it was.
 * @param shape the outline of the subject, in a box of 1 × 1
 * @param region the box of that outline, in shares of the picture
 */
export function subjectAlone(frame: Frame, shape: ShapeChoice, region: Region, picture: Size): Frame {
  const from = isDistorted(frame.placement) ? mended(frame, picture) : frame;
  const { placement, box } = from;
  const { matrix, scale } = deriveView(placement, box, picture);
  const middle = { u: region.u + region.width / 2, v: region.v + region.height / 2 };
  const width = region.width * picture.width * scale.x;
  const height = region.height * picture.height * scale.y;
  // From the middle of the box to the middle of the subject, on the page.
  const at = ontoBox(matrix, middle, picture);
  const step = applyTo(axesMatrix(from), { x: at.x - box.width / 2, y: at.y - box.height / 2 });
  const place =
    from.flow === 'floating'
      ? { x: box.x + (box.width - width) / 2 + step.x, y: box.y + (box.height - height) / 2 + step.y }
      : { x: box.x, y: box.y };
  // A picture that was turned in its shape is upright in its own outline: the frame turns in its stead.
  const upright = { ...placement, turn: 0, fit: 'cover' as const, aim: middle };
  const sign = from.flip.horizontal === from.flip.vertical ? 1 : -1;
  const { free, ...seat } = from.seat;
  void free;
  return {
    ...withOverstep(from, null),
    box: { ...place, width, height },
    turn: (((from.turn + sign * placement.turn) % 360) + 360) % 360,
    seat: { ...seat, fit: 'fill' },
    shape: placement.mirror ? mirrored(shape) : shape,
    placement: { ...upright, zoom: scale.y / coverScale(upright, { width, height }, picture) },
  };
}

function mirrored(shape: ShapeChoice): ShapeChoice {
  if (!shape.drawn) return shape;
  const path = toSvgPath(transform(parseSvgPath(shape.drawn.path), [-1, 0, 0, 1, 1, 0]), 6);
  return { ...shape, drawn: { ...shape.drawn, path } };
}
