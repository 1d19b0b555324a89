/** What Gable takes at the most; each refusal names its limit. */
export const LIMITS = {
  fileBytes: 300 * 1024 * 1024,
  megapixels: 100,
  pictures: 5_000,
  parts: 10_000,
  inflatedBytes: 1024 * 1024 * 1024,
  /** Overall inflation, counted once a file inflates to more than `inflationFloor` bytes. */
  inflation: 100,
  inflationFloor: 1024 * 1024,
  xmlDepth: 256,
} as const;
