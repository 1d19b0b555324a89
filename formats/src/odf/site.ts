import type { Crop, Frame, Size } from '@gable/core';
import type { Room } from '../codec/beside-text';
import type { Element } from '../xml/located';
import type { Names } from './names';
import type { Styles } from './styles';

/** One picture of an OpenDocument part: a frame with an image, or a shape that is filled with one. */
export interface Site {
  part: string;
  /** `draw:frame`, `draw:custom-shape`, `draw:rect`, … */
  element: Element;
  /** The `draw:image` of a frame. */
  image: Element | null;
  names: Names;
  styles: Styles;
  style: string | undefined;
  /** In a text document, where lines of frames are borders. */
  inText: boolean;
  frameFlow: Frame['flow'];
  /** In a text: the page of its first master. */
  room?: () => Room;
}

export interface ReadFrame {
  frame: Frame;
  /** In the file's own terms, where a line with a way of its own is part of the geometry; see `offset-outline.ts`. */
  native: Frame;
  crop: Crop;
  size: Size;
  /** The picture's own size in points, which a clip counts in. */
  physical: Size;
}
