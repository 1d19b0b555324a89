import type { Anchor } from '../model/anchor';
import type { Box, Size } from '../model/frame';

/**
 * What the markup of a text says to those who lay it out on pages. The markup is a `section` with `data-section` (`SectionLayout`) for
 * each section of the text: in it a `header` and a `footer` for each kind of page (`data-for`: `usual`, `first`, `even`), the text in
 * `main`, and its notes (`aside` with `data-note`). What is beside the text bears `data-float` (`FloatPlace`) where it is tied to it.
 * All lengths are points.
 */
export interface SectionLayout extends Size {
  margins: { top: number; right: number; bottom: number; left: number };
  /** From the edge of the page to its header and its footer. */
  header: number;
  footer: number;
  /** Widths of its columns, and the gap behind each. */
  columns: readonly { width: number; gap: number }[];
  /** Where it begins. */
  start: 'page' | 'continuous' | 'even' | 'odd';
  /** The number of its first page, where they are counted anew. */
  number: number | null;
  /** Has its first page a header and a footer of its own? */
  first: boolean;
  /** Have pages with even numbers theirs? */
  even: boolean;
  /** Of its pages behind the first, where they are otherwise. */
  after?: SectionLayout;
}

/** Something beside a text: how it is tied to it, and its place from there. */
export interface FloatPlace extends Box {
  anchor: Anchor;
  /** From the back to the front, among those on the same side of the text. */
  order: number;
  /** Its outline, in shares of its box, where the text runs along that. */
  outline?: readonly { x: number; y: number }[];
}

/** What places beside a text count from, on a page; x from its left edge and y from its top. */
export interface PageRoom extends Pick<SectionLayout, 'width' | 'height' | 'margins'> {
  /** The column of text. */
  column: { x: number; width: number };
  /** Where the paragraph begins, and the line with the place that something is tied to, and that place in it. */
  paragraph: number;
  line: { y: number; x: number };
  /** Its number, from 1: facing pages have their inner margins on different sides. */
  number: number;
}

/** From where an axis counts, and how long that is. */
function spanOf(axis: 'x' | 'y', from: string, room: PageRoom): { start: number; length: number } {
  const { width, height, margins, column, paragraph, line, number } = room;
  const across = axis === 'x';
  const [whole, before, behind] = across ? [width, margins.left, margins.right] : [height, margins.top, margins.bottom];
  // The inner margin of an odd page is its left one (ISO/IEC 29500-1 §20.4.3.4, insideMargin).
  const inner = across ? number % 2 === 1 : true;
  const start = { start: 0, length: before };
  const end = { start: whole - behind, length: behind };
  switch (from) {
    case 'page':
      return { start: 0, length: whole };
    case 'left-margin':
    case 'top-margin':
      return start;
    case 'right-margin':
    case 'bottom-margin':
      return end;
    case 'inside-margin':
      return inner ? start : end;
    case 'outside-margin':
      return inner ? end : start;
    case 'column':
      return { start: column.x, length: column.width };
    case 'character':
      return { start: line.x, length: 0 };
    case 'paragraph':
      return { start: paragraph, length: whole - behind - paragraph };
    case 'line':
      return { start: line.y, length: 0 };
    default:
      return { start: before, length: whole - before - behind };
  }
}

/** Where something beside a text lies on its page (ISO/IEC 29500-1 §20.4.2.10, §20.4.2.11). */
export function floatBox({ anchor, x, y, width, height }: Box & { anchor: Anchor }, room: PageRoom): Box {
  const at = (axis: 'x' | 'y', offset: number, size: number): number => {
    const { start, length } = spanOf(axis, anchor.from[axis], room);
    const odd = room.number % 2 === 1;
    const by = anchor.align?.[axis];
    if (by === undefined) return start + offset;
    const atEnd =
      by === 'right' ||
      by === 'bottom' ||
      (by === 'inside' && axis === 'x' && !odd) ||
      (by === 'outside' && (axis === 'y' || odd));
    return start + (by === 'centre' ? (length - size) / 2 : atEnd ? length - size : 0);
  };
  return { x: at('x', x, width), y: at('y', y, height), width, height };
}
