import type { Frame, Section, Size } from '../model/frame';
import type { Subject } from '../model/subject';
import { oversteppingAt } from '../placement/overstep';
import { movedToSubject, withShape } from '../placement/reframe';
import { defaultKnobs, shapeOf } from '../shapes/index';
import { drawnBox } from '../ties/index';
import type { Piece, PieceContext } from './piece';
import { SECTION_HEIGHT } from './section';

/** A picture's frame, and what is known of the picture. */
interface Own {
  frame: Frame;
  /** Of the picture, in pixels. */
  size: Size;
  subject?: Subject | undefined;
  /** Was the picture placed by the author? Then it stays where it is. */
  placed?: boolean;
  /** The outline of its subject, in shares of the picture; null where it is not cut out. */
  outline?: string | null;
}

/** Can a piece stand round the picture: does its page take what the picture becomes with it? */
export const canStand = ({ section }: Piece, context: PieceContext): boolean => !section || section(context) !== null;

/**
 * A picture as a piece has it, and the surroundings of that: one that has no shape yet gets the piece's, and its subject reaches over the
 * edge where the piece wishes that and it is cut out.
 */
export function shapedFor(
  { shape: name, oversteps, section: sectionIn }: Piece,
  context: PieceContext,
  { frame, size, subject, placed = false, outline = null }: Own,
): { frame: Frame; context: PieceContext } {
  const shape = name === undefined ? null : shapeOf({ name, knobs: {} });
  const isShaped = !shape || frame.shape.name !== 'rectangle';
  const round = isShaped ? frame : withShape(frame, { name: shape.name, knobs: defaultKnobs(shape) }, size, subject);
  const about = isShaped ? round : (subject && !placed && movedToSubject(round, size, subject)) || round;
  const reached = oversteps && outline !== null ? oversteppingAt(about, outline, oversteps, size) : about;
  const section = frame.section ? null : sectionIn?.(context);
  const next = section ? inSection(reached, section, context) : reached;
  if (next === frame) return { frame, context };
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
  const { placement, overstep } = next;
  const fill = { ...picture.fill, placement, ...(overstep && { overstep }) };
  const item = { ...picture, shape: next.shape, at, fill };
  return { frame: next, context: { ...context, picture: item, drawn: drawnBox(item) } };
}

/** The ground of a section is as wide as its page, or as its column. */
function inSection(frame: Frame, section: Section, { page }: PieceContext): Frame {
  const { left, right } = section.wide ? { left: 0, right: 0 } : page.margins;
  const box = { ...frame.box, width: Math.max(1, page.size.width - left - right), height: SECTION_HEIGHT };
  return { ...frame, section, box };
}
