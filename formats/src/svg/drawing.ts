import type { Frame, Size, Matrix, Path } from '@gable/core';
import type { Element } from '../xml/located';
import type { Filling } from './fills';
import { type Presentation } from './presentation';

export const SVG = 'http://www.w3.org/2000/svg';

export interface Found {
  /** What is replaced: the image, the group that clips it, the shape that is filled with it, or a group of ours. */
  element: Element;
  image: Element;
  frame: Frame;
  size: Size;
  href: string;
  bytes: Uint8Array | null;
  /** From the place's own units to pixels of the page. */
  outer: Matrix;
  /** Properties of the element that are part of the frame. */
  said: readonly string[];
  /** What is defined for its sake, if nothing else shows it. */
  definitions: readonly Element[];
  /** Where its alternative text stands; null where that is part of a whole that is written anew. */
  alt: AltPlace | null;
}

/** The element that holds the words, if there is one, and the one that bears a label. */
export interface AltPlace {
  text: Element | undefined;
  labelled: Element;
}

/** What the whole drawing says. */
export interface Drawing {
  text: string;
  ids: ReadonlyMap<string, Element>;
  page: Matrix;
  looks: Presentation;
  /** Is anything in it filled with a pattern? */
  patterned: boolean;
  /** Clips as plain shapes, as far as they were asked for; null for those that are none. */
  clips: Map<Element, Path | null>;
}

/** Where a drawing shows a picture. */
export type Place =
  | { image: Element; definitions: readonly Element[]; filled?: undefined }
  | { image: Element; filled: Filling; shape: Element };

export interface Data {
  href: string;
  bytes: Uint8Array | null;
  pixels: Size | null;
}
