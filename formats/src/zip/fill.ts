import { GableError } from '@gable/core';
import { LONGEST_STAND_IN, standInOf, standInsIn, stoodInFor } from '../codec/videos';
import { readArchive, readEntry, type Archive, type Entry } from './reader';
import { endOf } from './writer';

/** Bytes of a kept video, in pieces. */
export type PiecesOf = (sha256: string) => AsyncIterable<Uint8Array>;

/** Offsets in a package have 32 bits (APPNOTE §4.4.16). */
const MOST = 0xffffffff;

/**
 * A written file with the data of its videos in the place of what stands in for them, in pieces: no video is ever held whole.
 * @returns the very same bytes where there is none
 * @throws GableError `too-large` beyond 4 GB
 */
export function filled(bytes: Uint8Array, piecesOf: PiecesOf): Uint8Array | AsyncIterable<Uint8Array> {
  if (bytes[0] === 0x50 && bytes[1] === 0x4b) {
    const archive = readArchive(bytes);
    const videos = standInsAmong(archive);
    return videos.size === 0 ? bytes : filledArchive(archive, videos, piecesOf);
  }
  const places = [...standInsIn(new TextDecoder('latin1').decode(bytes))];
  return places.length === 0 ? bytes : filledText(bytes, places, piecesOf);
}

type StoodIn = NonNullable<ReturnType<typeof stoodInFor>>;

/** Entries that a video belongs in. They were put in as they are, so that they are stored. */
function standInsAmong(archive: Archive): Map<string, StoodIn> {
  const out = new Map<string, StoodIn>();
  for (const entry of archive.entries) {
    if (entry.size > LONGEST_STAND_IN || entry.method !== 0) continue;
    const found = stoodInFor(new TextDecoder('latin1').decode(readEntry(archive, entry)));
    if (found) out.set(entry.name, found);
  }
  return out;
}

async function* filledArchive(
  { bytes, entries, comment }: Archive,
  videos: ReadonlyMap<string, StoodIn>,
  piecesOf: PiecesOf,
): AsyncGenerator<Uint8Array> {
  const inOrder = [...entries].sort((a, b) => a.offset - b.offset);
  const grown = [...videos.values()].reduce((sum, v) => sum + v.bytes, 0);
  if (bytes.length + grown > MOST)
    throw new GableError('too-large', 'With its videos the file has more than 4 GB.', 'Use shorter videos.');
  const offsets = new Map<Entry, number>();
  let at = inOrder[0]?.offset ?? 0;
  yield bytes.subarray(0, at);
  for (const entry of inOrder) {
    offsets.set(entry, at);
    const video = videos.get(entry.name);
    if (!video) {
      yield bytes.subarray(entry.offset, entry.end);
      at += entry.end - entry.offset;
      continue;
    }
    const header = bytes.slice(entry.offset, entry.dataOffset);
    // CRC-32 and both sizes stand behind each other (APPNOTE §4.3.7).
    sized(header, 14, video);
    yield header;
    yield* piecesOf(video.sha256);
    at += header.length + video.bytes;
  }
  const directory = at;
  for (const entry of entries) {
    const record = entry.record.slice();
    const video = videos.get(entry.name);
    if (video) sized(record, 16, video);
    new DataView(record.buffer).setUint32(42, offsets.get(entry)!, true);
    yield record;
    at += record.length;
  }
  yield endOf({ comment }, { count: entries.length, size: at - directory, directory });
}

function sized(part: Uint8Array, at: number, { crc, bytes }: StoodIn): void {
  const v = new DataView(part.buffer, part.byteOffset);
  v.setUint32(at, crc, true);
  v.setUint32(at + 4, bytes, true);
  v.setUint32(at + 8, bytes, true);
}

/** In a text a video stands as Base64 (RFC 4648 §4). */
async function* filledText(
  bytes: Uint8Array,
  places: readonly { at: number; length: number; sha256: string }[],
  piecesOf: PiecesOf,
): AsyncGenerator<Uint8Array> {
  let from = 0;
  for (const { at, length, sha256 } of places) {
    yield bytes.subarray(from, at);
    yield* inBase64(piecesOf(sha256));
    from = at + length;
  }
  yield bytes.subarray(from);
}

/** So many bytes are put into letters at once: a multiple of three, which four letters have. */
const AT_ONCE = 3 * 0x2000;

async function* inBase64(pieces: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  const letters = (part: Uint8Array): Uint8Array => encoder.encode(btoa(String.fromCharCode(...part)));
  let rest = new Uint8Array(0);
  for await (const piece of pieces) {
    const all = new Uint8Array(rest.length + piece.length);
    all.set(rest);
    all.set(piece, rest.length);
    const whole = all.length - (all.length % 3);
    for (let at = 0; at < whole; at += AT_ONCE) yield letters(all.subarray(at, Math.min(whole, at + AT_ONCE)));
    rest = all.slice(whole);
  }
  if (rest.length > 0) yield letters(rest);
}

/** As text, for a part of a package that a video belongs in. */
export const standInBytes = (video: Parameters<typeof standInOf>[0]): Uint8Array =>
  new TextEncoder().encode(standInOf(video));
