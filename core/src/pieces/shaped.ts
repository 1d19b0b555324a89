import type { Frame, Size } from '../model/frame';
import type { Subject } from '../model/subject';
import { movedToSubject, withShape } from '../placement/reframe';
import { defaultKnobs, shapeOf } from '../shapes/index';
import { drawnBox } from '../ties/index';
import type { Piece, PieceContext } from './piece';

/** A picture's frame, and what is known of the picture. */
interface Own {
  frame: Frame;
  /** Of the picture, in pixels. */
  size: Size;
  subject?: Subject | undefined;
  /** Was the picture placed by the author? Then it stays where it is. */
  placed?: boolean;
}

/** A picture that has no shape yet in the one that a piece has for it, and the surroundings of that. */
export function shapedFor(
  { shape: name }: Piece,
  context: PieceContext,
  { frame, size, subject, placed = false }: Own,
): { frame: Frame; context: PieceContext } {
  const shape = name === undefined ? null : shapeOf({ name, knobs: {} });
  if (!shape || frame.shape.name !== 'rectangle') return { frame, context };
  const round = withShape(frame, { name: shape.name, knobs: defaultKnobs(shape) }, size, subject);
  const next = (subject && !placed && movedToSubject(round, size, subject)) || round;
  const { picture } = context;
  const { box } = picture.at;
  const [kx, ky] = [box.width / frame.box.width, box.height / frame.box.height];
  const at = {
    on: 'page' as const,
    box: {
      x: box.x + (next.box.x - frame.box.x) * kx,
      y: box.y + (next.box.y - frame.box.y) * ky,
      ...{ width: next.box.width * kx, height: next.box.height * ky },
    },
  };
  const item = { ...picture, shape: next.shape, at, fill: { ...picture.fill, placement: next.placement } };
  return { frame: next, context: { ...context, picture: item, drawn: drawnBox(item) } };
}
