/** In small windows letters of what stands around a picture are smaller: no more than this share of the width of the window. */
export const LETTERS_SHARE = 0.09;
/** Smaller than this no letters get smaller, in points. */
export const LEAST_LETTERS = 18;

/** How large letters are in a window. @param size of them, in points @param window its width, in points */
export const lettersAt = (size: number, window: number): number =>
  size > LEAST_LETTERS ? Math.min(size, LETTERS_SHARE * window) : size;
