import { GableError } from '@gable/core';

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

/** @throws GableError `too-large` */
export function refuseTooLarge(bytes: Uint8Array): void {
  if (bytes.length > LIMITS.fileBytes)
    throw new GableError(
      'too-large',
      `The file is larger than ${LIMITS.fileBytes / 1048576} MB.`,
      'Split it, or make its pictures smaller first.',
      { bytes: bytes.length },
    );
}

/** @throws GableError `too-many-pictures` */
export function refuseTooMany(count: number): void {
  if (count > LIMITS.pictures)
    throw new GableError(
      'too-many-pictures',
      `The file has ${count} pictures; Gable takes ${LIMITS.pictures}.`,
      'Split the file.',
      { pictures: count },
    );
}
