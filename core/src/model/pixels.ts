/** Pixels in rows, four bytes each (red, green, blue, alpha), sRGB. */
export interface Pixels {
  width: number;
  height: number;
  data: Uint8ClampedArray | Uint8Array;
}
