import type { Element } from '../xml/located';
import type { Where } from '../codec/contract';
import type { Site } from '../drawingml/site';
import type { Legacy } from '../vml/find';

/** A picture found in a part, before its data is looked at. */
export interface Found {
  site: Site;
  /** The same picture again, in the other branches of alternate content. */
  twins: Site[];
  where: Where;
  freeable: boolean;
  /** In the older markup, which is read and never spliced. */
  legacy?: Legacy;
  /** A second shape that stands in for its outline. */
  fauxOutline?: FauxOutline;
}

/** A filled shape without words that lies behind a picture as if it were its outline. */
export interface FauxOutline {
  part: string;
  /** All of it: with every branch of its alternate content. */
  element: Element;
  /** What would be seen of it round the picture, in points. */
  weight: number;
  colour: string;
}
