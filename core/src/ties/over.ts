import { alignedAt, heightFor, type Rule } from './rule';

/** Over: within its box at a side of it, off that edge by a gap, as wide as a share of it; in the middle where no side is said. */
export const over: Rule = ({ box }, own, { side, gap, align, share = 1, along = 0 }) => {
  const width = Math.max(1, box.width * share);
  const height = heightFor(own, width);
  const x = alignedAt(box.x, box.width, width, align) + along;
  const y =
    side === 'top'
      ? box.y + gap
      : side === 'bottom'
        ? box.y + box.height - gap - height
        : alignedAt(box.y, box.height, height) + gap;
  return { box: { x, y, width, height } };
};
