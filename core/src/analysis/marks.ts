import { cut } from '../cut';
import { MOST_MARKS, type KeepMark, type Region } from '../model/frame';
import { foremost, type Face } from './faces';
import type { TextBlock } from './words';

/** Of the area of the smaller of two regions: from here on they mean the same. */
const SAME = 0.6;
/** Of a long text this much names its mark. */
const NAME_CHARS = 32;

function shared(a: Region, b: Region): number {
  const across = Math.min(a.u + a.width, b.u + b.width) - Math.max(a.u, b.u);
  const down = Math.min(a.v + a.height, b.v + b.height) - Math.max(a.v, b.v);
  return across > 0 && down > 0 ? (across * down) / Math.min(a.width * a.height, b.width * b.height) : 0;
}

/** Are two regions as good as one? */
export const sameRegion = (a: Region, b: Region): boolean => shared(a, b) >= SAME;

/** The part of a region that is on the picture. */
export function onPicture({ u, v, width, height }: Region): Region {
  const within = (share: number): number => Math.min(1, Math.max(0, share));
  const [left, top] = [within(u), within(v)];
  return { u: left, v: top, width: within(u + width) - left, height: within(v + height) - top };
}

/**
 * What of a picture an author may want to keep visible: the faces that count, the foremost first, then the blocks of words.
 * @param but what is marked already, or was refused
 */
export function suggestedMarks(
  { faces, blocks }: { faces: readonly Face[]; blocks: readonly TextBlock[] },
  but: readonly Region[] = [],
): KeepMark[] {
  const people = foremost(faces);
  const marks: KeepMark[] = [
    ...people.map((face, i) => ({ ...onPicture(face), name: people.length > 1 ? `Face ${i + 1}` : 'Face' })),
    ...blocks.map((block) => ({ ...onPicture(block), name: nameOf(block.text) })),
  ];
  return marks
    .filter((m) => m.width > 0 && m.height > 0 && !but.some((other) => sameRegion(m, other)))
    .slice(0, MOST_MARKS);
}

const nameOf = (text: string): string => `“${cut(text, NAME_CHARS, '…')}”`;
