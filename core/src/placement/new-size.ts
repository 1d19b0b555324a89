import { POINTS } from '../units';
import type { Size } from '../model/frame';

/** What a picture that is put in may take at first, in points: about the text of a page, a few cells, a good part of a slide. */
export function roomFor(kind: 'text' | 'line' | 'web' | 'cell' | 'page' | 'margin', page?: Size): Size {
  if (kind === 'margin') return { width: 91, height: 91 };
  // A line of 11 pt with its leading stays as high as it is (common practice).
  if (kind === 'line') return { width: 454, height: 13.5 };
  if (kind === 'cell') return { width: 170, height: 170 };
  if (kind === 'text' || kind === 'web' || !page) return { width: 454, height: 680 };
  return { width: page.width * 0.6, height: page.height * 0.6 };
}

/** A picture's own ratio, as large as it is on the web (CSS Values 4 §6.2: 96 px to the inch) and a room allows; in points. */
export function sizeWithin(pixels: Size, room: Size): Size {
  const k = Math.min(POINTS.px, room.width / pixels.width, room.height / pixels.height);
  return { width: pixels.width * k, height: pixels.height * k };
}
