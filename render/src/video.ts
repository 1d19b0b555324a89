import { GableError, VIDEO_TYPES, type KeptVideo } from '@gable/core';
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import path from 'node:path';
import { crc32 } from 'node:zlib';

const notVideo = (name: string, cause?: unknown): GableError =>
  new GableError(
    'not-a-video',
    `“${name}” is not a video that Gable can use.`,
    'Choose an MP4 or a WebM file.',
    {},
    { cause },
  );

/**
 * What a video's headers tell, and its sums; no more than a piece of it is ever in memory.
 * @param file on the disk
 * @param name what it is called
 * @throws GableError `not-a-video` for what is none, and for one that is cut off
 */
export async function readVideo(file: string, name = path.basename(file)): Promise<KeptVideo> {
  const { EncodedPacketSink, FilePathSource, Input, MP4, WEBM } = await import('mediabunny');
  const formats = { mp4: MP4, webm: WEBM };
  for (const type of VIDEO_TYPES) {
    const input = new Input({ source: new FilePathSource(file), formats: [formats[type]] });
    try {
      if (!(await input.canRead())) continue;
      const track = await input.getPrimaryVideoTrack();
      if (!track) throw notVideo(name);
      const seconds = await input.computeDuration();
      // What is cut off has no end.
      const last = await new EncodedPacketSink(track).getPacket(seconds);
      const size = { width: await track.getDisplayWidth(), height: await track.getDisplayHeight() };
      if (!last || !(seconds > 0) || !(size.width > 0) || !(size.height > 0)) throw notVideo(name);
      return { name, type, seconds, size, ...(await sumsOf(file)) };
    } catch (error) {
      throw error instanceof GableError ? error : notVideo(name, error);
    } finally {
      input.dispose();
    }
  }
  throw notVideo(name);
}

async function sumsOf(file: string): Promise<Pick<KeptVideo, 'sha256' | 'bytes' | 'crc'>> {
  const hash = createHash('sha256');
  let [crc, bytes] = [0, 0];
  for await (const piece of createReadStream(file, { highWaterMark: 1024 * 1024 }) as AsyncIterable<Buffer>) {
    hash.update(piece);
    crc = crc32(piece, crc);
    bytes += piece.length;
  }
  return { sha256: hash.digest('hex'), bytes, crc };
}
