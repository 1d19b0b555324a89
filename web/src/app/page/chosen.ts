import type { Box, FramedItem } from '@gable/core';

/** Something on the page that is seen, and where it lies there. */
export interface Chosen {
  item: FramedItem;
  box: Box;
  turn: number;
  /** The upright box round it. */
  bounds: Box;
  /** Its page, from 0: only what lies on the same one is chosen together. */
  page: number;
}
