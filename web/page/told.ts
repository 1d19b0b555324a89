/** A rectangle on the laid out pages, in CSS pixels. */
export interface Spot {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A web page is laid out in a window of this size, in CSS pixels. */
export const WINDOW = { width: 1180, height: 800 };

/** A picture that the pages show themselves. */
export interface Given {
  n: number;
  /** Names what is shown: given once under a name, its data are known. */
  key: string;
  /** The picture's own data, which a web page shows by its own styles. */
  data?: Blob;
  /** What is painted of it, for texts. */
  painted?: ImageBitmap;
  /** Where that lies, from the corner of its box, in CSS pixels. */
  at?: Spot;
}

/** A font of the author's own, which the frame cannot fetch. */
export interface FontData {
  family: string;
  weight: number;
  italic: boolean;
  bytes: ArrayBuffer;
}

/**
 * What is asked of the page: to lay something out, to show pictures itself or to leave them, or words that are typed, to the window round it, to have fonts at hand, to show parts
 * of its pages as pictures, `ratio` pixels to the CSS pixel, the place between letters at a point, or, once its window is so wide, how
 * large the pictures of a web page are.
 */
export type Asked =
  | { id: number; bytes: ArrayBuffer; given?: readonly Given[] }
  | { id: number; given: readonly Given[] }
  | { id: number; left: readonly number[] }
  | { id: number; typed: string | null }
  /** How far shapes of a text, by their names, are from where they are laid out, until that is done anew. */
  | { id: number; moved: Readonly<Record<string, { x: number; y: number }>> }
  /** The colour behind all pages of a text. */
  | { id: number; paper: string }
  | { id: number; fonts: readonly FontData[] }
  | { id: number; shoot: readonly { page: number; top: number; height: number }[]; ratio: number }
  | { id: number; caret: { x: number; y: number } }
  | { id: number; window: number }
  | { id: number; measure: number };

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

/** A page, with the columns that its text stands in, from its corner; a web page has none. */
export interface PageSpot extends Spot {
  columns?: Spot[];
}

/** What it answers. */
export interface Laid {
  id: number;
  pictures: PictureOnPage[];
  pages: PageSpot[];
  /** Paragraphs, lists and tables of the text, in their order; those in cells behind their table. */
  blocks: LaidBlock[];
  width: number;
  height: number;
  /** Fonts of the file that others stand in for, whose letters are otherwise as wide. */
  approximate: readonly string[];
  /** Does text run on one side only of what it would run round on both? */
  oneSided: boolean;
  /** Numbers of the pictures that the pages show themselves, and of those that they could once they are given. */
  shown: readonly number[];
  lacking: readonly number[];
  /** There are more pages to come, which will be told again. */
  more: boolean;
  /** What stands round pictures of a web page; shapes and text boxes of a text. */
  items?: readonly ItemOnPage[];
}

/** One of these, by its name. */
export interface ItemOnPage extends Spot {
  id: string;
  /** The one colour behind words that a web page has itself. */
  ground?: string;
}
/** Pictures by their numbers, in CSS pixels. */
export interface Boxes {
  id: number;
  boxes: readonly { n: number; top: number; width: number; height: number }[];
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
  /** In a text box of a text: the name of that. */
  own?: string;
  /** Of a web page: the colour behind it, as CSS says it, the fonts of words there, and how wide its column is. */
  ground?: string;
  font?: string;
  column?: { left: number; right: number };
}
