import { alignedAt, heightFor, type Rule } from './rule';

/** Beside: off the drawn edge by a gap, aligned along it; above and below as wide as a share of what it is beside. */
export const beside: Rule = ({ drawn }, own, { side = 'bottom', gap, align, share, along = 0 }) => {
  const upright = side === 'left' || side === 'right';
  const width = !upright && share !== undefined ? Math.max(1, drawn.width * share) : own.at.box.width;
  const height = heightFor(own, width);
  const x = upright
    ? side === 'right'
      ? drawn.x + drawn.width + gap
      : drawn.x - gap - width
    : alignedAt(drawn.x, drawn.width, width, align) + along;
  const y = upright
    ? alignedAt(drawn.y, drawn.height, height, align) + along
    : side === 'bottom'
      ? drawn.y + drawn.height + gap
      : drawn.y - gap - height;
  return { box: { x, y, width, height } };
};
