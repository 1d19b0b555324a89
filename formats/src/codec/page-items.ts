import {
  FULL_SEAT,
  ForeignSchema,
  GroupSchema,
  FramedSchema,
  type Box,
  type Fill,
  type ForeignItem,
  type Frame,
  type FramedItem,
  type GroupItem,
  type Mark,
  type Text,
} from '@gable/core';

/** What a shape says like a picture. */
export type Look = Pick<Frame, 'box' | 'turn' | 'flip' | 'shape' | 'outline' | 'shadow' | 'alt'>;

const INK = '#5a6560';
const GROUND = '#e9e4d8';
const NO_FLIP = { horizontal: false, vertical: false };

/** A shape without a picture; what no bounds hold becomes an object that is only kept. */
export function framedItem(id: string, look: Look, fill: Fill | null, text: Text | null): FramedItem | ForeignItem {
  const { box, ...rest } = look;
  const item = { kind: 'framed', id, at: { on: 'page', box }, opacity: 1, seat: FULL_SEAT, ...rest, fill, text };
  const read = FramedSchema.safeParse(item);
  return read.success ? read.data : foreignItem({ id, what: 'other', box });
}

/** Something that is kept and not edited. @param label shown in its place */
export function foreignItem({
  id,
  what,
  box,
  turn = 0,
  flip = NO_FLIP,
  label,
  look,
  preview,
}: {
  id: string;
  what: ForeignItem['what'];
  box: Box;
  turn?: number;
  flip?: ForeignItem['flip'];
  label?: string;
  look?: ForeignItem['look'];
  preview?: readonly Mark[];
}): ForeignItem {
  const mark = (text: string): Mark => ({ box, turn, fill: GROUND, text, size: 12, colour: INK, align: 'center' });
  const item = {
    kind: 'foreign',
    id,
    what,
    at: { on: 'page', box },
    turn,
    flip,
    opacity: 1,
    alt: '',
    ...(look && { look }),
    preview: preview ?? (label === undefined ? [] : [mark(label)]),
  };
  const read = ForeignSchema.safeParse(item);
  if (read.success) return read.data;
  // A box that no program can have: it is kept in the file, and has no place on the page.
  const nowhere = { x: 0, y: 0, width: 1, height: 1 };
  return { ...item, kind: 'foreign', what, turn: 0, at: { on: 'page', box: nowhere }, preview: [] };
}

/** Items that belong together, in the page's own points: its box shows them as large as they are. */
export function groupItem(
  id: string,
  children: readonly string[],
  { box, turn = 0, flip = NO_FLIP, alt = '' }: Partial<Pick<Look, 'turn' | 'flip' | 'alt'>> & Pick<Look, 'box'>,
): GroupItem | null {
  const item = { kind: 'group', id, at: { on: 'page', box }, turn, flip, opacity: 1, alt, children, space: box };
  const read = GroupSchema.safeParse(item);
  return read.success ? read.data : null;
}

/** How long some columns or rows of a table are together. */
export const lengthFrom = (sizes: readonly number[], from: number, count: number): number =>
  sizes.slice(from, from + count).reduce((sum, size) => sum + size, 0);

/** The box round boxes; null round none. */
export function boxRound(boxes: readonly Box[]): Box | null {
  if (boxes.length === 0) return null;
  const [x, y] = [Math.min(...boxes.map((b) => b.x)), Math.min(...boxes.map((b) => b.y))];
  const [right, bottom] = [Math.max(...boxes.map((b) => b.x + b.width)), Math.max(...boxes.map((b) => b.y + b.height))];
  return { x, y, width: right - x, height: bottom - y };
}
