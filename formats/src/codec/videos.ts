import type { KeptVideo } from '@gable/core';

/** The media type of a kind of video: `video/mp4` (RFC 4337), `video/webm` (from memory). */
export const videoTypeOf = (type: string): string => `video/${type}`;

/**
 * Stands in a file in the place of a kept video, whose data come in last (`filled`): files are written whole, and videos are too large
 * for that.
 */
export const standInOf = ({ sha256, bytes, crc }: Pick<KeptVideo, 'sha256' | 'bytes' | 'crc'>): string =>
  `gable-video:${sha256}:${bytes}:${crc}:`;

const STAND_IN = /gable-video:([0-9a-f]{64}):(\d{1,12}):(\d{1,10}):/;
/** Of which no stand-in has more bytes. */
export const LONGEST_STAND_IN = 120;

/** The video that a text stands in for; null for any other. */
export function stoodInFor(text: string): Pick<KeptVideo, 'sha256' | 'bytes' | 'crc'> | null {
  const m = STAND_IN.exec(text);
  return m?.index === 0 && m[0].length === text.length
    ? { sha256: m[1]!, bytes: Number(m[2]), crc: Number(m[3]) }
    : null;
}

/** Where in a text stand-ins are, and for what. */
export function* standInsIn(text: string): Generator<{ at: number; length: number; sha256: string }> {
  for (const m of text.matchAll(new RegExp(STAND_IN, 'g'))) yield { at: m.index, length: m[0].length, sha256: m[1]! };
}
