import { GableError } from '@gable/core';
import type { Request, Response } from 'express';
import { pipeline } from 'node:stream/promises';
import { notFound } from './problems';

const FOREVER = 'private, max-age=31536000, immutable';
/** So much is read at once. */
const PIECE = 2 * 1024 * 1024;

/** What begins like a video (ISO/IEC 14496-12 §4.3, ftyp; RFC 8794 §8.1, EBML); null for anything else. */
function typeOf(head: Uint8Array): string | null {
  const bytes = Buffer.from(head);
  if (bytes.toString('latin1', 4, 8) === 'ftyp') return 'video/mp4';
  return bytes.length >= 4 && bytes.readUInt32BE(0) === 0x1a45dfa3 ? 'video/webm' : null;
}

/** Bytes that can be read in parts. */
export interface Readable {
  size: number;
  read(from: number, to: number): Promise<Uint8Array>;
}

/**
 * Sends a video, or the part of it that players ask for (RFC 9110 §14), piece by piece.
 * @throws GableError `not-found` for what is none, `no-such-part`
 */
export async function sendVideo(req: Request, res: Response, { size, read }: Readable): Promise<void> {
  const type = typeOf(await read(0, Math.min(12, size)));
  if (type === null) throw notFound('video');
  res.type(type).set({ 'Accept-Ranges': 'bytes', 'Cache-Control': FOREVER });
  const ranges = req.range(size, { combine: true });
  if (ranges === -1) {
    res.set('Content-Range', `bytes */${size}`);
    throw new GableError('no-such-part', `This video has ${size} bytes.`, 'Ask for a part of it.');
  }
  // What is no range of bytes, and several of them, are answered with all of it, which is always allowed.
  const isPart = Array.isArray(ranges) && ranges.type === 'bytes' && ranges.length === 1;
  const { start, end } = isPart ? ranges[0]! : { start: 0, end: size - 1 };
  if (isPart) res.status(206).set('Content-Range', `bytes ${start}-${end}/${size}`);
  res.set('Content-Length', String(end - start + 1));
  async function* pieces(): AsyncGenerator<Uint8Array> {
    for (let at = start; at <= end;) {
      // From the second piece on, as they are kept.
      const to = Math.min(end + 1, PIECE * (Math.floor(at / PIECE) + 1));
      yield await read(at, to);
      at = to;
    }
  }
  await pipeline(pieces(), res).catch((error: unknown) => {
    // The client disconnected: players do as soon as they have enough.
    if (!res.destroyed) throw error;
  });
}
