/** Schneider's algorithm for fitting curves; the package has no types. */
declare module 'fit-curve' {
  type Pair = [number, number];
  /** @param maxError largest squared distance */
  export default function fitCurve(points: Pair[], maxError: number): [Pair, Pair, Pair, Pair][];
}
