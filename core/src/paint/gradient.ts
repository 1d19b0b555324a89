import { stopsInOrder, type Paint, type Size } from '../model/frame';

type Stops = Exclude<Paint, { kind: 'solid' }>['stops'];

/**
 * A gradient from the middle of a box to its four sides is two that run out from the middle both ways: one across, and one
 * down in the two quarters above and below.
 * @returns the stops of both, from one side to the other
 */
export function mirroredStops(paint: Exclude<Paint, { kind: 'solid' }>): Stops {
  const stops = stopsInOrder(paint);
  return [
    ...stops.toReversed().map((s) => ({ ...s, at: (1 - s.at) / 2 })),
    ...stops.map((s) => ({ ...s, at: (1 + s.at) / 2 })),
  ];
}

/** The quarters of a box above and below its middle, and so far beyond as anything is painted. */
export function wedges({ width, height }: Size): { x: number; y: number }[] {
  const far = 20;
  const at = (x: number, y: number): { x: number; y: number } => ({
    x: (width * (1 + x)) / 2,
    y: (height * (1 + y)) / 2,
  });
  return [at(0, 0), at(-far, -far), at(far, -far), at(0, 0), at(far, far), at(-far, far)];
}

/** The densest opacity of a paint, and the paint without it: layers of one colour must not add up. */
export function withoutOpacity(paint: Exclude<Paint, { kind: 'solid' }>): { paint: typeof paint; opacity: number } {
  const opacity = Math.max(...paint.stops.map((s) => s.opacity));
  if (opacity === 1 || opacity === 0) return { paint, opacity: 1 };
  return { paint: { ...paint, stops: paint.stops.map((s) => ({ ...s, opacity: s.opacity / opacity })) }, opacity };
}
