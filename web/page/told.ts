/** A rectangle on the laid out pages, in CSS pixels. */
export interface Spot {
  x: number;
  y: number;
  width: number;
  height: number;
}

/**
 * What is asked of the page: to lay something out, to show parts of its pages as pictures, `ratio` pixels to the CSS pixel, or
 * the place between letters at a point.
 */
export type Asked =
  | { id: number; bytes: ArrayBuffer }
  | { id: number; shoot: readonly { page: number; top: number; height: number }[]; ratio: number }
  | { id: number; caret: { x: number; y: number } };

/** A paragraph, a list or a table with its words, and the cell that it stands in. */
export interface LaidBlock extends Spot {
  words: string;
  cell: Spot | null;
  /** It holds nothing but its own parts, such as a list its items. */
  closed?: true;
  /** It began on another page: this is its end. */
  goesOn?: true;
}

/** A place between letters: of a block by its number, behind so many of its letters (spaces are not counted). */
export interface Caret extends Spot {
  block: number;
  letters: number;
  /** The words on both sides. */
  words: string;
}

/** What it answers. */
export interface Laid {
  id: number;
  pictures: PictureOnPage[];
  pages: Spot[];
  /** Paragraphs, lists and tables of the text, in their order; those in cells behind their table. */
  blocks: LaidBlock[];
  width: number;
  height: number;
  /** Fonts of the file that others stand in for, whose letters are otherwise as wide. */
  approximate: readonly string[];
  /** There are more pages to come, which will be told again. */
  more: boolean;
}
export interface Shown {
  id: number;
  /** `data:` addresses of PNG pictures. */
  shots: string[];
}

/** Where a picture lies on the laid out pages, and how large it is there, in CSS pixels. */
export interface PictureOnPage {
  n: number;
  x: number;
  y: number;
  width: number;
  height: number;
  /** Offset from the paragraph the picture belongs to. */
  inParagraph: { x: number; y: number };
}
