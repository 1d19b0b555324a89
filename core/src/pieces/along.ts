import { clamp } from '../geometry/numeric';
import type { Size } from '../model/frame';
import { USUAL_SHARE } from '../ties/along';
import { filled, inkOn, tieTo, tiedItem, type Piece } from './piece';

/** So large words along a circle are set, in points, but for what is small or large itself. */
const SIZE = 16;

/** How large words along a circle are set, of its diameter. @param box of the picture, in points */
export const shareAlong = ({ width, height }: Size): number =>
  clamp(Math.round((SIZE / Math.min(width, height)) * 100) / 100, 0.07, USUAL_SHARE);

export const along: Piece = {
  name: 'along',
  label: 'Words along the edge',
  note: 'on a circle round it, as outlines',
  synonyms: ['arch', 'arc', 'curved text', 'round text', 'badge', 'seal', 'on a circle'],
  shape: 'circle',
  items(context) {
    const { along: words, drawn, ground, colours } = context;
    if (!words) return [];
    const { shape, share } = words;
    const gap = Math.max(3, Math.round(Math.min(drawn.width, drawn.height) * 0.05));
    const tie = tieTo(context, { as: 'along', side: 'top', gap, share });
    const fill = filled(inkOn(ground, colours));
    const item = tiedItem(context, { shape, fill, tie });
    return [{ item: { ...item, alt: shape.drawn?.label ?? '' }, layer: 'front' }];
  },
};
