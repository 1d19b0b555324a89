import { findShape, freed, withSize, type Frame, type Size } from '@gable/core';

/** One side of the frame set by number: a shape with a ratio of its own takes the other side along. */
export function resized(frame: Frame, side: 'width' | 'height', value: number, picture: Size, lock: boolean): Frame {
  const own = frame.seat.fit === 'fill' ? (findShape(frame.shape.name)?.locked ?? null) : null;
  const ratio = own ?? (lock ? frame.box.width / frame.box.height : null);
  const next = { width: frame.box.width, height: frame.box.height, [side]: value };
  if (ratio) next[side === 'width' ? 'height' : 'width'] = side === 'width' ? value / ratio : value * ratio;
  const sized = withSize(frame, next, picture, 'zoom');
  return { ...sized, shape: freed(sized.shape, sized.box) };
}
