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
