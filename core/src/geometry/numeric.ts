/** Tolerance for lengths in points: a tenth of an EMU. */
export const EPSILON = 1e-5;
export const TAU = Math.PI * 2;

export const clamp = (x: number, lo: number, hi: number): number => Math.min(hi, Math.max(lo, x));
export const radians = (degrees: number): number => (degrees * Math.PI) / 180;

/** The angle in [0, 360). */
export const turnOf = (degrees: number): number => ((degrees % 360) + 360) % 360;

/** cos and sin of an angle in degrees, exact at quarter turns. */
export function cosSin(degrees: number): [number, number] {
  switch (turnOf(degrees)) {
    case 0:
      return [1, 0];
    case 90:
      return [0, 1];
    case 180:
      return [-1, 0];
    case 270:
      return [0, -1];
    default:
      return [Math.cos(radians(degrees)), Math.sin(radians(degrees))];
  }
}
