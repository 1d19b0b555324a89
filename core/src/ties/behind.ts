import type { Item } from '../model/document';
import { grownBy, type Rule } from './rule';

/** Does it go to an edge of the page, behind what it follows? */
export const isBand = ({ tie }: Pick<Item, 'tie'>): boolean => tie?.as === 'behind' && tie.side !== undefined;

/**
 * Behind: a block that is larger by a gap on every side, or, on a side, a band from that edge of the page as far as the gap beyond
 * what it is behind.
 */
export const behind: Rule = ({ drawn, page }, _own, { side, gap }) => {
  const right = drawn.x + drawn.width + gap;
  const bottom = drawn.y + drawn.height + gap;
  switch (side) {
    case 'top':
      return { box: { x: 0, y: 0, width: page.width, height: Math.max(1, bottom) } };
    case 'left':
      return { box: { x: 0, y: 0, width: Math.max(1, right), height: page.height } };
    case 'bottom':
      return {
        box: { x: 0, y: drawn.y - gap, width: page.width, height: Math.max(1, page.height - drawn.y + gap) },
      };
    case 'right':
      return {
        box: { x: drawn.x - gap, y: 0, width: Math.max(1, page.width - drawn.x + gap), height: page.height },
      };
    default:
      return { box: grownBy(drawn, gap) };
  }
};
