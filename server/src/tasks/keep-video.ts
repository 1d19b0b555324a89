import { GableError, VIDEO_TYPES, type KeptVideo } from '@gable/core';
import { createReadStream } from 'node:fs';
import { crc32 } from 'node:zlib';
import { task, type Made } from './task';

/** What a video's headers tell, and its sum. */
export type VideoFacts = Pick<KeptVideo, 'type' | 'seconds' | 'crc'> & { width: number; height: number };

const notVideo = (name: string, cause?: unknown): GableError =>
  new GableError(
    'not-a-video',
    `“${name}” is not a video that Gable can use.`,
    'Choose an MP4 or a WebM file.',
    {},
    { cause },
  );

/** Reads the headers of a video; no more than a piece of it is ever in memory. @throws GableError `not-a-video` */
export const keepVideo = task({
  lane: 'paint',
  seconds: 120,
  async run({ file, name }: { file: Made; name: string }): Promise<VideoFacts> {
    const { EncodedPacketSink, FilePathSource, Input, MP4, WEBM } = await import('mediabunny');
    const formats = { mp4: MP4, webm: WEBM };
    for (const type of VIDEO_TYPES) {
      const input = new Input({ source: new FilePathSource(file.file), formats: [formats[type]] });
      try {
        if (!(await input.canRead())) continue;
        const track = await input.getPrimaryVideoTrack();
        if (!track) throw notVideo(name);
        const seconds = await input.computeDuration();
        const [width, height] = [await track.getDisplayWidth(), await track.getDisplayHeight()];
        // What is cut off has no end.
        const last = await new EncodedPacketSink(track).getPacket(seconds);
        if (!last || !(seconds > 0) || !(width > 0) || !(height > 0)) throw notVideo(name);
        return { type, seconds, width, height, crc: await sumOf(file) };
      } catch (error) {
        throw error instanceof GableError ? error : notVideo(name, error);
      } finally {
        input.dispose();
      }
    }
    throw notVideo(name);
  },
});

async function sumOf({ file }: Made): Promise<number> {
  let sum = 0;
  for await (const piece of createReadStream(file, { highWaterMark: 1024 * 1024 })) sum = crc32(piece as Buffer, sum);
  return sum;
}
