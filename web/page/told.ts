/** A rectangle on the laid out pages, in CSS pixels. */
export interface Spot {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** What is asked of the page: to lay something out, or to show parts of its pages as pictures, `ratio` pixels to the CSS pixel. */
export type Asked =
  | { id: number; bytes: ArrayBuffer }
  | { id: number; shoot: readonly { page: number; top: number; height: number }[]; ratio: number };

/** What it answers. */
export interface Laid {
  id: number;
  pictures: PictureOnPage[];
  pages: Spot[];
  /** Paragraphs, lists and tables of the text, in their order, with their words. */
  blocks: (Spot & { words: string })[];
  width: number;
  height: number;
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
