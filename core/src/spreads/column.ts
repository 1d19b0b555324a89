import { row } from './row';
import { lying, turned, type Spread } from './spread';

/** One above the other and alike in width. */
export const column: Spread = {
  name: 'column',
  label: 'Column',
  synonyms: ['stack', 'vertical', 'one above the other'],
  boxes(ratios, room) {
    return row
      .boxes(
        ratios.map((r) => 1 / r),
        lying(room),
      )
      .map(turned);
  },
};
