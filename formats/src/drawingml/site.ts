import type { Box, Crop, Frame, Size } from '@gable/core';
import type { Room } from '../codec/beside-text';
import type { Element } from '../xml/located';
import type { Splice } from '../xml/splice';

/** The elements of one picture in a part, with the values as the file has them. */
export interface Site {
  /** Part that holds it. */
  part: string;
  pic: Element;
  /** `wp:inline` or `wp:anchor` in text documents; null on slides and sheets. */
  holder: Element | null;
  spPr: Element | undefined;
  blipFill: Element | undefined;
  /** The same fill in other branches of alternate content, kept in step with it. */
  otherFills?: readonly Element[];
  /** How much the groups round it scale it; null outside of groups. */
  group: { x: number; y: number } | null;
  strict: boolean;
  /** On slides and sheets: where the group's coordinates begin, in EMU of the page. */
  origin?: { x: number; y: number };
  /** Shape properties of the placeholders it takes after (§19.3.1.36), nearest first. */
  inherited?: readonly Element[];
  /** References into the theme (§20.1.2.2.37, CT_ShapeStyle). */
  style?: Element | undefined;
  /** A sheet's anchor, which says where the picture lies and how large it is. */
  anchor?: Anchor;
  /** In a text: the room of its section. */
  room?: () => Room;
}

/** Where a drawing lies on a sheet, in points, and how it is put elsewhere. */
export interface Anchor {
  box: Box;
  write(splice: Splice, next: Box): void;
}

/** A frame as read, and the raw crop beside it, so that unchanged values are never rewritten. */
export interface ReadPicture {
  frame: Frame;
  /** In the file's own terms, where a line with a way of its own is part of the geometry; see `offset-outline.ts`. */
  native: Frame;
  crop: Crop;
  size: Size;
}
