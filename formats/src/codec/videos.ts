import { GableError, trimNumber, type KeptVideo, type Video } from '@gable/core';

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

const FLAGS: readonly (readonly [string, (video: Video) => boolean])[] = [
  ['autoplay', ({ play }) => play.automatic],
  ['loop', ({ play }) => play.loop],
  ['muted', ({ play }) => play.muted],
  ['controls', ({ play }) => play.controls],
  // Otherwise telephones show a video that begins by itself over all of the page.
  ['playsinline', ({ play }) => play.automatic],
];

/** What a video says of how it plays, in HTML's terms (HTML §4.8.8, §4.8.11). */
export const flagsOf = (video: Video): string[] => FLAGS.flatMap(([name, is]) => (is(video) ? [name] : []));

/**
 * A video that a file has, as HTML says it plays; where it begins and ends, its address says (Media Fragments 1.0 §4.2.1).
 * @param type that is named with its address, if any
 */
export function playedVideo(a: Readonly<Record<string, string>>, src: string, type = ''): Video {
  const [, key = '', time = ''] = /^([^#]*)(?:#(.*))?$/s.exec(src.trim())!;
  const [, start, end] = /(?:^|&)t=(?:npt:)?(\d+(?:\.\d+)?)?(?:,(\d+(?:\.\d+)?))?(?:&|$)/.exec(time) ?? [];
  const has = (name: string): boolean => name in a;
  return {
    // The data of one that is in its page name it as well as all of them.
    source: { from: 'file', key: key.slice(0, 200) || '-', type: type.slice(0, 80) },
    play: { automatic: has('autoplay'), loop: has('loop'), muted: has('muted'), controls: has('controls') },
    ...(Number(start) > 0 && { start: Number(start) }),
    ...(Number(end) > 0 && { end: Number(end) }),
  };
}

/** An address with where a video begins and ends. */
export function addressAt(address: string, { start, end }: Video): string {
  const plain = address.replace(/#.*$/s, '');
  if (start === undefined && end === undefined) return plain;
  const seconds = (s: number): string => trimNumber(s, 3);
  return `${plain}#t=${start === undefined ? '' : seconds(start)}${end === undefined ? '' : `,${seconds(end)}`}`;
}

/** So much of a video that a file of text can hold. */
const MOST_WITHIN = 50 * 1024 * 1024;

/** The address of a video whose data are in it. @param where `a page` @throws GableError `cannot-write` */
export function withinText(video: KeptVideo, where: string, remedy: string): string {
  if (video.bytes > MOST_WITHIN)
    throw new GableError(
      'cannot-write',
      `“${video.name}” has ${Math.round(video.bytes / 1048576)} MB; ${where} of one file holds videos of up to ${MOST_WITHIN / 1048576} MB.`,
      remedy,
    );
  return `data:${videoTypeOf(video.type)};base64,${standInOf(video)}`;
}
