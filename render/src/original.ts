import type { Size } from '@gable/core';

/** The bytes of a picture and its stored pixels. */
export interface Original {
  bytes: Uint8Array;
  size: Size;
}
