import { CENTRED, FULL_SEAT, SHAPES, type Frame, type Size } from '@gable/core';
import type { TryCell } from './protocol';

/** An estimate of how often a browser needs to have run a function before it runs it quickly. */
const ROUNDS = 3;
/** A few at a time, so that nothing waits for them. */
const AT_ONCE = 4;
const SIDE = 112;

/** Tries of every shape, in portions: to be painted with a picture of no meaning before there is a real one. */
export function* warmUps(key: string, size: Size): Generator<TryCell[]> {
  for (let i = 0; i < ROUNDS * SHAPES.length; i += AT_ONCE)
    yield Array.from({ length: AT_ONCE }, (_, k) => ({
      key,
      frame: frameIn(SHAPES[(i + k) % SHAPES.length]!.name, size),
      x: k * SIDE,
      width: SIDE,
      height: SIDE,
      margin: 2,
      cut: true,
      whole: false,
    }));
}

const frameIn = (shape: string, size: Size): Frame => ({
  n: 1,
  flow: 'floating',
  box: { x: 0, y: 0, width: size.height, height: size.height },
  turn: 0,
  flip: { horizontal: false, vertical: false },
  seat: FULL_SEAT,
  shape: { name: shape, knobs: {} },
  placement: CENTRED,
  backing: null,
  outline: null,
  shadow: null,
  alt: '',
});

/** A picture of no meaning: noise, the same each time. */
export function noise({ width, height }: Size): ImageData {
  const pixels = new ImageData(width, height);
  for (let i = 0; i < pixels.data.length; i++) pixels.data[i] = Math.imul(i + 1, 0x9e3779b1) >>> 24;
  return pixels;
}
