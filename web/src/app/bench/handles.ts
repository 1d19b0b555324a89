import { cropped, freed, shapeOf, sizedBy, type Frame, type Handle, type Point, type Size } from '@gable/core';
import { intoFrame } from './board-layout';

/** Corners size the frame with its picture, sides crop it. */
export const HANDLES: readonly { handle: Handle; cursor: string; sizes: boolean }[] = [
  { handle: { x: -1, y: -1 }, cursor: 'nwse-resize', sizes: true },
  { handle: { x: 0, y: -1 }, cursor: 'ns-resize', sizes: false },
  { handle: { x: 1, y: -1 }, cursor: 'nesw-resize', sizes: true },
  { handle: { x: 1, y: 0 }, cursor: 'ew-resize', sizes: false },
  { handle: { x: 1, y: 1 }, cursor: 'nwse-resize', sizes: true },
  { handle: { x: 0, y: 1 }, cursor: 'ns-resize', sizes: false },
  { handle: { x: -1, y: 1 }, cursor: 'nesw-resize', sizes: true },
  { handle: { x: -1, y: 0 }, cursor: 'ew-resize', sizes: false },
];

export interface Pull {
  frame: Frame;
  /** Did a crop meet the picture's edge? */
  atEdge: boolean;
}

export interface PullOptions {
  picture: Size;
  /** Do the sides keep their ratio, unless Shift says otherwise? */
  linked: boolean;
  shift: boolean;
  /** Does the middle stay where it is, rather than the opposite side? */
  middle: boolean;
}

/** A frame whose handle was dragged. @param by the way on the page, in points */
export function pulled(start: Frame, handle: Handle, by: Point, { picture, linked, shift, middle }: PullOptions): Pull {
  const sizes = handle.x !== 0 && handle.y !== 0;
  const own = start.seat.fit === 'fill' ? (shapeOf(start.shape)?.locked ?? null) : null;
  const hold = own !== null || (sizes ? linked !== shift : shift);
  const ratio = hold ? start.box.width / start.box.height : null;
  const step = intoFrame({ ...start, flip: { horizontal: false, vertical: false } }, by.x, by.y);
  if (sizes) {
    const next = sizedBy(start, handle, step.x, step.y, picture, { ratio, about: middle ? 'middle' : 'opposite' });
    return { frame: freed(next), atEdge: false };
  }
  const one = cropped(start, handle, step.x, step.y, picture, ratio);
  const other: Handle = { x: -handle.x as Handle['x'], y: -handle.y as Handle['y'] };
  const next = middle && ratio === null ? cropped(one, other, -step.x, -step.y, picture, ratio) : one;
  const short = (asked: number, got: number): boolean => asked > 0.5 && got < asked - 0.5;
  const atEdge =
    short(handle.x * step.x, one.box.width - start.box.width) ||
    short(handle.y * step.y, one.box.height - start.box.height);
  return { frame: freed(next), atEdge };
}
