import { CENTRED, FULL_SEAT, type Frame } from '../src/index';

/** A plain rectangular frame in the text; everything can be overridden. */
export function frameOf(width: number, height: number, more: Partial<Frame> = {}): Frame {
  return {
    n: 1,
    flow: 'inline',
    box: { x: 0, y: 0, width, height },
    turn: 0,
    flip: { horizontal: false, vertical: false },
    seat: FULL_SEAT,
    shape: { name: 'rectangle', knobs: {} },
    placement: CENTRED,
    backing: null,
    outline: null,
    shadow: null,
    alt: '',
    ...more,
  };
}
