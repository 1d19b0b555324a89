import { densest, stopsInOrder, type Gradation, type Size } from '../model/frame';

/** So many sides of a box beyond its middle all that is painted ends. */
export const FAR = 20;

/**
 * A gradient from the middle of a box to its four sides is two that run out from the middle both ways: one across, and one
 * down in the two quarters above and below.
 * @returns the stops of both, from one side to the other
 */
export function mirroredStops(paint: Gradation): Gradation['stops'] {
  const stops = stopsInOrder(paint);
  return [
    ...stops.toReversed().map((s) => ({ ...s, at: (1 - s.at) / 2 })),
    ...stops.map((s) => ({ ...s, at: (1 + s.at) / 2 })),
  ];
}

/** The quarters of a box above and below its middle, and so far beyond as anything is painted. */
export function wedges({ width, height }: Size): { x: number; y: number }[] {
  const at = (x: number, y: number): { x: number; y: number } => ({
    x: (width * (1 + x)) / 2,
    y: (height * (1 + y)) / 2,
  });
  return [at(0, 0), at(-FAR, -FAR), at(FAR, -FAR), at(0, 0), at(FAR, FAR), at(-FAR, FAR)];
}

/** The densest opacity of a paint, and the paint without it: layers of one colour must not add up. */
export function withoutOpacity(paint: Gradation): { paint: typeof paint; opacity: number } {
  const opacity = densest(paint);
  if (opacity === 1 || opacity === 0) return { paint, opacity: 1 };
  return { paint: { ...paint, stops: paint.stops.map((s) => ({ ...s, opacity: s.opacity / opacity })) }, opacity };
}
