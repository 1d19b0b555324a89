import { freed, shapeOf, withSize, type Frame, type Size } from '@gable/core';

/**
 * One side of the frame set by number. A shape with a ratio of its own takes the other side along, and so does the link
 * between the sides.
 * @param linked does the other side keep the ratio?
 */
export function resized(frame: Frame, side: 'width' | 'height', value: number, picture: Size, linked: boolean): Frame {
  const own = frame.seat.fit === 'fill' ? (shapeOf(frame.shape)?.locked ?? null) : null;
  const ratio = own ?? (linked ? frame.box.width / frame.box.height : null);
  const next = { width: frame.box.width, height: frame.box.height, [side]: value };
  if (ratio) next[side === 'width' ? 'height' : 'width'] = side === 'width' ? value / ratio : value * ratio;
  return freed(withSize(frame, next, picture, 'zoom'));
}
