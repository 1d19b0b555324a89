import { grownBy, type Rule } from './rule';

/** Around: the same shape, larger by a gap on every side, and turned with it. */
export const around: Rule = ({ box, shape, seat, turn }, _own, { gap }) => ({
  box: grownBy(box, gap),
  shape,
  seat,
  turn,
});
