import { boundsOfBoxes } from '../geometry/measure';
import type { FramedItem, Item, Tie } from '../model/document';
import type { Box } from '../model/frame';
import { drawnBox } from './index';

/** A rule holds no larger share than this. */
const MOST_SHARE = 10;

/** How far two boxes stand off each other on each side of the first; less than nothing where they do not. */
const gapsBeside = (a: Box, b: Box): Record<NonNullable<Tie['side']>, number> => ({
  bottom: b.y - a.y - a.height,
  right: b.x - a.x - a.width,
  top: a.y - b.y - b.height,
  left: a.x - b.x - b.width,
});

/** How far apart two boxes are. */
export function distanceOf(a: Box, b: Box): number {
  const { bottom, right, top, left } = gapsBeside(a, b);
  return Math.hypot(Math.max(0, left, right), Math.max(0, top, bottom));
}

/**
 * The rule by which an item stands off another where it is now: beside it where it is clear of all that is drawn of that, over it
 * otherwise.
 * @param rings what is drawn round that one, which it stands off, too
 */
export function tieAsItStands(item: FramedItem, to: Item, rings: readonly Box[] = []): Tie {
  const own = item.at.box;
  const drawn = boundsOfBoxes([drawnBox(to), ...rings]);
  const off = (a: Box, b: Box): { x: number; y: number } => ({
    x: b.x + b.width / 2 - a.x - a.width / 2,
    y: b.y + b.height / 2 - a.y - a.height / 2,
  });
  const [[side, gap]] = Object.entries(gapsBeside(drawn, own)).sort((a, b) => b[1] - a[1]) as [
    [NonNullable<Tie['side']>, number],
  ];
  const { box } = to.at;
  const share = own.width / box.width;
  if (gap >= 0 || share > MOST_SHARE) {
    const along = side === 'left' || side === 'right' ? off(drawn, own).y : off(drawn, own).x;
    return { to: to.id, as: 'beside', side, gap, align: 'centre', along };
  }
  const middle = off(box, own);
  return { to: to.id, as: 'over', gap: middle.y, along: middle.x, align: 'centre', share };
}
