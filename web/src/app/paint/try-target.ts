import { paintedBounds, type PaintTarget } from '@gable/core';
import type { TryCell } from './protocol';

/** Where the frame of a cell is painted, so that it fits. Device pixels. */
export function targetOf({ frame, x, width, height, margin, cut, whole }: Omit<TryCell, 'key'>): PaintTarget {
  // Round a shape there is room to show what it cuts, or its shadow; a wide shadow runs out of sight.
  const b = paintedBounds(whole ? frame : { ...frame, shadow: null });
  const round = !whole && (cut || frame.shadow) ? Math.max(margin, 0.1 * Math.min(width, height)) : margin;
  const scale = Math.min((width - 2 * round) / b.width, (height - 2 * round) / b.height);
  return {
    x: x + (width - b.width * scale) / 2 - b.x * scale,
    y: (height - b.height * scale) / 2 - b.y * scale,
    scale,
  };
}
