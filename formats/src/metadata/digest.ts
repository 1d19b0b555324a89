import { readFrame, type Frame } from '@gable/core';
import { crc32 } from '../zip/crc32';

/**
 * What only we know of a frame (its shape's name and knobs, aim, keep mark, tone) travels beside its markup where a standard
 * has a place for such things, with a digest of the markup: when that was changed since, the markup counts and not this.
 */
export const METADATA_NAMESPACE = 'urn:gable:frame:1';

export const digest = (markup: string): string => crc32(new TextEncoder().encode(markup)).toString(16).padStart(8, '0');

export function encodeWithDigest(frame: Frame, markup: string): string {
  const { source, video, ...known } = frame;
  void [source, video];
  return JSON.stringify({ digest: digest(markup), frame: known });
}

/** The frame as it was written; null when the markup was changed since, or is not Gable's. */
export function decodeWithDigest(text: string | undefined, markup: string, n: number): Frame | null {
  try {
    const known = JSON.parse(text ?? 'null') as { digest?: unknown; frame?: unknown } | null;
    if (known?.digest !== digest(markup)) return null;
    return readFrame({ ...(known.frame as object), n });
  } catch {
    return null;
  }
}
