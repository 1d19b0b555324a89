import type { Paint } from '@gable/core';

/** Of a gradient its middle colour. */
export const solid = (paint: Paint): Paint => {
  if (paint.kind === 'solid') return paint;
  const { colour, opacity } = paint.stops[Math.floor((paint.stops.length - 1) / 2)]!;
  return { kind: 'solid', colour, opacity };
};
