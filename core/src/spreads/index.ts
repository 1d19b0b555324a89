import { beforeAfter } from './before-after';
import { column } from './column';
import { contactStrip } from './contact-strip';
import { evenGrid, grid } from './grid';
import { justified } from './justified';
import { oneLarge } from './one-large';
import { ring } from './ring';
import { row } from './row';
import type { Spread } from './spread';

/** How pictures of a page can be arranged, in the order in which it is offered: a new way is one file and one line. */
export const SPREADS: readonly Spread[] = [
  justified,
  evenGrid,
  grid,
  row,
  column,
  oneLarge,
  ring,
  contactStrip,
  beforeAfter,
];
export type { Room, Spread } from './spread';
export {
  ALIGNMENTS,
  aligned,
  gapAmong,
  liesAcross,
  uprightBounds,
  withGap,
  withinEvenly,
  type Alignment,
} from './align';
export { linearPartition } from './justified';
export { together, type Together, TOGETHER } from './together';
export { marginOf, roomOf, spreading, spreadable, type Arranged, type SpreadWish } from './spreading';
